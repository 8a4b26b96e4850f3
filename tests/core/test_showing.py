"""What a program's habits do, shown by small traces and said in sentences: words and rules must agree."""

import pytest

from amberkey.core.clashes.showing import Stage, show
from amberkey.core.programs.habits import HABITS, habit, habits_of, say_habit
from tests.core.estates import read
from tests.core.scenes import command, office, program

GERMAN = Stage("windows", "de", "iso")
US = Stage("linux", "us", "ansi")


def made(stage=US, kind="office", **more):
    scopes = {"scopes": [{"id": "all", "name": "Everywhere"}]} if kind in ("utility", "system") else {}
    return read(program(stage.platform, "sheets", kind, [command("save", "all" if scopes else "window")], **scopes, **more))


def says(found, habit_id, stage=US):
    return [(p.pressed, p.says) for p in show(found, habit_id, stage).presses]


@pytest.mark.parametrize(
    "reads, slash, z",
    [
        ("character", "the fingers press Strg Umschalt 7", "the fingers press Strg Z"),
        ("position", "the fingers press Strg -", "the fingers press Strg Y"),
    ],
)
def test_reading_keys_shows_what_the_fingers_do(reads, slash, z):
    found = made(GERMAN, reads_keys_by={"windows": reads})
    told = dict(says(found, "reads_keys_by", GERMAN))
    assert told["Strg /"].startswith(slash)
    assert told["Strg Z"].startswith(z)


@pytest.mark.parametrize(
    "tie, told",
    [
        ("first", "Sheets does its first command of Window"),
        ("last", "Sheets does its second command of Window"),
        ("either", "its first command of Window or its second command of Window of Sheets: nobody can say"),
    ],
)
def test_a_tie_is_shown_as_it_goes(tie, told):
    assert says(made(on_tie=tie), "on_tie") == [("F7", told)]


@pytest.mark.parametrize("order, told", [("inner", "its second command of Page"), ("outer", "its first command of Window")])
def test_the_order_of_scopes_is_shown(order, told):
    assert says(made(scope_order=order), "scope_order") == [("F7", f"Sheets does {told}")]


def test_waiting_for_a_longer_shortcut_is_shown():
    first, second = says(made(on_prefix={"wins": "long", "waits_ms": 900}), "on_prefix")
    assert first == ("F8", "it waits 0.9 s for the next press, then its first command of Window")
    assert second == ("F9", "Sheets does its second command of Window")
    assert says(made(on_prefix={"wins": "short"}), "on_prefix")[0] == ("F8", "Sheets does its first command of Window")


def test_a_press_that_misses_is_lost_or_counts_anew():
    assert says(made(after_miss="drop"), "after_miss")[1] == ("F6", "nothing happens")
    assert says(made(after_miss="replay"), "after_miss")[1] == ("F6", "Sheets does its second command of Window")


def test_limits_are_shown():
    found = made(limits={"bare_keys": False, "sequence_length": 2})
    assert says(found, "bare_keys")[0][1].startswith("can't be set")
    assert [s for _, s in says(found, "sequence_length")][:2] == ["can be set", "can be set"]
    assert "at most 2" in says(found, "sequence_length")[2][1]
    assert says(made(limits={"bare_keys": True}), "bare_keys") == [("B", "Sheets does its first command of Page")]


def test_the_pad_is_shown():
    assert says(made(pad_counts=True), "pad_counts")[1][1] == "Sheets does its first command of Window"
    assert says(made(pad_counts=False), "pad_counts")[1][1] == "nothing happens"


def test_a_utility_that_intercepts_comes_before_the_system():
    assert says(made(kind="utility", takes_by="intercept"), "takes_by")[0][1].startswith("Sheets does")
    assert says(made(kind="utility", takes_by="register"), "takes_by")[0][1].startswith("The system does")


def test_what_the_system_lets_go_of_is_shown():
    told = [s for _, s in says(made(kind="system"), "grip")]
    assert [t.split(" ")[0] for t in told] == ["Sheets", "Sheets", "Sheets", "A", "A"]


def test_what_a_browser_keeps_is_shown():
    kept, free = [s for _, s in says(made(kind="browser"), "keeps")]
    assert kept.startswith("Sheets does")
    assert free.startswith("A page does")


@pytest.mark.parametrize("kind", ["system", "utility", "browser", "office", "web"])
@pytest.mark.parametrize("stage", [GERMAN, US, Stage("macos", "fr(mac)", "mac-iso")])
def test_every_habit_of_every_kind_can_be_said_and_shown(kind, stage):
    found = made(stage, kind=kind)
    for one in habits_of(found):
        values = [o.value for o in one.options] or ["2"]
        assert all(say_habit(found, one.id, v).endswith(".") for v in values)
        shown = show(found, one.id, stage)
        assert shown is None or (shown.given.endswith(".") and shown.presses)


def test_habits_are_complete():
    assert [habit(h).id for h in HABITS] == list(HABITS)
    assert say_habit(
        read(office("linux", switches=[{"id": "own", "name": "Own keys", "where": "Settings"}])), "switches", ""
    ) == ("Until Own keys (Settings) is on, own shortcuts don't count.")
