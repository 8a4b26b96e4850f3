"""Commands that make room for the standard's lines, over the API."""

import pytest

from tests.server.conftest import Api


@pytest.fixture
def ines(example):
    return Api("ines")


def room(command, keys, program="quaysheet", **more):
    return {"program": program, "command": command, "platform": "windows", "keys": keys, **more}


def in_the_way(api):
    """A command of a program with one key of its own, that key, and a task that another command of it stands for."""
    commands = api.get("/standard/rooms/commands?program=quaysheet&platform=windows")[1]
    one = next(c for c in commands if c["id"] != "save" and [len(k["caps"]) for k in c["keys"]] == [1])
    return one, one["keys"][0]["text"], "save"


def test_a_command_makes_room_for_a_line_is_told_first_and_gets_its_own_key_back(ines):
    command, key, task = in_the_way(ines)
    lines = [{"task": task, "platform": "windows", "keys": key}]
    assert ines.post("/standard/lines", {"lines": lines})[0] == 200
    wanted = room(command["id"], ["F9"], reason="For Save")
    status, plan = ines.post("/standard/rooms/plan", {"rooms": [wanted]})
    assert status == 200
    assert plan["entries"] > 0
    assert plan["people"] > 0
    status, change = ines.post("/standard/rooms", {"rooms": [wanted]})
    assert (status, change["title"]) == (200, f"{command['name']} in Quaysheet on Windows makes room and has F9")
    (found,) = ines.get("/standard/rooms")[1]["rooms"]
    assert ([k["text"] for k in found["had"]], [k["text"] for k in found["keys"]]) == ([key], ["F9"])
    assert ([v["task"] for v in found["lines"]], found["reason"], found["owner"]) == ([task], "For Save", "Ines")
    assert found["known"]
    assert found["people"] > 0
    # Other keys keep the reason; undoing brings back what was.
    ines.post("/standard/rooms", {"rooms": [room(command["id"], [])]})
    (found,) = ines.get("/standard/rooms")[1]["rooms"]
    assert (found["keys"], found["reason"]) == ([], "For Save")
    status, change = ines.post("/standard/rooms", {"rooms": [room(command["id"], None)]})
    assert (status, change["title"]) == (200, f"Gave {command['name']} in Quaysheet on Windows its own keys back")
    assert ines.get("/standard/rooms")[1]["rooms"] == []
    ines.post(f"/history/{change['id']}/undo")
    assert len(ines.get("/standard/rooms")[1]["rooms"]) == 1


def test_what_makes_no_room_or_is_nowhere_is_refused_in_words(ines):
    command, key, _ = in_the_way(ines)
    for wanted, status, says in (
        (room(command["id"], [key, "F9"]), 400, "would make no room"),
        (room(command["id"], [f"F{n}" for n in range(1, 10)]), 400, "9 keys"),
        (room("nowhere", ["F9"]), 404, "nowhere"),
        (room(command["id"], ["F9"], program="nobody"), 404, "nobody"),
        (room(command["id"], None), 404, "makes room"),
        (room(command["id"], ["Contrl+J"]), 400, "Contrl"),
    ):
        for path in ("/standard/rooms", "/standard/rooms/plan"):
            found, problem = ines.post(path, {"rooms": [wanted]})
            assert (found, says in f"{problem['title']} {problem.get('detail', '')}") == (status, True), problem
    assert ines.get("/standard/rooms/commands?program=nobody&platform=linux")[0] == 404
    assert ines.get("/standard/rooms")[1]["rooms"] == []


def test_a_draft_has_its_own_and_changes_nothing_until_it_is_taken_over(ines):
    command, _, task = in_the_way(ines)
    lines = [{"task": task, "platform": "windows", "keys": "F9"}]
    draft = ines.post("/standard/drafts", {"name": "What if", "lines": lines})[1]["id"]  # before there is any standard
    status, kept = ines.post(f"/standard/drafts/{draft}/rooms", {"rooms": [room(command["id"], [])]})
    assert (status, kept["name"], kept["lines"]) == (200, "What if", 1)
    assert ines.get("/standard/rooms")[1]["rooms"] == []
    (found,) = ines.get(f"/standard/rooms?draft={draft}")[1]["rooms"]
    assert found["command"] == command["id"]
    told = ines.post("/standard/rooms/plan", {"rooms": [room(command["id"], None)], "draft": draft})
    assert (told[0], told[1]["entries"] > 0) == (200, True)
    assert ines.post("/standard/rooms", {"rooms": [], "draft": draft})[0] == 400
    assert ines.post(f"/standard/drafts/{draft}/take", {"chosen": []})[0] == 200
    assert len(ines.get("/standard/rooms")[1]["rooms"]) == 1


def test_two_people_who_say_otherwise_of_one_command_are_both_told(ines):
    command, _, _ = in_the_way(ines)
    ines.post("/standard/rooms", {"rooms": [room(command["id"], ["F9"])]})
    seen = ines.get("/standard/rooms")[1]["seen"]
    assert Api("jorun").post("/standard/rooms", {"rooms": [room(command["id"], ["F8"])], "seen": seen})[0] == 200
    status, problem = ines.post("/standard/rooms", {"rooms": [room(command["id"], ["F7"])], "seen": seen})
    assert (status, len(problem["contradictions"])) == (409, 1)
    # Whose is to count is chosen: one's own, or what it was before both.
    for whose, keys in (("base", ["F9"]), ("ours", ["F7"])):
        chosen = [{"section": "makes_room", "key": c["key"], "value": c[whose]} for c in problem["contradictions"]]
        again = {"rooms": [room(command["id"], ["F7"])], "seen": seen, "chosen": chosen}
        assert ines.post("/standard/rooms", again)[0] == 200
        (found,) = ines.get("/standard/rooms")[1]["rooms"]
        assert [k["text"] for k in found["keys"]] == keys
