import datetime
from dataclasses import replace

import pytest

from amberkey.core.profiles.setup import InputMethod, ProgramUsed, Remote, Setup
from amberkey.server.estate import current_estate
from amberkey.server.workbench.keyboard import _owner
from amberkey.server.workbench.lenses import system_of
from tests.server.unpacked import unpacked

GERMAN, AMERICAN, MAC, TRAINING = "ticket-counters", "harbour-control", "web-team", "training-centre"


def groups(api, setup=GERMAN):
    status, body = api.get(f"/clashes?setup={setup}")
    assert status == 200
    return {g["subject"]["command"]: g for g in unpacked(body)}


def ways(api, identity, setup=GERMAN, own=None):
    status, body = api.get(f"/clashes/{identity}/ways?setup={setup}" + (f"&own={own}" if own else ""))
    assert status == 200, body
    return body


def decide(api, identity, way, setup=GERMAN, **more):
    return api.post(f"/clashes/{identity}/decision", {"setup": setup, "way": way, **more})


@pytest.mark.parametrize(
    ("said", "system"),
    [
        ({"platform": "windows", "edition": "11 Pro"}, "Windows 11 Pro"),
        ({"platform": "windows", "edition": "Windows 11 Pro", "edition_version": "24H2"}, "Windows 11 Pro 24H2"),
        ({"platform": "macos", "edition": "15"}, "macOS 15"),
        ({"platform": "linux", "edition": "GNOME", "edition_version": "48"}, "GNOME 48"),
        ({"platform": "linux", "edition": "any"}, "Linux"),
        ({"platform": "linux", "edition": "GNOME", "remote": {"platform": "windows", "edition": "11"}}, "Windows 11"),
        ({"platform": "linux", "edition": "GNOME", "remote": {"platform": "macos"}}, "macOS"),
        ({"platform": "windows", "edition": "11 Pro", "remote": {}}, "Windows 11 Pro"),
    ],
)
def test_a_lens_names_the_system_on_which_its_programs_run(said, system):
    remote = said.get("remote")
    if remote is not None:
        remote = Remote(name="R", presses="kept", system=ProgramUsed(id="s", version="1"), **remote)
    setup = Setup.model_construct(**{"edition_version": "", **said, "remote": remote})
    assert system_of(setup) == system


def test_the_lens_changes_what_clashes(ines):
    kinds = {s: {g["kind"] for g in groups(ines, s).values()} for s in (GERMAN, AMERICAN, MAC)}
    wanted = {"system_fixed", "system", "browser", "same_scope", "swallows_text", "takes_caret", "out_of_reach", "awkward"}
    assert kinds[GERMAN] == wanted
    assert "swallows_text" not in kinds[AMERICAN]
    assert groups(ines, GERMAN)["fold-all"]["kind"] == "same_scope"
    assert groups(ines, GERMAN)["quote-fare"]["focus"] == {"program": "quaysheet", "scope": "sheet"}
    assert "fold-all" not in groups(ines, AMERICAN)


def test_a_clash_counts_people_of_every_setup_that_has_it(ines):
    group = groups(ines)["quote-fare"]
    assert set(group["setups"]) == {GERMAN, TRAINING}
    assert group["people"] == 31 + 6


def test_moving_solves_the_clash_and_undo_and_redo_follow(ines):
    group = groups(ines)["quote-fare"]
    way = next(w for w in ways(ines, group["identity"]) if w["kind"] == "move")
    assert len(way["solves"]) == 1
    assert way["remains"] == ["Training centre"]  # it doesn't stand on House
    status, change = decide(ines, group["identity"], way["key"])
    assert status == 200
    assert "Quote the fare" in change["title"]
    assert "quote-fare" not in groups(ines)
    assert "quote-fare" in groups(ines, TRAINING)
    assert ines.post(f"/history/{change['id']}/undo")[0] == 200
    assert "quote-fare" in groups(ines)
    assert ines.post(f"/history/{change['id']}/redo")[0] == 200
    assert "quote-fare" not in groups(ines)


def test_undo_restores_the_bytes(ines):
    before = ines.get("/documents/profile/house")[1]
    group = groups(ines)["fold-all"]
    change = decide(ines, group["identity"], "take_over")[1]
    assert ines.get("/documents/profile/house")[1] != before
    ines.post(f"/history/{change['id']}/undo")
    assert ines.get("/documents/profile/house")[1] == before


def test_taking_over_clears_the_holder(ines):
    group = groups(ines)["print-manifest"]
    assert decide(ines, group["identity"], "take_over")[0] == 200
    assert "print-manifest" not in groups(ines)
    status, programs = ines.get(f"/programs?setup={GERMAN}")
    windows = next(p for p in programs if p["id"] == "windows")
    picture = next(c for c in windows["commands"] if c["id"] == "picture-screen")
    assert (status, picture["shortcuts"], picture["layer"]) == (200, [], "House")


def test_an_own_choice_is_judged_before_it_is_taken(ines):
    identity = groups(ines)["quote-fare"]["identity"]
    kinds = {text: [m["kind"] for m in ways(ines, identity, own=text)[0]["makes"]] for text in ("ctrl+s", "ctrl+c", "win+l")}
    assert kinds == {"ctrl+s": ["shadow"], "ctrl+c": ["same_scope"], "win+l": ["system_fixed"]}
    assert decide(ines, identity, "move:Control+Shift+E")[0] == 200
    assert "quote-fare" not in groups(ines)


def test_an_allowed_clash_is_marked_until_its_end(ines, monkeypatch):
    identity = groups(ines)["outline"]["identity"]
    until = (datetime.datetime.now(tz=datetime.UTC).date() + datetime.timedelta(days=30)).isoformat()
    assert decide(ines, identity, "allow", reason="The counter never uses it", until=until)[0] == 200
    assert groups(ines)["outline"]["allowed"]["reason"] == "The counter never uses it"
    later = datetime.date.fromisoformat(until) + datetime.timedelta(days=1)
    monkeypatch.setattr("amberkey.server.workbench.clashes.groups.timezone.localdate", lambda: later)
    assert groups(ines)["outline"]["allowed"] is None


@pytest.mark.parametrize("more", [{}, {"reason": "  "}, {"reason": "because", "until": "2001-01-01"}])
def test_allowing_needs_a_reason_and_a_later_end(ines, more):
    identity = groups(ines)["outline"]["identity"]
    status, problem = decide(ines, identity, "allow", **more)
    assert status == 400
    assert problem["cure"]


def test_two_people_deciding_at_once_lose_nothing(ines, jorun):
    identity = groups(ines)["quote-fare"]["identity"]
    first, second = [w["key"] for w in ways(ines, identity) if w["kind"] == "move"][:2]
    assert decide(ines, identity, first)[0] == 200
    status, problem = decide(jorun, identity, second)
    assert status == 409
    assert problem["by"] == "Ines"
    assert "Moved Quote the fare" in problem["detail"]
    entries = ines.get("/documents/profile/house")[1]["entries"]
    assert sum(e["command"] == "quote-fare" for e in entries) == 1


def test_undo_over_newer_work_is_refused_and_says_whose(ines, jorun):
    assign = {"setup": GERMAN, "program": "quaysheet", "command": "filter"}
    change = ines.post("/commands/shortcuts", {**assign, "shortcuts": ["Control+Shift+J"]})[1]
    assert jorun.post("/commands/shortcuts", {**assign, "shortcuts": ["Control+Shift+K"]})[0] == 200
    status, problem = ines.post(f"/history/{change['id']}/undo")
    assert status == 409
    assert problem["by"] == "Jorun"
    assert "Gave Filter" in problem["detail"]


def test_undo_beside_newer_work_keeps_it(ines, jorun):
    base = {"setup": GERMAN, "program": "quaysheet"}
    change = ines.post("/commands/shortcuts", {**base, "command": "filter", "shortcuts": ["Control+Shift+J"]})[1]
    jorun.post("/commands/shortcuts", {**base, "command": "freeze", "shortcuts": ["Control+Shift+K"]})
    assert ines.post(f"/history/{change['id']}/undo")[0] == 200
    commands = {e["command"] for e in ines.get("/documents/profile/house")[1]["entries"]}
    assert "freeze" in commands
    assert "filter" not in commands


def test_a_plan_tells_what_an_assignment_would_cause(ines):
    given = {"setup": GERMAN, "program": "quaysheet", "command": "filter", "shortcuts": ["Control+Alt+8"]}
    status, plan = ines.post("/commands/plan", given)
    assert status == 200
    assert plan["people"] == 31 + 12
    assert plan["makes"]
    assert all("Strg Alt 8" in m for m in plan["makes"])
    assert "filter" not in str(ines.get("/documents/profile/house")[1])


@pytest.mark.parametrize(
    "command, shortcuts, says",
    [
        ("filter", ["A then B"], "can't take"),
        ("filter", ["ctrl+bakspace"], "No key is called"),
        ("filter", ["F5", "F6", "F7", "F8"], "at most 3"),
    ],
)
def test_what_a_program_cannot_take_is_refused(ines, command, shortcuts, says):
    given = {"setup": GERMAN, "program": "quaysheet", "command": command, "shortcuts": shortcuts}
    status, problem = ines.post("/commands/shortcuts", given)
    assert status == 400
    assert says in problem["title"]


def test_a_fixed_hotkey_cannot_be_assigned(ines):
    given = {"setup": GERMAN, "program": "windows", "command": "lock", "shortcuts": []}
    assert ines.post("/commands/shortcuts", given)[0] == 409


def test_the_keyboard_names_who_takes_each_key(ines):
    path = f"/keyboard?setup={GERMAN}&program=quaysheet&scope=sheet"
    bare = {k["code"]: k for k in ines.get(path)[1]["keys"]}
    assert (bare["KeyY"]["cap"], bare["KeyY"]["owner"], bare["KeyY"]["says"]) == ("Z", "text", "z")
    assert bare["ControlLeft"]["cap"] == "Strg"
    held = {k["code"]: k for k in ines.get(f"{path}&held=Control,Alt")[1]["keys"]}
    assert (held["KeyE"]["owner"], held["KeyE"]["says"]) == ("program", "Quote the fare")
    assert "would type €" in held["KeyE"]["sentence"]
    assert held["Delete"]["owner"] == "system"
    assert (held["KeyQ"]["owner"], held["KeyQ"]["says"]) == ("text", "@")
    assert held["KeyF"]["owner"] == "free"


def test_the_keyboard_shows_drafts_as_if_they_were_saved(ines):
    where = {"setup": GERMAN, "program": "quaysheet", "scope": "sheet"}
    draft = {"setup": GERMAN, "program": "quaysheet", "command": "quote-fare", "shortcuts": ["Control+Alt+F"]}
    asked = {**where, "held": ["Control", "Alt"], "drafts": [draft]}
    keys = {k["code"]: k for k in ines.post("/keyboard", asked)[1]["keys"]}
    assert (keys["KeyF"]["owner"], keys["KeyF"]["says"]) == ("program", "Quote the fare")
    assert (keys["KeyE"]["owner"], keys["KeyE"]["says"]) == ("text", "€")
    saved = ines.get(f"/keyboard?setup={GERMAN}&program=quaysheet&scope=sheet&held=Control,Alt")[1]
    assert ines.post("/keyboard", {**asked, "drafts": []})[1] == saved
    assert {k["code"]: k for k in saved["keys"]}["KeyF"]["owner"] == "free"
    cannot = {**draft, "program": "windows", "command": "lock"}
    assert ines.post("/keyboard", {**asked, "drafts": [cannot]})[0] == 409


def test_altgr_held_is_control_and_alt_on_windows(ines):
    path = f"/keyboard?setup={GERMAN}&program=quaysheet&scope=sheet&held="
    assert ines.get(f"{path}AltGraph")[1] == ines.get(f"{path}Control,Alt")[1]


def judge(api, **given):
    return api.post("/press", {"setup": GERMAN, "program": "quaysheet", "scope": "sheet", **given})


def test_a_press_is_judged_where_the_lens_stands(ines):
    held = judge(ines, strokes=[{"code": "Digit7", "modifiers": ["Control", "Shift"]}])[1]
    assert held["shortcut"]["text"] == "Control+Shift+7"
    assert held["verdict"] == "taken"
    assert held["shortcut"]["words"] == "Strg Umschalt 7"
    assert judge(ines, text="ctrl alt q")[1]["verdict"] == "types"
    assert judge(ines, text="ctrl+ö")[1]["verdict"] == "free"
    assert judge(ines, text="ctrl+^")[1]["verdict"] == "impossible"
    assert judge(ines, text="ctrl+z")[1]["strokes"] == [[{"code": "KeyY", "modifiers": ["Control"]}]]


def test_a_text_that_cannot_be_read_shows_its_place(ines):
    status, problem = judge(ines, text="ctrl+bakspace")
    assert status == 400
    assert problem["text"][slice(*problem["span"])] == "bakspace"
    assert problem["guess"] == "Control+Backspace"


@pytest.mark.parametrize(
    "path",
    ["/clashes?setup=attic", "/programs?setup=attic", "/keyboard?setup=attic", "/clashes/ffff/ways?setup=ticket-counters"],
)
def test_what_is_not_there_is_a_clear_404(ines, path):
    status, problem = ines.get(path)
    assert status == 404
    assert problem["title"].startswith("There is no")


def test_wrong_modifiers_codes_and_focuses_are_refused(ines):
    assert ines.get(f"/keyboard?setup={GERMAN}&held=Hyper")[0] == 400
    assert ines.get(f"/keyboard?setup={GERMAN}&program=quaysheet&scope=attic")[0] == 404
    assert judge(ines, strokes=[{"code": "KeyQQ", "modifiers": []}])[0] == 400
    assert judge(ines, strokes=[{"code": "KeyQ", "modifiers": ["Hyper"]}])[0] == 400
    assert judge(ines)[0] == 400


def test_a_press_is_drawn_to_the_station_that_takes_it(ines):
    leg = groups(ines)["close-leg"]
    assert (leg["taken_at"], leg["taken_says"], leg["meant_for"]) == ("browser_keeps", "Close the tab", "program")
    tides = groups(ines)["reload-tides"]
    assert (tides["taken_at"], tides["meant_for"], tides["meant_says"]) == ("program", "browser", "Load the page again")
    assert leg["says"].startswith("Gullwake keeps Strg W for itself")


def test_the_keyboard_names_utilities_and_browsers(ines):
    sheet = f"/keyboard?setup={GERMAN}&program=quaysheet&scope=sheet&held=Control,Alt"
    assert {k["code"]: k for k in ines.get(sheet)[1]["keys"]}["KeyN"]["owner"] == "utility"
    page = f"/keyboard?setup={GERMAN}&program=ebbchart&scope=app&held=Control"
    owners = {k["code"]: k["owner"] for k in ines.get(page)[1]["keys"]}
    assert (owners["KeyW"], owners["KeyS"], owners["KeyP"]) == ("browser", "program", "browser")


def test_a_press_that_moves_the_caret_is_said_to(ines):
    left = judge(ines, text="ctrl+left")[1]
    assert (left["caret"], left["verdict"]) == ("moves a word to the left", "types")
    assert judge(ines, text="ctrl+ö")[1]["caret"] == ""


def test_a_press_that_the_browser_loses_is_given_back_and_undone(ines):
    identity = groups(ines)["save-route"]["identity"]
    assert {w["kind"] for w in ways(ines, identity)} >= {"move", "allow"}
    moved = next(w for w in ways(ines, identity) if w["kind"] == "move")
    status, change = decide(ines, identity, moved["key"])
    assert status == 200
    assert "save-route" not in groups(ines)
    assert ines.post(f"/history/{change['id']}/undo")[0] == 200
    assert "save-route" in groups(ines)


def test_a_sequence_is_judged_as_a_whole(ines):
    page = {"program": "folioform", "scope": "page"}
    bound = judge(ines, text="f8 then b", **page)[1]
    assert [h["command"] for h in bound["holders"]] == ["insert-snippet"]
    free = judge(ines, text="f8 then x", **page)[1]
    assert (free["verdict"], free["holders"]) == ("free", [])
    begun = judge(ines, text="f8", **page)[1]
    assert (begun["verdict"], begun["holders"][0]["says"]) == ("taken", "waits for the next press")


def test_a_key_that_the_body_lacks_cannot_be_used(ines):
    judged = ines.post("/press", {"setup": AMERICAN, "text": "num 7"})[1]
    assert judged["verdict"] == "impossible"
    assert "lacks the key" in judged["unreachable"]


def test_a_decision_is_kept_in_the_layer_that_is_asked_for(ines):
    identity = groups(ines, TRAINING)["quote-fare"]["identity"]
    way = next(w for w in ways(ines, identity, TRAINING) if w["kind"] == "move")
    assert decide(ines, identity, way["key"], TRAINING, target="training")[0] == 200
    assert ines.get("/documents/profile/training")[1]["entries"][0]["command"] == "quote-fare"
    status, problem = decide(ines, groups(ines)["quote-fare"]["identity"], way["key"], target="training")
    assert (status, problem["title"]) == (400, "training is no layer here.")


def test_an_input_method_is_drawn_as_what_takes_presses_in_every_program(ines):
    setup = current_estate().setups[GERMAN]
    method = InputMethod.model_validate({"name": "Threadpen", "takes": ["F9"]})
    typing = replace(current_estate(), setups={GERMAN: setup.model_copy(update={"input_method": method})})
    owned = _owner(typing.board(GERMAN), "F9", frozenset(), None, ())
    assert (owned.owner, owned.sentence) == ("utility", "Threadpen: switches or converts.")
