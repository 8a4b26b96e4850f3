"""What a new version changes, on versions made by hand, and the example's three programs with figures counted by hand."""

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from amberkey.core.clashes.estate import Estate
from amberkey.core.documents.model import read_document
from amberkey.core.formats import FORMATS
from amberkey.core.programs.model import Program
from amberkey.core.standard.model import Standard
from amberkey.core.upgrading.changes import _LEAST, Changes, _evidence, _thinkable, version_changes
from amberkey.core.upgrading.meaning import accepted, meaning_of, proposed
from tests.core.seen import whole_example


def program(version: str, commands: list[dict], **more) -> Program:
    value = {
        "format": "amberkey/program@1",
        "id": "tally",
        "name": "Tally",
        "version": version,
        "kind": "office",
        "platforms": ["windows", "linux"],
        "scopes": [{"id": "window", "name": "Window"}, {"id": "cells", "name": "Cells", "parent": "window"}],
        "commands": commands,
        **more,
    }
    found = read_document(value, FORMATS)
    assert isinstance(found, Program)
    return found


def command(name: str, keys: str = "", **more) -> dict:
    made = {"id": name.lower().replace(" ", "-"), "name": name, "scope": "window", **more}
    return made | ({"defaults": {"windows": [keys], "linux": [keys]}} if keys else {})


def changes(old: list[dict], new: list[dict], **more) -> Changes:
    return version_changes(program("1", old), program("2", new, **more))


def test_what_came_and_what_is_gone():
    found = changes([command("Save", "Control+S"), command("Weigh")], [command("Save", "Control+S"), command("Paint")])
    assert ([c.id for c in found.came], [c.id for c in found.gone]) == (["paint"], ["weigh"])
    assert (found.renamed, found.moved, found.called, found.scoped, found.behaves, found.again) == ((),) * 6


def test_what_the_new_version_says_itself_is_known():
    found = changes([command("Keep", "Control+S")], [command("Save", "Control+S", was=["keep"])])
    assert [(r.old.id, r.new.id, r.known) for r in found.renamed] == [("keep", "save", True)]
    assert (found.came, found.gone, found.same) == ((), (), {"keep": "save"})


def test_a_likely_renaming_is_proposed_with_its_reasons_and_not_assumed():
    old = [command("Insert a row", "F8", group="Rows"), command("Delete the row", "F9", group="Rows")]
    new = [command("Insert this row", "F8", group="Rows"), command("Remove this", "F7")]
    found = changes(old, new)
    (one,) = proposed(found)
    assert (one.old.id, one.new.id) == ("insert-a-row", "insert-this-row")
    assert "the maker gives both the same key on Windows and Linux" in one.reasons
    assert [c.id for c in found.gone] == ["delete-the-row"]
    assert accepted(found).command("insert-a-row").id == "insert-this-row"
    assert accepted(found, set()).command("insert-a-row") is None


def test_each_thing_that_speaks_for_a_renaming_is_said_and_no_other():
    def reasons(**other):
        old = program("1", [command("Weigh the lot", "F8", group="Lots")])
        new = program("2", [command("Weigh that lot", "F8", group="Lots", **other)])
        return _evidence(old.commands[0], new.commands[0], old, new)

    score, all_of_it = reasons()
    assert all_of_it[0] == "the names are alike"
    assert all_of_it[-1] == "both stand in the same group"
    less, without = reasons(scope="cells")
    assert (less < score, "both are live in the same place" in without) == (True, False)
    old = program("1", [command("Weigh the lot", "F8", group="Lots")])
    new = program("2", [command("Weigh that lot", "F8", group="Other")])
    apart, said = _evidence(old.commands[0], new.commands[0], old, new)
    assert (apart < score, said[-1]) == (True, "both are live in the same place")


def test_of_several_that_say_they_were_one_the_first_is_it():
    found = changes([command("Keep"), command("Save")], [command("Save", was=["keep"])])
    assert (found.same, [c.id for c in found.gone]) == ({"save": "save"}, ["keep"])


def test_opposites_and_other_numbers_are_never_the_same():
    found = changes(
        [command("Fold all", "F8"), command("Sheet 1", "F1")], [command("Unfold all", "F8"), command("Sheet 2", "F1")]
    )
    assert found.renamed == ()


def test_two_likely_ones_are_matched_together_and_none_twice():
    old = [command("Show the list", "F2"), command("Show the long list", "F3")]
    new = [command("Show a long list", "F3"), command("Show a list", "F2")]
    assert {r.old.id: r.new.id for r in changes(old, new).renamed} == {
        "show-the-list": "show-a-list",
        "show-the-long-list": "show-a-long-list",
    }


def test_two_commands_that_swap_names_stay_what_they_are():
    old = [command("Left", "F1"), command("Right", "F2")]
    new = [command("Left", "F1") | {"name": "Right"}, command("Right", "F2") | {"name": "Left"}]
    found = changes(old, new)
    assert [(a.name, b.name) for a, b in found.called] == [("Left", "Right"), ("Right", "Left")]
    assert (found.renamed, found.came, found.gone, found.moved) == ((), (), (), ())


def test_other_keys_and_places_are_told_by_platform():
    found = changes([command("Save", "Control+S")], [command("Save", "Control+D", scope="cells")])
    assert [(m.platform, [*map(str, m.before)], [*map(str, m.after)]) for m in found.moved] == [
        ("windows", ["Control+S"], ["Control+D"]),
        ("linux", ["Control+S"], ["Control+D"]),
    ]
    assert [(a.scope, b.scope) for a, b in found.scoped] == [("window", "cells")]


def test_what_it_takes_and_what_is_to_be_done_again():
    switch = {"id": "own", "name": "Own keys", "where": "Settings"}
    limits = {"sequence_length": 2, "bare_keys": True, "refuses": ["Control+Q"]}
    found = changes([], [], limits=limits, switches=[switch], platforms=["windows"], reads_keys_by={"windows": "character"})
    assert found.behaves == (
        "On Windows it goes by the character now, not by the key.",
        "It isn't there on Linux any more.",
        "It takes at most 2 presses in a row now; it was 1.",
        "It takes keys without modifiers now.",
        "It refuses Control+Q now.",
    )
    assert found.again == ("Switch on: Own keys (Settings).",)


@pytest.mark.parametrize("versions", [("1", "2"), ("spring", "autumn"), ("2", "1"), ("7.1-rc", "7.1")])
def test_versions_need_be_no_numbers(versions):
    old, new = (program(v, [command("Save", "Control+S")]) for v in versions)
    assert version_changes(old, new).same == {"save": "save"}


def test_a_version_against_itself_changes_nothing():
    for (name, _), one in whole_example().programs.items():
        found = version_changes(one, one)
        assert not any((found.renamed, found.called, found.came, found.gone, found.moved, found.scoped, found.behaves)), name
        assert all(a == b for a, b in found.same.items())


# The setup of one person with Tally 1, for what an upgrade means.
def estate(old: Program, entries: list[dict]) -> Estate:
    setup = {
        "format": "amberkey/setup@1",
        "id": "desk",
        "name": "Desk",
        "place": "at a desk",
        "platform": "linux",
        "edition": "GNOME",
        "layout": "us",
        "body": "ansi",
        "people": 9,
        "machines": 9,
        "layers": ["house"],
        "programs": [{"id": "tally", "version": "1"}],
    }
    house = {"format": "amberkey/profile@1", "id": "house", "name": "House", "entries": entries}
    documents = {d["id"]: read_document(d, FORMATS) for d in (setup, house)}
    return Estate({"desk": documents["desk"]}, {("tally", "1"): old}, {"house": documents["house"]})


def entry(command_id: str, keys: str) -> dict:
    return {"program": "tally", "command": command_id, "platform": "linux", "shortcuts": [{"keys": keys}]}


def test_what_it_means_for_those_who_have_it():
    old = program(
        "1", [command("Save", "F2", task="save"), command("Weigh", "F4"), command("Count", "F5"), command("Sum", "F6")]
    )
    new = program("2", [command("Save", "F3", task="save"), command("Count", "F4"), command("Sum", "F7", task="total")])
    now = estate(old, [entry("sum", "F7"), entry("weigh", "F8")])
    standard = read_document(
        {
            "format": "amberkey/standard@1",
            "id": "standard",
            "name": "S",
            "lines": [{"task": t, "platform": "linux", "keys": "F9"} for t in ("total", "save")],
        },
        FORMATS,
    )
    assert isinstance(standard, Standard)
    found = version_changes(old, new)
    meaning = meaning_of(now, found, accepted(found, set()), standard)
    assert [(s.keys, s.was.id, s.now.id if s.now else None, s.people) for s in meaning.surprises] == [
        ("F2", "save", None, 9),
        ("F5", "count", None, 9),
        ("F8", "weigh", None, 9),
    ]
    assert [(o.profile, o.command.id) for o in meaning.spare] == [("house", "sum")]
    assert [(o.profile, o.command.id) for o in meaning.orphans] == [("house", "weigh")]
    assert (meaning.follow, meaning.lost) == (("total",), ())
    assert meaning.after.board("desk").setup.program("tally").version == "2"


def test_a_key_that_means_another_command_is_told():
    old, new = program("1", [command("Save", "F2")]), program("2", [command("Save", "F3"), command("Burn", "F2")])
    found = version_changes(old, new)
    (surprise,) = meaning_of(estate(old, []), found, new).surprises
    assert (surprise.keys, surprise.was.id, surprise.now.id) == ("F2", "save", "burn")


def test_who_takes_a_renaming_keeps_what_was_set():
    old, new = program("1", [command("Insert a row", "F8")]), program("2", [command("Insert this row", "F8")])
    found, now = version_changes(old, new), estate(old, [entry("insert-a-row", "F9")])
    taken, refused = (meaning_of(now, found, accepted(found, which)) for which in (None, set()))
    assert (taken.orphans, taken.surprises) == ((), ())
    assert [o.command.id for o in refused.orphans] == ["insert-a-row"]
    assert [(s.keys, s.now) for s in refused.surprises] == [("F9", None)]


# Counted by hand in the documents of the example: commands that came; keys of all platforms that moved; setups and people that
# have the old version; entries that the new default makes spare; clashes solved and made.
COUNTED = [
    ("quaysheet", "7.1", "7.2", (4, 6, 3, 10, 1)),
    ("hewer", "11", "12", (4, 9, 2, 3, 2)),
    ("wherrymail", "5.1", "5.3", (4, 15, 10, 27, 1)),
]


@pytest.mark.parametrize("name, old, new, figures", COUNTED)
def test_the_upgrades_of_the_example(name, old, new, figures):
    example = whole_example()
    found = version_changes(example.programs[name, old], example.programs[name, new])
    meaning = meaning_of(example, found, accepted(found))
    assert (len(found.came), len(found.moved), len(meaning.setups), meaning.people, len(meaning.spare)) == figures
    assert (found.gone, meaning.orphans) == ((), ())
    assert all(r.known for r in found.renamed)
    moved_here = {m.old.id for m in found.moved}
    assert {s.was.id for s in meaning.surprises} <= moved_here | {r.old.id for r in found.renamed} | {"search-the-project"}
    before = {s.id: {c.identity for c in example.clashes(s.id)} for s in meaning.setups}
    assert all(g.clash.identity in before[s.id] for g in meaning.solves for s in g.setups)
    assert not any(g.clash.identity in before[s.id] for g in meaning.makes for s in g.setups)


def test_a_clash_of_a_renamed_command_is_neither_solved_nor_made():
    example = whole_example()
    found = version_changes(example.programs["quaysheet", "7.1"], example.programs["quaysheet", "7.2"])
    meaning = meaning_of(example, found, accepted(found))
    told = [{b.command.name for b in g.clash.parties} for g in (*meaning.solves, *meaning.makes)]
    assert not any("Split the row" in names for names in told)


NAMES = st.lists(
    st.sampled_from(["insert", "delete", "the", "a", "row", "rows", "sheet", "cell", "show", "hide", "long", "2"]),
    min_size=1,
    max_size=4,
)
DRAWN = st.lists(
    st.tuples(NAMES.map(" ".join), st.sampled_from(["", "F2", "F3", "F4"]), st.sampled_from([None, "save", "print"])),
    max_size=8,
)


@given(DRAWN, DRAWN)
@settings(max_examples=150, deadline=None)
def test_no_pair_that_enough_speaks_for_is_passed_over(old, new):
    def drawn(version: str, rows) -> Program:
        made = [command(name, keys, id=f"v{version}-{n}") for n, (name, keys, _) in enumerate(rows)]
        return program(version, [c | ({"task": task} if task else {}) for c, (_, _, task) in zip(made, rows, strict=True)])

    a, b = drawn("1", old), drawn("2", new)
    pairs = _thinkable(a.commands, b.commands)
    for n, one in enumerate(a.commands):
        for m, other in enumerate(b.commands):
            assert (n, m) in pairs or _evidence(one, other, a, b)[0] < _LEAST
    found = version_changes(a, b).renamed
    assert len({r.old.id for r in found}) == len({r.new.id for r in found}) == len(found)
