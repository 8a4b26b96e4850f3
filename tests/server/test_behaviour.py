"""Programs as they behave: tried as a draft, planned, saved, undone."""

import pytest

from tests.server.unpacked import unpacked

GERMAN = "ticket-counters"
SHEET = "/programs/quaysheet/7.2/behaviour"


def habits(body):
    return {h["id"]: h for h in body["habits"]}


def test_each_habit_comes_with_its_sentence_and_trace(tove):
    status, found = tove.get(f"{SHEET}?setup={GERMAN}")
    assert status == 200
    tie = habits(found)["on_tie"]
    assert (tie["value"], tie["says"]) == ("first", "The one that stands first in its list runs; the other one never does.")
    assert tie["shown"]["presses"][0]["says"] == "Quaysheet does its first command of Whole window"
    assert [s["id"] for s in found["scopes"]] == ["window", "sheet", "fares"]
    assert found["scopes"][0]["commands"] > 10


def test_a_draft_is_shown_before_it_is_saved(jorun):
    given = {"setup": GERMAN, "fields": {"on_tie": "last", "on_prefix": {"wins": "long", "waits_ms": 700}}}
    tried = habits(jorun.post(f"{SHEET}/try", given)[1])
    assert tried["on_tie"]["shown"]["presses"][0]["says"] == "Quaysheet does its second command of Whole window"
    assert tried["on_prefix"]["says"].endswith("It waits for 0.7 s.")
    assert habits(jorun.get(f"{SHEET}?setup={GERMAN}")[1])["on_tie"]["value"] == "first"


def test_a_draft_tells_which_clashes_it_would_solve_and_make(jorun):
    reads = {"setup": GERMAN, "fields": {"reads_keys_by": {"windows": "position", "macos": "character"}}}
    told = jorun.post(f"{SHEET}/plan", reads)[1]
    assert told["solved"] > 0
    assert any("Fold all groups" in s for s in told["solves"])
    assert jorun.post(f"{SHEET}/plan", {"setup": GERMAN})[1] == {"solves": [], "makes": [], "solved": 0, "made": 0}


def test_a_saved_habit_counts_and_is_undone(jorun):
    before = jorun.get(f"{SHEET}?setup={GERMAN}")[1]
    scopes = [*before["fields"]["scopes"], {"id": "names", "name": "Names panel", "parent": "window"}]
    given = {"setup": GERMAN, "digest": before["digest"], "fields": {"scopes": scopes, "takes_effect": "at once"}}
    status, done = jorun.put(SHEET, given)
    assert (status, done["title"]) == (200, "Changed how Quaysheet 7.2 behaves")
    after = jorun.get(f"{SHEET}?setup={GERMAN}")[1]
    assert [s["id"] for s in after["scopes"]] == ["window", "sheet", "fares", "names"]
    assert jorun.post(f"/history/{done['id']}/undo")[0] == 200
    assert jorun.get(f"{SHEET}?setup={GERMAN}")[1]["digest"] == before["digest"]


def test_the_order_of_commands_survives_an_edit(jorun):
    before = jorun.get("/documents/program/quaysheet@7.2")[1]["commands"]
    digest = jorun.get(f"{SHEET}?setup={GERMAN}")[1]["digest"]
    assert jorun.put(SHEET, {"setup": GERMAN, "digest": digest, "fields": {"on_tie": "last"}})[0] == 200
    after = jorun.get("/documents/program/quaysheet@7.2")[1]["commands"]
    assert [c["id"] for c in after] == [c["id"] for c in before]


def test_system_and_browser_tables_are_edited_too(jorun):
    path = "/programs/windows/11/behaviour"
    before = jorun.get(f"{path}?setup={GERMAN}")[1]
    picture = next(h for h in before["holds"] if h["id"] == "picture-screen")
    assert picture["grip"] != "fixed"
    given = {"setup": GERMAN, "digest": before["digest"], "commands": {"picture-screen": {"grip": "fixed"}}}
    told = jorun.post(f"{path}/plan", given)[1]
    assert any("Print the manifest" in m for m in told["makes"])
    assert jorun.put(path, given)[0] == 200
    gullwake = jorun.get(f"/programs/gullwake/31/behaviour?setup={GERMAN}")[1]
    assert any(h["keeps"] for h in gullwake["holds"])


@pytest.mark.parametrize(
    "given, status, says",
    [
        ({"fields": {"on_tie": "never"}}, 400, "on_tie"),
        ({"fields": {"scopes": []}}, 400, "scopes"),
        (
            {"fields": {"scopes": [{"id": "a", "name": "A", "parent": "b"}, {"id": "b", "name": "B", "parent": "a"}]}},
            400,
            "scope",
        ),
        ({"fields": {"limits": {"sequence_length": 99}}}, 400, "limits.sequence_length"),
        ({"fields": {"commands": []}}, 404, "habit commands"),
        ({"commands": {"nothing": {"grip": "fixed"}}}, 404, "command nothing"),
        ({"commands": {"save": {"name": "x"}}}, 404, "choice name"),
    ],
)
def test_drafts_that_cannot_be_are_refused_with_their_place(jorun, given, status, says):
    for ending in ("/try", "/plan"):
        answered, problem = jorun.post(f"{SHEET}{ending}", {"setup": GERMAN, **given})
        assert answered == status
        assert says in f"{problem['title']} {problem['detail']}"


def test_two_people_editing_one_program_lose_nothing(ines, jorun):
    digest = ines.get(f"{SHEET}?setup={GERMAN}")[1]["digest"]
    assert ines.put(SHEET, {"setup": GERMAN, "digest": digest, "fields": {"on_tie": "last"}})[0] == 200
    assert jorun.put(SHEET, {"setup": GERMAN, "digest": digest, "fields": {"pad_counts": True}})[0] == 200
    fields = jorun.get(f"{SHEET}?setup={GERMAN}")[1]["fields"]
    assert (fields["on_tie"], fields["pad_counts"]) == ("last", True)
    status, problem = jorun.put(SHEET, {"setup": GERMAN, "digest": digest, "fields": {"on_tie": "either"}})
    assert status == 409
    (both,) = problem["contradictions"]
    assert (both["key"], both["base"], both["ours"], both["theirs"]) == ("on_tie", "first", None, "last")
    assert "either" in both["says_ours"] or "on_tie" in both["says_ours"]  # the usual one is no longer said
    chosen = [{"section": "", "key": "on_tie", "value": both["ours"]}]
    again = {"setup": GERMAN, "digest": digest, "fields": {"on_tie": "either"}, "chosen": chosen}
    assert jorun.put(SHEET, again)[0] == 200
    assert jorun.get(f"{SHEET}?setup={GERMAN}")[1]["fields"]["on_tie"] == "either"


def test_readers_try_and_save_nothing(tove):
    digest = tove.get(f"{SHEET}?setup={GERMAN}")[1]["digest"]
    assert tove.post(f"{SHEET}/try", {"setup": GERMAN, "fields": {"on_tie": "last"}})[0] == 200
    assert tove.put(SHEET, {"setup": GERMAN, "digest": digest, "fields": {"on_tie": "last"}})[0] == 403


def test_all_in_use_is_a_choice_of_the_lens(tove):
    one = tove.get(f"/clashes?setup={GERMAN}")[1]
    whole = tove.get(f"/clashes?setup={GERMAN}&everywhere=true")[1]
    assert {g["identity"] for g in unpacked(one)} < {g["identity"] for g in unpacked(whole)}
    assert all(g["seen_in"] == GERMAN for g in unpacked(whole) if GERMAN in g["setups"])
    assert whole["people"] == 31 + 12 + 9 + 6


def test_a_program_known_for_cards_only_gets_no_shortcuts(jorun):
    digest = jorun.get(f"{SHEET}?setup={GERMAN}")[1]["digest"]
    assert jorun.put(SHEET, {"setup": GERMAN, "digest": digest, "fields": {"card_only": True}})[0] == 200
    given = {"setup": GERMAN, "program": "quaysheet", "command": "filter", "shortcuts": ["F7"]}
    status, problem = jorun.post("/commands/shortcuts", given)
    assert (status, problem["title"]) == (409, "Quaysheet takes no shortcuts from outside.")


def test_an_entry_that_comes_switched_on_can_be_said_to_be_off(jorun):
    path = "/programs/windows/11/behaviour"
    found = jorun.get(f"{path}?setup={GERMAN}")[1]
    entry = next(h for h in found["holds"] if h["id"] == "files")
    assert (entry["off"], "Keyboard shortcuts in Windows" in entry["source"]) == (False, True)
    body = {"setup": GERMAN, "digest": found["digest"], "commands": {"files": {"off": True}}}
    assert jorun.put(path, body)[0] == 200
    again = jorun.get(f"{path}?setup={GERMAN}")[1]["holds"]
    assert next(h for h in again if h["id"] == "files")["off"] is True
