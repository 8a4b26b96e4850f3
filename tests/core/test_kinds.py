"""Every kind of clash on every platform where it can occur: what is found, who wins, and what must not clash."""

import datetime

import pytest

from amberkey.core.clashes.model import CLASH_KINDS
from tests.core.estates import TODAY
from tests.core.scenes import (
    PLATFORMS,
    SCOPES,
    clashes,
    command,
    entry,
    name,
    office,
    only,
    pressed,
    program,
    scene,
    system,
)

SAVE = {
    "tasks": [{"id": "save", "name": "Save", "protected": True, "usual": {p: ["Main+S"] for p in PLATFORMS}}],
}
# A stroke that types something on the platform with the usual layouts of `swallows`.
TYPES = {"windows": ("de", "iso", "Control+Alt+E", "€"), "linux": ("de", "iso", "AltGraph+Q", "@")}
TYPES["macos"] = ("de(mac)", "mac-iso", "Alt+L", "@")
CARET = [{"id": "word", "name": "moves a word left", "does": "moves", "unit": "word", "keys": "Alt+ArrowLeft", "basic": True}]


def system_fixed(p):
    taken = command("lock", "everywhere", "Meta+L")
    return scene(p, system(p, taken), office(p, command("jump", "page", "Meta+L"))), "Meta+L", "office/page"


def system_changeable(p):
    taken = command("picture", "everywhere", "F11", grip="can be reassigned")
    return scene(p, system(p, taken), office(p, command("full", "window", "F11"))), "F11", "office/page"


def utility_intercepting(p):
    panes = program(p, "panes", "utility", [command("left-half", "everywhere", "Control+Alt+J")], takes_by="intercept")
    return scene(p, panes, office(p, command("walk", "window", "Control+Alt+J"))), "Control+Alt+J", "office/panel"


def launcher(p):
    house = {"launchers": [{"id": "tides", "name": "Tides", "runs": "tides", "shortcuts": {p: ["F9"]}}]}
    return scene(p, office(p, command("count", "window", "F9")), house=house), "F9", "office/panel"


def browser_keeps(p):
    gullwake = program(p, "gullwake", "browser", [command("close-tab", "window", "Main+W", keeps=True)])
    ebbchart = program(p, "ebbchart", "web", [command("close-leg", "window", "Main+W")])
    return scene(p, gullwake, ebbchart), "Main+W", "ebbchart/panel"


def page_first(p):
    gullwake = program(p, "gullwake", "browser", [command("reload", "window", "F9")])
    ebbchart = program(p, "ebbchart", "web", [command("tides", "window", "F9")])
    return scene(p, gullwake, ebbchart), "F9", "ebbchart/panel"


def same_scope(p):
    return scene(p, office(p, command("sum", "page", "F8"), command("sort", "page", "F8"), on_tie="last")), "F8", "office/page"


def shadow(p):
    here = office(p, command("print", "window", "F8"), command("preview", "page"))
    return scene(p, here, house={"entries": [entry(p, "preview", "F8")]}), "F8", "office/page"


def prefix(p):
    here = office(p, command("link", "window", "F8"), command("date", "page", ["F8", "D"]))
    return scene(p, here), "F8", "office/page"


def swallows_text(p):
    layout, body, keys, _ = TYPES[p]
    return scene(p, office(p, command("quote", "page", keys)), layout=layout, body=body), keys, "office/page"


def takes_caret(p):
    here = office(p, command("back", "window", "Alt+ArrowLeft"))
    return scene(p, system(p, caret=CARET), here), "Alt+ArrowLeft", "office/page"


def out_of_reach(p):
    return scene(p, office(p, command("pad", "window", "code:Numpad5")), body="ansi-no-pad"), None, None


def awkward(p):
    return scene(p, office(p, command("far", "window", "Control+Alt+Shift+F4"))), "Control+Alt+Shift+F4", "office/page"


def protected(p):
    here = office(p, command("keep", "window", "F12", task="save"), command("send", "panel", "Main+S"))
    return scene(p, here, tasks=SAVE), "Main+S", "office/panel"


def cannot(p):
    here = office(p, command("send", "window"), limits={"refuses": ["F1"]})
    return scene(p, here, house={"entries": [entry(p, "send", "F1")]}), None, None


def duplicate(p):
    return scene(p, office(p, command("send", "window", "F7", "F7"))), "F7", "office/page"


@pytest.mark.parametrize("layout, keys, meet", [("us", ["F7", "F7"], False), ("de", ["Control+/", "Control+Shift+7"], True)])
def test_a_duplicate_says_whether_two_spellings_meet(layout, keys, meet):
    body = "iso" if layout == "de" else "ansi"
    estate = scene("windows", office("windows", command("send", "window", *keys)), layout=layout, body=body)
    assert [(c.kind, c.spellings_meet) for c in estate.clashes("here") if c.kind == "duplicate"] == [("duplicate", meet)]


def orphan(p):
    return scene(p, office(p, command("send", "window", "F7")), house={"entries": [entry(p, "gone", "F6")]}), None, None


def recycled(p):
    before = (TODAY - datetime.timedelta(days=20)).isoformat()
    here = office(p, command("old", "window", "F6"), command("new", "window"))
    moved = entry(p, "old", "F7", over=["F6"], since=before)
    given = entry(p, "new", "F6", since=before)
    return scene(p, here, house={"entries": [moved, given]}), "F6", "office/panel"


def composer(p):
    method = {"name": "Threadpen", "takes": ["F9"], "composing": ["F10"]}
    return scene(p, office(p, command("count", "window", "F9")), input_method=method), "F9", "office/page"


def remote(p):
    far = {"name": "Far", "presses": "passed on", "system": {"id": "system", "version": "1"}}
    taken = command("picture", "everywhere", "F11")
    return scene(p, system(p, taken), office(p, command("full", "window", "F11")), remote=far), "F11", "office/page"


def menu_letter(p):
    menus = [{"letter": "T", "name": "Tools"}]
    return scene(p, office(p, command("table", "panel", "Alt+T"), menus=menus)), "Alt+T", "office/panel"


def goes_first(p):
    closing = command("closing", "everywhere", "Alt+F4", grip="programs go first")
    return scene(p, system(p, closing), office(p, command("send", "window", "Alt+F4"))), "Alt+F4", "office/page"


def abbreviation(p):
    early = {"id": "early", "short": "xqz", "text": "Passengers", "set_off": "at once"}
    house = {"abbreviations": [early, {"id": "late", "short": "xqzl", "text": "Passenger list"}]}
    return scene(p, office(p, command("save", "page")), house=house), "", ""


# kind, the scene, what is told, who gets the press (None: nobody asks)
FIXTURES = [
    ("system_fixed", system_fixed, ("blocker", "system/lock", "office/jump"), "system/lock"),
    ("system", system_changeable, ("high", "system/picture", "office/full"), "system/picture"),
    ("utility", utility_intercepting, ("high", "panes/left-half", "office/walk"), "panes/left-half"),
    ("utility", launcher, ("high", "launchers/tides", "office/count"), "launchers/tides"),
    ("browser", browser_keeps, ("blocker", "gullwake/close-tab", "ebbchart/close-leg"), "gullwake/close-tab"),
    ("browser", page_first, ("medium", "ebbchart/tides", "gullwake/reload"), "ebbchart/tides"),
    ("same_scope", same_scope, ("high", "office/sort", "office/sum"), "office/sort"),
    ("shadow", shadow, ("medium", "office/preview", "office/print"), "office/preview"),
    ("prefix", prefix, ("high", "office/date", "office/link"), "office/date"),
    ("swallows_text", swallows_text, ("high", "office/quote", None), "office/quote"),
    ("takes_caret", takes_caret, ("high", "office/back", None), "office/back"),
    ("out_of_reach", out_of_reach, ("blocker", None, "office/pad"), None),
    ("awkward", awkward, ("low", "office/far", None), "office/far"),
    ("protected", protected, ("high", "office/send", None), "office/send"),
    ("cannot", cannot, ("blocker", None, "office/send"), None),
    ("duplicate", duplicate, ("low", "office/send", "office/send"), "office/send"),
    ("orphan", orphan, ("medium", None, "office/gone"), None),
    ("input_method", composer, ("high", "input-method/own", "office/count"), "input-method/own"),
    ("remote", remote, ("high", "system/picture", "office/full"), "system/picture"),
    ("menu_letter", menu_letter, ("medium", "office/table", "menus/menu-0"), "office/table"),
    ("goes_first", goes_first, ("medium", "office/send", "system/closing"), "office/send"),
    ("recycled", recycled, ("low", "office/new", "office/old"), "office/new"),
    ("abbreviation", abbreviation, ("medium", "abbreviations/early", "abbreviations/late"), None),
]


def test_the_fixtures_are_of_every_kind():
    assert {kind for kind, *_ in FIXTURES} == set(CLASH_KINDS)


@pytest.mark.parametrize("platform", PLATFORMS)
@pytest.mark.parametrize("kind, made, expected, winner", FIXTURES, ids=[f"{k}-{m.__name__}" for k, m, *_ in FIXTURES])
def test_each_kind_is_found_with_its_winner(kind, made, expected, winner, platform):
    estate, press, focus = made(platform)
    there = kind != "menu_letter" or platform != "macos"  # which has no menu letters
    assert clashes(estate) == ([(kind, *expected)] if there else [])
    if press:
        assert name(pressed(estate, press, focus)[-1].effect.binding) == winner


def test_what_is_swallowed_is_named():
    for platform, (_, _, _, text) in TYPES.items():
        assert only(swallows_text(platform)[0]).text == text


@pytest.mark.parametrize(
    "rule, severity, holder, begins",
    [
        ({"wins": "short"}, "high", "office/link", ("short", 0)),
        ({"wins": "long"}, "high", "office/date", ("long", 0)),
        ({"wins": "long", "waits_ms": 700}, "medium", "office/date", ("pause", 700)),
    ],
)
def test_a_prefix_is_as_bad_as_the_program_waits(rule, severity, holder, begins):
    here = office("windows", command("link", "window", "F8"), command("date", "page", ["F8", "D"]), on_prefix=rule)
    clash = only(scene("windows", here))
    assert (clash.severity, name(clash.holder), clash.begins) == (severity, holder, begins)


def test_a_shadow_over_a_protected_task_is_worse():
    here = office("windows", command("keep", "window", "Control+S", task="save"), command("send", "panel"))
    estate = scene("windows", here, tasks=SAVE, house={"entries": [entry("windows", "send", "Control+S")]})
    assert clashes(estate) == [("shadow", "high", "office/send", "office/keep")]


def test_a_shadow_that_the_maker_meant_stays_out_of_sight():
    estate = scene("windows", office("windows", command("print", "window", "F8"), command("preview", "page", "F8")))
    assert clashes(estate) == []
    assert [name(c.holder) for c in estate.meant("here")] == ["office/preview"]


def test_outer_scopes_are_asked_first_where_the_program_says_so():
    here = office("windows", command("print", "window", "F8"), command("preview", "page"), scope_order="outer")
    estate = scene("windows", here, house={"entries": [entry("windows", "preview", "F8")]})
    assert clashes(estate) == [("shadow", "medium", "office/print", "office/preview")]
    assert name(pressed(estate, "F8", "office/page")[0].effect.binding) == "office/print"


@pytest.mark.parametrize(
    "limits, keys, why",
    [
        ({"sequence_length": 1}, [["F8", "B"]], "at most 1 press"),
        ({"bare_keys": False}, ["J"], "without a modifier"),
        ({"shortcuts_per_command": 1}, ["F6", "F7"], "at most 1 shortcut for"),
        ({"refuses": ["F1"]}, ["F1"], "refuses F1"),
    ],
)
def test_what_a_program_cannot_take(limits, keys, why):
    here = office("windows", command("send", "panel"), limits=limits)
    estate = scene("windows", here, house={"entries": [entry("windows", "send", *keys)]})
    clash = next(c for c in estate.clashes("here") if c.kind == "cannot")
    assert why in clash.why


def test_the_makers_own_default_is_not_held_against_his_limits():
    assert clashes(scene("windows", office("windows", command("next", "panel", "J"), limits={"bare_keys": False}))) == []


@pytest.mark.parametrize(
    "gone, what", [("command", "no command gone"), ("scope", "no scope attic"), ("program", "no program lost")]
)
def test_an_orphan_says_what_is_not_there(gone, what):
    one = {
        "command": entry("windows", "gone", "F6"),
        "scope": entry("windows", "send", "F6", scope="attic"),
        "program": entry("windows", "send", "F6", program="lost"),
    }[gone]
    estate = scene("windows", office("windows", command("send", "window", "F7")), house={"entries": [one]})
    assert [(c.kind, what in c.why) for c in estate.clashes("here")] == [("orphan", True)]


def test_a_retired_key_is_free_again_after_its_time():
    estate, *_ = recycled("windows")
    later = scene_like(estate, today=TODAY + datetime.timedelta(days=80))
    assert clashes(later) == []
    assert clashes(scene_like(estate, today=None)) == []


def scene_like(estate, today):
    from amberkey.core.clashes.estate import Estate

    return Estate(estate.setups, estate.programs, estate.profiles, estate.tasks, today)


def test_two_spellings_are_one_stroke_only_on_some_layouts():
    here = office("windows", command("comment", "page", "Control+/"), command("fold", "page", "Control+Shift+7"))
    german = scene("windows", here, layout="de", body="iso")
    assert only(german).spellings_meet
    assert clashes(scene("windows", here)) == []


def test_a_sequence_is_lost_where_one_of_its_presses_is():
    taken = command("lock", "everywhere", "Meta+L")
    here = office("windows", command("jump", "page", ["F8", "Meta+L"]))
    clash = only(scene("windows", system("windows", taken), here))
    assert (clash.kind, str(clash.stroke)) == ("system_fixed", "Meta+code:KeyL")


def test_a_shortcut_with_two_ways_is_lost_only_if_both_are_taken():
    here = office("windows", command("seven", "panel", "Control+7"), pad_counts=True)
    one = command("a", "everywhere", "Control+7", grip="can be reassigned")
    two = command("b", "everywhere", "Control+code:Numpad7", grip="can be reassigned")
    assert clashes(scene("windows", system("windows", one), here)) == []
    assert clashes(scene("windows", system("windows", one, two), here)) == [("system", "high", "system/a", "office/seven")]


def test_a_hotkey_of_one_utility_is_lost_to_another_and_told_once():
    def utility(which):
        return program("windows", which, "utility", [command("go", "everywhere", "F7")])

    estate = scene("windows", *map(utility, ("panes", "clips", "notes")))
    (clash,) = estate.clashes("here")
    assert (clash.kind, {name(b) for b in clash.parties}) == ("utility", {"panes/go", "clips/go", "notes/go"})
    assert name(pressed(estate, "F7")[0].effect.binding) == "panes/go"


def test_a_hotkey_takes_text_and_caret_presses_from_people_everywhere():
    panes = program(
        "windows", "panes", "utility", [command("left", "everywhere", "Alt+ArrowLeft"), command("at", "everywhere", "Q")]
    )
    estate = scene("windows", system("windows", caret=CARET), panes)
    assert {(c.kind, c.text) for c in estate.clashes("here")} == {
        ("takes_caret", "moves a word left"),
        ("swallows_text", "q"),
    }


# What must not clash.


def test_two_programs_that_are_never_live_at_once():
    other = program("windows", "sheet", "office", [command("sum", "window", "F8")])
    assert clashes(scene("windows", office("windows", command("link", "window", "F8")), other)) == []


def test_two_scopes_beside_each_other():
    assert clashes(scene("windows", office("windows", command("a", "page", "F8"), command("b", "panel", "F8")))) == []


@pytest.mark.parametrize(
    "platform, layout, body, keys",
    [
        ("macos", "de(mac)", "mac-iso", "Alt+Meta+L"),  # Option types only without Command
        ("macos", "us(mac)", "mac-ansi", "Control+Alt+E"),  # nor with Control
        ("windows", "us", "ansi", "Control+Alt+8"),  # a US keyboard has no AltGr
        ("windows", "jp", "jis", "Control+Alt+E"),
        ("linux", "de", "iso", "Control+Alt+E"),  # Control with Alt is not AltGr there
        ("linux", "de", "iso", "Control+AltGraph+F5"),
        ("windows", "de", "iso", "Control+Alt+F"),  # nothing is recorded on that key
        ("windows", "de", "iso", "Alt+Q"),
    ],
)
def test_what_types_nothing_swallows_nothing(platform, layout, body, keys):
    estate = scene(platform, office(platform, command("do", "page", keys)), layout=layout, body=body)
    assert {c.kind for c in estate.clashes("here")} <= {"awkward"}


def test_a_typing_stroke_swallows_nothing_where_no_text_is_taken():
    assert clashes(scene("windows", office("windows", command("next", "panel", "J")))) == []


def test_what_an_inner_scope_takes_first_is_not_the_outer_ones_fault():
    scopes = [*SCOPES, {"id": "field", "name": "Field", "parent": "panel", "takes_text": True}]
    here = office("windows", command("a", "panel", "Q"), command("b", "field", "Q"), scopes=scopes)
    assert clashes(scene("windows", here)) == [("swallows_text", "high", "office/b", None)]


def test_a_page_in_a_window_of_its_own_gets_what_the_browser_keeps_from_tabs():
    gullwake = program("windows", "gullwake", "browser", [command("close-tab", "window", "Control+W", keeps=True)])
    ebbchart = program("windows", "ebbchart", "web", [command("close-leg", "window", "Control+W")])
    estate = scene("windows", gullwake, ebbchart, used={"ebbchart": {"runs": "in a window of its own"}})
    assert clashes(estate) == []
    assert name(pressed(estate, "Control+W", "ebbchart/panel")[0].effect.binding) == "ebbchart/close-leg"


def test_a_hotkey_that_a_layer_took_away_takes_nothing():
    taken = command("picture", "everywhere", "F11", grip="can be switched off")
    here = office("windows", command("full", "window", "F11"))
    house = {"entries": [entry("windows", "picture", program="system")]}
    assert clashes(scene("windows", system("windows", taken), here, house=house)) == []


def test_a_hotkey_of_another_edition_takes_nothing():
    taken = command("messages", "everywhere", "F11", editions=["for homes"])
    here = office("windows", command("full", "window", "F11"))
    assert clashes(scene("windows", system("windows", taken), here)) == []
    assert len(clashes(scene("windows", system("windows", taken), here, edition="for homes"))) == 1


def test_a_macro_whose_document_is_shut_takes_nothing():
    here = office("windows", command("print", "window", "F8"), command("macro", "window", "F8", document="fares.qs"))
    assert clashes(scene("windows", here)) == []
    assert [c[0] for c in clashes(scene("windows", here, open_documents=["fares.qs"]))] == ["same_scope"]


def test_a_command_that_does_what_the_caret_does_takes_nothing():
    here = office("windows", command("word-left", "page", "Alt+ArrowLeft", caret=True))
    assert clashes(scene("windows", system("windows", caret=CARET), here)) == []


def test_a_caret_press_that_the_program_does_not_know_is_not_missed():
    here = office("windows", command("back", "window", "Alt+ArrowLeft"), caret_exceptions=["Alt+ArrowLeft"])
    assert clashes(scene("windows", system("windows", caret=CARET), here)) == []


def test_a_program_without_the_task_may_take_its_press():
    assert clashes(scene("windows", office("windows", command("send", "panel", "Control+S")), tasks=SAVE)) == []
