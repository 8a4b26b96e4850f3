"""Answers that were wrong once, each in the smallest scene that shows it."""

import datetime

import pytest

from amberkey.core.clashes.wording import say_clash
from amberkey.core.compare.operations import compare
from amberkey.core.documents.errors import DocumentError
from amberkey.core.documents.reading import read_json
from amberkey.core.layouts.layout import load_layout
from amberkey.core.layouts.stroke import Stroke
from amberkey.core.layouts.typing import need_of
from amberkey.core.programs.reference import system_tables
from amberkey.core.standard.coverage import Gauge
from tests.core.estates import read
from tests.core.scenes import clashes, command, entry, name, office, pressed, program, scene, system

WINDOW = [{"id": "window", "name": "Window"}]
EDIT = [*WINDOW, {"id": "edit", "name": "Edit", "parent": "window", "takes_text": True}]


def by_key(*commands, **more):
    """A program that reads keys as programs of Windows do."""
    return office("windows", *commands, reads_keys_by={"windows": "key"}, **more)


def utility(*commands, takes_by="register", name="panes", **more):
    return program("windows", name, "utility", list(commands), takes_by=takes_by, **more)


def ends(estate, text, focus):
    """What comes of the last press, and who does it."""
    effect = pressed(estate, text, focus)[-1].effect
    return effect.kind, name(effect.binding) or effect.text


def kinds(estate):
    return sorted({c.kind for c in estate.clashes("here")})


WITH_THE_TABLE = next(t for t in system_tables() if t.id == "windows").model_copy(update={"version": "1"}).to_json()


# The numeric pad


def pad_scene(**setup):
    keys = {"k": "Meta+ArrowLeft", "g": "Control+G"}
    here = by_key(*(command(n, "window", k) for n, k in keys.items()), scopes=EDIT)
    return scene("windows", WITH_THE_TABLE, utility(command("x", "everywhere", "Control+Home")), here, **setup)


@pytest.mark.parametrize(
    "keys, comes",
    [
        ("Meta+code:Numpad4", "windows/window-left"),
        ("Control+Alt+code:NumpadDecimal", "windows/security"),
        ("Control+code:Numpad7", "panes/x"),
    ],
)
def test_without_numlock_a_pad_key_is_the_navigation_key_for_everybody(keys, comes):
    assert ends(pad_scene(numlock=False), keys, "office/edit") == ("command", comes)


def test_without_numlock_a_pad_key_reaches_the_presses_that_a_browser_keeps():
    browser = program("windows", "gullwake", "browser", [command("home", "window", "Alt+Home", keeps=True)])
    page = program("windows", "chart", "web", [command("mark", "page", "F9")])
    estate = scene("windows", browser, page, numlock=False)
    assert ends(estate, "Alt+code:Numpad7", "chart/page") == ("command", "gullwake/home")


def test_with_numlock_shift_and_a_pad_digit_arrive_as_the_navigation_key_alone():
    here = by_key(command("a", "window", "Shift+code:Numpad7"), command("h", "window", "Home"))
    estate = scene("windows", utility(command("x", "everywhere", "End")), here, body="ansi")
    assert ends(estate, "Shift+code:Numpad7", "office/window") == ("command", "office/h")
    assert ends(estate, "Shift+code:Numpad1", "office/window") == ("command", "panes/x")
    (clash,) = estate.clashes("here")
    assert (clash.kind, name(clash.loser)) == ("out_of_reach", "office/a")
    assert "NumLock" in say_clash(clash, estate.board("here"))


def test_without_numlock_two_names_of_one_key_are_one_stroke():
    keys = {"a": "Control+code:Numpad8", "b": "Control+ArrowUp", "c": "code:Numpad7", "d": "Home"}
    estate = scene("windows", by_key(*(command(n, "panel", k) for n, k in keys.items())), numlock=False, body="ansi")
    pairs = {frozenset((c.holder.command.id, c.loser.command.id)) for c in estate.clashes("here") if c.kind == "same_scope"}
    assert pairs == {frozenset("ab"), frozenset("cd")}


# Limits


def test_a_press_is_refused_in_another_spelling_too():
    here = by_key(command("a", "panel"), command("b", "panel"), limits={"refuses": ["Control+Shift+7", "Control+Alt+Q"]})
    house = {"entries": [entry("windows", "a", "Control+/"), entry("windows", "b", "AltGraph+Q")]}
    estate = scene("windows", here, house=house, layout="de", body="iso")
    assert {(c.kind, c.severity, name(c.loser)) for c in estate.clashes("here")} == {
        ("cannot", "blocker", "office/a"),
        ("cannot", "blocker", "office/b"),
    }


def test_a_line_of_the_standard_with_a_refused_press_cannot_be_had():
    here = by_key(command("a", "panel", "F7", task="jump"), limits={"refuses": ["Control+Shift+7"]})
    estate = scene("windows", here, tasks={"tasks": [{"id": "jump", "name": "Jump"}]}, layout="de", body="iso")
    assert cell(estate, "Control+/").state == "cannot"
    assert "refuses Control+Shift+7" in cell(estate, "Control+/").why


def test_a_sequence_with_a_refused_press_in_it_is_refused():
    here = by_key(command("a", "panel"), limits={"refuses": ["Control+C"], "sequence_length": 2})
    estate = scene("windows", here, house={"entries": [entry("windows", "a", ["F8", "Control+C"])]})
    assert [(k, s) for k, s, *_ in clashes(estate)] == [("cannot", "blocker")]


def test_a_bare_letter_by_its_place_is_a_bare_letter():
    here = by_key(command("a", "panel"), limits={})
    estate = scene("windows", here, house={"entries": [entry("windows", "a", "code:KeyJ")]})
    assert kinds(estate) == ["cannot"]


# Keys that were given up


@pytest.mark.parametrize(
    "overlap, since, told", [(90, "2026-07-03", []), (90, "2026-07-04", ["recycled"]), (0, "2026-10-01", [])]
)
def test_a_key_is_recycled_only_before_the_last_day_of_its_overlap(overlap, since, told):
    here = by_key(command("a", "panel", "Control+G"), command("b", "panel"))
    moved = entry("windows", "a", "Control+H", over=["Control+G"], since=since)
    house = {"overlap_days": overlap, "entries": [moved, entry("windows", "b", "Control+G")]}
    assert kinds(scene("windows", here, house=house, today=datetime.date(2026, 10, 1))) == told


# Text


@pytest.mark.parametrize("layout", ["se", "no", "dk", "be"])
def test_an_ascii_sign_that_only_a_dead_key_begins_is_needed(layout):
    found = load_layout(layout, "windows")
    begins = [s for s, level in found.strokes_for("~") if level.dead]
    assert begins
    assert all(need_of(stroke, found) == "needed" for stroke in begins)


def test_a_sign_on_several_keys_only_likely_makes_no_press_spare():
    here = program("macos", "office", "office", [command("a", "page", "Alt+2")])
    (clash,) = scene("macos", here, layout="se(mac)", body="mac-iso").clashes("here")
    assert (clash.kind, clash.severity, clash.text) == ("swallows_text", "high", "@")


def test_a_sign_on_another_recorded_key_is_spare():
    layout = load_layout("us(intl)", "windows")
    assert need_of(Stroke("Quote", frozenset({"Control", "Alt"})), layout) == "spare"


# Hotkeys, launchers and translations


def launcher(name, keys):
    return {"id": name, "name": name, "runs": "it.exe", "shortcuts": {"windows": [keys]}}


def test_a_launcher_loses_to_a_utility_and_to_another_launcher():
    launchers = [launcher("t1", "Control+Alt+Y"), launcher("t2", "Control+Alt+M"), launcher("t3", "Control+Alt+M")]
    house = {"launchers": launchers}
    estate = scene("windows", utility(command("x", "everywhere", "Control+Alt+Y")), by_key(), house=house)
    assert set(clashes(estate)) == {
        ("utility", "high", "panes/x", "launchers/t1"),
        ("utility", "high", "launchers/t2", "launchers/t3"),
    }


def translation(keys, becomes, **more):
    return {"program": "office", "platform": "windows", "keys": keys, "becomes": becomes, **more}


TWO = (command("a", "window", "Control+G"), command("b", "window", "Control+J"))


def test_a_translation_loses_to_a_utility_that_intercepts():
    here = by_key(*TWO, scopes=EDIT)
    panes = utility(command("x", "everywhere", "F6"), takes_by="intercept")
    estate = scene("windows", panes, here, house={"translations": [translation("F6", "Control+J")]})
    assert clashes(estate) == [("utility", "high", "panes/x", "translations/office")]


def test_a_translation_takes_text_and_caret_as_anybody_else():
    word = {"id": "word", "name": "moves a word", "does": "moves", "unit": "word", "keys": "Control+ArrowLeft", "basic": True}
    translations = [translation("Control+Alt+Q", "Control+J"), translation("Control+ArrowLeft", "Control+G")]
    estate = scene(
        *("windows", system("windows", caret=[word]), by_key(*TWO, scopes=EDIT)),
        house={"translations": translations},
        layout="de",
        body="iso",
    )
    assert {(c.kind, c.severity, c.text, c.focus) for c in estate.clashes("here")} == {
        ("swallows_text", "high", "@", ("office", "edit")),
        ("takes_caret", "high", "moves a word", ("office", "edit")),
    }


@pytest.mark.parametrize("scoped_first", [True, False])
def test_a_translation_of_a_scope_wins_inside_it(scoped_first):
    both = [translation("F6", "Control+G", scope="edit"), translation("F6", "Control+J")]
    house = {"translations": both if scoped_first else both[::-1]}
    estate = scene("windows", by_key(*TWO, scopes=EDIT), house=house)
    assert ends(estate, "F6", "office/edit") == ("command", "office/a")
    assert ends(estate, "F6", "office/window") == ("command", "office/b")


def test_two_presses_can_change_places_as_nothing_is_translated_twice():
    translations = [translation("F6", "Control+G"), translation("Control+G", "F6"), translation("Control+J", "Control+G")]
    here = by_key(*TWO, command("c", "window", "F6"), scopes=EDIT)
    estate = scene("windows", here, house={"translations": translations})
    found = {keys: ends(estate, keys, "office/edit") for keys in ("F6", "Control+G", "Control+J")}
    assert found == {
        "F6": ("command", "office/a"),
        "Control+G": ("command", "office/c"),
        "Control+J": ("command", "office/a"),
    }


def test_a_press_that_becomes_itself_by_stroke_is_refused():
    house = {"translations": [translation("Control+/", "Control+Shift+7")]}
    (clash,) = scene("windows", by_key(*TWO), house=house, layout="de", body="iso").clashes("here")
    assert (clash.kind, clash.severity, name(clash.loser)) == ("cannot", "blocker", "translations/office")
    assert "becomes itself" in clash.why
    own = by_key(*TWO, command("c", "window", "Control+/"))
    assert ends(scene("windows", own, house=house, layout="de", body="iso"), "Control+/", "office/window")[1] == "office/c"
    assert kinds(scene("windows", by_key(*TWO), house=house)) == []  # on a US keyboard these are two presses


@pytest.mark.parametrize("lives, seen", [("window", "edit"), ("edit", "edit"), ("side", None)])
def test_what_a_scoped_translation_takes_is_seen_in_its_scope(lives, seen):
    scopes = [*EDIT, {"id": "side", "name": "Side", "parent": "window"}]
    house = {"translations": [translation("F6", "Control+G", scope="edit")]}
    own = by_key(*TWO, command("c", lives, "F6"), scopes=scopes)
    found = [c.focus for c in scene("windows", own, house=house).clashes("here") if c.loser and c.loser.command.id == "c"]
    assert found == ([("office", seen)] if seen else [])


def test_a_translation_in_a_scope_that_is_not_there_takes_nothing():
    house = {"translations": [translation("F6", "Control+G", scope="gone")]}
    own = by_key(*TWO, command("c", "window", "F6"), scopes=EDIT)
    assert ends(scene("windows", own, house=house), "F6", "office/window") == ("command", "office/c")


# Profiles


def test_an_entry_for_another_layout_does_not_mute_a_set():
    here = by_key(command("a", "panel", "Control+J"))
    own = entry("windows", "a", "F6", layouts=["us"])
    house = {"entries": [own], "sets": [{"id": "s", "name": "S", "entries": [entry("windows", "a", "Control+Z")]}]}
    german = scene("windows", here, house=house, layout="de", body="iso")
    assert ends(german, "Control+Z", "office/panel") == ("command", "office/a")
    assert ends(german, "Control+J", "office/panel")[0] == "nothing"
    american = scene("windows", here, house=house)
    assert ends(american, "F6", "office/panel") == ("command", "office/a")
    assert ends(american, "Control+Z", "office/panel")[0] == "nothing"


def test_layouts_in_another_order_are_no_difference():
    base = {"format": "amberkey/profile@1", "id": "h", "name": "H"}
    one, other = (
        read({**base, "entries": [entry("windows", "a", "F5", layouts=layouts)]}) for layouts in (["de", "us"], ["us", "de"])
    )
    assert list(compare(one.to_json(), other.to_json())) == []


# Coverage


def cell(estate, keys):
    line = {"task": "jump", "platform": "windows", "keys": keys}
    standard = read({"format": "amberkey/standard@1", "id": "standard", "name": "House", "lines": [line]})
    return Gauge().measure(estate, standard).cell("here", "office", "jump")


@pytest.mark.parametrize("turned", [False, True])
def test_a_task_that_several_commands_do_agrees_if_one_of_them_does(turned):
    both = [command("a", "window", "F6", task="jump"), command("b", "edit", "F7", task="jump")]
    estate = scene(
        "windows", by_key(*(both[::-1] if turned else both), scopes=EDIT), tasks={"tasks": [{"id": "jump", "name": "Jump"}]}
    )
    assert cell(estate, "F6").state == "agrees"
    assert cell(estate, "F7").state == "agrees"
    assert cell(estate, "F8").state == "differs"


# Browsers


def test_every_browser_that_a_page_may_run_in_counts():
    one = program("windows", "b", "browser", [command("n", "window", "Control+T", keeps=True)])
    other = program("windows", "bb", "browser", [command("n", "window", "Control+Q", keeps=True)])
    page = program("windows", "w", "web", [command("z", "window", "Control+Q")], runs_in=["b", "bb"])
    assert ("browser", "blocker", "bb/n", "w/z") in clashes(scene("windows", one, other, page))
    assert clashes(scene("windows", one, other, {**page, "runs_in": ["b"]})) == []


def test_in_a_tab_the_menus_are_the_browsers():
    browser = program("windows", "b", "browser", [], menus=[{"letter": "F", "name": "File"}])
    page = program("windows", "w", "web", [command("z", "window", "Control+Q")], scopes=EDIT)
    assert ends(scene("windows", browser, page), "Alt+F", "w/edit") == ("menu", "the menu File")
    own = scene("windows", browser, page, used={"w": {"runs": "in a window of its own"}})
    assert ends(own, "Alt+F", "w/edit")[0] == "nothing"


# Remaps


def test_a_press_is_read_by_the_fingers_with_what_is_heard_beside_it():
    here = by_key(command("a", "window", "Control+A"), command("b", "window", "Control+B"))
    for remaps in (
        [{"key": "KeyA", "becomes": "KeyB"}],
        [{"key": k, "becomes": b} for k, b in (("KeyA", "KeyB"), ("KeyB", "KeyA"))],
    ):
        (one,) = pressed(scene("windows", here, house={"remaps": remaps}), "Control+A", "office/window")
        assert (one.stroke.code, one.heard.code, name(one.effect.binding)) == ("KeyA", "KeyB", "office/b")


def test_caps_lock_that_became_control_is_heard_as_control():
    estate = scene("windows", by_key(), house={"remaps": [{"key": "CapsLock", "becomes": "ControlLeft"}]})
    (one,) = pressed(estate, "CapsLock", "office/window")
    assert (one.stroke, one.heard) == (Stroke("CapsLock", frozenset()), Stroke(None, frozenset({"Control"})))


def test_altgr_makes_control_and_alt_where_both_controls_are_gone():
    here = by_key(command("k", "panel", "Control+Alt+K"), command("c", "panel", "Control+K"))
    remaps = [{"key": k, "becomes": "CapsLock"} for k in ("ControlLeft", "ControlRight")]
    german = scene("windows", here, house={"remaps": remaps}, layout="de", body="iso")
    assert [(k, lost) for k, _, _, lost in clashes(german)] == [("out_of_reach", "office/c")]
    assert ends(german, "Control+Alt+K", "office/panel") == ("command", "office/k")
    american = scene("windows", here, house={"remaps": remaps})  # no AltGr there
    assert len([k for k, *_ in clashes(american) if k == "out_of_reach"]) == 2


def test_a_caret_press_that_a_remap_leaves_nobody_is_told():
    home = {"id": "home", "name": "moves to the start", "does": "moves", "unit": "line", "keys": "Home", "basic": True}
    remaps = [{"key": "Home", "becomes": "F13"}]
    estate = scene("windows", system("windows", caret=[home]), by_key(), house={"remaps": remaps})
    (clash,) = estate.clashes("here")
    assert (clash.kind, clash.severity, clash.text, clash.holder.layer) == (
        "takes_caret",
        "high",
        "moves to the start",
        "house",
    )
    assert "Home acts as F13" in say_clash(clash, estate.board("here"))
    swapped = [*remaps, {"key": "F12", "becomes": "Home"}]
    assert clashes(scene("windows", system("windows", caret=[home]), by_key(), house={"remaps": swapped})) == []


# Sequences


def test_five_taps_of_shift_are_heard_by_the_system():
    estate = scene("windows", WITH_THE_TABLE, by_key(*TWO))
    taps = " then ".join(["Shift"] * 5)
    found = pressed(estate, taps, "office/window")
    assert [name(t.effect.binding) for t in found] == [None] * 4 + ["windows/sticky-keys"]


def test_a_sequence_that_ends_as_one_of_the_system_loses_its_last_press():
    here = by_key(command("a", "panel", ["F9", "Shift", "Shift"]))
    taps = command("taps", "everywhere", ["Shift", "Shift"])
    estate = scene("windows", system("windows", taps, limits={"sequence_length": 2, "bare_keys": True}), here)
    assert clashes(estate) == [("system_fixed", "blocker", "system/taps", "office/a")]
    assert ends(estate, "F9 then Shift then Shift", "office/panel") == ("command", "system/taps")


@pytest.mark.parametrize("across, runs", [(False, "command"), (True, "wait")])
def test_the_focused_scopes_shorter_one_goes_before_a_longer_one_further_out(across, runs):
    keys = {"l": ("window", ["Control+K", "Control+L"]), "s": ("edit", "Control+K")}
    here = by_key(
        *(command(n, scope, k) for n, (scope, k) in keys.items()),
        scopes=EDIT,
        on_prefix={"wins": "long", "across_scopes": across},
    )
    estate = scene("windows", here)
    assert pressed(estate, "Control+K", "office/edit")[-1].effect.kind == runs
    (clash,) = estate.clashes("here")
    assert (clash.kind, clash.begins.goes_on) == ("prefix", "long" if across else "short")
    assert pressed(estate, "Control+K", "office/window")[-1].effect.kind == "wait"


def test_commands_that_no_focus_ever_runs_are_told_though_their_maker_put_them_there():
    here = by_key(command("inner", "edit", "F7"), command("outer", "window", "F7"), scopes=EDIT, scope_order="outer")
    assert clashes(scene("windows", here)) == [("shadow", "medium", "office/outer", "office/inner")]


# Bad input


def test_a_number_of_five_thousand_digits_is_refused():
    with pytest.raises(DocumentError, match="number"):
        read_json(b'{"people": ' + b"9" * 5000 + b"}")


# Order


@pytest.mark.parametrize(
    "one, other",
    [
        ({"editions": ["b", "a"]}, {"editions": ["a", "b"]}),
        ({"was": ["old", "older"]}, {"was": ["older", "old"]}),
        ({"only_if": ["several layouts", "input method"]}, {"only_if": ["input method", "several layouts"]}),
    ],
)
def test_lists_of_a_command_in_another_order_are_no_difference(one, other):
    made = [read(system("windows", command("a", "everywhere", "F8", **own))).to_json() for own in (one, other)]
    assert compare(*made) == []
    assert made[0] == made[1]


def test_lists_of_a_setup_in_another_order_are_no_difference():
    used = [
        {"on": ["x", "y"], "off": ["p", "q"], "add_ons": ["m", "n"]},
        {"on": ["y", "x"], "off": ["q", "p"], "add_ons": ["n", "m"]},
    ]
    has = ["several layouts", "several displays"]
    documents = [["report", "letter"], ["letter", "report"]]
    made = [
        scene("windows", by_key(*TWO), used={"office": u}, has=h, open_documents=d).setups["here"]
        for u, h, d in zip(used, (has, has[::-1]), documents, strict=True)
    ]
    assert made[0] == made[1]
