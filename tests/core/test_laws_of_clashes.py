"""Laws that hold in any estate: tried on drawn ones."""

import random

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from amberkey.core.clashes.binding import LAUNCHERS
from amberkey.core.clashes.estate import Estate
from amberkey.core.clashes.part import _laid_out
from amberkey.core.clashes.trace import Focus, trace_heard
from amberkey.core.clashes.within import clashes_within
from amberkey.core.clashes.wording import say_clash
from amberkey.core.compare.operations import apply
from amberkey.core.documents.model import read_document
from amberkey.core.layouts.stroke import Stroke
from amberkey.core.profiles.model import Profile
from amberkey.core.ways.changes import operations_of
from amberkey.core.ways.proposing import ways_out
from tests.core.estates import TODAY, drawings, put_up

# The same drawings in each run, so that what passes here passes everywhere; other numbers are tried by hand.
slowly = settings(
    max_examples=150, derandomize=True, deadline=None, suppress_health_check=[HealthCheck.too_slow, HealthCheck.data_too_large]
)

# For laws that work a whole estate through several times.
seldom = settings(slowly, max_examples=75)


def until(way, stroke):
    """The strokes of a way up to the one in question."""
    return way[: way.index(stroke) + 1] if stroke in way else (stroke,)


def takers(effect):
    """All who may have the press, by the effect of a trace."""
    return [b for b in (effect.binding, effect.otherwise, *effect.waiting, *effect.undefined) if b is not None]


def stops_at(one, clash):
    """Whether the clash's station takes the press, for the clash's holder."""
    sequences = len(clash.holder.shortcut.presses) > 1
    if clash.kind in ("same_scope", "shadow", "recycled") and (one.effect.kind == "wait" or sequences):
        return True  # settled between the two; that a longer or shorter one keeps both from running is a clash of its own
    return any(
        step.station == clash.station
        and step.outcome == "takes"
        and (step.binding is clash.holder or clash.holder in takers(one.effect))
        for step in one.steps
    )


def route(clash):
    """What to press to see the clash: a way of one of its parties that leads to its stroke, at once if there is one."""
    ways = [way for party in (clash.loser, clash.holder) for way in (party.ways if party else ())]
    found = [way for way in ways if way[0] == clash.stroke] or [way for way in ways if clash.stroke in way]
    return until(found[0], clash.stroke) if found else (clash.stroke,)


def composed(board, way, focus, clash):
    """The traces of a way; what an input method takes while a text is being composed comes after a letter of it."""
    if clash.kind == "input_method" and clash.stroke not in board.composer.takes:
        text = next(t for t in board.parts[focus.program].program.texts_within(focus.scope))
        letter = Stroke("KeyX", frozenset())
        return trace_heard(board, (letter, *way), Focus(focus.program, text.id))
    return trace_heard(board, way, focus)


@slowly
@given(drawings)
def test_trace_and_clashes_agree_on_who_takes_a_press(documents):
    estate = put_up(*documents)
    for setup in estate.setups:
        board = estate.board(setup)
        for clash in estate.clashes(setup):
            if clash.station is None or clash.stroke is None:
                continue
            focus = Focus(*clash.focus) if clash.focus else None
            traces = composed(board, route(clash), focus, clash)
            assert any(stops_at(t, clash) for t in traces), (say_clash(clash, board), traces)


@slowly
@given(drawings)
def test_a_shortcut_that_does_not_do_what_it_says_is_in_a_clash(documents):
    """The other way round: nothing is missed. Every binding does its command where it is live, or some clash says why not."""
    estate = put_up(*documents)
    for setup in estate.setups:
        board = estate.board(setup)
        told = {b.participant for c in (*estate.clashes(setup), *estate.meant(setup)) for b in c.parties}
        for binding in board.bindings:
            if binding.participant in told or binding.program.kind == "system" or binding.asleep:
                continue
            focus = None if binding.everywhere else Focus(binding.program.id, binding.scope)
            done = [t.effect for way in binding.ways for t in trace_heard(board, way, focus)]
            assert any(binding in takers(e) or _same(binding, e.binding) for e in done), (binding, done)
        for binding in board.extra:
            if binding.participant in told or not binding.live or binding.program.id != LAUNCHERS:
                continue
            done = [t.effect for way in binding.ways for t in trace_heard(board, way, None)]
            assert any(_same(binding, e.binding) for e in done), (binding, done)


def _same(binding, other):
    return other is not None and other.same_command(binding)


@slowly
@given(drawings, st.integers(0, 99))
def test_order_changes_neither_the_clashes_nor_their_identities(documents, number):
    rnd = random.Random(number)
    setups, programs, profiles = documents
    shuffled = {i: {**s, "programs": rnd.sample(s["programs"], len(s["programs"]))} for i, s in setups.items()}
    one, other = put_up(setups, programs, profiles), put_up(shuffled, rnd.sample(programs, len(programs)), profiles)
    for setup in setups:
        assert {c.identity for c in one.clashes(setup)} == {c.identity for c in other.clashes(setup)}
        assert {c.identity for c in one.meant(setup)} == {c.identity for c in other.meant(setup)}


def saved(estate, way):
    """The estate after a way out was taken and everything read again from the saved values."""
    profiles = dict(estate.profiles)
    for profile, operations in way.changes.items():
        document = apply(estate.profiles[profile].to_json(), operations)
        profiles[profile] = read_document(document, {"amberkey/profile@1": Profile})
    return Estate(estate.setups, estate.programs, profiles, estate.tasks, TODAY)


@slowly
@given(drawings)
def test_a_way_out_does_what_it_promises_and_nothing_else(documents):
    """Judged on patched boards, then done for real: the same clashes go and come, in the same setups."""
    estate = put_up(*documents)
    groups = estate.groups()
    for group in groups[:: max(1, len(groups) // 4)]:
        for way in ways_out(estate, group, "house"):
            after = saved(estate, way)
            gone = {(s, c.identity) for s in estate.setups for c in estate.clashes(s)}
            come = {(s, c.identity) for s in estate.setups for c in after.clashes(s)}
            told = way.consequences
            assert gone - come == {(s.id, g.clash.identity) for g in told.solves for s in g.setups}, (way.key, way.changes)
            assert come - gone == {(s.id, g.clash.identity) for g in told.makes for s in g.setups}, (way.key, way.changes)
            if way.kind in ("move", "move_family"):
                assert not told.makes
            remaining = {s.id for s in group.setups if (s.id, group.clash.identity) in come}
            if way.kind != "allow":
                assert remaining == {s.id for s in told.remains}


@slowly
@given(drawings)
def test_every_clash_is_told_with_the_names_of_its_parties(documents):
    estate = put_up(*documents)
    for setup in estate.setups:
        board = estate.board(setup)
        for clash in estate.clashes(setup):
            says = say_clash(clash, board)
            assert clash.subject.command.name in says
            assert says.endswith((".", "!"))


@slowly
@given(drawings)
def test_what_is_found_since_a_program_had_no_layer_is_all_that_there_is(documents):
    estate = put_up(*documents)
    for setup in estate.setups:
        for part in estate.board(setup).parts.values():
            if part.since is None or part.program.kind == "system":
                continue
            anew = _laid_out(part.effective, part.ground)
            for index, other in ((part.first, anew.first), (part.later, anew.later)):
                assert {s: [b.participant for b in found] for s, found in index.items()} == {
                    s: [b.participant for b in found] for s, found in other.items()
                }
            assert {c.identity for c in clashes_within(part)} == {c.identity for c in clashes_within(anew)}


@slowly
@given(drawings)
def test_a_clash_is_found_once(documents):
    estate = put_up(*documents)
    for setup in estate.setups:
        found = [c.identity for c in estate.clashes(setup)]
        assert len(found) == len(set(found))


def told_groups(estate):
    return [(g.clash.identity, g.clash.severity, [s.id for s in g.setups], g.people) for g in estate.groups()]


@slowly
@given(drawings, st.integers(0, 2**31))
def test_a_state_that_shares_with_earlier_ones_says_what_a_fresh_one_says(documents, number):
    setups, programs, profiles = documents
    rnd = random.Random(number)
    estate = put_up(setups, programs, profiles)
    estate.groups()
    for _ in range(3):
        name = rnd.choice(list(profiles))
        entries = [e for e in profiles[name]["entries"] if rnd.random() < 0.7]
        profiles = {**profiles, name: {**profiles[name], "entries": entries, "reserved": []}}
        if rnd.random() < 0.3 and len(setups) > 1:
            setups = dict(list(setups.items())[1:])
        fresh = put_up(setups, programs, profiles)
        estate = Estate(fresh.setups, estate.programs, fresh.profiles, fresh.tasks, TODAY, estate.shared)
        assert sorted(told_groups(estate)) == sorted(told_groups(put_up(setups, programs, profiles)))
        if rnd.random() < 0.3:
            estate.shared.prune(estate.setups)


def test_every_kind_turns_up_among_the_drawn_estates():
    """The laws above are tried on something: a fixed row of drawings has every kind of clash."""
    from amberkey.core.clashes.model import CLASH_KINDS
    from tests.core.estates import drawn

    kinds = set()
    for seed in range(250):
        estate = put_up(*drawn(random.Random(seed)))
        kinds |= {c.kind for s in estate.setups for c in estate.clashes(s)}
    assert kinds == set(CLASH_KINDS)


def test_operations_of_nothing_are_none():
    assert operations_of(()) == {}


@pytest.mark.parametrize("seed", range(3))
def test_the_same_documents_give_the_same_answers(seed):
    from tests.core.estates import drawn

    one, other = (put_up(*drawn(random.Random(seed))) for _ in range(2))
    for setup in one.setups:
        assert [c.identity for c in one.clashes(setup)] == [c.identity for c in other.clashes(setup)]
