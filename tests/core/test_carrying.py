"""Settings files by description: eight containers, each with another dialect, read and written under the same laws."""

import codecs
import json
import pathlib
import random

import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from amberkey.core.containers.errors import SettingsFileError
from amberkey.core.descriptions.carrying import MOST_BYTES, Wanted, places_of, read_file, write_file
from amberkey.core.descriptions.described import Described
from amberkey.core.descriptions.dialect import Dialect, read, write
from amberkey.core.descriptions.differing import differing
from amberkey.core.descriptions.key_tables import TABLES, keys_by_name, names_in
from amberkey.core.keys.reading import read_shortcut

PLUS = {
    "Control": ["Ctrl+", "Control+"],
    "Alt": ["Alt+"],
    "Shift": ["Shift+"],
    "Meta": ["Win+", "Meta+"],
    "AltGraph": ["AltGr+"],
}
LINE = {"Control": ["C-"], "Alt": ["M-"], "Shift": ["S-"], "Meta": ["s-"]}
DESKTOP = {"Control": ["<Control>", "<Primary>"], "Alt": ["<Alt>"], "Shift": ["<Shift>"], "Meta": ["<Super>"]}
TILDE = {"Control": ["ctl~"], "Alt": ["alt~"], "Shift": ["shf~"], "Meta": ["win~"]}
CARET = {"Control": ["^"], "Alt": ["!"], "Shift": ["$"], "Meta": ["#"]}

JSON = {
    "container": "json",
    "options": {"comments": True},
    "at": ["keyboard", "own"],
    "command": "do",
    "keys": {"at": "on", "form": "list"},
    "dialect": {"modifiers": PLUS, "then": [", ", " "]},
}
JSON_FILE = """{
  // written by Boardwright
  "window": { "left": 40, },
  "keyboard": {
    "own": [
      { "do": "sheet.save", "on": ["Ctrl+S", "F12"], "since": "7.0" }, // old
      { "do": "row.add", "on": ["Ctrl+K, R"] },
      { "do": "odd", "on": ["Ctrl+Wheel"] },
    ],
  },
}
"""
YAML = {
    "container": "yaml",
    "at": ["keys", "{where}"],
    "context": "{where}",
    "command": "value",
    "keys": {"at": "name"},
    "dialect": {
        "modifiers": LINE,
        "then": [" "],
        "letters": "case is shift",
        "any_case": False,
        "keys": {"Enter": "RET", "Space": "SPC"},
    },
}
YAML_FILE = """# keys of Linewise
keys:
  board:
    C-x C-s: sheet.save   # as ever
    "C-x k": row.add
  list:
    C-RET: row.open
other: {a: 1}
"""
TOML = {
    "container": "toml",
    "at": ["bind"],
    "command": "command",
    "keys": {
        "at": "key",
        "form": "parts",
        "modifiers": {
            "form": "list",
            "at": "mods",
            "names": {"Control": "ctrl", "Alt": "alt", "Shift": "shift", "Meta": "super"},
        },
    },
    "dialect": {"modifiers": {}, "table": "x11", "letters": "small"},
}
TOML_FILE = """title = "Ebbchart"

[[bind]]
command = "sheet.save"
mods = ["ctrl"]
key = "s"

[[bind]]
command = "row.add"
mods = ["alt", "shift"]
key = "Return"
"""
XML = {
    "container": "xml",
    "at": ["settings", "keys"],
    "record": "key",
    "command": "@for",
    "keys": {
        "at": "@code",
        "form": "parts",
        "modifiers": {"form": "mask", "at": "@held", "bits": {"Shift": 1, "Control": 2, "Alt": 4, "Meta": 8}},
    },
    "only": {"@kind": "press"},
    "dialect": {"modifiers": {}, "table": "vk"},
}
XML_FILE = """<?xml version="1.0" encoding="utf-8"?>
<settings>
  <keys>
    <!-- own keys -->
    <key kind="press" for="sheet.save" held="2" code="83"/>
    <key kind="mouse" for="sheet.save" held="0" code="1"/>
    <key kind="press" for="row.add" held="6" code="112"/>
  </keys>
</settings>
"""
INI = {
    "container": "ini",
    "at": ["keys/{scope}"],
    "context": "{scope}",
    "command": "name",
    "keys": {"at": "value", "form": "split", "between": ";", "words": ["none"]},
    "dialect": {"modifiers": TILDE, "letters": "small", "keys": {"code:NumpadEnter": "pad-enter", "+": "plus"}},
}
INI_FILE = """; written by Tidewarden 6.4
[window]
width=1180

[keys/berths]
sheet.save=ctl~shf~b
row.add=ctl~alt~b;F7
row.swap=none

[keys/map]
zoom.in=ctl~plus
zoom.fit=ctl~pad-entr
"""
PROPERTIES = {
    "container": "properties",
    "command": "name",
    "keys": {"at": "value", "words": [], "unbound": ["empty"]},
    "dialect": {
        "modifiers": {"Control": ["control "], "Alt": ["alt "], "Shift": ["shift "], "Meta": ["meta "]},
        "letters": "capital",
    },
}
PROPERTIES_FILE = """# Hawsepipe
sheet.save=control S
row.add = shift alt F5
row.swap:
"""
TABLE = {
    "container": "table",
    "options": {"separator": ";"},
    "command": "Command",
    "context": "Where",
    "keys": {"at": "Key 1", "form": "numbered", "further": ["Key 2"]},
    "dialect": {"modifiers": CARET, "letters": "small", "keys": {"^": "caret", "!": "bang", "$": "dollar", "#": "hash"}},
}
TABLE_FILE = """Command;Where;Key 1;Key 2;Note
sheet.save;desk;^s;f12;"as; ever"
row.add;desk;^!r;;
"""
LINES = {
    "container": "lines",
    "options": {"template": "on {context}: {command} <- {keys:rest}"},
    "context": "context",
    "command": "command",
    "keys": {"at": "keys"},
    "dialect": {"modifiers": DESKTOP, "table": "x11", "letters": "small", "then": [" & "]},
}
LINES_FILE = """# Gullwake
on board: sheet.save <- <Control>s
on board: row.add <- <Control>k & <Control>r
set speed 4
on list: row.open <- Return
"""
STORE = {
    "container": "store",
    "command": "name",
    "keys": {"at": "value", "form": "list"},
    "dialect": {"modifiers": DESKTOP, "table": "x11", "letters": "small"},
}
STORE_FILE = """[/]
sheet.save=['<Control>s', 'F12']
row.add=["<Control><Alt>r"]
row.swap=@as []
width=uint32 4

[org/window]
size=(400, 300)
"""
SAMPLES = {
    "json": (JSON, JSON_FILE, ""),
    "yaml": (YAML, YAML_FILE, "board"),
    "toml": (TOML, TOML_FILE, ""),
    "xml": (XML, XML_FILE, ""),
    "ini": (INI, INI_FILE, "berths"),
    "properties": (PROPERTIES, PROPERTIES_FILE, ""),
    "table": (TABLE, TABLE_FILE, "desk"),
    "lines": (LINES, LINES_FILE, "board"),
    "store": (STORE, STORE_FILE, ""),
}
every = pytest.mark.parametrize("name", SAMPLES)
PRESSES = [
    "Control+S",
    "Control+Shift+K",
    "Alt+F4",
    "F9",
    "Control+Alt+Enter",
    "Shift+Tab",
    "Control+Shift+ArrowLeft",
    "Meta+D",
    "Control+5",
]


def described(value) -> Described:
    return Described.model_validate(value, strict=False)


def sc(*texts):
    return tuple(read_shortcut(t) for t in texts)


def said(data: bytes, how: Described) -> dict:
    return {w.command: [str(s) for s in keys] for w, keys in read_file(data, how).shortcuts.items()}


@pytest.mark.parametrize(
    "name, expected",
    [
        ("json", {"sheet.save": ["Control+S", "F12"], "row.add": ["Control+K then R"]}),
        ("yaml", {"sheet.save": ["Control+X then Control+S"], "row.add": ["Control+X then K"], "row.open": ["Control+Enter"]}),
        ("toml", {"sheet.save": ["Control+S"], "row.add": ["Alt+Shift+Enter"]}),
        ("xml", {"sheet.save": ["Control+S"], "row.add": ["Control+Alt+F1"]}),
        (
            "ini",
            {
                "sheet.save": ["Control+Shift+B"],
                "row.add": ["Control+Alt+B", "F7"],
                "row.swap": [],
                "zoom.in": ["Control+Plus"],
            },
        ),
        ("properties", {"sheet.save": ["Control+S"], "row.add": ["Alt+Shift+F5"], "row.swap": []}),
        ("table", {"sheet.save": ["Control+S", "F12"], "row.add": ["Control+Alt+R"]}),
        ("lines", {"sheet.save": ["Control+S"], "row.add": ["Control+K then Control+R"], "row.open": ["Enter"]}),
        ("store", {"sheet.save": ["Control+S", "F12"], "row.add": ["Control+Alt+R"], "row.swap": []}),
    ],
)
def test_each_file_says_what_people_would_read_in_it(name, expected):
    how, text, _ = SAMPLES[name]
    assert said(text.encode(), described(how)) == expected


def test_what_cannot_be_read_is_told_with_its_line_and_the_rest_is_read():
    reading = read_file(JSON_FILE.encode(), described(JSON))
    assert [(u.line, u.says.split(":")[0]) for u in reading.unread] == [(8, "odd")]
    assert [u.line for u in read_file(INI_FILE.encode(), described(INI)).unread] == [12]
    assert {f.what.command: f.line for f in reading.found} == {"sheet.save": 6, "row.add": 7}


@every
@given(st.data())
def test_what_is_written_is_read_again_and_nothing_else_is_another(name, data):
    value, text, context = SAMPLES[name]
    how = described(value)
    end = data.draw(st.sampled_from(["\n", "\r\n"]))
    mark = data.draw(st.sampled_from([b"", codecs.BOM_UTF8])) if name not in ("xml",) else b""
    before = mark + text.replace("\n", end).encode()
    commands = [w for w in read_file(before, how).shortcuts if w.context == context] + [Wanted("fresh.one", context)]
    wanted = {}
    free = data.draw(st.permutations(PRESSES))
    for one in data.draw(st.lists(st.sampled_from(commands), max_size=3, unique=True)):
        count = data.draw(st.integers(0, 2))
        shortcuts = tuple(read_shortcut(free.pop()) for _ in range(count))
        wanted[one] = (
            data.draw(st.sampled_from([shortcuts, None]))
            if one.command != "fresh.one" or name == "toml"
            else shortcuts or sc(free.pop())
        )
        if not wanted[one] and name in ("yaml",):
            wanted[one] = None
        if wanted[one] == () and name in ("toml", "xml", "lines"):
            wanted[one] = None
    standing = read_file(before, how).shortcuts
    written = write_file(before, how, wanted)
    after = read_file(written.data, how).shortcuts
    for one, shortcuts in wanted.items():
        assert after.get(one) == shortcuts
    assert {k: v for k, v in after.items() if k not in wanted} == {k: v for k, v in standing.items() if k not in wanted}
    assert written.data.startswith(mark)
    assert end == "\n" or b"\n" not in written.data.replace(b"\r\n", b"")
    assert write_file(written.data, how, wanted) == type(written)(written.data, ())


@every
def test_writing_what_is_there_changes_no_byte(name):
    value, text, _ = SAMPLES[name]
    how = described(value)
    data = text.encode()
    assert write_file(data, how, read_file(data, how).shortcuts).data == data


@every
def test_what_is_added_and_taken_out_again_leaves_the_first_bytes(name):
    value, text, context = SAMPLES[name]
    how, data, fresh = described(value), text.encode(), Wanted("fresh.one", context)
    added = write_file(data, how, {fresh: sc("Control+Shift+K")})
    assert added.changed == (fresh,)
    assert len(added.data) > len(data)
    assert write_file(added.data, how, {fresh: None}).data == data


@every
def test_an_edit_changes_only_its_slots(name):
    value, text, context = SAMPLES[name]
    how, data = described(value), text.encode()
    after = write_file(data, how, {Wanted("sheet.save", context): sc("Control+Shift+K")}).data.decode()
    before_lines, after_lines = text.splitlines(), after.splitlines()
    kept = [line for line in after_lines if line in before_lines]
    assert len(before_lines) - len(kept) <= 2
    for comment in (
        "// written by Boardwright",
        "# keys of Linewise",
        "<!-- own keys -->",
        "; written by Tidewarden",
        '"as; ever"',
        "set speed 4",
    ):
        assert (comment in after) == (comment in text)


@pytest.mark.parametrize(
    "encoding, mark", [("utf-16-le", codecs.BOM_UTF16_LE), ("utf-16-be", codecs.BOM_UTF16_BE), ("cp1252", b"")]
)
def test_a_file_stays_in_its_encoding(encoding, mark):
    how = described({**INI, "encoding": encoding})
    data = mark + INI_FILE.replace("width", "größe").encode(encoding)
    written = write_file(data, how, {Wanted("sheet.save", "berths"): sc("F9")}).data
    assert written.startswith(mark)
    assert "sheet.save=f9" in written[len(mark) :].decode(encoding)
    assert "größe=1180" in written[len(mark) :].decode(encoding)
    with pytest.raises(SettingsFileError, match="can't be written in cp1252"):
        write_file(
            data, described({**INI, "encoding": "cp1252"}), {Wanted("ж", "berths"): sc("F9")}
        ) if encoding == "cp1252" else raised()


def raised():
    raise SettingsFileError("can't be written in cp1252")


def test_where_a_file_is_keyed_by_keys_no_name_is_written_twice():
    how, data = described(YAML), YAML_FILE.encode()
    with pytest.raises(SettingsFileError, match=r"C-x k is the name of row\.add in this file already"):
        write_file(data, how, {Wanted("sheet.save", "board"): sc("Control+X then K")})
    with pytest.raises(SettingsFileError, match="can't be left without a shortcut here"):
        write_file(data, how, {Wanted("sheet.save", "board"): ()})
    # In another part of the file it is free; and where both change places, it is too.
    write_file(data, how, {Wanted("row.open", "list"): sc("Control+X then K")})
    both = write_file(
        data, how, {Wanted("row.add", "board"): sc("F9"), Wanted("sheet.save", "board"): sc("F8", "F7")}
    ).data.decode()
    assert said(both.encode(), how)["sheet.save"] == ["F8", "F7"]


@pytest.mark.parametrize(
    "name, wanted, why",
    [
        ("ini", ["AltGraph+S"], "no text for AltGraph"),
        ("ini", ["Control+K then S"], "no presses in turn"),
        ("table", ["F1", "F2", "F3"], "room for 2 shortcuts"),
        ("toml", ["AltGraph+S"], "no modifier AltGraph"),
        ("toml", ["Control+K then S"], "no presses in turn"),
        ("xml", ["Control+Ä"], "no name for it"),
        ("lines", ["Control+Dictate"], "no name for it"),
    ],
)
def test_what_a_file_has_no_text_for_is_refused_and_says_which(name, wanted, why):
    value, text, context = SAMPLES[name]
    with pytest.raises(SettingsFileError, match=why):
        write_file(text.encode(), described(value), {Wanted("sheet.save", context): sc(*wanted)})


@pytest.mark.parametrize("text", ["9 " * 6000, "C-x " * 3000, "C-" * 5000, "9" * 6000])
def test_a_text_of_presses_without_end_is_told_and_left_alone(text):
    how = described({**INI, "dialect": {**YAML["dialect"], "then": [" "]}})
    reading = read_file(f"[keys/map]\nzoom.in={text.strip()}\nzoom.fit=C-k\n".encode(), how)
    assert [f.what.command for f in reading.found] == ["zoom.fit"]
    (left,) = reading.unread
    assert (left.what.command, left.line, len(left.says) < 150) == ("zoom.in", 2, True)


def test_what_was_never_there_is_said_and_what_is_no_such_file_too():
    with pytest.raises(SettingsFileError, match="may never have been started"):
        write_file(b"{}", described(JSON), {Wanted("a"): sc("F9")})
    with pytest.raises(SettingsFileError, match="no part for attic"):
        write_file(INI_FILE.encode(), described(INI), {Wanted("a", "attic"): sc("F9")})
    with pytest.raises(SettingsFileError, match="MB is the most"):
        read_file(b" " * (MOST_BYTES + 1), described(JSON))
    for line_end in (b"\n", b"\r"):
        with pytest.raises(SettingsFileError, match="more than 150,000 lines"):
            read_file(line_end * 150_001, described(INI))
    with pytest.raises(SettingsFileError, match="more than 50,000 values"):
        read_file(b'{"x": [' + b"0," * 50_000 + b"0]}", described(JSON))
    with pytest.raises(SettingsFileError, match="not written in utf-8: byte 1"):
        read_file(b"{\xff}", described(JSON))
    with pytest.raises(SettingsFileError, match="number 0"):
        read_file(b"a=\x00", described(INI))


@pytest.mark.parametrize(
    "change, why",
    [
        ({"command": "on"}, "two places"),
        ({"container": "lines"}, "template"),
        ({"context": "{where}"}, "no step"),
        ({"keys": {"at": "on", "form": "parts"}}, "modifiers stand apart"),
        ({"keys": {"at": "on", "form": "numbered"}}, "further places"),
        ({"keys": {"at": "on", "unbound": []}}, "without keys looks"),
        ({"dialect": {"modifiers": {"Control": ["^"], "Shift": ["^"]}}}, "is written as"),
        ({"dialect": {"modifiers": {"Control": ["C-"]}, "keys": {"A": "B"}}}, "is written as"),
        ({"dialect": {"modifiers": {"Control": ["C-"]}, "then": ["C-"]}}, "is written as"),
        ({"dialect": {"modifiers": {"Control": ["C-"]}, "order": ["Alt"]}}, "no place in the order"),
        ({"dialect": {"modifiers": {}, "whole": {"Control+Nowhere": "x"}}}, "whole"),
    ],
)
def test_a_description_that_could_not_write_what_it_reads_is_refused(change, why):
    with pytest.raises(ValidationError, match=why):
        described({**JSON, **change})


def test_what_the_page_on_formats_shows_is_so():
    page = (pathlib.Path(__file__).parents[2] / "docs/formats/settings-files.md").read_text()
    shown = page.split('"settings_files": [', 1)[1].split("    }]", 1)[0] + "}"
    file = page.split("Take this file of a made-up program:", 1)[1].split("Its description:", 1)[0]
    text = "\n".join(line.removeprefix("    ") for line in file.strip("\n").splitlines()) + "\n"
    expected = {"sheet.save": ["Control+Shift+B"], "row.add": ["Control+Alt+B", "F7"], "row.swap": []}
    assert said(text.encode(), described(json.loads(shown))) == expected


@pytest.mark.parametrize("table", TABLES)
def test_tables_name_each_key_once_and_lead_back(table):
    names = names_in(table)
    assert len(set(names.values())) == len(names)
    assert all(keys_by_name(table)[name] == key for key, name in names.items())
    assert {"A", "5", "F5", "Enter", "ArrowLeft"} <= names.keys()


def test_numbers_of_keys_are_those_of_their_sources():
    picked = {t: [names_in(t)[k] for k in ("A", "Z", "0", "9", "F12", "F13", "Enter", "/")] for t in ("hid", "vk", "evdev")}
    assert picked == {
        "hid": ["4", "29", "39", "38", "69", "104", "40", "56"],
        "vk": ["65", "90", "48", "57", "123", "124", "13", "191"],
        "evdev": ["30", "44", "11", "10", "88", "183", "28", "53"],
    }


BROKEN = [
    b"\x00",
    b"\xff",
    b"\r",
    b"\\",
    b'"',
    b"{",
    b"[" * 3000,
    b"<a>" * 300,
    b"*a",
    b"- " * 400,
    b"9" * 6000,
    b"&a",
    b"\\u12",
]


@every
@given(st.data())
def test_a_broken_file_is_read_as_far_as_it_goes_or_refused_in_words(name, data):
    value, text, _ = SAMPLES[name]
    how, found = described(value), bytearray(text.encode())
    for _ in range(data.draw(st.integers(1, 3))):
        at = data.draw(st.integers(0, len(found)))
        found[at : at + data.draw(st.integers(0, 9))] = data.draw(st.sampled_from(BROKEN))
    try:
        reading = read_file(bytes(found), how)
    except SettingsFileError as error:
        refused = error
    else:
        assert write_file(bytes(found), how, {}).data == bytes(found)
        assert all(1 <= u.line <= text.count("\n") + 3000 for u in reading.unread)
        return
    assert refused.says


@pytest.mark.parametrize("number", range(60))
def test_drawn_dialects_come_back_or_are_refused(number):
    rnd = random.Random(number)
    marks = rnd.choice([("{}+", "{}-", "{}_"), ("{}~",), ("<{}>",), ("[{}]",)])
    words = {
        "Control": ["ctrl", "C", "ctl"],
        "Alt": ["alt", "A", "opt"],
        "Shift": ["shift", "S", "shf"],
        "Meta": ["win", "M", "cmd"],
    }
    modifiers = {m: [rnd.choice(marks).format(rnd.choice(w))] for m, w in words.items()}
    value = {
        "modifiers": modifiers,
        "letters": rnd.choice(["as they are", "small", "capital", "case is shift"]),
        "then": rnd.choice([[], [" "], [", "]]),
    }
    if rnd.random() < 0.3:
        value["wrapping"] = {"before": "<", "after": ">", "when": rnd.choice(["always", "special"])}
    if value["letters"] == "case is shift":
        value["any_case"] = False
    try:
        how = Dialect.model_validate(value, strict=False)
    except ValidationError as error:
        refused = str(error)
    else:
        for text in ("Control+S", "Control+Shift+F5", "Alt+Enter", "Shift+A", "G"):
            assert read(how, write(how, read_shortcut(text))) == read_shortcut(text)
        return
    assert "is written as" in refused


def test_what_two_descriptions_say_otherwise_is_told_part_by_part():
    here = Described.model_validate({**JSON, "path": {"windows": "a/b.json"}}, strict=False)
    dialect = {**JSON["dialect"], "modifiers": {**PLUS, "Control": ["C-"]}}
    there = Described.model_validate({**JSON, "dialect": dialect, "rewrites_at_exit": True}, strict=False)
    assert differing(here, here) == []
    told = [(d.what, d.here, d.there) for d in differing(here, there)]
    assert sorted(told) == [
        ("how keys are written (modifiers, Control)", "Ctrl+ Control+", "C-"),
        ("where it lies", "windows a/b.json", ""),
        ("whether it is written when the program ends", "", "yes"),
    ]
    assert sorted((d.what, d.there, d.here) for d in differing(there, here)) == sorted(told)


@every
def test_the_places_of_a_file_are_all_that_writing_changes(name):
    value, text, context = SAMPLES[name]
    how, data = described(value), text.encode()
    lines = text.split("\n")
    places = places_of(data, how)
    assert len(places) >= 2 * sum(bool(f.shortcuts) for f in read_file(data, how).found)
    found = {lines[p.line - 1][p.begin : p.end] for p in places}
    assert any("sheet.save" in one for one in found)
    one = next(w for w in read_file(data, how).shortcuts if w.context == context and read_file(data, how).shortcuts[w])
    try:
        written = write_file(data, how, {one: sc("F9")}).data.decode().split("\n")
    except SettingsFileError:
        return
    if len(written) != len(lines):
        return
    for n, (before, after) in enumerate(zip(lines, written, strict=True), 1):
        if before != after:
            here = [p for p in places if p.line == n]
            same = next(
                (i for i, (a, b) in enumerate(zip(before, after, strict=False)) if a != b), min(len(before), len(after))
            )
            assert any(p.begin <= same <= p.end for p in here)


def test_a_place_over_several_lines_is_one_on_each_and_line_ends_are_none():
    data = b'{"keyboard": {"own": [{"do": "a", "on": [\r\n "F9",\r\n "F8"]}]}}'
    places = places_of(data, described(JSON))
    assert [tuple(p) for p in places] == [(1, 29, 32), (1, 40, 41), (2, 0, 6), (3, 0, 6)]
