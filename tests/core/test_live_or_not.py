"""What is there but not live: off, conditional, of a later version, behind a switch, in a document. Told, and never a clash."""

from dataclasses import replace

import pytest

from amberkey.core.clashes.trace import trace_stroke
from tests.core.estates import read
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
    return "passes", f"would take it if {says}: Grab"


TAKES = ("takes", "Grab")


@pytest.mark.parametrize(
    "own, setup, says",
    [
        ({"off": True}, {}, would("somebody switches it on")),
        ({"off": True}, {"used": {"system": {"on": ["grab"]}}}, TAKES),
        ({"off": True}, {"used": {"system": {"on": ["other"]}}}, would("somebody switches it on")),
        ({}, {"used": {"system": {"off": ["grab"]}}}, would("it were not switched off here")),
        ({}, {"used": {"system": {"off": ["other"]}}}, TAKES),
        ({"only_if": ["several layouts"]}, {}, would("several layouts are installed")),
        ({"only_if": ["several layouts"]}, {"has": ["several layouts"]}, TAKES),
        (
            {"only_if": ["several displays"]},
            {"has": ["several layouts"]},
            would("there are several displays"),
        ),
        ({"only_if": ["input method"]}, {"input_method": METHOD}, TAKES),
        (
            {"only_if": ["several layouts", "input method"]},
            {"input_method": METHOD},
            would("several layouts are installed"),
        ),
        (
            {"only_if": ["several layouts", "input method"]},
            {},
            would("an input method is on and several layouts are installed"),
        ),
        ({"from_version": "24H2"}, {"edition_version": "23H2"}, would("this were version 24H2 or a later one")),
        ({"from_version": "24H2"}, {"edition_version": "24H2"}, TAKES),
        ({"from_version": "9.2"}, {"edition_version": "10.1"}, TAKES),
        ({"from_version": "24H2"}, {}, TAKES),
        ({"gone_from": "48"}, {"edition_version": "48.1"}, would("this were a version before 48")),
        ({"gone_from": "48"}, {"edition_version": "43"}, TAKES),
        ({"document": "ledger"}, {}, would("that were otherwise: it lives in ledger, which isn't open")),
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


@pytest.mark.parametrize("scope, told", [("window", []), ("panel", ["menu_letter"])])
def test_a_menus_letter_that_is_translated_in_its_window_takes_nothing(scope, told):
    last = system("windows", command("services", "everywhere", "Alt+E", grip="programs go first"))
    here = office("windows", command("a", "window", "F8"), menus=[{"letter": "E", "name": "Edit"}])
    one = {"program": "office", "platform": "windows", "keys": "Alt+E", "becomes": "F9", "scope": scope}
    found = scene("windows", last, here, house={"translations": [one]}).clashes("here")
    assert [c.kind for c in found if name(c.holder) == "menus/menu-0"] == told


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


# Who is told of a stroke that somebody else has first


def clips(takes_by="register", keys="F8"):
    both = [command(n, "everywhere", keys) for n in ("one", "two")]
    return program("windows", "clips", "utility", both, takes_by=takes_by, on_tie="first")


def beside(*programs, **setup):
    """The kinds of clash between a utility's own two hotkeys."""
    found = scene("windows", *programs, **setup)
    return [c.kind for c in found.clashes("here") if {name(b) for b in c.parties} == {"clips/one", "clips/two"}]


GUARDED = system("windows", command("safe", "everywhere", "F8", secure=True))
OTHER = [command("mine", "everywhere", "F8")]


@pytest.mark.parametrize(
    "others, setup, told",
    [
        ((), {}, ["same_scope"]),
        ((GUARDED,), {}, []),
        ((program("windows", "panes", "utility", OTHER, takes_by="intercept"),), {}, []),
        ((program("windows", "panes", "utility", OTHER, takes_by="register"),), {}, []),
        ((), {"input_method": {"name": "Threadpen", "takes": ["F8"]}}, []),
        ((), {"input_method": {"name": "Threadpen", "takes": ["F7"], "composing": ["F8"]}}, ["same_scope"]),
    ],
)
def test_two_hotkeys_of_one_utility_are_told_where_their_press_gets_to_them_alone(others, setup, told):
    assert beside(*others, clips(), HERE, **setup) == told


@pytest.mark.parametrize("takes_by, told", [("register", []), ("intercept", ["same_scope"])])
def test_an_assistive_programs_modifier_goes_before_what_is_registered_and_after_what_intercepts(takes_by, told):
    reader = {"name": "Reader", "modifier": "Insert"}
    assert beside(clips(takes_by, "Insert"), HERE, assistive=reader) == told


@pytest.mark.parametrize("scope, told", [("page", False), ("panel", True), (None, False)])
def test_two_commands_on_a_press_that_is_translated_where_they_live_are_not_told(scope, told):
    two = office("windows", *(command(n, "page", "F8") for n in "ab"))
    where = {"scope": scope} if scope else {}
    house = {"translations": [{"program": "office", "platform": "windows", "keys": "F8", "becomes": "F9", **where}]}
    assert ("same_scope" in {kind for kind, *_ in clashes(scene("windows", two, house=house))}) == told


@pytest.mark.parametrize("order, kinds", [("inner", {"same_scope", "shadow"}), ("outer", {"shadow"})])
def test_what_an_outer_scope_takes_first_is_no_matter_between_those_inside(order, kinds):
    here = office(
        "windows", command("w", "window", "F8"), *(command(n, "panel", "F8") for n in "ab"), scope_order=order, on_tie="first"
    )
    house = {"entries": [entry("windows", "w", "F8", locked=True)]}
    found = clashes(scene("windows", here, house=house))
    assert {kind for kind, *_ in found} == kinds
    if order == "outer":
        assert sorted(loser for *_, loser in found) == ["office/a", "office/b"]


# Layers


def test_a_template_with_arguments_stands_beside_all_other_commands():
    said = command("t", "window", "F8", task="save"), command("o", "panel", "F9", task="next")
    here = office("windows", *said, command("nobody-says-anything", "panel", "F5"))
    house = {"entries": [entry("windows", "t", "F7", arguments={"to": "x"}), entry("windows", "o", "F6")]}
    tasks = {"tasks": [{"id": "save", "name": "Save"}, {"id": "next", "name": "Next"}]}
    effective = scene("windows", here, house=house, tasks=tasks).board("here").setup.effective["office"]
    found = [(c.command.id, dict(c.arguments), [str(s) for s, _ in c.now.shortcuts]) for c in effective.commands]
    assert found == [("t", {}, ["F8"]), ("t", {"to": "x"}, ["F7"]), ("o", {}, ["F6"]), ("nobody-says-anything", {}, ["F5"])]
    assert [c.arguments for c in effective.all_by_task["save"]] == [()]
    assert effective.by_task["save"].arguments == ()
    assert effective.by_task.keys() == effective.all_by_task.keys() == {"save", "next"}


def test_words_that_do_not_count_give_no_key_up():
    here = office("windows", command("a", "window", "F8"), command("b", "window", "F9"))
    mine = entry("windows", "a", "F7", over=["F8"], since="2026-11-20")
    given = entry("windows", "b", "F8", since="2026-11-21")
    recycled = ("recycled", "low", "office/b", "office/a")
    assert recycled in clashes(scene("windows", here, house={"entries": [mine, given]}))
    # A key that stays beside the new one, or of which nobody knows since when, is not given up.
    stays = entry("windows", "a", "F7", "F8", over=["F8"], since="2026-11-20")
    assert recycled not in clashes(scene("windows", here, house={"entries": [stays, given]}))
    undated = entry("windows", "a", "F7", over=["F8"])
    assert recycled not in clashes(scene("windows", here, house={"entries": [undated, given]}))
    # What a further layer locked is not what this one says.
    locked = scene("windows", here, house={"entries": [entry("windows", "a", "F6", locked=True)]}, layers=["house", "near"])
    near = read({"format": "amberkey/profile@1", "id": "near", "name": "Near", "entries": [mine, given]})
    both = replace(locked, profiles={**locked.profiles, "near": near})
    assert recycled not in clashes(both)
    free = replace(both, profiles={**both.profiles, "house": both.profiles["house"].model_copy(update={"entries": ()})})
    assert recycled in clashes(free)


# What the trace says


@pytest.mark.parametrize(
    "keys, outcome, says",
    [
        ("F7", "takes", "Threadpen takes it"),
        ("F8", "passes", "Threadpen would take it while a text is being composed"),
        ("F9", "unknown", "no key of Threadpen"),
    ],
)
def test_the_trace_says_what_an_input_method_does_with_a_press(keys, outcome, says):
    estate = scene("windows", HERE, input_method={"name": "Threadpen", "takes": ["F7"], "composing": ["F8"]})
    step = next(s for s in pressed(estate, keys, "office/window")[0].steps if s.station == "input_method")
    assert (step.outcome, step.says) == (outcome, says)


def test_a_stroke_is_traced_with_a_whole_focus_or_with_none():
    board = scene("windows", HERE).board("here")
    stroke = board.parts["office"].commanded("a")[0].ways[0][0]
    assert name(trace_stroke(board, stroke, "office", "window").effect.binding) == "office/a"
    for program_id, scope_id in (("office", None), (None, "window"), (None, None)):
        assert trace_stroke(board, stroke, program_id, scope_id).effect.kind == "nothing"


@pytest.mark.parametrize("platform, station", [("windows", "menu"), ("linux", "menu"), ("macos", None)])
def test_menus_open_by_their_letters_where_the_platform_has_them(platform, station):
    here = office(platform, command("a", "window", "F8"), menus=[{"letter": "E", "name": "Edit"}])
    (one,) = pressed(scene(platform, here), "Alt+E", "office/panel")
    assert one.taken_at == station
    if station:
        step = next(s for s in one.steps if s.station == "menu")
        assert (step.says, one.effect.kind, one.effect.text) == ("opens the menu Edit", "menu", "the menu Edit")


@pytest.mark.parametrize("key, goes_on", [("ArrowLeft", True), ("Enter", False), ("Escape", False)])
def test_a_text_is_being_composed_until_enter_or_escape(key, goes_on):
    here = office("windows", command("a", "page", "F8"))
    method = {"name": "Threadpen", "composing": ["F8", "ArrowLeft", "Enter", "Escape"]}
    found = pressed(scene("windows", here, input_method=method), f"X then {key} then F8", "office/page")
    assert [t.effect.kind for t in found] == ["text", "input_method", "input_method" if goes_on else "command"]
    # Before a letter nothing is being composed.
    assert pressed(scene("windows", here, input_method=method), "F8", "office/page")[0].effect.kind == "command"


@pytest.mark.parametrize("takes_by, holder, also", [("intercept", "one/x", ["two/y"]), ("register", "system/grab", [])])
def test_others_who_take_a_press_too_are_told_where_utilities_take_it(takes_by, holder, also):
    both = [
        program("windows", i, "utility", [command(c, "everywhere", "F8")], takes_by=takes_by)
        for i, c in (("two", "y"), ("one", "x"))
    ]
    grabbing_too = system("windows", command("grab", "everywhere", "F8", grip="can be reassigned"))
    (clash,) = [c for c in scene("windows", grabbing_too, *both, HERE).clashes("here") if name(c.loser) == "office/a"]
    assert (name(clash.holder), [name(b) for b in clash.also]) == (holder, also)


def test_two_commands_in_a_window_of_a_utility_are_told_whoever_registers_their_press():
    scopes = [{"id": "everywhere", "name": "Everywhere"}, {"id": "list", "name": "List", "parent": "everywhere"}]
    both = [command(n, "list", "F8") for n in ("one", "two")]
    mine = program("windows", "clips", "utility", both, scopes=scopes, limits={"bare_keys": True})
    assert beside(mine, HERE) == ["same_scope"]


@pytest.mark.parametrize("tie, runs", [("first", "clips/two"), ("last", "clips/three")])
def test_of_two_hotkeys_of_a_utility_its_maker_says_which_goes_first(tie, runs):
    keys = {"one": "F7", "two": "F8", "three": "F8"}
    mine = program("windows", "clips", "utility", [command(n, "everywhere", k) for n, k in keys.items()], on_tie=tie)
    estate = scene("windows", mine, HERE)
    assert name(pressed(estate, "F8", "office/window")[0].effect.binding) == runs
    assert name(pressed(estate, "F7", "office/window")[0].effect.binding) == "clips/one"


@pytest.mark.parametrize(
    "used, own, takes",
    [
        ({}, {"keeps": True}, "gullwake/tab"),
        ({}, {"keeps": True, "in_full_screen": False}, "gullwake/tab"),
        ({"full_screen": True}, {"keeps": True}, "gullwake/tab"),
        ({"full_screen": True}, {"keeps": True, "in_full_screen": False}, "chart/a"),
        ({"runs": "in a window of its own"}, {"keeps": True}, "chart/a"),
        ({"runs": "in a window of its own", "goes_first": False}, {"in_own_window": True}, "gullwake/tab"),
        ({"runs": "in a window of its own", "goes_first": False}, {}, "chart/a"),
        ({"goes_first": False}, {}, "gullwake/tab"),
        ({"goes_first": False}, {"scope": "panel"}, "chart/a"),
    ],
)
def test_what_a_browser_keeps_depends_on_the_window_of_the_page(used, own, takes):
    browser = program("windows", "gullwake", "browser", [{**command("tab", "window", "F8"), **own}])
    page = program("windows", "chart", "web", [command("a", "page", "F8")])
    estate = scene("windows", browser, page, used={"chart": used})
    assert name(pressed(estate, "F8", "chart/page")[0].effect.binding) == takes
    kept = [c for c in estate.clashes("here") if c.kind == "browser" and c.severity == "blocker"]
    assert bool(kept) == (takes == "gullwake/tab")


@pytest.mark.parametrize(
    "add_ons, runs, takes",
    [
        (["clip"], "in a tab", "gullwake/tab"),
        ([], "in a tab", "chart/a"),
        (["clip"], "in a window of its own", "chart/a"),
    ],
)
def test_an_add_ons_hotkey_goes_before_a_page_in_a_tab(add_ons, runs, takes):
    more = {"add_ons": [{"id": "clip", "name": "Clip"}]}
    browser = program("windows", "gullwake", "browser", [{**command("tab", "window", "F8"), "add_on": "clip"}], **more)
    page = program("windows", "chart", "web", [command("a", "page", "F8")])
    estate = scene("windows", browser, page, used={"gullwake": {"add_ons": add_ons}, "chart": {"runs": runs}})
    assert name(pressed(estate, "F8", "chart/page")[0].effect.binding) == takes


def test_an_old_name_counts_in_its_layer_and_the_present_one_over_it():
    here = office("windows", command("a", "window", "F8", was=["old"]))
    near = {"format": "amberkey/profile@1", "id": "near", "name": "Near"}

    def keys(house, entries):
        estate = scene("windows", here, house={"entries": house}, layers=["house", "near"])
        estate = replace(estate, profiles={**estate.profiles, "near": read({**near, "entries": entries})})
        (one,) = estate.board("here").setup.effective["office"].commands
        return [str(s) for s, _ in one.now.shortcuts], one.now.layer

    old, new = entry("windows", "old", "F6"), entry("windows", "a", "F7")
    assert keys([new], [old]) == (["F6"], "near")
    assert keys([old], [new]) == (["F7"], "near")
    assert keys([old, new], []) == (["F7"], "house")
    assert keys([], [old, new]) == (["F7"], "near")
    # A layer's lock keeps out nearer layers, and not its own word.
    locked = entry("windows", "old", "F6", locked=True)
    assert keys([locked, new], []) == (["F7"], "house")
    assert keys([locked], [new]) == (["F6"], "house")
