"""What a key is worth: the figures of `docs/worth.md`, calculated there by hand, and laws."""

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from amberkey.core.layouts.stroke import Stroke
from amberkey.core.organisation.census import Census, Tally
from amberkey.core.organisation.model import Organisation
from amberkey.core.programs.model import Command
from amberkey.core.ways.proposing import ways_out
from amberkey.core.ways.several import with_operations
from amberkey.core.worth.assumptions import ASSUMED, Assumptions
from amberkey.core.worth.seconds import with_keys, with_way, without_key
from amberkey.core.worth.telling import say_minutes, say_worth
from amberkey.core.worth.weighing import worth_between
from tests.core.scenes import command, entry, office, scene, system

MENU = {"by": "menu", "depth": 2}


def desk(*keys, people=10, weekly=60, others=(), **more):
    """Clerks at one setup with a command that lies two menus deep; `weekly`: how often one of them uses it, None: not known."""
    jump = command("jump", "window", *keys, reached_by=MENU)
    estate = scene("windows", office("windows", jump, *others), people=people, **more)
    known = {("office", "jump"): {"clerk": weekly}} if weekly is not None else {}
    everybody = Tally({"here": people}, ())
    return type(estate)(
        *(estate.setups, estate.programs, estate.profiles, estate.tasks, estate.today),
        census=Census(everybody, everybody, {"clerk": everybody}, known),
    )


def reached(**by):
    return Command.model_validate({"id": "x", "name": "X", "scope": "w", "reached_by": by or None})


@pytest.mark.parametrize(
    "by, seconds",
    [
        ({"by": "button"}, 3.45),
        ({"by": "menu"}, 4.75),
        ({"by": "menu", "depth": 2}, 6.05),
        ({"by": "dialog"}, 8.7),
        ({"by": "dialog", "depth": 2}, 11.35),
        ({}, 4.75),
    ],
)
def test_by_the_mouse_as_calculated_by_hand(by, seconds):
    assert without_key(reached(**by), ASSUMED) == pytest.approx(seconds)


@pytest.mark.parametrize("keys, seconds", [("Control+J", 1.94), ("F6", 1.71), ("Control+Shift+ArrowDown", 2.41)])
def test_by_the_key_as_calculated_by_hand(keys, seconds):
    part = desk(keys).board("here").parts["office"]
    assert with_keys(part.commanded("jump"), part.ground, ASSUMED) == pytest.approx(seconds)


def test_a_first_key_saves_what_is_calculated_by_hand():
    worth = worth_between(desk(), desk("Control+J"))
    (one,) = worth.weighed
    assert (one.uses, one.known, one.moved, one.lost) == (300, True, False, 0)
    assert worth.minutes == pytest.approx(20.55)
    assert say_worth(worth) == ["Saves about 21 minutes a week."]


def test_a_key_that_moves_costs_what_is_calculated_by_hand():
    worth = worth_between(desk("Control+J"), desk("F6"))
    assert worth.minutes == pytest.approx(1.15)
    assert worth.minutes_lost == pytest.approx(24.92, abs=0.01)
    assert say_worth(worth) == ["Saves about 1 minute a week.", "Old habits cost about 25 minutes until they are gone."]


def test_an_old_key_that_now_does_harm_costs_three_times_as_much():
    drop = command("drop", "window", risky=True)
    harm = command("drop", "window", "Control+J", risky=True)
    plain = worth_between(desk("Control+J", others=[drop]), desk("F6", others=[drop]))
    worse = worth_between(desk("Control+J", others=[drop]), desk("F6", others=[harm]))
    jump = next(w for w in worse.weighed if w.command.id == "jump")
    assert jump.lost == pytest.approx(3 * plain.minutes_lost)


def test_a_key_that_somebody_else_takes_is_no_key():
    lock = system("windows", command("lock", "everywhere", "Control+J"))

    def with_lock(*keys):
        estate = desk(*keys)
        locked = scene("windows", lock, office("windows", command("jump", "window", *keys, reached_by=MENU)), people=10)
        return type(estate)(locked.setups, locked.programs, locked.profiles, locked.tasks, locked.today, census=estate.census)

    worth = worth_between(with_lock("Control+J"), with_lock("Control+K"))
    (one,) = worth.weighed
    assert (one.before, one.moved) == (6.05, False)  # it never worked, so nobody has it in the fingers
    assert worth_between(with_lock(), with_lock("Control+J")).weighed == ()


def test_without_known_uses_there_are_points_and_no_minutes():
    worth = worth_between(desk(weekly=None), desk("Control+J", weekly=None))
    assert (worth.minutes, worth.points) == (0, pytest.approx(1.7125))  # 10 people, 5 times, half of them
    assert say_worth(worth) == ["Worth 2 points a week: assumed."]


def test_points_stand_beside_minutes_and_may_be_against_it():
    stop = command("stop", "window", "F9")
    worth = worth_between(desk("Control+J", others=[stop]), desk("F6", others=[command("stop", "window", "F10")]))
    assert say_worth(worth)[-1] == "Beside that, worth 0 points a week, 2 points against it for old habits: assumed."
    assert say_worth(worth, habits=False) == ["Saves about 1 minute a week.", "Beside that, worth 0 points a week: assumed."]
    gone = worth_between(desk("Control+J", weekly=None), desk(weekly=None))
    assert say_worth(gone) == ["Costs 2 points a week: assumed."]


def test_nothing_is_told_of_fewer_than_five_people():
    worth = worth_between(desk(people=4), desk("Control+J", people=4))
    assert not worth.told
    assert say_worth(worth) == ["No figure is told of fewer than 5 people."]
    assert worth_between(desk(people=5), desk("Control+J", people=5)).told


def test_a_share_that_is_known_of_a_role_counts_instead_of_a_half():
    after = replace(desk("Control+J"), assumed=Assumptions(shares={"clerk": 100, "pilot": 0}))
    assert worth_between(desk(), after).minutes == pytest.approx(41.1)


def test_a_template_weighs_by_its_values():
    given = {"arguments": [{"name": "by", "least": 1, "most": 9}]}
    step = command("step", "window", **given)
    house = {"entries": [entry("windows", "step", "F9", arguments={"by": 3})]}
    worth = worth_between(desk(others=[step]), desk(others=[step], house=house))
    assert [(w.command.id, w.arguments) for w in worth.weighed] == [("step", (("by", 3),))]


@pytest.mark.parametrize("holder", ["window", "everywhere"])
def test_a_way_out_says_what_saving_it_would_bring(holder):
    """A way out is weighed on patched boards; what is saved is weighed whole. Both come to the same."""
    other = command("stop", holder, "Control+J")
    before = desk("Control+J", others=[other] if holder == "window" else ())
    if holder == "everywhere":
        jump = command("jump", "window", "Control+J", reached_by=MENU)
        locked = scene("windows", system("windows", other), office("windows", jump), people=10)
        before = replace(locked, census=before.census)
    (group,) = before.groups()
    changing = [w for w in ways_out(before, group, "house") if w.changes]
    assert changing
    for way in changing:
        after = with_operations(before, way.changes)
        whole, patched = worth_between(before, after), way.consequences.worth
        assert [(w.command.id, w.gained, w.lost) for w in patched.weighed] == [
            (w.command.id, w.gained, w.lost) for w in whole.weighed
        ]
        assert patched.weighed


def test_the_same_is_worth_nothing():
    one = desk("Control+J")
    assert worth_between(one, one).weighed == ()
    assert say_worth(worth_between(one, desk("Control+J"))) == []


KEYS = st.sampled_from([f"Key{c}" for c in "ASDFJKLQP"] + ["F6", "ArrowDown", "Digit7"])
STROKES = st.builds(Stroke, KEYS, st.frozensets(st.sampled_from(["Control", "Shift", "Alt"]), max_size=3))


@given(st.lists(STROKES, min_size=1, max_size=4), STROKES)
def test_worth_never_grows_by_adding_a_press(way, further):
    """Whatever is assumed: one press more never takes less time."""
    ground = GROUND
    for assumed in (ASSUMED, Assumptions(keystroke_ms=0, reach_ms=3)):
        before, after = with_way(way, ground, assumed), with_way([*way, further], ground, assumed)
        assert after is None or (before is not None and after >= before)


def test_what_this_keyboard_cannot_make_takes_no_time():
    assert with_way([Stroke("F20", frozenset({"Control"}))], GROUND, ASSUMED) is None


GROUND = desk().board("here").parts["office"].ground


@pytest.mark.parametrize(
    "minutes, says",
    [
        *((0.2, "less than a minute"), (0.5, "about 1 minute"), (-0.7, "about 1 minute"), (11.4, "about 11 minutes")),
        *((99.6, "about 100 minutes"), (104.9, "about 100 minutes"), (114, "about 110 minutes")),
        *((599, "about 600 minutes"), (640, "about 11 hours")),
    ],
)
def test_figures_are_rounded_to_what_the_assumptions_bear(minutes, says):
    assert say_minutes(minutes) == says


def test_only_what_is_assumed_otherwise_stands_in_the_document():
    organisation = Organisation(id="o", name="O")
    assert "worth" not in organisation.to_json()
    changed = organisation.model_copy(update={"worth": Assumptions(keystroke_ms=200)})
    assert changed.to_json()["worth"] == {"keystroke_ms": 200}
