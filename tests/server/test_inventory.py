"""The sheet of all commands over the API: looked through, told in full, reset, given tasks, taken as a list."""

import json
import zipfile
from io import BytesIO

import pytest

from amberkey.core.profiles.model import Profile
from amberkey.server.library.models import Document, Revision
from amberkey.server.library.verbs.change import create


@pytest.fixture
def lens(ines) -> str:
    """The setup of most people."""
    return ines.get("/lenses")[1][0]["setup"]


def commands(api, setup="all", **asked):
    query = "&".join(f"{name}={value}" for name, value in {"setup": setup, **asked}.items())
    status, found = api.get(f"/commands?{query}")
    assert status == 200, found
    return found


def names(found) -> list[str]:
    return [f"{s['row']['program_name']}: {s['row']['name']}" for s in found["shown"] if s["row"]]


def test_words_with_a_slip_find_the_command_and_say_where(ines):
    found = commands(ines, words="delet row")
    assert names(found)[0] == "Quaysheet: Delete the row"
    row = found["shown"][0]["row"]
    assert [row["name"][m["begin"] : m["end"]] for m in row["marks"]] == ["Delete", "row"]
    assert found["order"] == "best first"


def test_another_language_is_said_beside_the_name(ines):
    found = commands(ines, words="rückgängig", program="quaysheet")
    assert (names(found), found["shown"][0]["row"]["also"]) == (["Quaysheet: Undo"], "also said: rückgängig")


def test_through_a_lens_only_its_programs_are_there(ines, lens):
    ids = {f["program"] for f in next(one for one in ines.get("/lenses")[1] if one["setup"] == lens)["focuses"]}
    assert 0 < commands(ines, lens)["total"] <= commands(ines)["total"]
    there = {c["id"] for c in ines.get(f"/commands/choices?setup={lens}")[1]["programs"]}
    assert ids <= there < {c["id"] for c in ines.get("/commands/choices?setup=all")[1]["programs"]}


def test_pieces_are_the_whole_in_its_order(ines):
    order = "keys, as they lie".replace(" ", "%20")
    whole = ines.get(f"/commands/ids?setup=all&order={order}")[1]
    assert len(whole) == commands(ines)["found"] == len(set(whole))
    at = 100
    piece = commands(ines, order=order, at=at, count=7)
    assert [s["row"]["id"] for s in piece["shown"]] == whole[at : at + 7]


def test_the_place_of_a_row_is_told(ines):
    whole = ines.get("/commands/ids?setup=all&order=name")[1]
    assert commands(ines, order="name", row=whole[17])["place"] == 17
    assert commands(ines, order="name")["place"] is None
    assert commands(ines, order="name", row="quaysheet/nothing")["place"] is None


def test_a_press_finds_whoever_has_it_and_the_system(ines, lens):
    found = commands(ines, lens, keys="alt%20f4")
    kinds = {s["row"]["program_name"] for s in found["shown"]}
    assert "Windows" in kinds
    assert commands(ines, lens, keys="F8")["found"] >= 1
    assert ines.get(f"/commands?setup={lens}&keys=ctlr%20x")[0] == 400


@pytest.mark.parametrize("state", ["own key", "no key", "clashing", "risky", "without a task", "same key twice"])
def test_every_state_holds_of_each_row_that_it_finds(ines, state):
    found = commands(ines, state=state.replace(" ", "%20"))
    assert found["found"] > 0
    assert all(state in s["row"]["states"] for s in found["shown"])


def test_groups_fold(ines):
    found = commands(ines, by_groups="true", program="quaysheet")
    head = found["shown"][0]["head"]
    assert head["rows"] > 0
    closed = commands(ines, by_groups="true", program="quaysheet", closed=head["id"])
    assert closed["shown"][1]["head"] is not None
    assert closed["found"] == found["found"]
    assert closed["lines"] == found["lines"] - head["rows"]


def test_choices_count_what_asking_for_them_finds(ines):
    choices = ines.get("/commands/choices?setup=all")[1]
    for what, ids in (("group", choices["groups"][:3]), ("layer", choices["layers"][:3]), ("kind", choices["kinds"][:3])):
        for one in ids:
            assert commands(ines, **{what: one["id"].replace(" ", "%20")})["found"] == one["rows"]


def test_the_life_of_a_command_has_its_layers_with_their_authors(ines):
    row = commands(ines, state="own%20key")["shown"][0]["row"]
    life = ines.get(f"/commands/life?setup=all&row={row['id']}")[1]
    stages = [s for s in life["stages"] if not s["in_vain"]]
    assert [s["layer"] for s in stages] == row["layers"]
    assert [s["holds"] for s in stages] == [False] * (len(stages) - 1) + [True]
    assert stages[0]["by"] == ""
    assert stages[-1]["by"] != ""
    assert stages[-1]["at"] is not None
    assert any(v["there"] for v in life["versions"])
    assert ines.get("/commands/life?setup=all&row=quaysheet/nothing")[0] == 404


def test_reset_gives_back_what_is_beneath_and_one_undo_takes_it_again(ines):
    row = commands(ines, state="own%20key")["shown"][0]["row"]
    body = {"setup": "all", "rows": [row["id"]]}
    status, plan = ines.post("/commands/reset/plan", body)
    assert (status, plan["count"]) == (200, 1)
    assert plan["returns"][0]["before"] != plan["returns"][0]["after"]
    assert plan["surprises"][0]["people"] > 0
    status, done = ines.post("/commands/reset", body)
    assert status == 200, done
    after = ines.get(f"/commands/life?setup=all&row={row['id']}")[1]["row"]
    assert [k["text"] for k in after["keys"]] == [k["text"] for k in plan["returns"][0]["after"]]
    assert after["layers"] == row["layers"][:-1]
    assert ines.post(f"/history/{done['id']}/undo", {})[0] == 200
    assert ines.get(f"/commands/life?setup=all&row={row['id']}")[1]["row"]["keys"] == row["keys"]


def test_reset_of_a_whole_profile_leaves_only_what_is_locked(ines):
    status, plan = ines.post("/commands/reset/plan", {"setup": "all", "profile": "house"})
    assert status == 200
    ines.post("/commands/reset", {"setup": "all", "profile": "house"})
    newest = Revision.objects.filter(document_id="profile/house").latest("number").body.json()
    assert all(e.get("locked") for e in newest.get("entries", []))
    assert plan["count"] + plan["unseen"] > 0


def test_nothing_to_reset_is_said(ines, jorun, tove):
    body = {"setup": "all", "rows": ["quaysheet/save"]}
    status, problem = ines.post("/commands/reset", body)
    assert (status, problem["title"]) == (409, "There is nothing to reset.")
    assert ines.post("/commands/reset/plan", {"setup": "all"})[0] == 400
    assert ines.post("/commands/reset/plan", {"setup": "all", "profile": "nobody"})[0] == 404
    assert ines.post("/commands/reset/plan", {"setup": "all", "program": "nothing"})[0] == 404
    assert tove.post("/commands/reset", body)[0] == 403


def test_several_commands_get_a_task_in_every_version_that_has_them(ines):
    rows = [s["row"]["id"] for s in commands(ines, program="quaysheet", state="without%20a%20task")["shown"][:3]]
    status, done = ines.post("/commands/task", {"setup": "all", "rows": rows, "task": "save"})
    assert status == 200, done
    for key in Document.objects.filter(doc_id="quaysheet").values_list("key", flat=True):
        value = Revision.objects.filter(document_id=key).latest("number").body.json()
        with_task = {c["id"]: c.get("task") for c in value["commands"]}
        assert {with_task[r.split("/")[1]] for r in rows if r.split("/")[1] in with_task} == {"save"}
    ines.post(f"/history/{done['id']}/undo", {})
    again = commands(ines, program="quaysheet", state="without%20a%20task")
    assert rows == [s["row"]["id"] for s in again["shown"][:3]]
    assert ines.post("/commands/task", {"setup": "all", "rows": rows, "task": "no-such"})[0] == 404
    assert ines.post("/commands/task", {"setup": "all", "rows": [], "task": "save"})[0] == 400


def test_the_tasks_of_commands_are_told_once_and_who_has_none(ines):
    with_task = [s["row"] for s in commands(ines, program="quaysheet")["shown"] if s["row"] and s["row"]["task"]][:2]
    without = commands(ines, state="without%20a%20task")["shown"][0]["row"]
    rows = [r["id"] for r in (*with_task, without)]
    status, found = ines.post("/commands/tasks", {"setup": "all", "rows": rows})
    assert status == 200, found
    assert [t["id"] for t in found["tasks"]] == list(dict.fromkeys(r["task"] for r in with_task))
    assert [s["name"] for s in found["stays"]] == [f"{without['name']} in {without['program_name']}"]
    assert ines.post("/commands/tasks", {"setup": "all", "rows": ["quaysheet/nothing"]})[0] == 404


def test_chosen_commands_are_taken_as_a_list(ines):
    body = json.dumps({"setup": "all", "rows": ["quaysheet/save", "quaysheet/undo"]})
    found = ines.client.post("/api/commands/list.csv", body, content_type="application/json").content.decode("utf-8-sig")
    assert [line.split(",")[1] for line in found.splitlines()] == ["Command", "Save", "Undo"]
    packed = ines.client.post("/api/commands/list.ods", body, content_type="application/json").content
    assert "content.xml" in zipfile.ZipFile(BytesIO(packed)).namelist()
    assert ines.client.post("/api/commands/list.doc", body, content_type="application/json").status_code == 404


@pytest.mark.parametrize(
    "words", ["x" * 400, "'; DROP TABLE library_document; --", "(a+)+$", "%25_%25", "😀😀", "\u0300", "...", " "]
)
def test_any_words_are_answered(ines, words):
    status, found = ines.client.get("/api/commands", {"setup": "all", "words": words}).status_code, None
    assert status == 200, found


def test_free_keys_are_free_for_this_setup_or_for_all_that_have_the_program(ines):
    here = ines.get("/commands/free?setup=all&row=quaysheet/filter")[1]
    everywhere = ines.get("/commands/free?setup=all&row=quaysheet/filter&everywhere=true&modifiers=2")[1]
    assert len(here) == 12
    setup = commands(ines, words="filter", program="quaysheet")["shown"][0]["row"]["setup"]
    for free in (here[0], everywhere[0]):
        body = {"setup": setup, "program": "quaysheet", "command": "filter", "shortcuts": [free["keys"]["text"]]}
        assert ines.post("/commands/plan", body)[1]["makes"] == []
    assert all(k["keys"]["text"].count("+") == 2 for k in everywhere)
    assert ines.get("/commands/free?setup=all&row=quaysheet/filter&hand=both")[0] == 422
    assert ines.get("/commands/free?setup=all&row=quaysheet/nothing")[0] == 404


def test_a_key_for_a_risky_command_wants_a_reason(ines):
    row = commands(ines, state="risky")["shown"][0]["row"]
    free = ines.get(f"/commands/free?setup=all&row={row['id']}")[1][0]["keys"]["text"]
    body = {"setup": row["setup"], "program": row["program"], "command": row["command"], "shortcuts": [free]}
    status, problem = ines.post("/commands/shortcuts", body)
    assert (status, "is risky" in problem["title"]) == (400, True)
    status, done = ines.post("/commands/shortcuts", body | {"reason": "asked for by all"})
    assert status == 200, done
    assert ines.post(f"/history/{done['id']}/undo")[0] == 200
    assert ines.post("/commands/shortcuts", body | {"shortcuts": []})[0] == 200


def test_keys_are_brought_into_another_layer_and_back_by_one_undo(ines, example):
    row = commands(ines, state="own%20key")["shown"][0]["row"]
    create(example, Profile(id="elsewhere", name="Elsewhere"))
    body = {"setup": "all", "rows": [row["id"], "quaysheet/undo"], "to": "elsewhere"}
    status, plan = ines.post("/commands/bring/plan", body)
    assert (status, plan["count"], [s["why"] for s in plan["stays"]]) == (200, 1, ["no layer says anything of it"])
    assert plan["surprises"][0]["people"] > 0
    status, done = ines.post("/commands/bring", body)
    assert status == 200, done
    value = Revision.objects.filter(document_id="profile/elsewhere").latest("number").body.json()
    assert [e["command"] for e in value["entries"]] == [row["command"]]
    assert commands(ines, words=row["name"])["shown"][0]["row"]["layers"] == row["layers"][:-1]
    assert ines.post("/commands/bring", body)[0] == 409
    assert ines.post(f"/history/{done['id']}/undo")[0] == 200
    assert ines.get(f"/commands/life?setup=all&row={row['id']}")[1]["row"]["keys"] == row["keys"]
    assert ines.post("/commands/bring/plan", body | {"to": "nobody"})[0] == 404


def test_a_template_gets_keys_by_its_values(ines):
    program = ines.get("/catalogue/quaysheet/7.2")[1]
    edited = next(c for c in program["commands"] if c["id"] == "filter")
    edited |= {"name": "Filter the first [rows] rows", "arguments": [{"name": "rows", "least": 1, "most": 500}]}
    edited |= {"reached_by": {"by": "menu", "depth": 2}}
    status, problem = ines.put("/catalogue/quaysheet/7.2", program)
    assert status == 200, problem
    row = commands(ines, words="filter the first")["shown"][0]["row"]
    assert row["takes"] == [{"name": "rows", "values": [], "least": 1, "most": 500}]
    free = ines.get(f"/commands/free?setup=all&row={row['id']}")[1]
    body = {"setup": row["setup"], "program": "quaysheet", "command": row["command"], "shortcuts": [free[0]["keys"]["text"]]}
    refused = [({"rows": 501}, "takes no rows 501"), ({"rows": "10"}, "takes no rows 10"), ({"x": 1}, "no argument x")]
    for values, says in refused:
        status, problem = ines.post("/commands/shortcuts", body | {"arguments": values})
        assert (status, says in problem["title"]) == (400, True), problem
    assert ines.post("/commands/shortcuts", body | {"arguments": {"rows": 1.5}})[0] == 422
    assert ines.post("/commands/plan", body | {"arguments": {"rows": 10}})[1]["makes"] == []
    ids = []
    for rows, keys in ((10, free[0]), (20, free[1])):
        given = body | {"arguments": {"rows": rows}, "shortcuts": [keys["keys"]["text"]]}
        status, done = ines.post("/commands/shortcuts", given)
        assert status == 200, done
        ids.append(done["id"])
    told = {r["name"]: r for r in of_template(ines)}
    assert [k["text"] for k in told["Filter the first [10] rows"]["keys"]] == [free[0]["keys"]["text"]]
    assert [k["text"] for k in told["Filter the first [20] rows"]["keys"]] == [free[1]["keys"]["text"]]
    assert told["Filter the first [rows] rows"]["keys"] == row["keys"]
    assert ines.get(f"/commands/life?setup=all&row={told['Filter the first [10] rows']['id']}")[0] == 200
    for one in reversed(ids):
        assert ines.post(f"/history/{one}/undo")[0] == 200
    assert [r["name"] for r in of_template(ines)] == ["Filter the first [rows] rows"]


def of_template(api):
    found = commands(api, words="filter the first", program="quaysheet")["shown"]
    return [s["row"] for s in found if s["row"] and s["row"]["name"].startswith("Filter the first")]
