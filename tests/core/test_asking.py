"""What a way out asks of the standard."""

from hypothesis import given
from hypothesis import strategies as st

from amberkey.core.standard.asking import asked_by, exceptions_for, lines_for, with_exceptions
from amberkey.core.standard.coverage import Gauge
from amberkey.core.standard.model import Exempt, Line, Standard
from amberkey.core.standard.setting import with_lines
from amberkey.core.ways.proposing import ways_out
from amberkey.core.ways.several import with_operations
from tests.core.estates import TODAY, drawings, put_up
from tests.core.scenes import command, office, scene, system
from tests.core.test_laws_of_clashes import seldom

TASKS = {"tasks": [{"id": "jump", "name": "Jump"}, {"id": "other", "name": "Other"}]}
NOTHING = Standard(id="standard", name="The standard")


def line(task, keys, platform="windows", **more):
    return Line(task=task, platform=platform, keys=keys, **more)


def one_clash(own="Meta+L", **more):
    """A command for a task that loses its key to the system."""
    lock = system("windows", command("lock", "everywhere", "Meta+L", grip="can be reassigned"))
    here = office("windows", command("jump", "window", own, task="jump"), command("plain", "window", "F7"), **more)
    return scene("windows", lock, here, tasks=TASKS)


def moved(estate, kind="move"):
    """The first way of a kind out of the first clash, the estate after it, and the setup."""
    group = next(g for g in estate.groups() if g.clash.holder is not None)
    way = next(w for w in ways_out(estate, group, "house") if w.kind == kind)
    return with_operations(estate, way.changes), way, group.setups[0].id


def test_where_the_standard_says_nothing_only_a_line_could_be_set():
    estate = one_clash()
    after, way, setup = moved(estate)
    (asked,) = asked_by(estate, after, setup, NOTHING)
    assert (asked.task.id, asked.program.id, asked.gets, asked.state) == ("jump", "office", way.shortcut, None)
    (made,) = lines_for([asked], "It is free", "Ines", TODAY)
    assert (made.task, made.shortcut, made.layouts, made.owner, made.since) == ("jump", way.shortcut, (), "Ines", TODAY)
    assert exceptions_for([asked], "Why not", "Ines", None) == []


def test_a_line_for_one_layout_is_the_one_that_is_changed():
    estate = one_clash()
    after, way, setup = moved(estate)
    standard = Standard(
        id="standard",
        name="The standard",
        lines=(line("jump", "Meta+L"), line("jump", "F6", layouts=("us",)), line("other", "F2")),
    )
    (asked,) = asked_by(estate, after, setup, standard)
    assert asked.state == "differs"
    wanted = with_lines(standard, lines_for([asked], "", "Ines", TODAY))
    assert {(v.key, v.shortcut) for v in wanted.lines} - {(v.key, v.shortcut) for v in standard.lines} == {
        (standard.lines_of("jump", "windows")[1].key, way.shortcut)
    }
    (exempt,) = exceptions_for([asked], "It has its own", "Ines", TODAY)
    assert (exempt.program, exempt.layouts, exempt.until) == ("office", ("us",), TODAY)


def test_what_follows_the_standard_or_is_let_off_already_is_asked_nothing():
    estate = one_clash()
    after, way, setup = moved(estate)
    follows = Standard(id="standard", name="The standard", lines=(line("jump", way.shortcut),))
    (asked,) = asked_by(estate, after, setup, follows)
    assert (asked.state, asked.could_be_the_line, asked.could_be_let_off) == ("agrees", False, False)
    let_off = Exempt(task="jump", program="office", platform="windows", reason="Its own way")
    standard = Standard(id="standard", name="The standard", lines=(line("jump", "F6"),), exceptions=(let_off,))
    (asked,) = asked_by(estate, after, setup, standard)
    assert (asked.state, asked.could_be_let_off) == ("excepted", False)


def test_a_holder_that_loses_its_only_key_could_be_let_off_but_gives_no_line():
    tasks = {"tasks": [{"id": "jump", "name": "Jump"}, {"id": "other", "name": "Other"}]}
    here = office(
        "windows", command("a", "window", "F8", task="jump"), command("b", "window", "F8", task="other"), on_tie="first"
    )
    estate = scene("windows", here, tasks=tasks)
    group = next(g for g in estate.groups() if g.clash.kind == "same_scope")
    way = next(w for w in ways_out(estate, group, "house") if w.key == "take_over")
    standard = Standard(id="standard", name="The standard", lines=(line("jump", "F8"),))
    (asked,) = asked_by(estate, with_operations(estate, way.changes), "here", standard)
    assert (asked.task.id, asked.gets, asked.state) == ("jump", None, "unbound")
    assert (asked.could_be_the_line, asked.could_be_let_off) == (False, True)


def test_a_change_of_what_has_no_task_asks_nothing():
    here = office("windows", command("a", "window", "F8"), command("b", "window", "F8"), on_tie="first")
    estate = scene("windows", here)
    after, _, setup = moved(estate)
    assert asked_by(estate, after, setup, NOTHING) == ()


@seldom
@given(drawings, st.sampled_from(["F8", "Control+7", "Alt+Home"]))
def test_after_the_answer_the_program_agrees_or_is_let_off(drawn, keys):
    """Whatever a way out does to tasks: with the lines that it asks for they agree, with the exceptions they are excepted."""
    estate = put_up(*drawn)
    platform = next(iter(estate.setups.values())).works_on
    standard = Standard(id="standard", name="S", lines=(line("save", keys, platform), line("next", "Control+E", platform)))
    for group in estate.groups()[:4]:
        setup = group.setups[0].id
        ways = ways_out(estate, group, estate.setups[setup].layers[-1])
        for way in [w for w in ways if w.kind != "translate"][:3]:
            after = with_operations(estate, way.changes)
            asked = asked_by(estate, after, setup, standard)
            with_own = with_lines(standard, lines_for(asked, "", "Ines", TODAY))
            off = with_exceptions(standard, exceptions_for(asked, "Let off", "Ines", None))
            for one in asked:
                place = setup, one.program.id, one.task.id
                if one.could_be_the_line and with_own.lines_of(one.task.id, platform)[0].shortcut == one.gets:
                    assert Gauge().measure(after, with_own).cell(*place).state in ("agrees", "clashes")
                if one.could_be_let_off:
                    assert Gauge().measure(after, off).cell(*place).state == "excepted"
