"""Differences as people are told of them: what they mean, and which are of no effect and why."""

import pytest

from amberkey.core.compare.operations import Add, compare
from amberkey.core.documents.model import read_document
from amberkey.core.exchange.telling import MEANINGS, tell
from amberkey.core.formats import FORMATS
from tests.core.estates import read
from tests.core.scenes import command, entry, program

PROGRAMS = {
    "office": read(program("windows", "office", "office", [command("save", "window", "F5"), command("find", "page", "F3")]))
}


def profile(*entries, **more):
    value = {"format": "amberkey/profile@1", "id": "x", "name": "X", "entries": list(entries), **more}
    return read_document(value, FORMATS).to_json()


def told(before, after):
    return tell(compare(before, after), PROGRAMS)


def save(*keys, **more):
    return entry("windows", "save", *keys, **more)


@pytest.mark.parametrize(
    ("before", "after", "means", "nothing"),
    [
        ((), (save("F6"),), "new", ""),
        ((), (save("F6", over=["F5"]),), "moves", ""),
        ((save("F6"),), (save("F7"),), "moves", ""),
        ((save("F6"),), (), "gone", ""),
        ((save("F6"),), (save("F6", since="2026-11-01"),), "nothing", "only notes or days differ"),
        ((save("F6"),), (save("F6", locked=True),), "other", ""),
        (
            (save("Control+/", layouts=["de"]),),
            (save("Control+Shift+7", layouts=["de"]),),
            "nothing",
            "another spelling of the same press",
        ),
        ((save("Control+/"),), (save("Control+Shift+7"),), "moves", ""),  # on a US keyboard these are two presses
        ((save("F6", scope="page"),), (save("F6", scope="panel"),), "moves", ""),
        ((save("F6", "F7"),), (save("F6"),), "moves", ""),
    ],
)
def test_what_a_difference_of_an_entry_means(before, after, means, nothing):
    (one,) = told(profile(*before), profile(*after))
    assert (one.means, one.nothing, one.program) == (means, nothing, "office")
    assert means in MEANINGS


def test_what_of_a_document_is_of_no_effect():
    found = told(profile(), profile(description="Other words", name="Y"))
    assert {(d.means, d.nothing) for d in found} == {("nothing", "only the wording differs")}
    one = PROGRAMS["office"].to_json()
    other = {**one, "commands": list(reversed(one["commands"]))}
    (order,) = tell(compare(one, other), PROGRAMS)
    assert (order.means, order.nothing) == ("nothing", "only the order differs")


def test_what_runs_something_is_told_apart():
    launcher = {"id": "form", "name": "Form", "runs": "form", "shortcuts": {"windows": ["F9"]}}
    (one,) = told(profile(), profile(launchers=[launcher]))
    assert one.means == "runs"
    (gone,) = told(profile(launchers=[launcher]), profile())
    assert gone.means == "gone"


def test_a_lock_is_said_as_one():
    (one,) = told(profile(save("F6")), profile(save("F6", locked=True)))
    assert one.says == "Save, in Office, is locked for nearer layers."
    (back,) = told(profile(save("F6", locked=True)), profile(save("F6")))
    assert back.says == "Save, in Office, is let go for nearer layers."


def test_an_entry_that_holds_a_default_says_so():
    (one,) = told(profile(), profile(save("F5", over=["F5"])))
    assert one.says == "Save, in Office, is held on F5, which it has anyway."
    (other,) = told(profile(), profile(save("F6", over=["F5"])))
    assert other.says == "Save, in Office, gets F6 instead of F5."
    (first,) = told(profile(), profile(save("F6")))
    assert first.says == "Save, in Office, gets F6."


def test_an_item_that_is_of_no_program_stands_with_none():
    """A launcher has entries of its own kind: what is no entry isn't read as one."""
    launcher = {"id": "form", "name": "Form", "runs": "form", "shortcuts": {"windows": ["F9"]}}
    (one,) = told(profile(), profile(launchers=[launcher]))
    assert (one.program, one.refused) == ("", "")
    (odd,) = tell([Add("entries", "x", {"program": "office", "command": "save"})], PROGRAMS)
    assert (odd.program, odd.refused) == ("office", "")


@pytest.mark.parametrize(
    ("given", "refused"),
    [
        (entry("windows", "gone", "F6"), "Office has no command gone."),
        (entry("windows", "save", "F6", program="ghost"), "There is no program ghost here."),
        (entry("windows", "save", "F6", scope="nowhere"), "Office has no scope nowhere."),
    ],
)
def test_what_means_nothing_here_is_refused(given, refused):
    (one,) = told(profile(), profile(given))
    assert one.refused == refused
