"""The way of a press through all nine stations, one story each."""

import pytest

from amberkey.core.clashes.trace import Focus, trace
from amberkey.core.documents.errors import DocumentError
from amberkey.core.layouts.stroke import Stroke
from amberkey.core.ways.proposing import ways_out
from tests.core.scenes import EVERYWHERE, clashes, command, entry, name, office, pressed, program, scene, system
from tests.core.test_several import done

CARET = [{"id": "left", "name": "moves to the left", "does": "moves", "unit": "character", "keys": "ArrowLeft", "basic": True}]


def stops(estate, text, focus=None):
    """Which stations let the last press by, and which takes it."""
    return [(s.station, s.outcome) for s in pressed(estate, text, focus)[-1].steps]


def effect(estate, text, focus=None):
    found = pressed(estate, text, focus)[-1].effect
    return found.kind, name(found.binding) or found.text


def test_a_press_that_nobody_wants_passes_every_station_in_order():
    gullwake = program("windows", "gullwake", "browser", [])
    estate = scene("windows", gullwake, program("windows", "ebbchart", "web", []))
    stations = [s.station for s in pressed(estate, "F8", "ebbchart/page")[0].steps]
    order = ["remap", "guarded", "intercept", "system", "browser_keeps", "program", "program", "menu", "browser", "text"]
    assert stations == order
    assert effect(estate, "F8", "ebbchart/page") == ("nothing", "")


def test_remaps_come_first_and_at_once():
    swap = [{"key": "CapsLock", "becomes": "ControlLeft"}, {"key": "ControlLeft", "becomes": "CapsLock"}]
    swap += [{"key": "KeyA", "becomes": "KeyB"}, {"key": "KeyB", "becomes": "KeyA"}]
    here = office("windows", command("bold", "page", "Control+B"))
    estate = scene("windows", here, house={"remaps": swap})
    board = estate.board("here")
    (done,) = trace(board, [Stroke("KeyA", frozenset({"Control"}))], Focus("office", "page"))
    assert (done.heard.code, name(done.effect.binding)) == ("KeyB", "office/bold")
    assert done.steps[0].says == "KeyA acts as KeyB"
    (held,) = trace(board, [Stroke("CapsLock", frozenset())], Focus("office", "page"))
    assert held.heard == Stroke(None, frozenset({"Control"}))


def test_the_last_started_intercepts_first_and_the_first_registered_wins():
    def utility(which, by):
        return program("windows", which, "utility", [command("go", "everywhere", "F7")], takes_by=by)

    intercepting = scene("windows", utility("panes", "intercept"), utility("clips", "intercept"))
    assert effect(intercepting, "F7") == ("command", "clips/go")
    registering = scene("windows", utility("panes", "register"), utility("clips", "register"))
    assert effect(registering, "F7") == ("command", "panes/go")
    both = scene("windows", utility("panes", "register"), utility("clips", "intercept"))
    assert effect(both, "F7") == ("command", "clips/go")


def test_an_interceptor_is_before_all_hotkeys_of_the_system_but_the_guarded_ones():
    keys = {"a": "F7", "b": "F8", "c": "F9"}
    panes = program("windows", "panes", "utility", [command(n, "everywhere", k) for n, k in keys.items()], takes_by="intercept")
    guarded = command("guarded", "everywhere", "F7", secure=True)
    fixed = command("fixed", "everywhere", "F8")
    loose = command("loose", "everywhere", "F9", grip="can be reassigned")
    estate = scene("windows", system("windows", guarded, fixed, loose), panes)
    assert effect(estate, "F7") == ("command", "system/guarded")
    assert effect(estate, "F8") == ("command", "panes/b")
    assert effect(estate, "F9") == ("command", "panes/c")


def test_a_translation_changes_the_press_for_its_window_only():
    here = office("windows", command("link", "window", "F9"))
    other = program("windows", "sheet", "office", [command("sum", "window", "F8")])
    house = {"translations": [{"program": "office", "platform": "windows", "keys": "F8", "becomes": "F9"}]}
    estate = scene("windows", here, other, house=house)
    assert effect(estate, "F8", "office/page") == ("command", "office/link")
    assert effect(estate, "F8", "sheet/page") == ("command", "sheet/sum")
    assert "becomes F9" in pressed(estate, "F8", "office/page")[0].steps[2].says


def test_a_translation_of_one_scope_leaves_the_others_alone():
    here = office("windows", command("link", "window", "F9"), command("old", "window", "F8"))
    house = {"translations": [{"program": "office", "scope": "page", "platform": "windows", "keys": "F8", "becomes": "F9"}]}
    estate = scene("windows", here, house=house)
    assert effect(estate, "F8", "office/page") == ("command", "office/link")
    assert effect(estate, "F8", "office/panel") == ("command", "office/old")


def test_what_the_browser_keeps_never_reaches_a_tab_and_the_rest_comes_after_the_page():
    hot = [command("close-tab", "window", "Control+W", keeps=True), command("reload", "window", "F9")]
    gullwake = program("windows", "gullwake", "browser", hot)
    page = [command("leg", "window", "Control+W"), command("tides", "panel", "F9")]
    estate = scene("windows", gullwake, program("windows", "ebbchart", "web", page))
    assert effect(estate, "Control+W", "ebbchart/page") == ("command", "gullwake/close-tab")
    assert effect(estate, "F9", "ebbchart/panel") == ("command", "ebbchart/tides")
    assert effect(estate, "F9", "ebbchart/page") == ("command", "gullwake/reload")
    assert stops(estate, "F9", "ebbchart/page")[-1] == ("browser", "takes")


@pytest.mark.parametrize("order, takes", [("inner", "office/preview"), ("outer", "office/print")])
def test_scopes_are_asked_in_the_programs_order(order, takes):
    here = office("windows", command("print", "window", "F8"), command("preview", "page", "F8"), scope_order=order)
    assert effect(scene("windows", here), "F8", "office/page") == ("command", takes)
    assert effect(scene("windows", here), "F8", "office/panel") == ("command", "office/print")


@pytest.mark.parametrize("rule, takes", [("first", "office/a"), ("last", "office/b"), ("either", "office/a")])
def test_a_tie_is_settled_as_the_program_settles_it(rule, takes):
    here = office("windows", command("a", "page", "F8"), command("b", "page", "F8"), on_tie=rule)
    found = pressed(scene("windows", here), "F8", "office/page")[0]
    assert name(found.effect.binding) == takes
    assert {name(b) for b in found.effect.undefined} == ({"office/a", "office/b"} if rule == "either" else set())
    assert ("nobody can say which" in found.steps[-1].says) == (rule == "either")


@pytest.mark.parametrize(
    "rule, first, otherwise",
    [
        ({"wins": "short"}, ("command", "office/link"), None),
        ({"wins": "long"}, ("wait", "office/date"), None),
        ({"wins": "long", "waits_ms": 700}, ("wait", "office/date"), "office/link"),
    ],
)
def test_a_beginning_waits_as_the_program_waits(rule, first, otherwise):
    here = office("windows", command("link", "window", "F8"), command("date", "page", ["F8", "D"]), on_prefix=rule)
    estate = scene("windows", here)
    assert effect(estate, "F8", "office/page") == first
    found = pressed(estate, "F8", "office/page")[0].effect
    assert (name(found.otherwise), found.after_ms) == (otherwise, 700 if otherwise else None)
    if rule["wins"] == "long":
        assert effect(estate, "F8 then D", "office/page") == ("command", "office/date")


def test_a_sequence_of_three_waits_twice():
    estate = scene("windows", office("windows", command("far", "page", ["F8", "D", "D"])))
    kinds = [t.effect.kind for t in pressed(estate, "F8 then D then D", "office/page")]
    assert kinds == ["wait", "wait", "command"]


@pytest.mark.parametrize("after, second, says", [("drop", "nothing", "dropped"), ("replay", "text", "play again: Link")])
def test_a_miss_is_dropped_or_played_again(after, second, says):
    here = office("windows", command("link", "window", "F8"), command("date", "page", ["F8", "D"]), after_miss=after)
    _, missed = pressed(scene("windows", here), "F8 then X", "office/page")
    assert missed.effect.kind == second
    assert any(says in s.says for s in missed.steps)


def played_again(text, *commands, **more):
    """What comes of the presses before the last one, which leads no sequence on."""
    estate = scene("windows", office("windows", *commands, after_miss="replay", **more))
    return [e.binding.command.id if e.binding else e.text for e in pressed(estate, text, "office/page")[-1].effect.replayed]


def test_what_is_played_again_runs_the_longest_shortcuts_and_types_the_rest():
    longest = command("far", "page", ["G", "H", "I", "J"]), command("near", "window", ["G", "H"])
    long = {"on_prefix": {"wins": "long", "waits_ms": 500}, "limits": {"sequence_length": 4, "bare_keys": True}}
    assert played_again("G then H then X", *longest, **long) == ["near"]
    assert played_again("G then H then I then X", *longest, **long) == ["near", "i"]
    assert played_again("G then X", *longest, **long) == ["g"]
    assert played_again("G then H then I then J", *longest, **long) == []


def test_the_innermost_of_what_is_played_again_runs():
    both = command("outer", "window", "F8"), command("inner", "page", "F8"), command("date", "page", ["F8", "D"])
    assert played_again("F8 then F6", *both, on_prefix={"wins": "long", "waits_ms": 500}) == ["inner"]


def test_a_press_that_misses_may_begin_another_sequence():
    here = command("date", "page", ["F8", "D"]), command("time", "page", ["F7", "T"])
    estate = scene("windows", office("windows", *here, after_miss="replay"))
    traces = pressed(estate, "F8 then F7 then T", "office/page")
    assert [t.effect.kind for t in traces] == ["wait", "wait", "command"]


def test_every_press_of_a_sequence_passes_all_stations():
    lock = command("lock", "everywhere", "Meta+L")
    estate = scene("windows", system("windows", lock), office("windows", command("jump", "page", ["F8", "Meta+L"])))
    first, second = pressed(estate, "F8 then Meta+L", "office/page")
    assert (first.effect.kind, name(second.effect.binding)) == ("wait", "system/lock")


def test_menu_letters_come_after_the_program_where_the_platform_has_them():
    menus = [{"letter": "d", "name": "File"}]
    for platform, found in (("windows", "menu"), ("linux", "menu"), ("macos", "text")):
        estate = scene(platform, office(platform, menus=menus))
        assert effect(estate, "Alt+D", "office/page")[0] == found
    taken = scene("windows", office("windows", command("date", "page", "Alt+D"), menus=menus))
    assert effect(taken, "Alt+D", "office/page") == ("command", "office/date")
    assert effect(scene("windows", office("windows", menus=menus)), "Alt", "office/page") == ("menu", "the menu bar")


@pytest.mark.parametrize(
    "text, focus, expected",
    [
        ("ArrowLeft", "office/page", ("caret", "moves to the left")),
        ("ArrowLeft", "office/panel", ("nothing", "")),
        ("Q", "office/page", ("text", "q")),
        ("AltGraph+Q", "office/page", ("text", "@")),
        ("code:Equal", "office/page", ("accent", "´")),
        ("Q", "office/panel", ("nothing", "")),
        ("ArrowLeft", None, ("caret", "moves to the left")),
    ],
)
def test_text_entry_is_the_last_station(text, focus, expected):
    estate = scene("windows", system("windows", caret=CARET), office("windows"), layout="de", body="iso")
    assert effect(estate, text, focus) == expected


def test_a_macro_of_a_shut_document_says_why_it_does_nothing():
    here = office("windows", command("macro", "window", "F8", document="fares.qs"))
    estate = scene("windows", here)
    (done,) = pressed(estate, "F8", "office/panel")
    assert done.effect.kind == "nothing"
    assert any("fares.qs, which isn't open" in s.says and s.outcome == "passes" for s in done.steps)
    open_ = scene(
        "windows", office("windows", command("macro", "window", "F8", document="fares.qs")), open_documents=["fares.qs"]
    )
    assert effect(open_, "F8", "office/panel") == ("command", "office/macro")


def test_an_assistive_program_holds_its_key_as_a_modifier():
    here = office("windows", command("paste", "page", "Shift+Insert"), command("caps", "page", "CapsLock"))
    estate = scene("windows", here, assistive={"name": "Reader", "modifier": "Insert"})
    assert effect(estate, "Shift+Insert", "office/page")[0] == "assistive"
    assert effect(estate, "CapsLock", "office/page") == ("command", "office/caps")
    assert [(c.kind, name(c.loser)) for c in estate.clashes("here")] == [("utility", "office/paste")]


def remote(presses):
    near = system("windows", command("lock", "everywhere", "Meta+L"), command("attention", "everywhere", "F12", secure=True))
    far = program("windows", "far", "system", [command("far-lock", "everywhere", "Meta+L")], EVERYWHERE)
    estate = scene(
        "windows",
        near,
        office("windows"),
        remote={"name": "the far desk", "presses": presses, "system": {"id": "far", "version": "1"}},
    )
    from amberkey.core.clashes.estate import Estate
    from tests.core.estates import read

    return Estate(estate.setups, {**estate.programs, ("far", "1"): read(far)}, estate.profiles)


def test_a_remote_session_passes_presses_on_or_keeps_them():
    assert effect(remote("passed on"), "Meta+L", "office/page") == ("command", "far/far-lock")
    assert effect(remote("kept"), "Meta+L", "office/page") == ("command", "system/lock")
    for presses in ("passed on", "kept"):  # calling for the security screen is never passed on
        assert effect(remote(presses), "F12", "office/page") == ("command", "system/attention")


def test_a_cleared_hotkey_is_let_through_and_said_whose_work_that_was():
    taken = command("picture", "everywhere", "F11", grip="can be switched off")
    house = {"entries": [entry("windows", "picture", program="system")]}
    estate = scene("windows", system("windows", taken), office("windows"), house=house)
    says = [s.says for s in pressed(estate, "F11", "office/page")[0].steps if s.outcome == "passes"]
    assert says == ["Picture was here; house took it away"]


@pytest.mark.parametrize(
    "platform, numlock, held, arrives",
    [
        ("windows", True, "", "office/seven"),
        ("windows", False, "", "office/start"),
        ("windows", True, "Shift+", "office/start"),  # and Shift is not seen
        ("linux", True, "Shift+", "office/start"),
        ("linux", False, "", "office/start"),
        ("macos", False, "", "office/seven"),
    ],
)
def test_numlock_and_shift_turn_pad_digits_into_navigation(platform, numlock, held, arrives):
    here = office(platform, command("start", "panel", "Home"), command("seven", "panel", "7"), pad_counts=True)
    estate = scene(platform, here, numlock=numlock)
    assert effect(estate, f"{held}code:Numpad7", "office/panel") == ("command", arrives)


def test_alt_with_pad_digits_types_on_windows():
    for platform, kind in (("windows", "text"), ("linux", "nothing")):
        assert effect(scene(platform, office(platform)), "Alt+code:Numpad4", "office/page")[0] == kind


def test_several_focuses_side_by_side():
    estate = scene("windows", office("windows", command("link", "panel", "F8")))
    found = {focus: effect(estate, "F8", focus)[0] for focus in ("office/panel", "office/page", None)}
    assert found == {"office/panel": "command", "office/page": "nothing", None: "nothing"}


def test_a_focus_that_is_not_there_is_refused():
    board = scene("windows", office("windows")).board("here")
    with pytest.raises(KeyError):
        trace(board, [Stroke("F8", frozenset())], Focus("office", "attic"))


@pytest.mark.parametrize(
    ("ends", "says"), [({"closes": True}, "closes the window"), ({"starts": "tides"}, "starts Show the tides")]
)
def test_a_press_can_end_in_its_window(ends, says):
    launcher = {"id": "tides", "name": "Show the tides", "runs": "tides"}
    house = {
        "translations": [{"program": "office", "scope": "page", "platform": "windows", "keys": "F8", **ends}],
        "launchers": [launcher],
    }
    here = office("windows", command("count", "window", "F8"))
    estate = scene("windows", here, house=house)
    ended = pressed(estate, "F8", "office/page")[0]
    assert (ended.effect.binding.command.name, ended.steps[-1].says) == (says, f"in this window it {says}")
    assert name(pressed(estate, "F8", "office/panel")[0].effect.binding) == "office/count"
    assert [(c[0], c[2]) for c in clashes(estate)] == [("utility", "translations/office.page")]


def test_a_launcher_that_is_not_there_starts_nothing():
    house = {"translations": [{"program": "office", "platform": "windows", "keys": "F8", "starts": "gone"}]}
    estate = scene("windows", office("windows", command("count", "window", "F8")), house=house)
    (clash,) = estate.clashes("here")
    assert (clash.kind, clash.why) == ("cannot", "there is no launcher gone that it could start")
    way = next(w for w in ways_out(estate, estate.groups()[0], "house") if w.kind == "tidy")
    assert done(estate, way.changes).clashes("here") == []
    assert name(pressed(estate, "F8", "office/panel")[0].effect.binding) == "office/count"


@pytest.mark.parametrize("ends", [{}, {"closes": True, "becomes": "F9"}, {"closes": True, "starts": "x"}])
def test_a_translation_does_one_thing(ends):
    with pytest.raises(DocumentError, match="one of these"):
        scene(
            "windows",
            office("windows"),
            house={"translations": [{"program": "office", "platform": "windows", "keys": "F8", **ends}]},
        )
