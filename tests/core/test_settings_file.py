import json

import pytest
from hypothesis import given
from hypothesis import strategies as st

from amberkey.core.exchange.dialect import read_in, write_in
from amberkey.core.exchange.errors import SettingsFileError
from amberkey.core.exchange.json_spans import parse_spans
from amberkey.core.exchange.settings_file import read_entries, write_entries
from amberkey.core.keys.names import NAMED_KEYS
from amberkey.core.keys.reading import read_shortcut
from amberkey.core.keys.shortcut import Press, Shortcut
from amberkey.core.programs.settings import Dialect, SettingsFile

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


@given(st.sampled_from(DIALECTS), shortcuts)
def test_every_dialect_reads_what_it_wrote(dialect, shortcut):
    assert read_in(dialect, write_in(dialect, shortcut)) == shortcut


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
