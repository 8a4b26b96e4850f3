"""How a release goes out: waves, the fewest machines for every setup, gates, windows, and putting back."""

import datetime
import itertools
import random

import pytest
from pydantic import ValidationError

from amberkey.core.keys.reading import read_shortcut
from amberkey.core.rollout.covering import covering
from amberkey.core.rollout.gates import Stands, by_machine, gate_stands, opens, parts, window_stands
from amberkey.core.rollout.model import Chosen, Gate, ReleasePlan, Wave, Window
from amberkey.core.rollout.putting_back import put_back
from amberkey.core.rollout.waves import Reached, resolved

NOW = datetime.datetime(2026, 11, 27, 11, 30, tzinfo=datetime.UTC)  # a Friday
HOUR = datetime.timedelta(hours=1)


def reached(machine, *departments, **setups):
    return Reached(machine, frozenset(departments), setups or {"a": 1})


def plan(*chosen, **more):
    return ReleasePlan(waves=tuple(Wave(name=f"W{n}", chosen=c) for n, c in enumerate(chosen)), **more)


REST = Chosen(by="rest")


# Waves


def test_each_machine_is_in_the_first_wave_that_takes_it():
    machines = [reached("m1", "tickets"), reached("m2", "tickets", "gates"), reached("m3", "web")]
    found = resolved(
        plan(Chosen(by="department", department="gates"), Chosen(by="department", department="tickets"), REST), machines
    )
    assert found == [("m2",), ("m1",), ("m3",)]


def test_what_is_named_waits_for_its_own_wave():
    machines = [reached(f"m{n}") for n in range(4)]
    found = resolved(plan(Chosen(by="share", share=50), Chosen(by="machines", machines=("m0", "m1")), REST), machines)
    assert set(found[0]) == {"m2", "m3"}
    assert found[1:] == [("m0", "m1"), ()]


def test_what_the_release_does_not_reach_is_in_no_wave():
    assert resolved(plan(Chosen(by="machines", machines=("m1", "gone")), REST), [reached("m1")]) == [("m1",), ()]


def test_a_share_is_of_all_that_is_reached_rounded_up_and_the_same_each_time():
    machines = [reached(f"m{n:02}") for n in range(21)]
    share = Chosen(by="share", share=10)
    first = resolved(plan(share, share, REST), machines)
    assert [len(w) for w in first] == [3, 3, 15]
    assert resolved(plan(share, share, REST), list(reversed(machines))) == first
    assert first[0] != ("m00", "m01", "m02"), "not the first ones by name"


@pytest.mark.parametrize("seed", range(30))
def test_every_machine_is_in_exactly_one_wave_where_the_last_takes_the_rest(seed):
    rnd = random.Random(seed)
    machines = [
        reached(
            f"m{n}",
            *rnd.sample(["a", "b", "c"], rnd.randint(0, 2)),
            **{s: rnd.randint(1, 9) for s in rnd.sample("pqrstu", rnd.randint(1, 3))},
        )
        for n in range(rnd.randint(0, 25))
    ]
    ids = [m.machine for m in machines]
    choices = [
        Chosen(by="department", department=rnd.choice("abc")),
        Chosen(by="share", share=rnd.randint(1, 100)),
        Chosen(by="setups"),
    ]
    if ids:
        choices.append(Chosen(by="machines", machines=tuple(rnd.sample(ids, rnd.randint(1, min(3, len(ids)))))))
    found = resolved(plan(*rnd.sample(choices, rnd.randint(1, len(choices))), REST), machines)
    assert sorted(m for wave in found for m in wave) == sorted(ids)


@pytest.mark.parametrize(
    "given, says",
    [
        ({"by": "machines"}, "needs machines"),
        ({"by": "rest", "share": 5}, "says no share"),
        ({"by": "share", "share": 0}, "greater than or equal to 1"),
        ({"by": "department"}, "needs department"),
        ({"by": "machines", "machines": ["m1", "m1"]}, "m1 is named twice"),
    ],
)
def test_a_wave_says_what_its_choice_needs_and_nothing_else(given, says):
    with pytest.raises(ValidationError, match=says):
        Chosen(**given)


def test_a_machine_is_named_in_one_wave_only():
    with pytest.raises(ValidationError, match="m1 is in W0 and in W1"):
        plan(Chosen(by="machines", machines=("m1",)), Chosen(by="machines", machines=("m2", "m1")))
    with pytest.raises(ValidationError):
        ReleasePlan(waves=())


# One of every setup first


def test_those_who_cover_most_people_come_first():
    found = covering({"m1": ["a"], "m2": ["a", "b"], "m3": ["c"], "m4": ["c"]}, {"a": 1, "b": 1, "c": 30})
    assert (found.machines, found.at_least) == (("m3", "m2"), 2)


def test_where_nothing_is_to_be_covered_no_machine_is_needed():
    assert covering({}, {}) == covering({"m1": []}, {})
    assert covering({"m1": []}, {}).machines == ()


@pytest.mark.parametrize("seed", range(60))
def test_every_setup_is_covered_and_the_fewest_lie_between_the_bound_and_what_was_found(seed):
    rnd = random.Random(seed)
    setups = "abcdefg"[: rnd.randint(1, 7)]
    on = {f"m{n}": rnd.sample(setups, rnd.randint(1, min(3, len(setups)))) for n in range(rnd.randint(1, 8))}
    found = covering(on, dict.fromkeys(setups, 1))
    there = {s for some in on.values() for s in some}
    assert {s for m in found.machines for s in on[m]} == there
    assert len(set(found.machines)) == len(found.machines)
    fewest = next(k for k in range(1, 9) for some in itertools.combinations(on, k) if {s for m in some for s in on[m]} == there)
    assert found.at_least <= fewest <= len(found.machines)
    assert all(
        {s for m in found.machines[:n] for s in on[m]} < {s for m in found.machines[: n + 1] for s in on[m]}
        for n in range(len(found.machines))
    )


# Gates


def stands(state, machine="m", hours=5, **more):
    return Stands(machine, state, NOW - hours * HOUR, **more)


def wave(*states):
    return [stands(s, f"m{n}") for n, s in enumerate(states)]


@pytest.mark.parametrize(
    "states, gate, is_open, says",
    [
        (["in step"] * 3, {}, True, "Opened after 2 hours without a fault and without drift"),
        (["in step"] * 8 + ["stopped"], {}, False, "Shut while more than 10 % of a wave is stopped: 1 of 9 is 11 %"),
        (["in step"] * 9 + ["stopped"], {}, True, "Opened after 2 hours with 1 of 10 stopped and without drift"),
        (["in step", "stopped"], {"most_stopped": 0}, False, "Shut while more than 0 % of a wave is stopped: 1 of 2 is 50 %"),
        (["in step", "own change"], {}, False, "Shut while a change of somebody's own waits for a word"),
        (["own change"] * 2 + ["in step"], {}, False, "Shut while changes of their own wait on 2 machines for a word"),
        (["in step", "own change"], {"drift": True}, True, "Opened after 2 hours without a fault"),
        (["in step", "asked", "to come"], {}, False, "Shut until the wave before is done: 2 of 3 still to come"),
        (["stopped", "left out"], {"most_stopped": 100}, False, "Shut until a machine of the wave before is in step"),
        (["left out"], {}, True, "Open: no machine is before it"),
        ([], {}, True, "Open: no machine is before it"),
        (["in step"], {"quiet_hours": 0}, True, "Opened without a fault and without drift"),
        (["in step"], {"quiet_hours": 1}, True, "Opened after 1 hour without a fault and without drift"),
    ],
)
def test_a_gate_tells_whether_it_is_open_and_why(states, gate, is_open, says):
    found = gate_stands(Gate(**gate), wave(*states), NOW)
    assert (found.open, found.says, found.at) == (is_open, says, None)


def test_a_gate_that_only_waits_says_until_when():
    found = gate_stands(Gate(quiet_hours=6), [stands("in step", hours=4), stands("left out", "m2", hours=1)], NOW)
    assert (found.open, found.says, found.at) == (False, "Shut until 6 hours went by without anything new", NOW + 2 * HOUR)
    assert gate_stands(Gate(quiet_hours=6), [stands("in step", hours=6)], NOW).open


def test_a_silent_machine_is_not_waited_for():
    rows = [stands("in step", "m1"), stands("asked", "m2", silent=True)]
    assert gate_stands(Gate(), rows, NOW).open
    assert not gate_stands(Gate(), [stands("asked", "m2", silent=True)], NOW).open


def test_a_machine_stands_as_the_worst_of_its_files_and_since_the_last():
    rows = [stands("in step", hours=1), stands("stopped", hours=3), stands("to come", hours=9)]
    (one,) = by_machine(rows)
    assert (one.state, one.since) == ("stopped", NOW - HOUR)
    # So two files of one machine are one machine that stopped.
    assert "1 of 1" in gate_stands(Gate(), rows, NOW).says


@pytest.mark.parametrize("seed", range(40))
def test_a_gate_says_the_same_whatever_order_reports_came_in(seed):
    rnd = random.Random(seed)
    rows = [
        Stands(
            f"m{rnd.randint(0, 6)}",
            rnd.choice(["to come", "asked", "in step", "in step", "stopped", "own change", "left out"]),
            NOW - rnd.randint(0, 9) * HOUR,
            rnd.random() < 0.2,
        )
        for _ in range(rnd.randint(0, 12))
    ]
    gate = Gate(quiet_hours=rnd.randint(0, 4), most_stopped=rnd.choice([0, 10, 50]), drift=rnd.random() < 0.5)
    first = gate_stands(gate, rows, NOW)
    for _ in range(5):
        rnd.shuffle(rows)
        assert gate_stands(gate, rows, NOW) == first
    if first.open:
        machines = [m for m in by_machine(rows) if m.state != "left out"]
        assert 100 * sum(m.state == "stopped" for m in machines) <= gate.most_stopped * len(machines)
        assert gate.drift or all(m.state != "own change" for m in machines)
        assert all(m.silent for m in machines if m.state in ("to come", "asked"))


def test_a_waves_machines_are_told_by_how_they_stand():
    rows = [*wave("in step", "stopped", "to come"), stands("asked", "m9", silent=True), stands("to come", "m0")]
    assert [(p.state, p.machines) for p in parts(rows)] == [
        ("stopped", ("m1",)),
        ("silent", ("m9",)),
        ("to come", ("m0", "m2")),
    ]


# Windows


def at(day, hour, minute=0):
    """A day of that week, Monday 0."""
    return datetime.datetime(2026, 11, 23, hour, minute, tzinfo=datetime.UTC) + datetime.timedelta(days=day)


@pytest.mark.parametrize(
    "window, when, is_open, opens_at",
    [
        ({}, at(4, 11, 30), True, at(4, 11, 30)),
        ({"begins": 6, "ends": 9}, at(4, 5, 59), False, at(4, 6)),
        ({"begins": 6, "ends": 9}, at(4, 6), True, at(4, 6)),
        ({"begins": 6, "ends": 9}, at(4, 9), False, at(5, 6)),
        ({"begins": 6, "ends": 9, "days": (0, 1)}, at(4, 7), False, at(7, 6)),
        ({"begins": 22, "ends": 5, "days": (4,)}, at(4, 23), True, at(4, 23)),
        ({"begins": 22, "ends": 5, "days": (4,)}, at(5, 4, 59), True, at(5, 4, 59)),
        ({"begins": 22, "ends": 5, "days": (4,)}, at(4, 4), False, at(4, 22)),
        ({"begins": 22, "ends": 5, "days": (4,)}, at(5, 22), False, at(11, 22)),
        ({"not_before": datetime.date(2026, 12, 1)}, at(4, 11), False, at(8, 0)),
        ({"not_before": datetime.date(2026, 12, 1), "begins": 6, "ends": 9}, at(4, 7), False, at(8, 6)),
        ({"not_before": datetime.date(2026, 11, 27)}, at(4, 0), True, at(4, 0)),
    ],
)
def test_a_window_is_open_on_its_days_and_hours(window, when, is_open, opens_at):
    made = Window(**window)
    assert window_stands(made, when).open == is_open
    assert opens(made, when) == opens_at
    assert window_stands(made, opens_at).open


def test_a_shut_window_says_when_it_opens():
    found = window_stands(Window(begins=6, ends=9, days=(0,)), at(4, 12))
    assert (found.says, found.at) == ("Not before Monday 6:00", at(7, 6))


@pytest.mark.parametrize("window", [{"days": ()}, {"begins": 5, "ends": 5}, {"begins": 24}, {"ends": 0}, {"days": (7,)}])
def test_a_window_that_never_opens_is_refused(window):
    with pytest.raises(ValidationError):
        Window(**window)


# Putting back


def keys(*texts):
    return tuple(read_shortcut(t) for t in texts)


def test_what_was_written_is_put_back_and_what_somebody_changed_since_stays():
    before = {"old": keys("F1"), "both": keys("F2"), "same": keys("F3"), "theirs": keys("F4")}
    wrote = {"fresh": keys("F5"), "both": keys("F6"), "same": keys("F3"), "theirs": keys("F7")}
    now = {**wrote, "theirs": keys("F8"), "later": keys("F9")}
    found = put_back(before, wrote, now)
    assert found.wanted == {"fresh": None, "both": keys("F2"), "old": keys("F1")}
    assert found.kept == ("theirs",)


def test_what_is_back_already_is_left_alone():
    before, wrote = {"a": keys("F1")}, {"a": keys("F2")}
    assert put_back(before, wrote, before) == put_back(wrote, wrote, {"a": keys("F9")}), "nothing to do, and nothing to tell"
    assert (put_back(before, wrote, before).wanted, put_back(before, wrote, before).kept) == ({}, ())
    assert put_back(before, wrote, {}) == put_back(before, wrote, {"b": keys("F3")})
    assert put_back(before, wrote, {}).kept == ("a",)


@pytest.mark.parametrize("seed", range(40))
def test_after_putting_back_everything_is_as_before_but_for_what_others_changed(seed):
    rnd = random.Random(seed)
    some = [keys(f"F{n}") for n in range(1, 6)]

    def drawn():
        return {c: rnd.choice(some) for c in "abcdef" if rnd.random() < 0.6}

    before, wrote = drawn(), drawn()
    now = {**wrote, **{c: rnd.choice(some) for c in "abcdef" if rnd.random() < 0.2}}
    found = put_back(before, wrote, now)
    after = {c: k for c, k in {**now, **found.wanted}.items() if k is not None}
    for command in "abcdef":
        untouched = now.get(command) == wrote.get(command)
        assert after.get(command) == (before.get(command) if untouched else now.get(command))
        theirs = not untouched and before.get(command) != wrote.get(command) and now.get(command) != before.get(command)
        assert (command in found.kept) == theirs
