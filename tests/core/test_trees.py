"""The laws of every container of settings files: what stands in it is found, and a change comes to what it says alone.

Each container has a way of its own to draw a file with records in it; the laws are the same for all.
"""

import json
from dataclasses import dataclass

import pytest
from hypothesis import given
from hypothesis import strategies as st

from amberkey.core.containers.errors import SettingsFileError
from amberkey.core.containers.ini import Ini
from amberkey.core.containers.json_tree import JsonTree
from amberkey.core.containers.properties import Properties
from amberkey.core.containers.store import Store
from amberkey.core.containers.table import Lines, Table
from amberkey.core.containers.toml_tree import TomlTree
from amberkey.core.containers.tree import Append, Cut, Node, Put, Rename, edited
from amberkey.core.containers.xml_tree import XmlTree
from amberkey.core.containers.yaml_tree import YamlTree

NAMES = st.sampled_from(["open", "save.all", "größe", "go to", "x_1", "Find-2"])
VALUES = st.sampled_from(
    [
        "ctrl+s",
        "F5",
        "",
        "a: b",
        "x#y",
        "it's",
        'say "so"',
        "ä ß €",
        "😀",
        "<&>",
        "c:\\d",
        "yes",
        "5",
        "[x]",
        "{y}",
        "a, b",
        "* z",
        "- q",
    ]
)
ENDS = st.sampled_from(["\n", "\r\n"])


@dataclass
class Drawn:
    """A file, the node in which its records stand, and what these are: named texts, or rows of them."""

    container: object
    options: dict
    text: str
    at: tuple[str, ...]
    records: list

    def open(self, text=None):
        return self.container.open(self.text if text is None else text, self.options)

    def place(self, opened) -> Node:
        node = opened.root
        for name in self.at:
            node = node.get(name)
        return node

    def said(self, text=None) -> list:
        return said(self.place(self.open(text)))

    def around(self, text=None):
        """Everything but the records."""
        return without(self.open(text).root, self.at)


def said(place: Node) -> list:
    if place.items is not None:
        return [{m.name: m.node.plain() for m in i.members} for i in place.items]
    return [(m.name, m.node.plain()) for m in place.members or () if m.node.is_scalar]


def without(node: Node, at: tuple[str, ...]):
    if not at:
        return "..."
    return [(m.name, without(m.node, at[1:]) if m.name == at[0] else m.node.plain()) for m in node.members or ()]


def named(draw, values=VALUES, least=0):
    names = draw(st.lists(NAMES, min_size=least, max_size=5, unique=True))
    return [(n, draw(values)) for n in names]


def rows(draw, columns=("do", "on"), values=VALUES, least=0):
    return [{c: draw(values) for c in columns} for _ in range(draw(st.integers(least, 4)))]


@st.composite
def json_maps(draw):
    records = named(draw)
    root = {"speed": 4, "keys": dict(records), "größe": [1, {"a": None}]}
    return Drawn(
        JsonTree(),
        {},
        json.dumps(root, indent=draw(st.sampled_from([None, 1, "\t"])), ensure_ascii=draw(st.booleans())),
        ("keys",),
        records,
    )


@st.composite
def json_lists(draw):
    records = rows(draw)
    root = {"speed": 4, "keys": records, "last": True}
    return Drawn(JsonTree(), {}, json.dumps(root, indent=draw(st.sampled_from([None, 2]))), ("keys",), records)


@st.composite
def json_with_comments(draw):
    records, end = rows(draw), draw(ENDS)
    last = draw(st.sampled_from(["", ","])) if records else ""
    lines = ["// one", "{", '  "speed": 4, /* two, */', '  "keys": [ // three']
    for n, r in enumerate(records):
        comma = "," if n < len(records) - 1 else last
        lines.append(f"    {json.dumps(r, ensure_ascii=False)}{comma} // of {n}, so")
    lines += ["  ],", "  // four", '  "end": {}', "}"]
    return Drawn(JsonTree(), {"comments": True}, end.join(lines) + end, ("keys",), records)


@st.composite
def ini_files(draw):
    values = VALUES.filter(lambda v: v == v.strip())
    names = st.sampled_from(["open", "save.all", "größe", "go to", "x_1", "Find-2"])
    records, end, between = (
        [(n, draw(values)) for n in draw(st.lists(names, max_size=5))],
        draw(ENDS),
        draw(st.sampled_from(["=", " = ", ": ", ":"])),
    )
    lines = [
        "; hello",
        "loose=1",
        "",
        "[window]",
        "width=4",
        "",
        "[keys/map]  ; these",
        *(f"{n}{between}{v}" for n, v in records),
        "",
        "[recent]",
        "file0=a=b",
    ]
    return Drawn(Ini(), {}, end.join(lines) + draw(st.sampled_from(["", end])), ("keys/map",), records)


@st.composite
def properties_files(draw):
    records, end = named(draw), draw(ENDS)
    quoted = lambda t: t.replace("\\", "\\\\")  # noqa: E731
    name = lambda t: t.replace(" ", "\\ ")  # noqa: E731
    lines = ["# hello", *(f"{name(n)}{draw(st.sampled_from(['=', ' = ', ': ']))}{quoted(v)}" for n, v in records)]
    return Drawn(Properties(), {"ascii": draw(st.booleans())}, end.join(lines) + draw(st.sampled_from(["", end])), (), records)


@st.composite
def toml_tables(draw):
    records, end = named(draw), draw(ENDS)
    key = lambda n: json.dumps(n, ensure_ascii=False)  # noqa: E731
    lines = [
        "# hello",
        'title = "x"',
        "",
        "[keys.own] # these",
        *(f"{key(n)} = {json.dumps(v, ensure_ascii=False)} # {k}" for k, (n, v) in enumerate(records)),
        "",
        "[last]",
        "a = [1, 2, # no",
        "  3]",
    ]
    return Drawn(TomlTree(), {}, end.join(lines) + draw(st.sampled_from(["", end])), ("keys", "own"), records)


@st.composite
def toml_blocks(draw):
    records, end = rows(draw, least=1), draw(ENDS)
    lines = ["a = 1", ""]
    for r in records:
        lines += ["[[keys]]", *(f"{k} = {json.dumps(v, ensure_ascii=False)}" for k, v in r.items()), ""]
    return Drawn(TomlTree(), {}, end.join(lines) + end, ("keys",), records)


@st.composite
def toml_inline(draw):
    records = rows(draw)
    inner = ", ".join(
        "{ " + ", ".join(f"{k} = {json.dumps(v, ensure_ascii=False)}" for k, v in r.items()) + " }" for r in records
    )
    return Drawn(TomlTree(), {}, f"a = 1\nkeys = [{inner}]\nb = 1979-05-27T07:32:00Z\n", ("keys",), records)


@st.composite
def xml_files(draw):
    from xml.sax.saxutils import quoteattr

    records, end = rows(draw, ("@do", "@on")), draw(ENDS)
    first = '<?xml version="1.0" encoding="ISO-8859-1"?>'
    lines = [first, "<!-- <key/> -->", "<settings>", '  <speed v="4"/>', "  <keys>"]
    lines += [f"    <key {' '.join(f'{k[1:]}={quoteattr(v)}' for k, v in r.items())}/>" for r in records]
    lines += ["  </keys>", "  <end>text &amp; more</end>", "</settings>"]
    return Drawn(XmlTree(), {}, end.join(lines) + end, ("settings", "keys"), records)


@st.composite
def yaml_maps(draw):
    records, end = named(draw), draw(ENDS)
    style = draw(st.sampled_from(["double", "single"]))

    def write(v):
        return json.dumps(v, ensure_ascii=False) if style == "double" else "'" + v.replace("'", "''") + "'"

    flow = draw(st.booleans())
    inner = [f"{json.dumps(n, ensure_ascii=False)}: {write(v)}" for n, v in records]
    keys = (
        ["keys: {" + ", ".join(inner) + "} # these"]
        if flow or not inner
        else ["keys:  # these", *(f"  {i}  # {k}" for k, i in enumerate(inner))]
    )
    lines = ["# hello", "speed: 4", *keys, "", "# more", "last: [1, 2]"]
    return Drawn(YamlTree(), {}, end.join(lines) + draw(st.sampled_from(["", end])), ("keys",), records)


@st.composite
def yaml_lists(draw):
    records, indent = rows(draw, least=1), draw(st.sampled_from(["", "  "]))
    lines = ["keys:"]
    for r in records:
        fields = [f"{k}: {json.dumps(v, ensure_ascii=False)}" for k, v in r.items()]
        lines += [f"{indent}- {fields[0]}", *(f"{indent}  {f}" for f in fields[1:])]
    lines += ["last: |", "  some", "  text"]
    return Drawn(YamlTree(), {}, "\n".join(lines) + "\n", ("keys",), records)


@st.composite
def tables(draw):
    separator, end = draw(st.sampled_from([",", ";", "\t"])), draw(ENDS)
    header = draw(st.booleans())
    columns = ("do", "on") if header else ("1", "2")
    records = rows(draw, columns, least=0 if header else 1)
    write = lambda v: '"' + v.replace('"', '""') + '"' if separator in v or v.startswith('"') or draw(st.booleans()) else v  # noqa: E731
    lines = [separator.join(columns)] if header else []
    lines += [separator.join(write(v) for v in r.values()) for r in records]
    records = [r for r, line in zip(records, lines[1:] if header else lines, strict=True) if line.strip()]
    return Drawn(
        Table(), {"separator": separator, "header": header}, end.join(lines) + draw(st.sampled_from(["", end])), (), records
    )


@st.composite
def line_files(draw):
    end = draw(ENDS)
    words = st.sampled_from(["open", "save.all", "größe", "x_1"])
    keys = VALUES.filter(lambda v: v and v == v.strip() and " <- " not in v)
    records = [{"context": draw(words), "command": draw(words), "keys": draw(keys)} for _ in range(draw(st.integers(0, 4)))]
    lines = ["# hello", *(f"on {r['context']}: {r['command']} <- {r['keys']}" for r in records)]
    options = {"template": "on {context}: {command} <- {keys:rest}"}
    return Drawn(Lines(), options, end.join(lines) + draw(st.sampled_from(["", end])), (), records)


@st.composite
def store_files(draw):
    end = draw(ENDS)
    names = st.sampled_from(["open", "save.all", "x_1", "Find-2"])
    records = [(f"org/keys/{n}", draw(VALUES)) for n in draw(st.lists(names, max_size=4, unique=True))]
    quote = lambda v: "'" + v.replace("\\", "\\\\").replace("'", "\\'") + "'"  # noqa: E731
    own = ["[org/keys]", *(f"{n.rpartition('/')[2]}={quote(v)}" for n, v in records)] if records else []
    lines = ["# taken out", "[org/window]", *([""] if own else []), *own, "", "[org/later]"]
    return Drawn(Store(), {}, end.join(lines) + draw(st.sampled_from(["", end])), (), records)


FILES = {
    "json maps": json_maps(),
    "json lists": json_lists(),
    "json with comments": json_with_comments(),
    "ini": ini_files(),
    "properties": properties_files(),
    "toml tables": toml_tables(),
    "toml blocks": toml_blocks(),
    "toml inline": toml_inline(),
    "xml": xml_files(),
    "yaml maps": yaml_maps(),
    "yaml lists": yaml_lists(),
    "tables": tables(),
    "lines": line_files(),
    "store": store_files(),
}
every = pytest.mark.parametrize("kind", FILES)


def fresh(drawn: Drawn, value: str):
    """A record that isn't there yet, as a change and as what it comes to."""
    if (drawn.records and isinstance(drawn.records[0], tuple)) or (not drawn.records and named_ones(drawn)):
        return lambda place: Append(place, "fresh.one", value), ("fresh.one", value)
    columns = list(drawn.records[0]) if drawn.records else columns_of(drawn)
    row = dict.fromkeys(columns, value)
    if "context" in row:
        row |= {"context": "there", "command": "fresh"}
    if drawn.at[-1:] == ("keys",) and drawn.at[0] == "settings":
        return lambda place: Append(place, "key", row), row
    return lambda place: Append(place, None, row), row


def named_ones(drawn: Drawn) -> bool:
    return isinstance(drawn.container, Ini | Properties | Store) or (
        drawn.place(drawn.open()).members is not None and drawn.at[:1] != ("settings",)
    )


def columns_of(drawn: Drawn) -> list[str]:
    if drawn.at[:1] == ("settings",):
        return ["@do", "@on"]
    if isinstance(drawn.container, Lines):
        return ["context", "command", "keys"]
    return ["1", "2"] if drawn.options.get("header") is False else ["do", "on"]


def children(place: Node) -> list[int]:
    """The places of the records among all children."""
    if place.items is not None:
        return list(range(len(place.items)))
    return [n for n, m in enumerate(place.members or ()) if m.node.is_scalar or m.name == "key"]


def records_of(drawn: Drawn, text=None) -> list:
    place = drawn.place(drawn.open(text))
    if drawn.at[:1] == ("settings",):
        return [{m.name: m.node.plain() for m in k.node.members} for k in place.members or () if k.name == "key"]
    return said(place)


@every
@given(st.data())
def test_what_stands_there_is_found(kind, data):
    drawn = data.draw(FILES[kind])
    assert records_of(drawn) == drawn.records


@every
@given(st.data())
def test_no_change_changes_no_sign(kind, data):
    drawn = data.draw(FILES[kind])
    assert edited(drawn.open(), []) == drawn.text


@every
@given(st.data())
def test_another_value_changes_its_place_alone(kind, data):
    drawn = data.draw(FILES[kind])
    opened = drawn.open()
    place = drawn.place(opened)
    slots = (
        [m.node for m in place.members or () if m.node.is_scalar]
        if place.items is None and drawn.at[:1] != ("settings",)
        else []
    )
    slots += [m.node for i in place.items or () for m in i.members if m.name not in ("context", "command")]
    slots += [m.node for k in place.members or () if k.name == "key" for m in k.node.members]
    if not slots:
        return
    n = data.draw(st.integers(0, len(slots) - 1))
    value = data.draw(st.sampled_from(["alt+x", "ä, b", 'q"q', "no", "7"]))
    text = edited(opened, [Put(slots[n], value)])
    before, after = flat(drawn.records, kind), flat(records_of(drawn, text), kind)
    assert after == [value if k == n else v for k, v in enumerate(before)]
    assert drawn.around(text) == drawn.around()
    assert text.startswith(drawn.text[: slots[n].start])
    assert text.endswith(drawn.text[slots[n].end :])
    assert edited(drawn.open(text), []) == text


def flat(records: list, kind: str) -> list:
    return [
        v
        for r in records
        for v in ([r[1]] if isinstance(r, tuple) else [w for c, w in r.items() if c not in ("context", "command")])
    ]


@every
@given(st.data())
def test_records_go_and_come_and_everything_else_stays(kind, data):
    drawn = data.draw(FILES[kind])
    opened = drawn.open()
    place = drawn.place(opened)
    at = children(place)
    gone = data.draw(st.sets(st.integers(0, len(at) - 1), max_size=len(at))) if at else set()
    change, record = fresh(drawn, data.draw(st.sampled_from(["alt+x", "F7"])))
    adds = data.draw(st.booleans()) and not (kind == "toml blocks" and len(gone) == len(at))
    text = edited(opened, [*(Cut(place, at[n]) for n in gone), *([change(place)] if adds else [])])
    left = [r for n, r in enumerate(drawn.records) if n not in gone] + ([record] if adds else [])
    if left or kind != "toml blocks":  # an array of tables that has none isn't there
        assert records_of(drawn, text) == left
        assert drawn.around(text) == drawn.around()


@every
@given(st.data())
def test_what_was_added_and_taken_out_again_leaves_the_same_signs(kind, data):
    drawn = data.draw(FILES[kind])
    if not drawn.records:
        return
    opened = drawn.open()
    change, _ = fresh(drawn, "alt+x")
    text = edited(opened, [change(drawn.place(opened))])
    again = drawn.open(text)
    place = drawn.place(again)
    back = edited(again, [Cut(place, children(place)[-1])])
    ended = drawn.text if drawn.text.endswith("\n") or kind in ("json maps", "json lists") else None
    assert back == drawn.text if ended is not None else back.rstrip("\r\n") == drawn.text.rstrip("\r\n")


@pytest.mark.parametrize("kind", ["json maps", "ini", "properties", "toml tables", "yaml maps"])
@given(st.data())
def test_a_name_is_changed_alone(kind, data):
    drawn = data.draw(FILES[kind])
    opened = drawn.open()
    members = [m for m in drawn.place(opened).members or () if m.node.is_scalar]
    if not members:
        return
    n = data.draw(st.integers(0, len(members) - 1))
    text = edited(opened, [Rename(members[n], "ctrl-k 2")])
    assert records_of(drawn, text) == [("ctrl-k 2", v) if k == n else (name, v) for k, (name, v) in enumerate(drawn.records)]
    assert drawn.around(text) == drawn.around()


HOSTILE = st.one_of(
    st.text(max_size=60),
    st.text(alphabet="{}[]\"',:=\\\n\r\t #;/*<>&!-?|@a1é", max_size=80),
    st.sampled_from(
        [
            "[" * 100_000,
            "{" * 1000,
            '{"a":' * 300,
            "<a>" * 300,
            '<!DOCTYPE a [<!ENTITY b "c">]><a>&b;</a>',
            '<!DOCTYPE a SYSTEM "file:///etc/passwd"><a/>',
            "a: &a [x, x]\nb: &b [*a, *a]\nc: [*b, *b]",
            "!!python/object/apply:os.system [ls]",
            "a: 1\n---\nb: 2",
            "\x00",
            "1" * 5000,
            "a = " + "1" * 5000,
            '{"a": NaN}',
            '{"a": 1, "a": 2}',
            "a = 1\na = 2",
            '"never closed',
            "<a b='1' b='2'/>",
            "\ud800".encode("utf-16", "surrogatepass").decode("utf-16", "replace"),
            "- " * 400 + "x",
            "a = " + "[" * 2000,
            "\\u12",
            "key=\\uD800",
        ]
    ),
)


@every
@given(st.data())
def test_whatever_comes_is_read_or_refused_in_words(kind, data):
    drawn = data.draw(FILES[kind])
    text = data.draw(HOSTILE)
    if data.draw(st.booleans()):
        cut = data.draw(st.integers(0, len(drawn.text)))
        text = drawn.text[:cut] + text + drawn.text[cut + data.draw(st.integers(0, 5)) :]
    try:
        opened = drawn.open(text)
    except SettingsFileError as error:
        refused = error
    else:
        assert edited(opened, []) == text
        json.dumps(opened.root.plain())
        return
    assert refused.says
    assert refused.position is None or 0 <= refused.position <= len(text)


STORE = """[org/desk]
close=['<Alt>F4']
lower=@as []
title='it\\'s \\u00e4'
size=(400, 300)
mixed=['a', 2]
on=true

[/]
loose="x"
"""


def test_a_store_has_texts_and_lists_of_texts_and_leaves_the_rest_alone():
    root = Store().open(STORE, {}).root
    assert root.plain() == {
        "org/desk/close": ["<Alt>F4"],
        "org/desk/lower": [],
        "org/desk/title": "it's ä",
        "org/desk/size": "(400, 300)",
        "org/desk/mixed": "['a', 2]",
        "org/desk/on": "true",
        "loose": "x",
    }


def put(name, value, text=STORE):
    opened = Store().open(text, {})
    return edited(opened, [Put(opened.root.get(name), value)])


def test_a_list_of_a_store_is_written_as_it_writes_lists():
    assert put("org/desk/close", ["<Alt>x", "it's"]) == STORE.replace("['<Alt>F4']", "['<Alt>x', 'it\\'s']")
    assert put("org/desk/close", []) == STORE.replace("['<Alt>F4']", "@as []")
    assert put("org/desk/lower", ["x"]) == STORE.replace("@as []", "['x']")
    assert put("loose", "a\nb\\") == STORE.replace('"x"', "'a\\nb\\\\'")


@pytest.mark.parametrize(
    ("name", "value"), [("org/desk/close", "x"), ("loose", ["x"]), ("org/desk/size", "x"), ("loose", "\0")]
)
def test_what_would_be_another_kind_of_value_is_refused(name, value):
    with pytest.raises(SettingsFileError):
        put(name, value)


def test_new_settings_stand_in_their_folder_or_in_a_new_one():
    opened = Store().open(STORE, {})
    text = edited(opened, [Append(opened.root, "org/desk/new", ["a"]), Append(opened.root, "org/other/x", "y")])
    assert text == STORE.replace("on=true\n", "on=true\nnew=['a']\n") + "\n[org/other]\nx='y'\n"
    again = Store().open(text, {})
    gone = [Cut(again.root, n) for n, m in enumerate(again.root.members) if m.name in ("org/desk/new", "org/other/x")]
    assert edited(again, gone) == STORE
    empty = Store().open("", {})
    assert edited(empty, [Append(empty.root, "a/b", ["c"])]) == "[a]\nb=['c']\n"


@pytest.mark.parametrize(
    "text", ["x=1\n", "[a\nb=1\n", "[a]\nno value\n", "[a]\nb='\\u0000'\n", "[a]\nb='\\uD800'\n", "[a]\n=1\n", "[a]\nb c=1\n"]
)
def test_what_is_no_export_of_a_store_is_refused_with_its_place(text):
    with pytest.raises(SettingsFileError) as refused:
        Store().open(text, {})
    assert refused.value.position is not None


@pytest.mark.parametrize("text", ["[" * 900, "- " * 900 + "x", "{a: " * 900, "\n".join(" " * n + "a:" for n in range(900))])
def test_yaml_deeper_than_any_file_is_refused_where_it_gets_too_deep(text):
    with pytest.raises(SettingsFileError, match="nests deeper than 200 levels") as refused:
        YamlTree().open(text, {})
    assert text[refused.value.position] in "[-{a"
    opened = text[: refused.value.position]
    assert 200 <= max(opened.count(sign) for sign in "[-:") <= 202


def test_yaml_with_many_brackets_that_hardly_nests_is_read():
    assert len(YamlTree().open("- [1]\n" * 500, {}).root.items) == 500
