import json

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import ValidationError

from amberkey.core.containers.errors import SettingsFileError
from amberkey.core.containers.json_spans import parse_spans
from amberkey.core.descriptions.dialect import Dialect, read_in, write_in
from amberkey.core.descriptions.editing import read_entries, write_entries
from amberkey.core.descriptions.model import SettingsFile
from amberkey.core.keys.names import NAMED_KEYS
from amberkey.core.keys.reading import read_shortcut
from amberkey.core.keys.shortcut import Press, Shortcut

MODIFIERS = ("Control", "Alt", "Shift", "Meta", "AltGraph")
DIALECTS = (
    Dialect(),
    Dialect(
        separator="-",
        then=", ",
        lower_case=True,
        modifiers={"Control": "ctl", "Alt": "alt", "Shift": "shift", "Meta": "meta", "AltGraph": "altgr"},
        order=("Meta", "Control", "Alt", "Shift", "AltGraph"),
        keys={"Escape": "esc", "Delete": "del", "ArrowUp": "up"},
    ),
)
HOW = SettingsFile(
    path={"windows": "Tableware/settings.json"},
    entries_at=("keyboard", "own"),
    command_field="do",
    keys_field="on",
    dialect=DIALECTS[1],
)
FILE = b"""\xef\xbb\xbf{\r
\t"window": {"x": 1.50, "y": 1e2},  \r
\t"keyboard": {\r
\t\t"own": [\r
\t\t\t{ "do": "save", "on": ["ctl-s"], "since": "spring" },\r
\t\t\t{ "do": "fold", "on": [] }\r
\t\t],\r
\t\t"speed": 3\r
\t}\r
}\r
"""
modifiers = st.frozensets(st.sampled_from(["Control", "Alt", "Shift", "Meta", "AltGraph"]))
keys = st.one_of(st.sampled_from(sorted(NAMED_KEYS)), st.sampled_from("ABZ09+-/.ßÄ€"))
shortcuts = st.lists(st.builds(Press.of, modifiers, keys), min_size=1, max_size=3).map(lambda p: Shortcut(tuple(p)))
wanted_entries = st.dictionaries(
    st.sampled_from(["save", "fold", "open", "quote"]),
    st.one_of(st.none(), st.lists(shortcuts, max_size=2).map(tuple)),
    max_size=4,
)


words = st.sampled_from(
    ["ctl", "c", "C-", "^", "alt", "M", "shift", "s", "win", "gr", "Ctrl", "up", "esc", "ü", "-", "+", "plus", ","]
)


@st.composite
def described(draw):
    """What somebody might describe a dialect as, fit or not."""
    mods = draw(st.lists(words, min_size=5, max_size=5))
    named = st.sampled_from(["Escape", "ArrowUp", "Delete", "A", "+", "-", "F5", "Space", "ß"])
    return {
        "separator": draw(st.sampled_from(["+", "-", " ", "", "_", "::", "a"])),
        "then": draw(st.sampled_from([" ", ", ", ",", " then ", "+", "-", ";", "x"])),
        "modifiers": dict(zip(MODIFIERS, mods, strict=True)),
        "order": draw(st.permutations(MODIFIERS)),
        "keys": draw(st.dictionaries(named, words, max_size=3)),
        "lower_case": draw(st.booleans()),
    }


@given(st.sampled_from(DIALECTS), shortcuts)
def test_every_dialect_reads_what_it_wrote(dialect, shortcut):
    assert read_in(dialect, write_in(dialect, shortcut)) == shortcut


@settings(max_examples=300)
@given(described(), st.lists(shortcuts, min_size=5, max_size=5))
def test_a_dialect_that_is_taken_reads_what_it_wrote(value, several):
    try:
        dialect = Dialect.model_validate(value)
    except ValidationError:
        return
    for shortcut in several:
        assert read_in(dialect, write_in(dialect, shortcut)) == shortcut


@pytest.mark.parametrize(
    "value, says",
    [
        ({"order": ["Control", "Alt", "Shift", "Meta"]}, "AltGraph is missing"),
        ({"order": ["Control", "Control", "Alt", "Shift", "Meta", "AltGraph"]}, "each of"),
        ({"modifiers": {"Control": "c"}}, "Alt is missing"),
        ({"modifiers": {"Control": "m", "Alt": "M", "Shift": "s", "Meta": "w", "AltGraph": "g"}}, "m stands twice"),
        ({"keys": {"Escape": "up", "ArrowUp": "UP"}}, "up stands twice"),
        ({"keys": {"Escape": "Delete"}}, "reads as"),
        ({"keys": {"Escape": "Control"}}, "reads as"),
        ({"keys": {"Escape": "x"}}, "reads as"),
        ({"keys": {"Nonsense": "x"}}, "is not a key"),
        ({"separator": "+", "then": "+"}, "reads as"),
        ({"separator": " + ", "then": " "}, "reads as"),
        ({"then": ","}, "reads as"),
        ({"then": "F"}, "reads as"),
    ],
)
def test_a_dialect_that_could_not_be_read_back_is_refused_with_an_example(value, says):
    with pytest.raises(ValidationError, match=says):
        Dialect.model_validate(value)


def test_an_entry_needs_two_fields():
    with pytest.raises(ValidationError, match="needs two"):
        SettingsFile(path={}, entries_at=("own",), command_field="do", keys_field="do")


TEXT = SettingsFile(path={}, entries_at=("own",), command_field="tür", keys_field="größe", keys_as="text")
AS_TEXT = '{"own": [{"tür": "öffnen", "größe": "Control+Ä"}, {"tür": "zu"}, {"ohne": 1}, 7]}'.encode()


def test_keys_as_one_text_and_entries_without_keys():
    assert read_entries(AS_TEXT, TEXT) == {"öffnen": (read_shortcut("Control+Ä"),), "zu": ()}
    changed = write_entries(AS_TEXT, TEXT, {"zu": (read_shortcut("F5"),), "öffnen": (), "neu": (read_shortcut("Alt+ß"),)})
    added = ', {"tür": "neu", "größe": "Alt+ß"}]}'
    assert changed.decode() == '{"own": [{"tür": "öffnen", "größe": ""}, {"größe": "F5", "tür": "zu"}, {"ohne": 1}, 7' + added
    with pytest.raises(SettingsFileError, match="keeps one shortcut a command, and 2 are set"):
        write_entries(AS_TEXT, TEXT, {"zu": (read_shortcut("F5"), read_shortcut("F6"))})


def test_a_list_that_loses_all_its_entries_can_take_new_ones():
    emptied = write_entries(FILE, HOW, {"save": None, "fold": None})
    assert b'"own": []' in emptied
    assert read_entries(emptied, HOW) == {}
    again = write_entries(emptied, HOW, {"save": (read_shortcut("Control+S"),)})
    assert read_entries(again, HOW) == {"save": (read_shortcut("Control+S"),)}


@given(wanted_entries, wanted_entries)
def test_reading_what_was_written_gives_the_same_entries(first, second):
    expected = read_entries(FILE, HOW)
    data = FILE
    for wanted in (first, second):
        data = write_entries(data, HOW, wanted)
        expected = {k: v for k, v in {**expected, **wanted}.items() if v is not None}
        assert read_entries(data, HOW) == expected
    assert data.startswith(b"\xef\xbb\xbf{\r\n")


@given(wanted_entries)
def test_everything_else_in_the_file_stays(wanted):
    after = json.loads(write_entries(FILE, HOW, wanted).decode("utf-8-sig"))
    before = json.loads(FILE.decode("utf-8-sig"))
    own = {e["do"]: e for e in after["keyboard"].pop("own")}
    before["keyboard"].pop("own")
    assert after == before
    if wanted.get("save"):
        assert own["save"]["since"] == "spring"


def test_an_edit_touches_only_its_own_span():
    changed = write_entries(FILE, HOW, {"save": (read_shortcut("Control+Shift+S"),)})
    assert changed == FILE.replace(b'["ctl-s"]', b'["ctl-shift-s"]')
    assert write_entries(changed, HOW, {"save": (read_shortcut("Control+S"),)}) == FILE


def test_nothing_to_change_gives_the_same_bytes():
    assert write_entries(FILE, HOW, {"save": (read_shortcut("ctrl s"),), "fold": (), "gone": None}) == FILE


def test_an_added_entry_stands_as_its_neighbours_do():
    added = write_entries(FILE, HOW, {"open": (read_shortcut("F5"),)})
    assert b'"on": [] },\r\n\t\t\t{"do": "open", "on": ["f5"]}\r\n\t\t],' in added
    assert write_entries(added, HOW, {"open": None}) == FILE


def test_a_command_that_stands_twice_loses_both_entries():
    doubled = FILE.replace(b'{ "do": "fold", "on": [] }', b'{ "do": "save", "on": [] }')
    assert read_entries(write_entries(doubled, HOW, {"save": None}), HOW) == {}


@pytest.mark.parametrize(
    "data, says",
    [
        (b"not json", "not JSON"),
        (b"{} {}", "after the end"),
        (b'{"keyboard": {}}', "has no keyboard.own"),
        (b'{"keyboard": {"own": 5}}', "not a list"),
        (b'{"keyboard": {"own": [{"do": "save", "on": 5}]}}', "neither a text"),
        (b'{"keyboard": {"own": [{"do": "save", "on": ["hyper-s"]}]}}', "hyper"),
        (b"\xff", "not UTF-8"),
        (b"[" * 5000, "nests deeper"),
        (b'{"a": [1 2]}', "comma"),
        (b'{"a" 1}', "colon"),
        (b"{a: 1}", "name in quotes"),
        (b"", "ends too early"),
    ],
)
def test_a_broken_file_is_refused_with_the_reason(data, says):
    with pytest.raises(SettingsFileError, match=says):
        read_entries(data, HOW)


json_values = st.recursive(
    st.none() | st.booleans() | st.integers() | st.floats(allow_nan=False, allow_infinity=False) | st.text(max_size=8),
    lambda inner: st.lists(inner, max_size=3) | st.dictionaries(st.text(max_size=4), inner, max_size=3),
)


@given(json_values, st.sampled_from([None, 1, "\t"]))
def test_spans_hold_exactly_the_values(value, indent):
    text = json.dumps(value, indent=indent)
    node = parse_spans(text)
    assert node.plain() == value
    for part in node.items or ():
        assert json.loads(text[part.start : part.end]) == part.plain()
