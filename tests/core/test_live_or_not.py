"""What is there but not live: off, conditional, of a later version, behind a switch, in a document. Told, and never a clash."""

import pytest

from tests.core.scenes import clashes, command, entry, name, office, pressed, program, scene, system

HERE = office("windows", command("a", "window", "F8"))
METHOD = {"name": "Threadpen", "takes": ["Control+Space"]}


def grabbing(**own):
    return system("windows", command("grab", "everywhere", "F8", **own))


def state(own, setup):
    """Whether the system's hotkey takes the press, and what the trace says of it where it doesn't."""
    estate = scene("windows", grabbing(**own), HERE, **setup)
    (one,) = pressed(estate, "F8", "office/window")
    step = next(s for s in one.steps if s.station == "system")
    takes = name(one.effect.binding) == "system/grab"
    assert takes == (clashes(estate) == [("system_fixed", "blocker", "system/grab", "office/a")])
    assert takes or clashes(estate) == []
    return step.outcome, step.says


def would(says):
    return "passes", f"Grab would be here, but {says}"


TAKES = ("takes", "Grab")


@pytest.mark.parametrize(
    "own, setup, says",
    [
        ({"off": True}, {}, would("it is off until somebody switches it on")),
        ({"off": True}, {"used": {"system": {"on": ["grab"]}}}, TAKES),
        ({"off": True}, {"used": {"system": {"on": ["other"]}}}, would("it is off until somebody switches it on")),
        ({}, {"used": {"system": {"off": ["grab"]}}}, would("it is switched off here")),
        ({}, {"used": {"system": {"off": ["other"]}}}, TAKES),
        ({"only_if": ["several layouts"]}, {}, would("it counts only where several layouts are installed")),
        ({"only_if": ["several layouts"]}, {"has": ["several layouts"]}, TAKES),
        (
            {"only_if": ["several displays"]},
            {"has": ["several layouts"]},
            would("it counts only where there are several displays"),
        ),
        ({"only_if": ["input method"]}, {"input_method": METHOD}, TAKES),
        (
            {"only_if": ["several layouts", "input method"]},
            {"input_method": METHOD},
            would("it counts only where several layouts are installed"),
        ),
        (
            {"only_if": ["several layouts", "input method"]},
            {},
            would("it counts only where several layouts are installed and an input method is on"),
        ),
        ({"from_version": "24H2"}, {"edition_version": "23H2"}, would("it is there from version 24H2 on")),
        ({"from_version": "24H2"}, {"edition_version": "24H2"}, TAKES),
        ({"from_version": "9.2"}, {"edition_version": "10.1"}, TAKES),
        ({"from_version": "24H2"}, {}, TAKES),
    ],
)
def test_an_entry_counts_where_what_it_says_is_so(own, setup, says):
    assert state(own, setup) == says


@pytest.mark.parametrize("on", [True, False])
def test_a_switch_without_which_own_shortcuts_do_not_count(on):
    mine = {**HERE, "switches": [{"id": "custom", "name": "Own shortcuts", "where": "in its settings"}]}
    used = {} if on else {"office": {"off": ["custom"]}}
    estate = scene("windows", mine, house={"entries": [entry("windows", "a", "F9")]}, used=used)
    (one,) = pressed(estate, "F9", "office/window")
    assert name(one.effect.binding) == ("office/a" if on else None)
    if not on:
        says = next(s.says for s in one.steps if s.station == "program" and s.outcome == "passes")
        assert says == "A isn't live: Own shortcuts is switched off, without which own shortcuts don't count"
    # What the maker ships needs no switch.
    assert name(pressed(scene("windows", mine, used=used), "F8", "office/window")[-1].effect.binding) == "office/a"


@pytest.mark.parametrize("open_documents, runs", [(["report"], "office/m"), (["letter"], None)])
def test_a_macro_lives_in_its_document(open_documents, runs):
    estate = scene("windows", office("windows", command("m", "window", "F8", document="report")), open_documents=open_documents)
    assert name(pressed(estate, "F8", "office/window")[-1].effect.binding) == runs


def test_what_is_not_live_is_neither_awkward_nor_twice_nor_in_anybodys_way():
    far = command("m", "window", "Control+Alt+Shift+F12", "Control+Alt+Shift+F12", document="report")
    other = command("o", "window", "Control+Alt+Shift+F12")
    live = scene("windows", office("windows", far, other), open_documents=["report"])
    assert {kind for kind, *_ in clashes(live)} == {"awkward", "same_scope", "duplicate"}
    asleep = scene("windows", office("windows", far, other))
    assert clashes(asleep) == [("awkward", "low", "office/o", None)]


# Fine points of who gets what


def test_of_three_on_one_stroke_the_maker_says_which_one_runs():
    for tie, runs in (("first", "office/a"), ("last", "office/c"), ("either", "office/a")):
        three = office("windows", *(command(n, "window", "F8") for n in "abc"), on_tie=tie)
        estate = scene("windows", three)
        (one,) = pressed(estate, "F8", "office/window")
        assert name(one.effect.binding) == runs
        assert {name(c.holder) for c in estate.clashes("here")} == {runs}


def test_a_sequence_of_two_waits_as_one_of_three_does():
    for keys in (["F8", "A"], ["F8", "A", "B"]):
        here = office("windows", command("l", "panel", keys), on_prefix={"wins": "long"})
        estate = scene("windows", system("windows", command("x", "everywhere", "F8", grip="programs go first")), here)
        assert pressed(estate, "F8", "office/panel")[-1].effect.kind == "wait"
        assert ("goes_first", "medium", "office/l", "system/x") in clashes(estate)


def test_what_a_menus_letter_takes_from_the_system_that_lets_programs_go_first():
    last = system("windows", command("services", "everywhere", "Alt+E", grip="programs go first"))
    here = office("windows", command("a", "window", "F8"), menus=[{"letter": "E", "name": "Edit"}])
    assert clashes(scene("windows", last, here)) == [("menu_letter", "medium", "menus/menu-0", "system/services")]


def test_a_command_that_takes_its_own_old_key_back_recycles_nothing():
    house = {
        "entries": [
            entry("windows", "a", "F9", over=["F8"], since="2026-11-20"),
            entry("windows", "b", "F8", since="2026-11-21"),
        ]
    }
    two = office("windows", command("a", "window", "F8"), command("b", "panel", "F7"))
    estate = scene("windows", two, house=house)
    assert [c for c in clashes(estate) if c[0] == "recycled"] == [("recycled", "low", "office/b", "office/a")]
    apart = [{"id": "window", "name": "Window"}, *({"id": i, "name": i.title(), "parent": "window"} for i in ("left", "right"))]
    other = office("windows", command("a", "left", "F8"), command("b", "right", "F7"), scopes=apart)
    assert [c for c in clashes(scene("windows", other, house=house)) if c[0] == "recycled"] == []


@pytest.mark.parametrize("keys, why", [("Control+Shift+F12", "two modifiers and a far key"), ("Control+Shift+R", None)])
def test_two_modifiers_are_awkward_with_a_far_key_only(keys, why):
    estate = scene("windows", office("windows", command("a", "window", keys)))
    assert [c.why for c in estate.clashes("here") if c.kind == "awkward"] == ([why] if why else [])


def test_hotkeys_of_utilities_are_no_shortcuts_of_a_program_in_focus():
    """A utility with a window: what it registers everywhere is no part of its scopes, also while a sequence fails."""
    scopes = [{"id": "everywhere", "name": "Everywhere"}, {"id": "list", "name": "List", "parent": "everywhere"}]
    mine = program(
        "windows",
        "clips",
        "utility",
        [command("grab", "everywhere", "F7"), command("pick", "list", ["F6", "F5"])],
        scopes=scopes,
        limits={"bare_keys": True, "sequence_length": 2},
        after_miss="replay",
    )
    estate = scene("windows", mine)
    found = pressed(estate, "F6 then F7", "clips/list")
    assert [t.effect.kind for t in found] == ["wait", "command"]
    assert found[1].taken_at == "system"
