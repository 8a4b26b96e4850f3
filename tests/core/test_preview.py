import pytest
from hypothesis import given
from hypothesis import strategies as st

from amberkey.core.compare.operations import apply
from amberkey.core.documents.model import read_document
from amberkey.core.exchange.bundle import read_bundle, write_bundle
from amberkey.core.exchange.preview import preview_import
from amberkey.core.formats import FORMATS
from amberkey.core.keys.reading import read_shortcut
from amberkey.core.profiles.model import Entry, Given, Profile
from tests.core.estate_fixture import programs

PROGRAMS = {p.id: p for p in programs()}


def profile(**commands):
    entries = tuple(
        Entry(
            program="tableware" if command != "ghost" else "ghostware",
            command=command,
            platform="windows",
            shortcuts=tuple(Given(keys=read_shortcut(k)) for k in keys),
        )
        for command, keys in commands.items()
    )
    return Profile(id="p", name="P", entries=entries)


def told(into, incoming, how="add"):
    preview = preview_import(into, incoming, PROGRAMS, how=how)
    return {d.does: d.says for d in preview.differences}, preview.unchanged


def test_differences_are_told_in_sentences():
    incoming = profile(save=["F8"], fold=["F6"], sort=[])
    sentences, unchanged = told(profile(save=["F5"], fold=["F6"], sum=["F7"]), incoming, "replace")
    assert sentences == {
        "changes": "Save, in Tableware, moves from F5 to F8.",
        "adds": "Sort, in Tableware, is left without a shortcut.",
        "removes": "Sum, in Tableware, loses F7 and gets back what lies below this profile.",
    }
    assert unchanged == 1


def test_merging_removes_nothing():
    sentences, _ = told(profile(save=["F5"]), profile(fold=["F6"]))
    assert set(sentences) == {"adds"}


def test_what_means_nothing_here_is_refused_by_name():
    preview = preview_import(profile(), profile(ghost=["F5"], nothing=["F6"], save=["A"]), PROGRAMS, how="add")
    refused = {d.key.split("/")[1].split()[0]: d.refused for d in preview.differences}
    assert "no program ghostware" in refused["ghost"]
    assert "no command nothing" in refused["nothing"]
    assert "without a modifier" in refused["save"]


EVERYTHING = {
    "launchers": [{"id": "log", "name": "Sailing log", "runs": "log --open", "shortcuts": {"windows": ["Control+Alt+L"]}}],
    "remaps": [{"key": "CapsLock", "becomes": "ControlLeft"}],
    "translations": [{"program": "tableware", "platform": "windows", "keys": "F4", "becomes": "F5"}],
    "reserved": [{"keys": "Control+S", "platform": "windows", "reason": "saving"}],
    "shelves": [{"program": "tableware", "shelf": "row", "commands": ["save"]}],
    "menu_groups": [{"program": "tableware", "id": "own", "place": "bar", "name": "Own", "commands": ["save"]}],
    "abbreviations": [{"id": "kind", "short": "mfg", "text": "Mit freundlichen Grüßen"}],
    "macros": [{"program": "tableware", "id": "m", "name": "M", "steps": [{"runs": "save"}]}],
    "preferences": [{"program": "tableware", "preference": "size", "value": 12}],
    "sets": [
        {
            "id": "lent",
            "name": "Lent",
            "entries": [{"program": "ghostware", "command": "fold", "platform": "windows", "shortcuts": [{"keys": "F9"}]}],
        }
    ],
}


def full(**more):
    return read_document({"format": "amberkey/profile@1", "id": "p", "name": "P", **more}, {"amberkey/profile@1": Profile})


def test_every_section_travels_and_is_previewed():
    (came,) = read_bundle(write_bundle([full(**EVERYTHING)], bundle_id="b", name="B")).documents
    preview = preview_import(profile(save=["F5"]), came, PROGRAMS, how="add")
    sections = {d.operation.section for d in preview.differences}
    assert sections == set(EVERYTHING) == set(full().sections) - {"entries"}
    says = {d.operation.section: (d.says, d.refused) for d in preview.differences}
    assert says["launchers"][0] == "Adds the launcher log: Sailing log."
    assert says["translations"][0].startswith("Adds the translation F4 in tableware on windows")
    assert says["sets"][1] == "There is no program ghostware here."
    assert {refused for section, (_, refused) in says.items() if section != "sets"} == {""}


def test_what_a_bundle_doesnt_have_is_removed_only_when_it_replaces():
    have = full(**EVERYTHING)
    assert preview_import(have, full(), PROGRAMS, how="add").differences == ()
    gone = preview_import(have, full(), PROGRAMS, how="replace").differences
    assert {d.does for d in gone} == {"removes"}
    assert len(gone) == len(EVERYTHING)
    assert preview_import(have, have, PROGRAMS, how="replace").unchanged == len(EVERYTHING)


def test_only_what_is_missing_leaves_what_is_there_as_it_is():
    found = preview_import(profile(save=["F5"]), profile(save=["F6"], find=["F7"]), PROGRAMS, how="missing").differences
    assert [(d.does, d.means) for d in found] == [("adds", "new")]


def since(base, here, there):
    found = preview_import(here, there, PROGRAMS, how="merge", base=base)
    return {d.says: found.against.get(d.key, "") for d in found.differences}


def test_a_merge_does_what_was_done_there_and_leaves_what_was_done_here():
    base = profile(save=["F5"], fold=["F6"], sum=["F7"])
    here = profile(save=["F5"], fold=["F9"], sum=["F7"], sort=["F10"])
    there = profile(save=["F8"], fold=["F6"])
    assert since(base, here, there) == {
        "Save, in Tableware, moves from F5 to F8.": "",
        "Sum, in Tableware, loses F7 and gets back what lies below this profile.": "",
    }
    assert since(base, here, base) == {}, "nothing was done there"


def test_where_both_did_something_it_says_what_was_done_here():
    base, here, there = profile(save=["F5"]), profile(save=["F6"]), profile(save=["F7"])
    assert since(base, here, there) == {"Save, in Tableware, moves from F6 to F7.": "Save, in Tableware, moves from F5 to F6."}
    assert since(base, here, here) == {}, "both did the same"
    assert since(base, profile(), there) == {
        "Save, in Tableware, gets F7.": "Save, in Tableware, loses F5 and gets back what lies below this profile."
    }


def test_a_merge_wants_to_know_what_both_were_made_from():
    with pytest.raises(ValueError, match="isn't known"):
        preview_import(profile(), profile(), PROGRAMS, how="merge")


COMMANDS = st.dictionaries(st.sampled_from(("save", "fold", "sum", "sort")), st.sampled_from((["F5"], ["F6"], ["F7"])))


@given(COMMANDS, COMMANDS, COMMANDS)
def test_taking_all_of_a_merge_gives_theirs_where_they_did_something_and_ours_elsewhere(a, b, c):
    base, here, there = profile(**a), profile(**b), profile(**c)
    found = preview_import(here, there, PROGRAMS, how="merge", base=base)
    after = apply(here.to_json(), [d.operation for d in found.differences])
    for command in a.keys() | b.keys() | c.keys():
        key = f"tableware/{command} on windows"
        of = [e for e in read_document(after, FORMATS).entries if e.key == key]
        wanted = c.get(command) if c.get(command) != a.get(command) else b.get(command)
        assert [str(g.keys) for e in of for g in e.shortcuts] == [str(read_shortcut(k)) for k in wanted or ()]
    assert set(found.against) <= {d.key for d in found.differences}
