"""Tasks looked for by keys."""

from hypothesis import given
from hypothesis import strategies as st

from amberkey.core.keys.reading import read_shortcut
from amberkey.core.layouts.keyboard import ways_of
from amberkey.core.standard.coverage import Gauge
from amberkey.core.standard.looking import tasks_on
from amberkey.core.standard.model import Line, Standard
from tests.core.estates import drawings, put_up
from tests.core.scenes import command, office, scene
from tests.core.test_laws_of_clashes import slowly

TASKS = {"tasks": [{"id": t, "name": t.capitalize()} for t in ("save", "undo", "close")]}


def standard_of(*lines):
    return Standard(id="standard", name="S", lines=[Line(task=t, platform="windows", keys=k) for t, k in lines])


def looked_for(estate, standard, keys):
    return tasks_on(Gauge().measure(estate, standard), estate.setups, read_shortcut(keys))


def test_a_task_is_found_by_its_line_and_by_what_a_program_has_for_it():
    here = office("windows", command("a", "page", "F5", task="save"), command("b", "page", "F6", "F7", task="undo"))
    estate = scene("windows", here, tasks=TASKS)
    standard = standard_of(("save", "F9"), ("close", "F7"))
    assert looked_for(estate, standard, "F9") == {"save"}
    assert looked_for(estate, standard, "F5") == {"save"}
    assert looked_for(estate, standard, "F7") == {"undo", "close"}
    assert looked_for(estate, standard, "F8") == set()


def test_keys_that_are_written_otherwise_and_pressed_the_same_are_found():
    here = office(
        "windows", command("a", "page", "Control+Shift+/", task="save"), command("b", "page", "Control+Z", task="undo")
    )
    estate = scene("windows", here, tasks=TASKS, layout="de", body="iso")
    nothing = standard_of()
    assert looked_for(estate, nothing, "Control+Shift+7") == {"save"}  # / is Shift 7 there
    assert looked_for(estate, nothing, "Control+code:KeyY") == {"undo"}  # Z is where Y is elsewhere
    assert looked_for(estate, nothing, "Main+Z") == {"undo"}


def test_keys_that_nobody_can_press_here_find_nothing():
    estate = scene("windows", office("windows", command("a", "page", "Control+Ö", task="save")), tasks=TASKS)
    assert looked_for(estate, standard_of(("save", "Control+Ö")), "Control+Ö") == set()


@slowly
@given(drawings, st.sampled_from(["Control+E", "Control+7", "Control+Shift+7", "F8", "Alt+Home"]))
def test_found_are_those_of_which_some_binding_has_a_stroke_of_the_keys(drawn, keys):
    """Against the slow way: every binding of every board, one after the other."""
    estate = put_up(*drawn)
    nothing = Standard(id="standard", name="S")
    wanted = set()
    for setup in estate.setups:
        board = estate.board(setup)
        for part in (p for p in board.parts.values() if p.program.kind != "system"):
            shortcut = read_shortcut(keys).resolve(board.ground.platform)
            ways, _ = ways_of(shortcut, board.ground.keyboard, part.reads, part.pad)
            for task, effective in part.effective.by_task.items():
                bindings = board.bindings_of(part.program.id, effective.command.id)
                if any(way in ways for b in bindings for way in b.ways):
                    wanted.add(task)
    assert looked_for(estate, nothing, keys) == wanted
