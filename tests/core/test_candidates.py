"""Free shortcuts: nothing proposed may be taken, typed, refused or out of reach in any setup asked about."""

import pytest

from amberkey.core.clashes.trace import trace_stroke
from amberkey.core.layouts.strokes import Made, strokes_of
from amberkey.core.layouts.typing import types
from amberkey.core.programs.limits import why_not
from amberkey.core.ways.candidates import candidates_for
from tests.core.estate_fixture import estate, programs

ESTATE = estate()
WINDOWS = [ESTATE.board("german"), ESTATE.board("american")]
MAC = [ESTATE.board("mac")]


def binding(boards, program, command):
    return next(b for b in boards[0].bindings if (b.program.id, b.command.id) == (program, command))


CASES = [
    (WINDOWS, "tableware", "euro-fare"),
    (WINDOWS, "tableware", "lock-cells"),
    (WINDOWS, "pagewright", "fold"),
    (MAC, "tableware", "euro-fare"),
    (MAC, "pagewright", "search"),
]


@pytest.mark.parametrize("boards, program, command", CASES, ids=lambda c: c if isinstance(c, str) else "")
def test_every_candidate_is_free_in_every_setup(boards, program, command):
    moved = binding(boards, program, command)
    found = candidates_for(moved, boards, most=500)
    assert len(found) > 20
    for candidate in found:
        for board in boards:
            assert why_not(moved.program, candidate.shortcut, board.ground.keyboard) == ""
            made = strokes_of(
                candidate.shortcut.presses[0], board.setup.layout, moved.program.reads_on(board.setup.setup.platform)
            )
            assert isinstance(made, Made)
            trace = trace_stroke(board, made.strokes[0], program, moved.scope)
            assert trace.effect.binding is None
            assert types(made.strokes[0], board.setup.layout) is None


def test_candidates_are_ranked_the_same_way_each_time():
    moved = binding(WINDOWS, "tableware", "euro-fare")
    first, again = (candidates_for(moved, WINDOWS, most=40) for _ in range(2))
    assert first == again
    assert [c.cost for c in first] == sorted(c.cost for c in first)


def test_the_first_letter_and_the_old_key_count():
    moved = binding(WINDOWS, "tableware", "euro-fare")
    reasons = {str(c.shortcut): c.reasons for c in candidates_for(moved, WINDOWS, most=200)}
    assert "same key as before" in reasons["Control+E"]
    assert "first letter of Euro" in reasons["Control+E"]
    assert "first letter of fare" in reasons["Control+F"]


def test_a_character_that_one_keyboard_lacks_is_not_proposed():
    moved = binding(WINDOWS, "tableware", "euro-fare")
    keys = {c.shortcut.presses[0].key for c in candidates_for(moved, WINDOWS, most=500)}
    assert "Ö" not in keys
    only_german = {c.shortcut.presses[0].key for c in candidates_for(moved, WINDOWS[:1], most=500)}
    assert "Ö" in only_german


def test_control_alone_is_left_to_the_caret_on_the_mac():
    moved = binding(MAC, "tableware", "euro-fare")
    assert all(c.shortcut.presses[0].modifiers != ("Control",) for c in candidates_for(moved, MAC, most=500))


def test_what_a_program_refuses_is_not_proposed():
    tableware = next(p for p in programs() if p.id == "tableware")
    first = candidates_for(binding(WINDOWS, "tableware", "euro-fare"), WINDOWS)[0].shortcut
    limits = tableware.limits.model_copy(update={"refuses": (first,)})
    strict = [p if p.id != "tableware" else p.model_copy(update={"limits": limits}) for p in programs()]
    boards = [estate(program_list=strict).board(s) for s in ("german", "american")]
    assert first not in {c.shortcut for c in candidates_for(binding(boards, "tableware", "euro-fare"), boards, most=500)}
