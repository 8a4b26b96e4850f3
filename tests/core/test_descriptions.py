"""The first description that there was, in the words of program documents from before, and a file of such a program."""

import json

import pytest
from hypothesis import given
from hypothesis import strategies as st

from amberkey.core.containers.errors import SettingsFileError
from amberkey.core.descriptions.carrying import Wanted, read_file, write_file
from amberkey.core.descriptions.described import Described
from amberkey.core.descriptions.older import upgraded
from amberkey.core.keys.names import NAMED_KEYS
from amberkey.core.keys.reading import read_shortcut
from amberkey.core.keys.shortcut import Press, Shortcut

OLD = {
    "path": {"windows": "Tableware/settings.json"},
    "entries_at": ["keyboard", "own"],
    "command_field": "do",
    "keys_field": "on",
    "dialect": {
        "separator": "-",
        "then": ", ",
        "lower_case": True,
        "modifiers": {"Control": "ctl", "Alt": "alt", "Shift": "shift", "Meta": "meta", "AltGraph": "altgr"},
        "order": ["Meta", "Control", "Alt", "Shift", "AltGraph"],
        "keys": {"Escape": "esc", "Delete": "del", "ArrowUp": "up"},
    },
}
HOW = Described.model_validate(upgraded(OLD), strict=False)
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
    st.one_of(st.none(), st.lists(shortcuts, max_size=2, unique=True).map(tuple)),
    max_size=4,
)


def read_entries(data, how=HOW):
    return {w.command: s for w, s in read_file(data, how).shortcuts.items()}


def write_entries(data, wanted, how=HOW):
    return write_file(data, how, {Wanted(c): s for c, s in wanted.items()}).data


def test_what_old_documents_leave_out_is_what_it_was():
    how = Described.model_validate(
        upgraded({"path": {}, "entries_at": ["own"], "command_field": "tür", "keys_field": "größe", "keys_as": "text"}),
        strict=False,
    )
    text = '{"own": [{"tür": "öffnen", "größe": "Control+Ä"}, {"tür": "zu"}, {"ohne": 1}, 7]}'.encode()
    assert read_entries(text, how) == {"öffnen": (read_shortcut("Control+Ä"),), "zu": ()}
    wanted = {"zu": (read_shortcut("F5"),), "öffnen": (), "neu": (read_shortcut("Alt+Plus"),)}
    changed = write_entries(text, wanted, how).decode()
    own = '{"tür": "öffnen", "größe": ""}, {"tür": "zu", "größe": "F5"}, {"ohne": 1}, 7, {"tür": "neu", "größe": "Alt+Plus"}'
    assert changed == f'{{"own": [{own}]}}'


def test_a_list_that_loses_all_its_entries_can_take_new_ones():
    emptied = write_entries(FILE, {"save": None, "fold": None})
    assert b'"own": []' in emptied
    assert read_entries(emptied) == {}
    again = write_entries(emptied, {"save": (read_shortcut("Control+S"),)})
    assert read_entries(again) == {"save": (read_shortcut("Control+S"),)}


@given(wanted_entries, wanted_entries)
def test_reading_what_was_written_gives_the_same_entries(first, second):
    expected = read_entries(FILE)
    data = FILE
    for wanted in (first, second):
        data = write_entries(data, wanted)
        expected = {k: v for k, v in {**expected, **wanted}.items() if v is not None}
        assert read_entries(data) == expected
    assert data.startswith(b"\xef\xbb\xbf{\r\n")


@given(wanted_entries)
def test_everything_else_in_the_file_stays(wanted):
    after = json.loads(write_entries(FILE, wanted).decode("utf-8-sig"))
    before = json.loads(FILE.decode("utf-8-sig"))
    own = {e["do"]: e for e in after["keyboard"].pop("own")}
    before["keyboard"].pop("own")
    assert after == before
    if wanted.get("save"):
        assert own["save"]["since"] == "spring"


def test_an_edit_touches_only_its_own_span():
    changed = write_entries(FILE, {"save": (read_shortcut("Control+Shift+S"),)})
    assert changed == FILE.replace(b'["ctl-s"]', b'["ctl-shift-s"]')
    assert write_entries(changed, {"save": (read_shortcut("Control+S"),)}) == FILE


def test_nothing_to_change_gives_the_same_bytes():
    assert write_entries(FILE, {"save": (read_shortcut("ctrl s"),), "fold": (), "gone": None}) == FILE


def test_an_added_entry_stands_as_its_neighbours_do():
    added = write_entries(FILE, {"open": (read_shortcut("F5"),)})
    assert b'"on": [] },\r\n\t\t\t{"do": "open", "on": ["f5"]}\r\n\t\t],' in added
    assert write_entries(added, {"open": None}) == FILE


def test_a_command_that_stands_twice_loses_both_entries():
    doubled = FILE.replace(b'{ "do": "fold", "on": [] }', b'{ "do": "save", "on": [] }')
    assert read_entries(write_entries(doubled, {"save": None})) == {}


@pytest.mark.parametrize(
    "data, says",
    [
        (b"not json", "not JSON"),
        (b"{} {}", "after the end"),
        (b"\xff", "not written in utf-8"),
        (b"[" * 5000, "nests deeper"),
        (b'{"a": [1 2]}', "comma"),
        (b'{"a" 1}', "colon"),
        (b"{a: 1}", "name in quotes"),
        (b"", "ends too early"),
    ],
)
def test_a_broken_file_is_refused_with_the_reason(data, says):
    with pytest.raises(SettingsFileError, match=says):
        read_entries(data)


@pytest.mark.parametrize("value", ['"hyper-s"', '["hyper-s"]', "[5]", "{}"])
def test_one_entry_that_cannot_be_read_leaves_the_others(value):
    data = FILE.replace(b'["ctl-s"]', value.encode())
    assert [u.line for u in read_file(data, HOW).unread] == [5]
    assert read_entries(data) == {"fold": ()}
    assert b'"do": "save"' in write_entries(data, {"fold": (read_shortcut("F5"),)})
    if value[0] != "{":
        assert read_entries(write_entries(data, {"save": (read_shortcut("F5"),)}))["save"] == (read_shortcut("F5"),)
