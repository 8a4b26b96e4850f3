"""The line of revisions: words, names, going back, deleting, undoing single differences; two states held against each other."""

import json

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile

from amberkey.server.library.models import Body, Document, Revision

HOUSE, TRAINING = "/documents/profile/house", "/documents/profile/training"
PASTE = "entries:quaysheet/paste-values on windows"
COUNT = "entries:folioform/word-count on windows"


def document(api, path=HOUSE):
    response = api.client.get(f"/api{path}")
    return json.loads(response.content), response["ETag"]


def save(api, note="", path=HOUSE, **fields):
    value, seen = document(api, path)
    assert api.put(f"{path}?note={note}", {**value, **fields}, **{"If-Match": seen})[0] == 200


def entries(api, path=HOUSE):
    found = document(api, path)[0].get("entries", [])
    return {f"{e['program']}/{e['command']}": [s["keys"] for s in e["shortcuts"]] for e in found}


def moved(api, to="Control+Alt+Shift+V"):
    value = document(api)[0]
    return [{**e, "shortcuts": [{"keys": to}]} if e["command"] == "paste-values" else e for e in value["entries"]]


def seen(api, path=HOUSE):
    return document(api, path)[1].strip('"')


def test_the_line_tells_who_when_and_what_was_released(ines, jorun):
    save(jorun, "Moved", entries=moved(jorun))
    status, line = ines.get(f"{HOUSE}/revisions")
    assert (status, line["name"], [r["number"] for r in line["revisions"]]) == (200, "House", [2, 1])
    newest, first = line["revisions"]
    assert (newest["by"], newest["note"], newest["newest"], first["newest"]) == ("Jorun", "Moved", True, False)
    assert line["newest"] == newest["digest"] == seen(ines)


def test_words_are_made_for_the_revisions_in_sight_only(ines):
    for n in range(4):
        save(ines, f"n{n}", entries=moved(ines, f"F{n + 1}"))
    status, told = ines.get(f"{HOUSE}/words?numbers=5,3,99,x")
    assert (status, [w["number"] for w in told]) == (200, [5, 3])
    assert told[0] == {"number": 5, "says": ["Paste values only, in Quaysheet, moves from F3 to F4."], "count": 1}


def test_what_came_of_a_revision_is_said_with_its_clashes(ines):
    # Ctrl Alt V types nothing on a German keyboard; Ctrl Alt Q types @.
    save(ines, "", entries=moved(ines, "Control+Alt+Q"))
    status, told = ines.get(f"{HOUSE}/revisions/2")
    assert (status, told["count"], told["says"][0]["means"]) == (200, 1, "moves")
    assert told["made"] >= 1
    assert any("Ctrl Alt Q" in m or "Strg Alt Q" in m for m in told["makes"])


def test_a_revision_is_named_once_and_found_by_it(ines, tove):
    save(ines, "", description="Before the summer")
    assert ines.put(f"{HOUSE}/revisions/2/name", {"name": " Summer "})[1]["name"] == "Summer"
    assert ines.put(f"{HOUSE}/revisions/1/name", {"name": "Summer"})[0] == 409
    assert ines.put(f"{HOUSE}/revisions/9/name", {"name": "Summer"})[0] == 404
    assert tove.put(f"{HOUSE}/revisions/2/name", {"name": "Mine"})[0] == 403
    assert ines.put(f"{HOUSE}/revisions/2/name", {"name": ""})[1]["name"] == ""


def test_going_back_is_a_new_revision_with_the_old_bytes(ines):
    first = Revision.objects.get(document_id="profile/house", number=1)
    save(ines, "", entries=moved(ines), description="Other")
    status, done = ines.post(f"{HOUSE}/back", {"number": 1, "seen": seen(ines)})
    assert (status, done["title"]) == (200, "Back to revision 1 of House")
    newest = Revision.objects.get(document_id="profile/house", number=3)
    assert newest.body.data == first.body.data
    assert ines.post(f"/history/{done['id']}/undo")[0] == 200
    assert entries(ines)["quaysheet/paste-values"] == ["Control+Alt+Shift+V"]
    assert ines.post(f"{HOUSE}/back", {"number": 4, "seen": seen(ines)})[0] == 409  # that is what there is


def test_going_back_never_goes_over_newer_work(ines, jorun):
    save(ines, "", entries=moved(ines))
    looked_at = seen(ines)
    save(jorun, "Wording", description="Newer")
    assert ines.post(f"{HOUSE}/back", {"number": 1, "seen": looked_at})[0] == 200
    now = document(ines)[0]
    assert (now["description"], entries(ines)["quaysheet/paste-values"]) == ("Newer", ["Control+Alt+V"])
    save(ines, "", entries=moved(ines, "F9"))
    looked_at = seen(ines)
    save(jorun, "Mine", entries=moved(jorun, "F8"))
    status, problem = ines.post(f"{HOUSE}/back", {"number": 1, "seen": looked_at})
    assert (status, problem["by"]) == (409, "Jorun")
    assert entries(ines)["quaysheet/paste-values"] == ["F8"]


def test_a_deleted_profile_is_found_and_brought_back(ines, tove):
    assert tove.post(f"{TRAINING}/delete")[0] == 403
    status, gone = ines.post(f"{TRAINING}/delete")
    assert (status, gone["key"], gone["revisions"]) == (200, "profile/training", 1)
    assert ines.get(TRAINING)[0] == 404
    assert [d["key"] for d in tove.get("/deleted")[1]] == ["profile/training"]
    assert ines.post("/deleted/profile/training")[0] == 200
    assert (ines.get(TRAINING)[0], ines.get("/deleted")[1]) == (200, [])
    assert ines.post("/deleted/profile/training")[0] == 404


@pytest.mark.parametrize(
    ("path", "status"),
    [("/documents/tasks/tasks", 409), ("/documents/profile/nothing", 404), ("/documents/decisions/decisions", 409)],
)
def test_what_must_be_there_is_not_deleted(ines, path, status):
    assert ines.post(f"{path}/delete")[0] == status


def test_single_differences_of_an_old_change_are_undone_and_the_others_stay(ines, jorun):
    value = moved(ines)
    value = [e for e in value if e["command"] != "word-count"]
    save(ines, "Two things", entries=value)
    change = ines.get(f"{HOUSE}/revisions")[1]["revisions"][0]["change"]
    save(jorun, "Later", description="Later work")
    told = ines.get(f"/history/{change}")[1]
    assert [(p["name"], len(p["says"]), told["why_not"]) for p in told["parts"]] == [("House", 2, "")]
    wanted = {"differences": {"profile/house": [PASTE]}}
    status, done = jorun.post(f"/history/{change}/undo-some", wanted)
    assert (status, done["title"]) == (200, "Undid 1 of: Two things")
    assert entries(ines) == {"quaysheet/paste-values": ["Control+Alt+V"]}
    assert document(ines)[0]["description"] == "Later work"
    assert jorun.post(f"/history/{change}/undo-some", wanted)[0] == 409  # somebody undid it already
    assert ines.post(f"/history/{done['id']}/undo")[0] == 200
    assert entries(ines) == {"quaysheet/paste-values": ["Control+Alt+Shift+V"]}


@pytest.mark.parametrize(
    ("body", "status"),
    [
        ({"differences": {}}, 400),
        ({"differences": {"profile/house": []}}, 400),
        ({"differences": {"profile/house": ["entries:no such"]}}, 404),
        ({"differences": {"profile/other": [PASTE]}}, 404),
    ],
)
def test_what_is_no_part_of_a_change_is_refused(ines, body, status):
    save(ines, "One", entries=moved(ines))
    change = ines.get(f"{HOUSE}/revisions")[1]["revisions"][0]["change"]
    assert ines.post(f"/history/{change}/undo-some", body)[0] == status
    assert ines.get("/history/999999")[0] == 404


def compared(api, left, right):
    status, found = api.get(f"/compare?left={left}&right={right}")
    assert status == 200, found
    return found


def test_two_revisions_differ_in_sentences_grouped_by_what_they_mean(ines):
    value = moved(ines)
    value = [{**e, "since": "2026-11-01"} if e["command"] == "word-count" else e for e in value]
    save(ines, "", entries=value, description="Other words")
    found = compared(ines, "profile/house~1", "profile/house")
    groups = {g["means"]: [d["says"] for d in g["differences"]] for g in found["groups"]}
    assert groups["moves"] == ["Paste values only, in Quaysheet, moves from Ctrl Alt V to Ctrl Alt Shift V."]
    nothing = {d["nothing"] for g in found["groups"] if g["means"] == "nothing" for d in g["differences"]}
    assert nothing == {"only the wording differs", "only notes or days differ"}
    assert (found["left"]["writable"], found["right"]["writable"]) == (False, True)
    assert compared(ines, "profile/house", "profile/house~2")["count"] == 0


def test_half_of_a_comparison_is_taken_over_and_undone(ines):
    choice = {"into": "profile/training", "other": "profile/house", "chosen": [PASTE]}
    would = ines.post("/compare/plan", choice)[1]
    assert set(would) == {"solves", "makes", "solved", "made", "people", "worth"}
    status, done = ines.post("/compare/take", choice)
    assert (status, done["title"]) == (200, "Took 1 difference over from House as it is now")
    assert entries(ines, TRAINING) == {"quaysheet/paste-values": ["Control+Alt+V"]}
    assert ines.post(f"/history/{done['id']}/undo")[0] == 200
    assert entries(ines, TRAINING) == {}


def test_twenty_thousand_differences_are_told_in_part_and_taken_over_whole(ines):
    """More than anybody reads: each group shows its first ones, and names the others so that all of it can be taken over."""
    entry = {"program": "quaysheet", "platform": "windows", "shortcuts": [{"keys": "F9"}]}
    many = [{**entry, "command": f"made-{n:05}"} for n in range(20_000)]
    save(ines, "", TRAINING, entries=many)
    found = compared(ines, "profile/training~1", "profile/training")
    assert found["count"] == 20_000
    assert max(len(g["differences"]) for g in found["groups"]) == 300
    # No command is called so: such an entry isn't taken over into another one, but it can be taken away.
    into_house = compared(ines, "profile/house", "profile/training")
    assert {d["refused"] != "" for g in into_house["groups"] for d in g["differences"] if "made-" in d["id"]} == {True}
    assert not any("made-" in i for g in into_house["groups"] for i in g["beyond"])
    back = compared(ines, "profile/training", "profile/training~1")
    gone = [i for g in back["groups"] for i in (*(d["id"] for d in g["differences"]), *g["beyond"])]
    status, done = ines.post("/compare/take", {"into": "profile/training", "other": "profile/training~1", "chosen": gone})
    assert (status, entries(ines, TRAINING)) == (200, {}), done


def test_what_would_make_a_clash_stands_first_and_is_told_before(ines):
    save(ines, "", entries=moved(ines, "Control+Alt+Q"))
    found = compared(ines, "profile/house", "profile/house~1")
    assert not found["groups"][0]["differences"][0]["clashes"]
    assert ines.post(f"{HOUSE}/back", {"number": 1, "seen": seen(ines)})[0] == 200
    found = compared(ines, "profile/house", "profile/house~2")
    assert found["groups"][0]["differences"][0]["clashes"]
    would = ines.post("/compare/plan", {"into": "profile/house", "other": "profile/house~2", "chosen": [PASTE]})[1]
    assert would["made"] >= 1
    assert would["people"] > 0


@pytest.mark.parametrize(
    ("left", "right", "status"),
    [
        ("profile/house", "tasks/tasks", 409),
        ("profile/house", "profile/none", 404),
        ("profile/house~99", "profile/house", 404),
        ("", "profile/house", 400),
        ("profile/house~x", "profile/house", 400),
        ("../etc", "profile/house", 400),
    ],
)
def test_what_cannot_be_compared_is_refused(ines, left, right, status):
    assert ines.get(f"/compare?left={left}&right={right}")[0] == status


@pytest.mark.parametrize(
    ("choice", "status"),
    [
        ({"into": "profile/house~1", "other": "profile/training", "chosen": [PASTE]}, 409),
        ({"into": "profile/training", "other": "profile/house", "chosen": ["entries:gone"]}, 409),
        ({"into": "profile/training", "other": "tasks/tasks", "chosen": []}, 409),
    ],
)
def test_a_choice_that_does_not_fit_changes_nothing(ines, choice, status):
    before = Revision.objects.count()
    assert ines.post("/compare/take", choice)[0] == status
    assert Revision.objects.count() == before


def test_an_older_format_is_upgraded_for_comparing_and_never_rewritten(ines):
    row = Document.objects.get(key="profile/house")
    before = bytes(Body.objects.get(digest=row.newest.body_id).packed)
    compared(ines, "profile/house", "profile/training")
    assert bytes(Body.objects.get(digest=row.newest.body_id).packed) == before


def test_what_a_reader_may_not_see_is_not_compared(ines, tove):
    assert tove.get("/compare?left=organisation/organisation&right=organisation/organisation")[0] == 404
    assert tove.get("/documents/organisation/organisation/revisions")[0] == 404


def test_what_holds_on_a_setup_is_held_against_a_profile_and_only_read(ines):
    found = compared(ines, "profile/house", "setup/ticket-counters")
    assert (found["right"]["writable"], found["right"]["title"]) == (False, "What holds for Ticket counters")
    # The house profile is the only layer there, so every entry of it holds; only its name, words and notes are other ones.
    assert {g["means"] for g in found["groups"]} <= {"nothing"}
    other = compared(ines, "setup/web-team", "setup/ticket-counters")
    assert {g["means"] for g in other["groups"]} & {"new", "moves"}
    choice = {"into": "setup/ticket-counters", "other": "profile/house", "chosen": []}
    assert ines.post("/compare/take", choice)[0] == 409


@pytest.mark.parametrize("side", ["setup/none", "person/nobody", "person/"])
def test_nothing_holds_where_nobody_is(ines, side):
    assert ines.get(f"/compare?left=profile/house&right={side}")[0] == 404


def test_what_holds_for_a_person_is_for_editors(tove):
    assert tove.get("/compare?left=profile/house&right=person/anybody")[0] == 404


def test_a_bundle_is_held_against_a_profile_and_taken_over_in_part(ines, tove):
    bundle = ines.client.get("/api/profiles/house/bundle").content
    for command, keys in (("filter", "F11"), ("paste-values", "F12")):
        given = {"setup": "ticket-counters", "program": "quaysheet", "command": command, "shortcuts": [keys]}
        assert ines.post("/commands/shortcuts", given)[0] == 200
    status, side = ines.send("/compare/bundle", {"file": SimpleUploadedFile("house.zip", bundle)})
    assert (status, side["title"][:17]) == (200, "The bundle House,")
    path = f"/compare?left=profile/house&right={side['text']}"
    found = ines.get(path)[1]
    assert (found["count"], found["left"]["writable"], found["right"]["writable"]) == (2, True, False)
    (one, other) = [d["id"] for g in found["groups"] for d in g["differences"]]
    assert ines.post("/compare/plan", {"into": "profile/house", "other": side["text"], "chosen": [one]})[0] == 200
    assert ines.post("/compare/take", {"into": "profile/house", "other": side["text"], "chosen": [one]})[0] == 200
    assert [d["id"] for g in tove.get(path)[1]["groups"] for d in g["differences"]] == [other]
    assert ines.post("/compare/take", {"into": side["text"], "other": "profile/house", "chosen": [other]})[0] == 409
    for bad in (f"bundle/{'0' * 64}", "bundle/none"):
        assert ines.get(f"/compare?left=profile/house&right={bad}")[0] == 404
    assert ines.send("/compare/bundle", {"file": SimpleUploadedFile("x.zip", b"PK")})[0] == 400
