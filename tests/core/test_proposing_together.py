"""Keys for several platforms in one go: tasks keep one shape as far as that is worth it, and the whole is the best there is."""

import pytest
from hypothesis import given

from amberkey.core.proposing.costs import alike
from amberkey.core.proposing.exactly import Exactly
from amberkey.core.proposing.ground import grounds_of
from amberkey.core.proposing.highs import Highs
from amberkey.core.proposing.instance import instance_of
from amberkey.core.proposing.joined import joined, pairs, shapes_apart
from amberkey.core.proposing.offering import options_of
from amberkey.core.proposing.question import CannotPropose, Question, Settled, Weights
from amberkey.core.standard.model import NO_STANDARD
from tests.core.estates import drawings, put_up
from tests.core.test_proposing import SOON, desk, few, key, line, platform_of, proposer, standard_of, with_a_mac


def on(found, platform):
    return {t: str(k) for s in found.sides if s.platform == platform for v in s.lines for t, k in v.candidate.keys.items()}


def both(**asked):
    return proposer(with_a_mac(desk()), platform="windows", beside=("macos",), **asked)


def test_a_task_gets_one_shape_where_that_is_worth_it():
    apart = both(weights=Weights(unlike=0)).propose()
    like = both(weights=Weights(unlike=10_000)).propose()
    assert on(like, "windows")["quote"].replace("Control", "Meta") == on(like, "macos")["quote"]
    assert (like.status, like.judged.points.shapes, like.gap) == ("optimal", 0, 0)
    # What is worth nothing draws nothing: the mac keeps the key that its three people have.
    assert on(apart, "macos")["quote"] == "Meta+K"
    assert on(apart, "windows")["quote"] != "Control+K"
    assert apart.cost <= like.cost
    # One standard has the lines of both, and people on either platform have them.
    assert {(v.task, v.platform) for v in like.standard.lines} >= {("quote", "windows"), ("quote", "macos")}
    for setup in ("here", "there"):
        keys = {str(b.shortcut) for b in like.after.board(setup).parts["till"].commanded("quote")}
        assert keys == {on(like, like.after.setups[setup].works_on)["quote"]}


def test_each_platform_has_pins_and_bans_of_its_own():
    free = both(weights=Weights(unlike=0)).propose()
    mine = on(free, "macos")["quote"]
    pinned = both(elsewhere={"macos": Settled(pins={"quote": key("Meta+F7")})}).propose()
    assert on(pinned, "macos")["quote"] == "Meta+F7"
    assert not [v for s in pinned.sides if s.platform == "windows" for v in s.lines if v.wanted.pinned]
    for settled in (Settled(bans=frozenset({key(mine)})), Settled(without={"quote": frozenset({key(mine)})})):
        banned = both(weights=Weights(unlike=0), elsewhere={"macos": settled}).propose()
        assert on(banned, "macos")["quote"] != mine
        assert on(banned, "windows") == on(free, "windows")
    with pytest.raises(CannotPropose, match=r"Meta\+F7 is pinned for Quote the fare and banned\."):
        both(elsewhere={"macos": Settled(pins={"quote": key("Meta+F7")}, bans=frozenset({key("Meta+F7")}))})


def test_few_keys_are_found_again_among_all():
    asked = both(weights=Weights(unlike=10_000))
    few, whole = asked.searcher.joined(2), asked.searcher.joined(None)
    inside = set(few.variables_in(whole))
    for here, there, shift in zip(few.instances, whole.instances, whole.shifts, strict=True):
        for own, every in ((here.of_line, there.of_line), (here.of, there.of)):
            known = {every[k] + shift for k in own if k in every}
            assert known <= inside
            assert inside.isdisjoint({v + shift for v in every.values()} - known)
            assert len(known) < len(every)
    best = Highs().solve(few.program, SOON).chosen
    carried = few.carried(best, whole)
    assert set(carried) <= inside
    assert whole.program.allows(carried)
    assert whole.program.cost_of(carried) == pytest.approx(few.program.cost_of(best))
    assert not whole.alike.keys().isdisjoint(carried)
    assert whole.as_one([whole.of_platform(n, carried) for n in range(2)]) == carried


def test_what_differs_is_paid_for_each_person_of_the_smaller_platform():
    asked = both(weights=Weights(unlike=1))
    ((pair),) = [p for p in pairs(*asked.options) if p.task.id == "quote"]
    assert pair.people == 3
    for keys, points in (("Meta+F7", 3), ("F7", 0)):
        standard = standard_of(line("quote", "F7", "windows"), line("quote", keys, "macos"))
        assert shapes_apart(asked.options, standard) == points
    assert shapes_apart(asked.options, standard_of(line("quote", "F7", "windows"))) == 0


def test_together_is_never_dearer_than_one_after_the_other():
    weights = Weights(unlike=40)
    together = both(weights=weights).propose()
    estate = with_a_mac(desk())
    for first, second in (("windows", "macos"), ("macos", "windows")):
        one = proposer(estate, platform=first, weights=weights).propose()
        other = proposer(estate, one.standard, platform=second, weights=weights)
        # The lines of the first are no present lines of the second, so that nothing of it is paid for being changed.
        assert together.cost <= one.cost + other.propose().cost + 1e-6


def test_figures_are_those_of_all_platforms():
    found = both().propose()
    assert [s.platform for s in found.sides] == ["windows", "macos"]
    assert found.relearned == found.judged.relearned == sum(s.judged.relearned for s in found.sides)
    assert found.judged.agree == sum(s.judged.agree for s in found.sides) == found.judged.could
    assert found.today.worst == sum(s.today.worst for s in found.sides)
    assert found.judged.points.total == sum(s.judged.points.total for s in found.sides) + found.judged.points.shapes


def test_pins_and_bans_are_keys_of_the_first_platform():
    found = both(pins={"quote": key("F6")}, bans=frozenset({key("F3")}), weights=Weights(unlike=0)).propose()
    assert (on(found, "windows")["quote"], on(found, "macos")["quote"]) == ("F6", "Meta+K")
    drawn = both(pins={"quote": key("F6")}, weights=Weights(unlike=10_000)).propose()
    assert on(drawn, "macos")["quote"] == "F6"


def test_a_budget_is_for_all_platforms_together():
    best = both().propose()
    less = both().propose(best.relearned - 1)
    assert less.relearned < best.relearned
    assert less.cost >= best.cost
    assert both().propose(0).judged.relearned == 0


def test_a_platform_that_nobody_works_on_is_told():
    with pytest.raises(CannotPropose, match="Nobody works on Linux"):
        proposer(with_a_mac(desk()), platform="windows", beside=("linux",))


@few
@given(drawings)
def test_joined_programs_are_the_best_of_all_that_could_be_chosen(drawn):
    estate = put_up(*drawn)
    here = platform_of(estate)
    if here == "macos":
        return
    asked = Question(here, beside=("macos",), few=2, moves=1, weights=Weights(unlike=30))
    options = list(map(options_of, grounds_of(asked, with_a_mac(estate, "next"), NO_STANDARD)))
    parts = [instance_of(own, 2) for own in options]
    found = joined(parts)
    if len(found.program.costs) > 44:
        return
    solved, wanted = Highs().solve(found.program, SOON), Exactly().solve(found.program, SOON)
    assert (solved.status, solved.cost) == (wanted.status, pytest.approx(wanted.cost))
    if not solved.chosen:
        return
    chosen = [found.of_platform(n, solved.chosen) for n in range(2)]
    assert found.as_one(chosen) == solved.chosen
    lines = [{id(w): c.keys for w, c in p.meaning(own)[0]} for p, own in zip(parts, chosen, strict=True)]
    unlike = sum(
        pair.people * 30
        for pair in pairs(*options)
        if not alike(lines[0][id(pair.one)][pair.task.id], here, lines[1][id(pair.other)][pair.task.id], "macos")
    )
    assert solved.cost == pytest.approx(sum(p.program.cost_of(c) for p, c in zip(parts, chosen, strict=True)) + unlike)
    assert found.carried(solved.chosen, found) == solved.chosen
