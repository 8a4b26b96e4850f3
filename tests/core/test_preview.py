from amberkey.core.exchange.preview import preview_import
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


def told(into, incoming, replace=False):
    preview = preview_import(into, incoming, PROGRAMS, replace=replace)
    return {d.does: d.says for d in preview.differences}, preview.unchanged


def test_differences_are_told_in_sentences():
    sentences, unchanged = told(profile(save=["F5"], fold=["F6"], sum=["F7"]), profile(save=["F8"], fold=["F6"], sort=[]), True)
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
    preview = preview_import(profile(), profile(ghost=["F5"], nothing=["F6"], save=["A"]), PROGRAMS, replace=False)
    refused = {d.key.split("/")[1].split()[0]: d.refused for d in preview.differences}
    assert "no program ghostware" in refused["ghost"]
    assert "no command nothing" in refused["nothing"]
    assert "without a modifier" in refused["save"]
