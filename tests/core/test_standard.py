"""The standard: what programs follow, the layer compiled from it, what a change would do."""

import dataclasses
import datetime
import json
import pathlib

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from amberkey.core.clashes.estate import Estate
from amberkey.core.documents.errors import DocumentError, NewerFormat
from amberkey.core.documents.model import read_document
from amberkey.core.formats import FORMATS, read_any
from amberkey.core.keys.reading import read_shortcut
from amberkey.core.profiles.setup import Setup
from amberkey.core.programs.model import Program
from amberkey.core.standard.borrowing import NotTogether, borrow, with_set
from amberkey.core.standard.carrying import carry, equivalent
from amberkey.core.standard.choices import choices_for
from amberkey.core.standard.compiling import LAYER, Compiler, compile_standard, says_the_same, with_layer
from amberkey.core.standard.coverage import Count, Covered, Gauge
from amberkey.core.standard.findings import findings
from amberkey.core.standard.model import Exempt, Line, MakesRoom, Standard
from amberkey.core.standard.rooms import making_room, with_rooms
from amberkey.core.standard.setting import Planner, family_is_whole, family_lines, with_lines
from tests.core.estates import TODAY, drawings, put_up
from tests.core.scenes import command, entry, office, program, scene
from tests.core.test_laws_of_clashes import seldom, slowly

EXAMPLE = pathlib.Path(__file__).parents[2] / "docs/standard"


@pytest.fixture(scope="module")
def example():
    """(estate, standard) of the example in docs/standard.md."""
    found = [read_any(p.read_bytes()) for p in sorted(EXAMPLE.glob("*.json"))]
    standard = next(d for d in found if isinstance(d, Standard))
    tasks = next(d for d in found if d.format == "amberkey/tasks@1")
    estate = Estate(
        {d.id: d for d in found if isinstance(d, Setup)},
        {(d.id, d.version): d for d in found if isinstance(d, Program)},
        {d.id: d for d in found if d.format == "amberkey/profile@1"},
        tasks,
        TODAY,
    )
    return estate, standard


def line(task, keys, platform="windows", **more):
    return Line(task=task, platform=platform, keys=keys, **more)


def standard_of(*lines, exceptions=()):
    return Standard(id="standard", name="The standard", lines=lines, exceptions=exceptions)


def cell_of(estate, standard, task, program="office", setup=None):
    return Gauge().measure(estate, standard).cell(setup or next(iter(estate.setups)), program, task)


# The worked example


def test_every_cell_of_the_worked_example_is_as_calculated_by_hand(example):
    measured = Gauge().measure(*example)
    tasks = ("save", "find", "find-next", "find-previous", "comment", "close")
    programs = ("pagewright", "tallybook", "linewise")
    assert {t: [measured.cell("counters", p, t).state for p in programs] for t in tasks} == {
        "save": ["agrees", "agrees", "differs"],
        "find": ["agrees", "differs", "differs"],
        "find-next": ["agrees", "agrees", "cannot"],
        "find-previous": ["agrees", "unbound", "not_offered"],
        "comment": ["not_offered", "not_offered", "agrees"],
        "close": ["clashes", "not_offered", "excepted"],
    }
    assert measured.cell("desk", "linewise", "comment").state == "not_offered"
    assert measured.cell("counters", "linewise", "find").layer == "house"
    assert measured.cell("counters", "linewise", "find-next").why == "it refuses F3"


def test_the_figures_of_the_worked_example_are_as_calculated_by_hand(example):
    measured = Gauge().measure(*example)
    assert measured.whole() == Covered(Count(11, 19), Count(86, 148))
    assert measured.whole(["counters"]) == Covered(Count(7, 12), Count(70, 120))
    assert measured.by_program() == {
        "pagewright": Covered(Count(8, 10), Count(56, 70)),
        "tallybook": Covered(Count(2, 4), Count(20, 40)),
        "linewise": Covered(Count(1, 5), Count(10, 38)),
    }
    assert measured.by_task() == {
        "save": Covered(Count(3, 5), Count(24, 38)),
        "find": Covered(Count(2, 5), Count(14, 38)),
        "find-next": Covered(Count(3, 3), Count(24, 24)),
        "find-previous": Covered(Count(2, 3), Count(14, 24)),
        "comment": Covered(Count(1, 1), Count(10, 10)),
        "close": Covered(Count(0, 2), Count(0, 14)),
    }
    assert round(measured.whole().plain.share, 3) == 0.579


def test_the_layer_of_the_worked_example_has_three_entries(example):
    estate, standard = example
    layer = compile_standard(standard, estate)
    assert [(e.program, e.command, [str(g.keys) for g in e.shortcuts], e.layouts) for e in layer.entries] == [
        ("linewise", "keep", ["Control+S"], ()),
        ("tallybook", "before", ["Shift+F3"], ()),
        ("tallybook", "look-for", ["Control+F"], ()),
    ]
    assert [(str(r.keys), r.task) for r in layer.reserved] == [("Control+S", "save")]
    assert layer.generated.revision == standard.digest
    after = Gauge().measure(with_layer(estate, layer), standard)
    assert after.whole() == Covered(Count(15, 19), Count(120, 148))
    assert after.cell("counters", "linewise", "find").layer == "house"


def test_another_line_of_the_worked_example_is_planned_as_calculated_by_hand(example):
    estate, standard = example
    plan = Planner().plan(estate, standard, with_lines(standard, [line("find", "F6")]))
    assert (plan.entries, plan.people, plan.covered_before, plan.covered_after) == (
        *(3, 14),
        *(Covered(Count(15, 19), Count(120, 148)),) * 2,
    )
    assert [(v.people, [(r.program, r.before, r.after) for r in v.relearn]) for v in plan.learners] == [
        (10, [("Pagewright", "Strg F", "F6"), ("Tallybook", "Strg F", "F6")]),
        (4, [("Pagewright", "Ctrl F", "F6")]),
    ]
    assert [(s.program, s.why) for s in plan.stays] == [("Linewise", "House says otherwise")]
    assert not plan.makes


# Judging


def test_agreement_is_judged_by_stroke_and_so_by_layout():
    here = office("windows", command("mark", "panel", "Control+/", task="jump"), reads_keys_by={"windows": "character"})
    tasks = {"tasks": [{"id": "jump", "name": "Jump"}]}
    standard = standard_of(line("jump", "Control+Shift+7"))
    german = scene("windows", here, tasks=tasks, layout="de", body="iso")
    american = scene("windows", here, tasks=tasks, layout="us", body="ansi")
    assert cell_of(german, standard, "jump").state == "agrees"
    assert cell_of(american, standard, "jump").state == "differs"


def test_a_line_for_a_layout_goes_before_the_one_for_all():
    tasks = {"tasks": [{"id": "jump", "name": "Jump"}]}
    here = office("windows", command("mark", "panel", "F8", task="jump"))
    standard = standard_of(line("jump", "F9"), line("jump", "F8", layouts=("de",)))
    assert cell_of(scene("windows", here, tasks=tasks, layout="de", body="iso"), standard, "jump").state == "agrees"
    assert cell_of(scene("windows", here, tasks=tasks), standard, "jump").state == "differs"


def test_a_command_makes_room_with_its_line_without_one_and_where_it_is_let_off():
    estate = scene(
        "windows",
        office(
            "windows",
            command("save", "window", "Control+S", "F12", task="save"),
            command("link", "window", "Control+K"),
            command("next", "window", "F3", task="next"),
        ),
        tasks={"tasks": [{"id": "save", "name": "Save"}, {"id": "next", "name": "Next"}]},
    )
    rooms = (
        MakesRoom(program="office", command="link", platform="windows", keys=("F7",)),
        MakesRoom(program="office", command="save", platform="windows", keys=("Control+S",)),
        MakesRoom(program="office", command="next", platform="windows"),
        MakesRoom(program="office", command="gone", platform="windows"),
    )
    exempt = Exempt(task="next", program="office", platform="windows", reason="as ever")
    standard = standard_of(line("save", "F8"), line("next", "F9"), exceptions=(exempt,)).model_copy(
        update={"makes_room": rooms}
    )
    after = with_layer(estate, compile_standard(standard, estate)).board("here").parts["office"]
    keys = {c: [str(b.shortcut) for b in after.commanded(c)] for c in ("save", "link", "next")}
    assert keys == {"save": ["F8"], "link": ["F7"], "next": []}
    assert compile_standard(standard, estate).entries == Compiler().compile(standard, estate).entries
    with pytest.raises(DocumentError, match="link in office on windows stands twice"):
        read_document({**standard.to_json(), "makes_room": [rooms[0].model_dump(mode="json")] * 2}, FORMATS)


def test_whoever_makes_room_tells_for_which_lines_of_its_program_before_each_keyboard():
    estate = scene(
        "windows",
        office(
            "windows",
            command("link", "window", "Control+/", "F4"),
            command("next", "window", "F3", task="next"),
            reads_keys_by={"windows": "character"},
        ),
        tasks={"tasks": [{"id": "next", "name": "Next"}, {"id": "save", "name": "Save"}]},
        layout="de",
        body="iso",
    )
    link = MakesRoom(program="office", command="link", platform="windows", keys=("F4",))
    gone = MakesRoom(program="office", command="gone", platform="windows")
    itself = MakesRoom(program="office", command="next", platform="windows")
    standard = with_rooms(
        standard_of(line("next", "Control+Shift+7"), line("save", "Control+/"), line("next", "F3", "linux")),
        [link, gone, itself],
    )
    found = {m.room.command: m for m in making_room(estate, standard)}
    # By stroke: / stands on Shift+7 here. Nobody saves in this program, so no line for that is made room for.
    assert [v.task for v in found["link"].lines] == ["next"]
    assert [str(s) for s in found["link"].had] == ["Control+/", "F4"]
    assert found["link"].people == estate.people_of(estate.setups.values()) > 0
    # Its own line goes before what a command has by itself: that is no room made. A command that isn't there has nothing.
    assert found["next"].lines == ()
    assert (found["gone"].command, found["gone"].had, found["gone"].lines, found["gone"].people) == (None, (), (), 0)
    (there,) = making_room(
        estate, with_rooms(standard, [link.model_copy(update={"platform": "linux"})], [link.key, gone.key, itself.key])
    )
    assert (there.command, there.people) == (None, 0)
    kept = with_rooms(standard, [link.model_copy(update={"keys": (read_shortcut("Control+/"),)})], [itself.key, gone.key])
    (still,) = making_room(estate, kept)
    assert still.lines == ()
    assert with_rooms(kept, [], [link.key]).makes_room == ()


def test_a_browser_makes_room_for_the_programs_in_it():
    estate = scene(
        "windows",
        program("windows", "browser", "browser", [command("tab", "window", "Control+J")]),
        program("windows", "site", "web", [command("jump", "window", "F8", task="jump")]),
        tasks={"tasks": [{"id": "jump", "name": "Jump"}]},
    )
    room = MakesRoom(program="browser", command="tab", platform="windows")
    (found,) = making_room(estate, with_rooms(standard_of(line("jump", "Control+J")), [room]))
    assert [v.task for v in found.lines] == ["jump"]


def test_an_exception_counts_until_its_day():
    tasks = {"tasks": [{"id": "jump", "name": "Jump"}]}
    estate = scene("windows", office("windows", command("mark", "panel", "F8", task="jump")), tasks=tasks)

    def state(until):
        exempt = Exempt(task="jump", program="office", platform="windows", reason="Learned", until=until)
        return cell_of(estate, standard_of(line("jump", "F9"), exceptions=(exempt,)), "jump").state

    assert (state(None), state(TODAY), state(TODAY - datetime.timedelta(days=1))) == ("excepted", "excepted", "differs")


def test_an_accepted_clash_does_not_count_as_one():
    tasks = {"tasks": [{"id": "jump", "name": "Jump"}]}
    twice = office("windows", command("mark", "panel", "F8", task="jump"), command("other", "panel", "F8"))
    estate, standard = scene("windows", twice, tasks=tasks), standard_of(line("jump", "F8"))
    (clash,) = [c for c in estate.clashes(next(iter(estate.setups))) if c.kind == "same_scope"]
    setup = next(iter(estate.setups))
    assert Gauge().measure(estate, standard).cell(setup, "office", "jump").state == "clashes"
    assert Gauge().measure(estate, standard, {clash.identity}).cell(setup, "office", "jump").state == "agrees"


@pytest.mark.parametrize(
    "used, scope, compiled",
    [
        ({}, "page", True),
        ({"goes_first": False}, "window", False),
        ({"goes_first": False}, "page", True),
        ({"goes_first": False, "runs": "in a window of its own"}, "window", True),
    ],
)
def test_a_page_that_may_not_go_first_is_compiled_as_its_browser_has_it(used, scope, compiled):
    """What lives all over the browser goes before such a page, unless it isn't there in a window of its own."""
    page = program("windows", "chart", "web", [command("a", "page", "F9", task="jump")])
    browser = program("windows", "gullwake", "browser", [command("find", scope, "F8")])
    estate = scene("windows", page, browser, tasks={"tasks": [{"id": "jump", "name": "Jump"}]}, used={"chart": used})
    layer = compile_standard(standard_of(line("jump", "F8")), estate)
    assert [e.command for e in layer.entries] == (["a"] if compiled else [])


@pytest.mark.parametrize("second, state, command_id", [("F8", "agrees", "b"), ("F9", "clashes", "a")])
def test_of_several_commands_with_the_press_it_is_enough_that_one_works(second, state, command_id):
    here = office(
        "windows",
        command("a", "panel", "F8", task="jump"),
        command("c", "panel", "F8"),
        command("b", "page", second, task="jump"),
        on_tie="last",
    )
    estate = scene("windows", here, tasks={"tasks": [{"id": "jump", "name": "Jump"}]})
    cell = cell_of(estate, standard_of(line("jump", "F8")), "jump")
    assert (cell.state, cell.command.id, str(cell.shortcuts[0])) == (state, command_id, "F8")


def test_what_a_browser_keeps_from_pages_cannot_be_had_there():
    tasks = {"tasks": [{"id": "jump", "name": "Jump"}]}
    browser = program("windows", "gullwake", "browser", [command("tab", "page", "F8", keeps=True)])
    page = program("windows", "chart", "web", [command("mark", "panel", "F9", task="jump")])
    estate = scene("windows", browser, page, tasks=tasks)
    cell = cell_of(estate, standard_of(line("jump", "F8")), "jump", "chart")
    assert (cell.state, cell.why) == ("cannot", "the browser keeps it from pages")


@slowly
@given(drawings, st.data())
def test_measuring_with_what_is_known_comes_to_the_same_as_from_nothing(drawn, data):
    """Whatever was measured before: another standard, another state of the profiles."""
    estate = put_up(*drawn)
    keys = st.sampled_from(["Control+E", "F8", "Control+Shift+7", "Alt+Home", "Control+/"])
    platform = next(iter(estate.setups.values())).works_on
    gauge = Gauge()
    for _ in range(3):
        lines = [line(t, data.draw(keys), platform) for t in data.draw(st.sets(st.sampled_from(["save", "next", "back"])))]
        standard = standard_of(*lines)
        compiled = with_layer(estate, compile_standard(standard, estate))
        for state in (estate, compiled):
            known, fresh = gauge.measure(state, standard), Gauge().measure(state, standard)
            assert known.whole() == fresh.whole()
            assert known.states() == fresh.states()
            assert known.by_task() == fresh.by_task()


@slowly
@given(drawings)
def test_figures_of_programs_and_tasks_add_up_to_the_whole(drawn):
    estate = put_up(*drawn)
    platform = next(iter(estate.setups.values())).works_on
    measured = Gauge().measure(estate, standard_of(line("save", "F8", platform), line("next", "Control+7", platform)))
    whole = measured.whole()
    assert sum(measured.by_program().values(), Covered()) == whole
    assert sum(measured.by_task().values(), Covered()) == whole
    states = measured.states()
    assert states.get("agrees", 0) == whole.plain.agree
    assert sum(states.get(s, 0) for s in ("unbound", "differs", "clashes", "agrees")) == whole.plain.could


# Compiling


@slowly
@given(drawings, st.sampled_from(["F8", "Control+7", "Control+Shift+7", "Alt+Home"]))
def test_a_compiled_layer_lets_everybody_agree_who_can_and_is_not_told_otherwise(drawn, keys):
    estate = put_up(*drawn)
    platform = next(iter(estate.setups.values())).works_on
    standard = standard_of(line("next", keys, platform))
    layer = compile_standard(standard, estate)
    after = Gauge().measure(with_layer(estate, layer), standard)
    for setup in estate.setups:
        for strip in after.strips[setup].values():
            cell = strip.cells.get("next")
            # What a browser keeps is judged on what it does by itself, whatever a profile made of the browser.
            if cell is not None and strip.program != "web" and cell.layer in ("default", LAYER):
                assert cell.state in ("agrees", "clashes", "cannot"), (cell, layer.entries)


@slowly
@given(drawings, st.sampled_from(["F8", "Control+7", "Control+Shift+7"]))
def test_a_compiled_layer_needs_each_of_its_entries(drawn, keys):
    estate = put_up(*drawn)
    platform = next(iter(estate.setups.values())).works_on
    standard = standard_of(line("next", keys, platform))
    bare = Estate(
        {i: s.model_copy(update={"layers": ()}) for i, s in estate.setups.items()}, estate.programs, {}, estate.tasks, TODAY
    )
    layer = compile_standard(standard, bare)
    whole = {p: _agreeing(bare, layer, standard, p) for p in {e.program for e in layer.entries}}
    defaults = {
        (p.id, c.id): [str(s) for s in c.defaults_on(platform)] for (_, _), p in bare.programs.items() for c in p.commands
    }
    for one in layer.entries:
        if one.layouts and [str(g.keys) for g in one.shortcuts] == defaults[one.program, one.command]:
            continue  # keeps what a program has by itself where it can't have the line's key
        if one.program == "web" and any(e.program.startswith("browser") for e in layer.entries):
            continue  # what this layer makes of a browser is not looked at for the pages in it
        less = layer.model_copy(update={"entries": tuple(e for e in layer.entries if e is not one)})
        assert _agreeing(bare, less, standard, one.program) < whole[one.program], one


def _agreeing(estate, layer, standard, program):
    """In how many setups a program has the standard's press, whether it clashes or not."""
    strips = Gauge().measure(with_layer(estate, layer), standard).strips.values()
    cells = [cell for own in strips for strip in own.values() if strip.program == program for cell in strip.cells.values()]
    return sum(cell.state in ("agrees", "clashes") for cell in cells)


@slowly
@given(drawings)
def test_compiling_again_changes_no_byte_and_no_profile_that_somebody_wrote(drawn):
    estate = put_up(*drawn)
    platform = next(iter(estate.setups.values())).works_on
    standard = standard_of(line("save", "F8", platform), line("next", "Control+7", platform))
    before = {i: p.to_bytes() for i, p in estate.profiles.items()}
    layer = compile_standard(standard, estate)
    under = with_layer(estate, layer)
    assert compile_standard(standard, under).to_bytes() == layer.to_bytes()
    assert {i: p.to_bytes() for i, p in under.profiles.items() if i != LAYER} == before
    assert with_layer(under, compile_standard(standard, under)) is under


def test_a_compiler_that_knows_much_compiles_as_one_that_knows_nothing(example):
    estate, standard = example
    compiler = Compiler()
    for keys in ("F6", "F7", "F6"):
        other = with_lines(standard, [line("find", keys)])
        assert compiler.compile(other, estate).to_bytes() == compile_standard(other, estate).to_bytes()


def two_layouts(*commands):
    """One program on a German and on an American keyboard."""
    tasks = {"tasks": [{"id": "jump", "name": "Jump"}]}
    here = office("windows", *commands)
    german = scene("windows", here, tasks=tasks, layout="de", body="iso")
    american = scene("windows", here, tasks=tasks, layout="us", body="ansi")
    (one,), (other,) = german.setups.values(), american.setups.values()
    setups = {"german": one.model_copy(update={"id": "german"}), "american": other.model_copy(update={"id": "american"})}
    return Estate(setups, german.programs, german.profiles, german.tasks, TODAY)


def test_lines_for_one_layout_only_leave_the_others_alone():
    estate = two_layouts(command("mark", "panel", "F8", task="jump"))
    layer = compile_standard(standard_of(line("jump", "F9", layouts=("de",))), estate)
    assert [(e.layouts, [str(g.keys) for g in e.shortcuts]) for e in layer.entries] == [(("de",), ["F9"])]
    after = with_layer(estate, layer)
    standard = standard_of(line("jump", "F9", layouts=("de",)))
    assert cell_of(after, standard, "jump", setup="german").state == "agrees"
    assert str(after.board("american").bindings_of("office", "mark")[0].shortcut) == "F8"


def test_a_layout_that_is_excepted_keeps_its_default_beside_an_entry_for_all():
    estate = two_layouts(command("mark", "panel", "F8", task="jump"))
    exempt = Exempt(task="jump", program="office", platform="windows", layouts=("us",), reason="Learned there")
    layer = compile_standard(standard_of(line("jump", "F9"), exceptions=(exempt,)), estate)
    assert sorted((e.layouts, str(e.shortcuts[0].keys)) for e in layer.entries) == [((), "F9"), (("us",), "F8")]


@pytest.mark.parametrize("days, entries", [(0, 0), (-1, 1)])
def test_an_exception_keeps_the_default_until_its_last_day_is_over(days, entries):
    estate = two_layouts(command("mark", "panel", "F8", task="jump"))
    until = TODAY + datetime.timedelta(days=days)
    exempt = Exempt(task="jump", program="office", platform="windows", reason="Learned there", until=until)
    layer = compile_standard(standard_of(line("jump", "F9"), exceptions=(exempt,)), estate)
    assert len(layer.entries) == entries


def test_a_layout_that_cannot_make_the_key_keeps_its_default():
    estate = two_layouts(command("mark", "panel", "F8", task="jump"))
    layer = compile_standard(standard_of(line("jump", "Control+ß")), estate)
    after = with_layer(estate, layer)
    assert str(after.board("german").bindings_of("office", "mark")[0].shortcut) == "Control+ß"
    assert str(after.board("american").bindings_of("office", "mark")[0].shortcut) == "F8"


def test_further_keys_of_a_command_stay_and_what_was_replaced_is_kept():
    estate = scene(
        "windows",
        office("windows", command("mark", "panel", "F8", "Control+F8", task="jump")),
        tasks={"tasks": [{"id": "jump", "name": "Jump"}]},
    )
    (made,) = compile_standard(standard_of(line("jump", "F9", since=TODAY)), estate).entries
    assert [str(g.keys) for g in made.shortcuts] == ["F9", "Control+F8"]
    assert ([str(s) for s in made.over], made.since) == (["F8"], TODAY)


def test_the_press_of_a_protected_task_is_given_to_nothing_else_by_hand():
    tasks = {"tasks": [{"id": "jump", "name": "Jump", "protected": True}]}
    estate = scene(
        "windows",
        office("windows", command("mark", "panel", "F9", task="jump"), command("fold", "panel", "F7")),
        house={"entries": [entry("windows", "fold", "F9")]},
        tasks=tasks,
    )
    after = with_layer(estate, compile_standard(standard_of(line("jump", "F9")), estate))
    (board,) = (after.board(i) for i in after.setups)
    assert [str(b.shortcut) for b in board.bindings_of("office", "fold")] == ["F7"]
    assert says_the_same(after.profiles[LAYER], compile_standard(standard_of(line("jump", "F9")), after))


def test_the_press_of_a_protected_task_is_reserved_where_it_is_the_tasks_only():
    estate = two_layouts(command("mark", "panel", "F9", task="jump"))
    protected = tuple(t.model_copy(update={"protected": True}) for t in estate.tasks.tasks)
    estate = dataclasses.replace(estate, tasks=estate.tasks.model_copy(update={"tasks": protected}))

    def reserved(*lines):
        made = compile_standard(standard_of(*lines), estate).reserved
        return [(str(r.keys), r.layouts) for r in made]

    both, german = line("jump", "F9"), line("jump", "F8", layouts=("de",))
    assert reserved(both) == [("F9", ())]
    assert reserved(german) == [("F8", ("de",))]
    assert reserved(both, german) == [("F8", ("de",)), ("F9", ("us",))]


# Families, choices, carrying


FAMILY = {
    "tasks": [{"id": "next", "name": "Next"}, {"id": "back", "name": "Back"}],
    "families": [{"id": "walk", "name": "Walk", "step": "shift", "members": ["next", "back"]}],
}


def test_a_family_follows_one_of_its_members():
    estate = scene("windows", office("windows", command("on", "panel", "F8", task="next")), tasks=FAMILY)
    found = family_lines(line("next", "F4"), estate.tasks)
    assert {t: str(v.shortcut) for t, v in found.items()} == {"next": "F4", "back": "Shift+F4"}
    from_the_second = family_lines(line("back", "Shift+F4"), estate.tasks)
    assert {t: str(v.shortcut) for t, v in from_the_second.items()} == {"next": "F4", "back": "Shift+F4"}
    assert family_lines(line("back", "F4"), estate.tasks) == {}
    whole = standard_of(line("next", "F4"), line("back", "Shift+F4"))
    family = estate.tasks.families[0]
    assert family_is_whole(whole, family, "windows", estate.tasks)
    broken = with_lines(whole, [line("back", "F5")])
    assert not family_is_whole(broken, family, "windows", estate.tasks)
    assert [f.id for f in Planner().plan(estate, whole, broken).broken] == ["walk"]


def test_choices_are_the_free_one_the_most_pressed_and_the_most_usual(example):
    estate, _ = example
    found = {c.kind: c for c in choices_for(estate, "find", "windows")}
    assert (str(found["pressed"].shortcut), found["pressed"].people) == ("Control+F", 14)
    assert found["free"].programs == ()
    for setup in estate.setups:
        for part in estate.board(setup).parts.values():
            assert all(b.shortcut != found["free"].shortcut for b in part.bindings)
    again = choices_for(estate, "find", "windows", without={found["free"].shortcut})
    assert next(c.shortcut for c in again if c.kind == "free") != found["free"].shortcut


@given(st.sampled_from(["Control+Shift+U", "Alt+F4", "F5", "Control+Alt+I", "Meta+E", "Control+Meta+F"]))
def test_carrying_there_and_back_gives_the_same_keys(text):
    shortcut = read_shortcut(text)
    there = equivalent(shortcut, "windows", "macos")
    assert equivalent(there, "macos", "windows") == shortcut
    assert equivalent(shortcut, "windows", "linux") == shortcut


def test_lines_are_carried_with_that_platforms_modifiers_and_failures_say_why():
    on = {"windows": ["F8"], "macos": ["F8"]}
    both = office("windows", command("on", "panel", task="next"), command("off", "panel", task="back"))
    both["platforms"] = ["windows", "macos"]
    both["commands"][0]["defaults"] = on
    estate = scene("macos", {**both, "reads_keys_by": {}}, tasks=FAMILY)
    standard = standard_of(line("next", "Control+J"), line("back", "Control+Shift+J"), line("back", "Meta+J", "macos"))
    found = {c.origin.task: c for c in carry(estate, standard, "windows", "macos")}
    assert found["back"].line is None
    assert found["back"].why == "macOS has a line for it already: Meta+J"
    assert found["next"].why == "Back has it there"
    assert found["next"].proposal is not None
    (moved,) = carry(estate, standard_of(line("next", "Control+J")), "windows", "macos")
    assert str(moved.line.shortcut) == "Meta+J"


def test_what_no_program_there_offers_is_not_carried():
    estate = scene("macos", office("macos", command("on", "panel", "F8", task="next")), tasks=FAMILY)
    (found,) = carry(estate, standard_of(line("back", "Control+J")), "windows", "macos")
    assert (found.line, found.why, found.proposal) == (None, "no program in use on macOS offers it", None)


# Another program's shortcuts


def lending():
    tasks = {"tasks": [{"id": t, "name": t.title()} for t in ("jump", "fold", "stay", "lack")]}
    lender = program(
        "windows",
        "lender",
        "office",
        [
            command("a", "panel", "F7", task="jump"),
            command("b", "panel", ["F8", "B"], task="fold"),
            command("c", "panel", "F9", task="stay"),
            command("d", "panel", "F10", task="lack"),
        ],
    )
    taker = office(
        "windows",
        command("mark", "panel", "F8", task="jump"),
        command("hide", "panel", "Control+H", task="fold"),
        command("rest", "panel", "F9", task="stay"),
        command("other", "panel", "F7"),
        limits={"sequence_length": 1, "bare_keys": True},
    )
    return scene("windows", lender, taker, tasks=tasks)


def test_another_programs_shortcuts_are_taken_refused_or_lacking():
    estate = lending()
    found = borrow(estate, "office", "lender", "windows", estate.profiles["house"])
    assert [(t.task, t.before, t.after) for t in found.taken] == [("Jump", "F8", "F7")]
    assert [(r.task, r.why) for r in found.refused] == [("Fold", "it takes at most 1 press in a row")]
    assert (found.same, found.lacking) == (("Stay",), ("Lack",))
    assert {g.clash.kind for g in found.makes if g.clash.severity != "low"} == {"same_scope"}
    (setup,) = estate.setups
    assert str(found.after.board(setup).bindings_of("office", "mark")[0].shortcut) == "F7"
    with pytest.raises(NotTogether):
        borrow(estate, "office", "office", "windows", estate.profiles["house"])
    with pytest.raises(NotTogether):
        borrow(estate, "office", "nobody", "windows", estate.profiles["house"])


def test_a_set_can_be_taken_off_and_an_own_entry_goes_before_it():
    estate = lending()
    house = estate.profiles["house"]
    with_it = with_set(house, borrow(estate, "office", "lender", "windows", house).entries)
    by_hand = read_document(
        {**with_it.to_json(), "entries": [entry("windows", "mark", "Control+M")]}, {"amberkey/profile@1": type(house)}
    )
    (setup,) = estate.setups

    def keys(profile):
        return str(estate.with_profiles([profile]).board(setup).bindings_of("office", "mark")[0].shortcut)

    assert keys(with_it) == "F7"
    assert keys(by_hand) == "Control+M"
    assert keys(with_it.model_copy(update={"sets": ()})) == "F8"


# Findings


def kinds(estate, standard):
    return {f.kind: f for f in findings(estate, standard)}


def test_findings_name_many_keys_and_double_meanings():
    tasks = {"tasks": [{"id": "jump", "name": "Jump"}, {"id": "fold", "name": "Fold"}]}
    one = office("windows", command("mark", "panel", "F8", task="jump"), command("hide", "panel", "F7", task="fold"))
    two = program("windows", "sheet", "office", [command("go", "panel", "F7", task="jump")])
    estate = scene("windows", one, two, tasks=tasks)
    found = kinds(estate, standard_of())
    assert found["many_keys"].says == "Jump has 2 keys on Windows: F8 in Office; F7 in Sheet."
    assert set(found["two_meanings"].tasks) == {"jump", "fold"}
    assert not found["two_meanings"].allowed
    allowed = read_document(
        {
            **standard_of().to_json(),
            "meanings": [{"keys": "F7", "platform": "windows", "reason": "Nobody has both"}],
        },
        FORMATS,
    )
    assert kinds(estate, allowed)["two_meanings"].allowed == "Nobody has both"


def test_findings_name_openers_without_closer_and_toggles_with_two_keys():
    here = office(
        "windows",
        command("show", "panel", "F8", opens="the shelf"),
        command("start", "panel", "F9", opens="a show", closes="end"),
        command("end", "panel", "F10"),
        command("turn", "panel", "F7", opens="a page", closes="turn"),
    )
    found = [(f.kind, f.says) for f in findings(scene("windows", here), standard_of())]
    assert found == [
        ("no_closer", "Show in Office opens the shelf, and no command closes it."),
        ("two_key_toggle", "Start in Office is F9, and End F10."),
    ]


def test_findings_tell_what_the_standard_names_in_vain():
    tasks = {"tasks": [{"id": "jump", "name": "Jump"}, {"id": "never", "name": "Never done"}]}
    here = office("windows", command("mark", "panel", "F8", task="jump"), limits={"refuses": ["F9"]})
    soon = TODAY + datetime.timedelta(days=10)
    standard = standard_of(
        line("jump", "F9"),
        line("gone", "F5"),
        exceptions=(
            Exempt(task="jump", program="office", platform="windows", reason="Until spring", until=soon),
            Exempt(task="never", program="nobody", platform="windows", reason="It was there"),
            Exempt(task="never", program="office", platform="windows", reason="Over", until=TODAY - datetime.timedelta(days=1)),
        ),
    )
    says = [f.says for f in findings(scene("windows", here, tasks=tasks), standard)]
    assert "The line gone on windows names a task that isn't there. Take it out." in says
    assert "No program can take F9 for Jump on Windows: Office: it refuses F9." in says
    assert "The exception never in nobody on windows names a program that isn't there. Take it out." in says
    assert f"The exception of Jump in Office runs out on {soon}. Until spring" in says
    assert any("ran out on 2026-11-23: it counts no longer" in s for s in says)
    assert "No program in use offers Never done." in says


# Bad input


def read_standard(**more):
    value = {"format": "amberkey/standard@1", "id": "standard", "name": "S", **more}
    return read_document(value, FORMATS)


@pytest.mark.parametrize(
    ("more", "place", "says"),
    [
        (
            {"lines": [{"task": "jump", "platform": "windows", "keys": k} for k in ("F8", "F9")]},
            "lines[1]",
            "jump on windows stands twice: it stands at lines[0] already.",
        ),
        (
            {
                "lines": [
                    {"task": "jump", "platform": "windows", "keys": "F8", "layouts": ["de", "se"]},
                    {"task": "jump", "platform": "windows", "keys": "F9", "layouts": ["se"]},
                ]
            },
            "lines[1]",
            "jump on windows with the layout se has two lines, lines[0] too.",
        ),
        ({"lines": [{"task": "jump", "platform": "windows", "keys": "Contrl+8"}]}, "lines[0].keys", "Contrl"),
        ({"lines": [{"task": "jump", "platform": "beos", "keys": "F8"}]}, "lines[0].platform", "'beos' is not known"),
        (
            {"exceptions": [{"task": "jump", "program": "office", "platform": "windows", "reason": ""}]},
            "exceptions[0].reason",
            "nothing here",
        ),
        ({"rules": []}, "rules", "no such field"),
    ],
)
def test_a_faulty_standard_is_refused_with_the_place(more, place, says):
    with pytest.raises(DocumentError) as refused:
        read_standard(**more)
    (fault,) = refused.value.faults
    assert fault.place == place
    assert says in fault.says


def test_a_standard_from_a_newer_format_is_refused_politely():
    with pytest.raises(NewerFormat) as refused:
        read_any(json.dumps({"format": "amberkey/standard@2", "id": "s", "name": "S"}).encode())
    assert "made by a newer Amber Key" in refused.value.faults[0].says


def test_a_family_that_names_a_missing_task_is_refused_where_it_stands():
    value = {"format": "amberkey/tasks@1", "id": "tasks", "name": "T", **FAMILY, "tasks": FAMILY["tasks"][:1]}
    with pytest.raises(DocumentError) as refused:
        read_document(value, FORMATS)
    assert "families[0].members: walk names the task back, which isn't there" in str(refused.value)


@settings(max_examples=40)
@given(st.lists(st.sampled_from(["save", "find", "go"]), unique=True), st.sampled_from(["F5", "Main+S", ["F8", "B"]]))
def test_a_standard_keeps_its_bytes_when_read_again(tasks, keys):
    standard = read_standard(lines=[{"task": t, "platform": "macos", "keys": keys} for t in tasks])
    assert read_any(standard.to_bytes()).to_bytes() == standard.to_bytes()


# Whatever is drawn


@seldom
@given(drawings, st.sampled_from(["F8", "Control+7", "Alt+Home"]))
def test_a_plan_comes_to_what_saving_and_releasing_come_to(drawn, keys):
    """Nothing of a plan is guessed: its figures, its clashes and its people are those of the state that it leads to."""
    estate = put_up(*drawn)
    platform = next(iter(estate.setups.values())).works_on
    now = standard_of(line("save", "Control+E", platform))
    wanted = with_lines(now, [line("next", keys, platform)])
    plan = Planner().plan(estate, now, wanted)
    before = with_layer(put_up(*drawn), compile_standard(now, put_up(*drawn)))
    after = with_layer(put_up(*drawn), compile_standard(wanted, put_up(*drawn)))
    assert plan.covered_before == Gauge().measure(before, now).whole()
    assert plan.covered_after == Gauge().measure(after, wanted).whole()
    assert {g.clash.identity for g in plan.makes} == {g.clash.identity for g in before.new_in(after)}
    assert {g.clash.identity for g in plan.solves} == {g.clash.identity for g in after.new_in(before)}
    moved = {i for i in after.setups if _pressed(before, i) != _pressed(after, i)}
    assert {i for v in plan.learners for i in v.setups} == moved
    assert plan.people == after.people_of(after.setups[i] for i in moved)
    assert sum(v.people for v in plan.learners) == plan.people


def _pressed(estate, setup):
    return {
        (program, c.command.id, c.arguments): c.now.shortcuts
        for program, part in estate.board(setup).parts.items()
        for c in part.effective.commands
    }


@slowly
@given(drawings)
def test_a_plan_for_the_same_standard_changes_nothing(drawn):
    estate = put_up(*drawn)
    platform = next(iter(estate.setups.values())).works_on
    standard = standard_of(line("save", "F8", platform), line("next", "Control+7", platform))
    plan = Planner().plan(estate, standard, standard)
    assert (plan.entries, plan.people, plan.learners, plan.makes, plan.solves) == (0, 0, (), (), ())
    assert plan.covered_before == plan.covered_after


@seldom
@given(drawings)
def test_a_free_choice_is_free_in_every_program_that_could_have_it(drawn):
    estate = put_up(*drawn)
    platform = next(iter(estate.setups.values())).works_on
    for choice in choices_for(estate, "next", platform):
        if choice.kind != "free":
            assert choice.people > 0
            assert choice.programs
            continue
        plan = Planner().plan(estate, standard_of(), standard_of(line("next", str(choice.shortcut), platform)))
        mine = [g.clash for g in plan.makes if g.clash.kind in ("same_scope", "system_fixed", "system", "swallows_text")]
        assert all(c.subject.command.task != "next" for c in mine), (choice, [c.kind for c in mine])


@slowly
@given(drawings)
def test_a_borrowed_set_taken_off_leaves_the_profile_as_it_was(drawn):
    estate = put_up(*drawn)
    platform = next(iter(estate.setups.values())).works_on
    house = estate.profiles["house"]
    found = borrow(estate, "office", "web", platform, house)
    with_it = with_set(house, found.entries)
    assert with_set(with_it, found.entries) == with_it
    assert with_it.model_copy(update={"sets": house.sets}).to_bytes() == house.to_bytes()
    own = {e.subject for e in house.entries}
    assert {e.key for e in with_it.all_entries} == {e.key for e in house.entries} | {
        e.key for e in found.entries.entries if e.subject not in own
    }


@slowly
@given(drawings)
def test_findings_name_every_task_that_has_two_first_keys(drawn):
    estate = put_up(*drawn)
    told = {f.tasks[0] for f in findings(estate, standard_of()) if f.kind == "many_keys"}
    keys = {}
    for setup in estate.setups:
        for part in estate.board(setup).parts.values():
            if part.program.kind == "system":
                continue
            for task, effective in part.effective.by_task.items():
                keys.setdefault(task, set()).update(s for s, _ in effective.now.shortcuts[:1])
    assert told == {task for task, own in keys.items() if len(own) > 1}
