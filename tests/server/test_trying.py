"""Trying presses and drafts, test records, the keyboard in the middle of a sequence, Amber Key's own shortcuts."""

import csv
import io

import pytest

GERMAN, AMERICAN, MAC = "ticket-counters", "harbour-control", "web-team"
SHEET = {"setup": GERMAN, "program": "quaysheet", "scope": "sheet"}


def tried(api, text="Control+Alt+E", lanes=(SHEET,), **more):
    status, body = api.post("/try", {"lanes": list(lanes), "text": text, **more})
    assert status == 200, body
    return body


def test_a_press_goes_its_way_in_three_places_side_by_side(ines):
    american = {**SHEET, "setup": AMERICAN}
    mac = {"setup": MAC, "program": None, "scope": None}
    found = tried(ines, "Control+Alt+E", (SHEET, american, mac))
    assert [x["setup"] for x in found["lanes"]] == [GERMAN, AMERICAN, MAC]
    german = found["lanes"][0]
    assert german["outcome"] == "Quaysheet does Quote the fare"
    assert german["presses"][0]["taken_at"] == "program"
    assert [s["station"] for s in german["presses"][0]["steps"]][:3] == ["remap", "guarded", "intercept"]
    assert german["presses"][0]["steps"][-1]["scope_name"] == "Sheet"
    assert german["shortcut"]["caps"] == [["Strg", "Alt", "E"]]


def test_a_sequence_goes_press_by_press_and_says_what_is_typed(ines):
    (lane,) = tried(ines, "H then i")["lanes"]
    assert (len(lane["presses"]), lane["typed"]) == (2, "hi")


def test_a_physical_key_is_each_keyboard_s_own(ines):
    strokes = [{"code": "KeyY", "modifiers": []}]
    lanes = [SHEET, {**SHEET, "setup": AMERICAN}]
    status, found = ines.post("/try", {"lanes": lanes, "strokes": strokes})
    assert status == 200
    assert [x["typed"] for x in found["lanes"]] == ["z", "y"]


def draft(command, *shortcuts, program="quaysheet"):
    return {"setup": GERMAN, "program": program, "command": command, "shortcuts": list(shortcuts)}


def test_drafts_change_the_answer_and_nothing_else(ines):
    before = ines.get("/documents/profile/house")[1]
    found = tried(ines, drafts=[draft("quote-fare", "Control+Shift+E"), draft("filter", "Meta+L")])
    (lane,) = found["lanes"]
    assert (lane["outcome"], lane["before"]) == ("types €", "Quaysheet does Quote the fare")
    assert found["drafts"]["entries"] == 2
    assert any("Quote the fare" in s for s in found["drafts"]["solves"])
    assert any("Filter" in m for m in found["drafts"]["makes"])
    assert ines.get("/documents/profile/house")[1] == before


def test_a_draft_is_worth_what_assigning_it_is(ines):
    one = draft("quote-fare", "Control+Shift+E")
    found = tried(ines, drafts=[one])
    assigned = ines.post("/commands/plan", one)[1]
    assert found["drafts"]["worth"] == assigned["worth"]
    assert found["drafts"]["worth"]["says"]


def test_drafts_are_kept_as_one_change(ines):
    drafts = [draft("quote-fare", "Control+Shift+E"), draft("filter", "Control+Shift+K")]
    before = ines.get("/documents/profile/house")[1]
    status, change = ines.post("/try/drafts", {"drafts": drafts})
    assert status == 200
    assert change["title"].startswith("Kept 2 drafts: Gave Quote the fare")
    assert tried(ines, "Control+Shift+K")["lanes"][0]["outcome"] == "Quaysheet does Filter"
    ines.post(f"/history/{change['id']}/undo")
    assert ines.get("/documents/profile/house")[1] == before


@pytest.mark.parametrize(
    "given, status",
    [
        ({"lanes": [], "text": "F8"}, 400),
        ({"lanes": [SHEET] * 4, "text": "F8"}, 400),
        ({"lanes": [SHEET]}, 400),
        ({"lanes": [{**SHEET, "scope": "nowhere"}], "text": "F8"}, 404),
        ({"lanes": [{**SHEET, "setup": "nowhere"}], "text": "F8"}, 404),
        ({"lanes": [SHEET], "text": "Controll+Ü"}, 400),
        ({"lanes": [SHEET], "strokes": [{"code": "NoKey", "modifiers": []}]}, 400),
        ({"lanes": [SHEET], "text": "F8", "drafts": [draft("unknown", "F9")]}, 404),
        ({"lanes": [SHEET], "text": "F8", "drafts": [draft("filter", *(f"F{n}" for n in range(1, 12)))]}, 400),
    ],
)
def test_what_cannot_be_tried_is_refused_with_words(ines, given, status):
    found, problem = ines.post("/try", given)
    assert (found, bool(problem["title"])) == (status, True)


def test_no_draft_and_no_right_keep_nothing(ines, tove):
    assert ines.post("/try/drafts", {"drafts": []})[0] == 400
    assert tove.post("/try/drafts", {"drafts": [draft("filter", "F9")]})[0] == 403


def keep(api, text, passed=True, seen="", **lane):
    status, body = api.post("/records", {"lane": {**SHEET, **lane}, "text": text, "passed": passed, "seen": seen})
    assert status == 200, body
    return body


def test_a_record_keeps_who_where_expected_and_seen(ines, jorun):
    keep(ines, "Control+Alt+E")
    keep(jorun, "Control+Alt+9", passed=False, seen="=the page closed")
    body = ines.get("/records")[1]
    assert [(r["by"], r["expected"], r["seen"], r["passed"]) for r in body["records"]] == [
        ("Jorun", "types ]", "=the page closed", False),
        ("Ines", "Quaysheet does Quote the fare", "Quaysheet does Quote the fare", True),
    ]
    assert (body["total"], body["failed"]) == (2, 1)
    assert ines.get("/records?words=jorun closed")[1]["total"] == 1
    assert ines.get("/records?failed=true")[1]["total"] == 1


def test_records_come_out_as_csv(ines):
    keep(ines, "Control+Alt+9", passed=False, seen="=the page closed")
    text = ines.client.get("/api/records.csv").content.decode("utf-8-sig")
    heads, row = list(csv.reader(io.StringIO(text)))
    assert dict(zip(heads, row, strict=True))["Passed"] == "no"
    assert dict(zip(heads, row, strict=True))["Seen"].startswith("'=")  # no sheet may run it


def test_a_record_is_taken_out_and_brought_back(ines):
    one = keep(ines, "F9")
    ines.post(f"/records/{one['id']}/removal", {"removed": True})
    assert ines.get("/records")[1]["total"] == 0
    ines.post(f"/records/{one['id']}/removal", {"removed": False})
    assert ines.get("/records")[1]["total"] == 1
    assert ines.post("/records/999/removal", {"removed": True})[0] == 404


def test_a_record_says_what_was_seen_where_it_did_not_pass(ines, tove):
    given = {"lane": SHEET, "text": "F9", "passed": False}
    assert ines.post("/records", given)[0] == 400
    assert tove.post("/records", {**given, "seen": "x"})[0] == 403


def test_what_was_changed_is_untested_until_it_is_tested(ines):
    assert ines.get("/records/untested")[1] == []
    given = {"setup": GERMAN, "program": "quaysheet", "command": "filter", "shortcuts": ["Control+Shift+K"]}
    change = ines.post("/commands/shortcuts", given)[1]
    (one,) = ines.get("/records/untested")[1]
    assert (one["why"], one["by"], one["expects"]) == ("changed", "Ines", "Quaysheet does Filter")
    keep(ines, one["shortcut"]["text"], setup=one["setup"], scope=one["scope"])
    assert ines.get("/records/untested")[1] == []
    ines.post(f"/history/{change['id']}/undo")
    (again,) = ines.get("/records/untested")[1]
    assert (again["why"], again["was"]) == ("other now", "Quaysheet does Filter")


def test_the_keyboard_in_the_middle_of_a_sequence(ines):
    base = f"/keyboard?setup={GERMAN}&program=folioform&scope=page"
    first = ines.get(base)[1]
    assert (first["after"], first["waiting"]) == (None, [])
    reaches = {k["code"]: k["reach"] for k in first["keys"]}
    assert [reaches[c] for c in first["free"]] == sorted(reaches[c] for c in first["free"])
    begun = ines.get(f"{base}&after=F8")[1]
    assert begun["after"]["text"] == "F8"
    assert begun["waiting"]
    assert ines.get(f"{base}&after=F99")[0] == 400


def test_a_press_on_another_keyboard_says_so(ines):
    given = {"setup": GERMAN, "program": "quaysheet", "scope": "sheet"}
    stroke = {"code": "KeyY", "modifiers": ["Control"], "key": "y"}
    judged = ines.post("/press", {**given, "strokes": [stroke]})[1]
    assert judged["shortcut"]["text"] == "Control+Z"
    assert judged["differs"] == "Your keyboard has y on this key; the German one of this lens has z."
    same = ines.post("/press", {**given, "strokes": [{**stroke, "key": "z"}]})[1]
    assert same["differs"] == ""
    tap = ines.post("/press", {**given, "strokes": [{"code": None, "modifiers": ["Alt"]}]})[1]
    assert tap["shortcut"]["text"] == "Alt"


def own(api, platform="windows"):
    return {a["id"]: a for a in api.get(f"/own-shortcuts?platform={platform}")[1]}


def test_own_shortcuts_are_changed_switched_off_and_put_back(ines, jorun):
    assert own(ines)["undo"]["keys"]["text"] == "Control+Z"
    assert own(ines, "macos")["undo"]["keys"]["text"] == "Meta+Z"
    assert ines.put("/own-shortcuts/undo?platform=windows", {"keys": "Control+Shift+U"})[0] == 200
    assert own(ines)["undo"]["press"] == {"modifiers": ["Control", "Shift"], "key": "U"}
    assert own(jorun)["undo"]["keys"]["text"] == "Control+Z"
    assert ines.put("/own-shortcuts/undo?platform=windows", {"keys": ""})[0] == 200
    assert own(ines)["undo"]["keys"] is None
    assert ines.put("/own-shortcuts/undo?platform=windows", {"keys": None})[0] == 200
    assert own(ines)["undo"]["changed"] is False


def test_own_shortcuts_are_checked_like_everybody_s(ines):
    assert [a["id"] for a in own(ines).values() if a["clashes"]] == []
    for keys, says in (("Win+L", "Windows"), ("C", "Go to Clashes")):
        answer = ines.put("/own-shortcuts/keyboard?platform=windows", {"keys": keys})[1]
        mine = next(a for a in answer if a["id"] == "keyboard")
        assert any(says in c for c in mine["clashes"]), mine
    ines.put("/own-shortcuts/keyboard?platform=linux", {"keys": "C"})  # nobody in the example has that platform
    assert any("Go to Clashes" in c for c in own(ines, "linux")["keyboard"]["clashes"])
    status, problem = ines.put("/own-shortcuts/keyboard?platform=windows", {"keys": "F8 then F9"})
    assert (status, bool(problem["cure"])) == (400, True)
    assert ines.put("/own-shortcuts/nothing?platform=windows", {"keys": "F8"})[0] == 404
    assert ines.get("/own-shortcuts?platform=amiga")[0] == 400


@pytest.mark.parametrize("platform", ["windows", "macos", "linux"])
def test_the_presses_that_a_browser_never_sees_are_named(ines, platform):
    status, found = ines.get(f"/unseen?platform={platform}")
    assert status == 200
    assert found
    assert all(u["does"] and u["keys"]["caps"] for u in found)
