"""Sign by sign: what would change is told, and nothing of what stands around it."""

import json

import pytest

from amberkey.core.descriptions.bytewise import Differs, bytewise
from amberkey.core.descriptions.carrying import Wanted, write_file
from amberkey.core.descriptions.described import Described
from amberkey.core.descriptions.records import open_file
from amberkey.core.keys.reading import read_shortcut

HOW = Described.model_validate(
    {
        "container": "json",
        "at": ["keys"],
        "command": "name",
        "keys": {"at": "value", "form": "list"},
        "dialect": {"modifiers": {"Control": ["ctl-"]}, "letters": "small"},
    }
)


@pytest.mark.parametrize(
    "text, edits, told",
    [
        ("a=1\nb=2\n", [], []),
        ("secret=x\nkey=ctl-a\n", [(13, 18, "ctl-b")], [Differs(2, "a", "b")]),
        ("a\nb\nc\n", [(2, 4, "")], [Differs(2, "b", "")]),
        ("a\nc\n", [(2, 2, "b\n")], [Differs(2, "", "b")]),
        ("a\n", [(0, 1, "a")], []),
        ("xaax", [(1, 3, "aaa")], [Differs(1, "", "a")]),
    ],
)
def test_what_changes_is_told_with_its_line(text, edits, told):
    assert bytewise(text, edits) == told


def test_between_two_changes_on_one_line_nothing_is_told():
    data = b'{"secret":"one","keys":{"find":["ctl-f"]},"more":"two","keys2":{},"x":{"find":["ctl-f"]}}'
    how = HOW.model_copy(update={"at": ("keys",)})
    wanted = {Wanted("find"): (read_shortcut("Control+G"),), Wanted("save"): (read_shortcut("F2"),)}
    written = write_file(data, how, wanted)
    told = bytewise(open_file(data, how).opened.text, written.edits)
    said = "".join(d.before + d.after for d in told)
    assert "g" in said
    assert "save" in said
    assert not any(word in said for word in ("secret", "one", "two", "more"))
    assert json.loads(written.data)["keys"] == {"find": ["ctl-g"], "save": ["f2"]}


def test_what_is_told_ends_after_two_hundred_places():
    text = "".join(f"a{n}\n" for n in range(500))
    assert len(bytewise(text, [(n, n + 1, "b") for n, sign in enumerate(text) if sign == "a"])) == 200
