"""People, machines and the rest of the organisation through the API: seen, changed, undone, refused."""

import pytest

from tests.core.organisations import machine, organisation

GERMAN = [
    {"id": "windows", "version": "11"},
    {"id": "quaysheet", "version": "7.2"},
    {"id": "folioform", "version": "4.0"},
]


@pytest.fixture
def strait(example):
    """A small organisation over the programs of the small example: two people on two machines."""
    from amberkey.core.documents.model import read_document
    from amberkey.core.formats import FORMATS
    from amberkey.server.library.verbs.change import create
    from amberkey.server.people.acting import Actor

    assert isinstance(example, Actor)
    for name in ("harbour", "control", "pilot", "clerk", "ada"):
        create(example, read_document({"format": "amberkey/profile@1", "id": name, "name": name.title()}, FORMATS))
    value = organisation(machines=[machine("one", programs=GERMAN), machine("two", programs=GERMAN)])
    create(example, read_document(value, FORMATS))
    return value


def table(api, section, **wanted):
    query = "&".join(f"{k}={v}" for k, v in wanted.items())
    status, page = api.get(f"/organisation/table/{section}?{query}")
    assert status == 200, page
    return page


def ids(page):
    return [r["id"] for r in page["rows"]]


def test_the_organisation_tells_what_it_has_and_what_can_be_chosen(strait, jorun):
    found = jorun.get("/organisation")[1]
    assert (found["name"], found["people"], found["machines"], found["setups"]) == ("Strait", 6, 2, 2)
    assert {d["id"]: d["count"] for d in found["departments"]} == {"harbour": 6, "control": 1}
    assert {p["id"]: p["people"] for p in found["all_profiles"] if p["id"] in ("ada", "harbour")} == {"ada": 1, "harbour": 6}
    assert {p["id"]: p["versions"] for p in found["programs"]}["quaysheet"] == ["7.2"]
    assert {"Pro", "Enterprise"} <= set(found["platforms"][0]["editions"])


def test_tables_are_searched_sorted_and_cut(strait, tove):
    assert ids(table(tove, "people")) == ["ada", "desk"]
    assert ids(table(tove, "people", sort="people", down="true")) == ["desk", "ada"]
    assert ids(table(tove, "people", words="control pilot")) == ["ada"]
    assert ids(table(tove, "people", department="harbour")) == ["ada", "desk"]
    assert ids(table(tove, "people", role="clerk")) == ["ada"]
    assert ids(table(tove, "machines", words="german")) == ["one", "two"]
    page = table(tove, "machines", start=1, count=1)
    assert (page["total"], page["start"], ids(page)) == (2, 1, ["two"])
    row = table(tove, "machines")["rows"][0]["cells"]
    assert (row["platform"], row["layouts"], row["at"], row["people"]) == ("Windows Pro", "German", "Ada", "1")


def item(api, section, item_id):
    return next(r["item"] for r in table(api, section)["rows"] if r["id"] == item_id)


def change(api, section, before, after, title="Changed it"):
    return api.post("/organisation/change", {"title": title, "items": [{"section": section, "before": before, "after": after}]})


def test_a_person_is_changed_planned_first_and_undone(strait, jorun):
    before = item(jorun, "people", "desk")
    after = {**before, "department": "control"}
    given = {"title": "", "items": [{"section": "people", "before": before, "after": after}]}
    plan = jorun.post("/organisation/plan", given)[1]
    assert plan["told"] == ["There will be 6 setups in use, as many as now."]
    assert item(jorun, "people", "desk") == before
    status, done = change(jorun, "people", before, after, "Moved Desk")
    assert (status, done["title"]) == (200, "Moved Desk")
    assert table(jorun, "people", words="desk")["rows"][0]["cells"]["department"] == "Control room"
    assert jorun.post(f"/history/{done['id']}/undo")[0] == 200
    assert item(jorun, "people", "desk") == before


def test_a_new_machine_with_a_seat_is_a_new_setup(strait, jorun):
    new = machine("three", programs=GERMAN, body="iso-no-pad")
    seat = {"person": "ada", "machine": "three"}
    items = [{"section": "machines", "after": new}, {"section": "seats", "after": seat}]
    plan = jorun.post("/organisation/plan", {"title": "x", "items": items})[1]
    assert plan["told"] == ["There will be 7 setups in use, instead of 6."]
    assert jorun.post("/organisation/change", {"title": "A desk more", "items": items})[0] == 200
    assert "Windows, German keyboard, no pad, Control room" in {s["name"] for s in jorun.get("/organisation/setups")[1]}
    assert {lens["name"] for lens in jorun.get("/lenses")[1]} >= {"Windows, German keyboard, no pad, Control room"}


def test_a_machine_that_goes_takes_its_seats_with_it(strait, jorun):
    assert change(jorun, "machines", item(jorun, "machines", "two"), None)[0] == 200
    assert table(jorun, "people", words="desk")["rows"][0]["cells"]["at"] == ""


def test_two_people_changing_one_machine_lose_nothing(strait, ines, jorun):
    before = item(ines, "machines", "one")
    assert change(ines, "machines", before, {**before, "edition": "Home"}, "Now Home")[0] == 200
    status, problem = change(jorun, "machines", before, {**before, "body": "iso-no-pad"})
    assert (status, problem["by"]) == (409, "Ines")
    assert "Now Home" in problem["detail"]
    other = item(jorun, "machines", "two")
    assert change(jorun, "machines", other, {**other, "body": "iso-no-pad"})[0] == 200


@pytest.mark.parametrize(
    "section, after, place",
    [
        ("people", {"id": "bo", "name": "Bo", "department": "attic"}, "people[1].department"),
        ("machines", machine("nine", layouts=[]), "machines[0].layouts"),
        ("machines", machine("nine", layouts=["xx"]), "machines[0].layouts[0]"),
        ("machines", machine("nine", programs=[{"id": "nothing", "version": "1"}]), "machines[0].programs[0]"),
        ("departments", {"id": "harbour", "name": "Harbour", "parent": "control"}, "departments[0].parent"),
        ("seats", {"person": "zoe", "machine": "one"}, "seats[2].person"),
        ("roles", {"id": "cook", "name": "Cook", "profiles": ["gone"]}, "roles[1].profiles[0]"),
    ],
)
def test_what_cannot_be_is_refused_with_its_place(strait, jorun, section, after, place):
    before = {"id": "harbour", "name": "Harbour", "profiles": ["harbour"]} if section == "departments" else None
    for path in ("/organisation/plan", "/organisation/change"):
        status, problem = jorun.post(path, {"title": "x", "items": [{"section": section, "before": before, "after": after}]})
        assert status == 400
        assert place in [f["place"] for f in problem["faults"]]
    assert jorun.get("/organisation")[1]["machines"] == 2


@pytest.mark.parametrize(
    "given, title",
    [
        ({"section": "ships", "after": {"id": "x"}}, "no ships"),
        ({"section": "machines", "after": {"name": "x"}}, "has no id"),
        ({"section": "people"}, "can't become"),
        ({"section": "people", "before": {"id": "ada"}, "after": {"id": "bo"}}, "can't become"),
    ],
)
def test_changes_that_name_nothing_are_refused(strait, jorun, given, title):
    status, problem = jorun.post("/organisation/change", {"title": "x", "items": [given]})
    assert status == 400
    assert title in problem["title"]


def test_a_program_that_machines_have_cannot_leave_their_platform(strait, jorun):
    document = jorun.get("/documents/program/quaysheet@7.2")[1]
    digest = jorun.client.get("/api/documents/program/quaysheet@7.2")["ETag"]
    status, problem = jorun.put(
        "/documents/program/quaysheet@7.2", {**document, "platforms": ["macos"]}, **{"If-Match": digest}
    )
    assert status == 400
    assert "doesn't run on Windows" in problem["detail"]


def test_many_are_changed_at_once_and_undone_at_once(strait, jorun):
    given = {"section": "machines", "wanted": {"words": "german"}, "wish": {"body": "iso-no-pad", "add_profiles": ["ada"]}}
    plan = jorun.post("/organisation/bulk/plan", given)[1]
    assert plan["changed"] == 2
    assert any("Num" in m or "pad" in m for m in plan["makes"]) or plan["made"] >= 0
    status, done = jorun.post("/organisation/bulk", given)
    assert (status, done["title"]) == (200, "Changed 2 machines at once")
    assert {r["cells"]["body"] for r in table(jorun, "machines")["rows"]} == {"ISO, no numeric pad"}
    assert jorun.post("/organisation/bulk", given)[1]["title"] == "All 2 machines are so already."
    assert jorun.post(f"/history/{done['id']}/undo")[0] == 200
    assert {r["item"].get("body") for r in table(jorun, "machines")["rows"]} == {"iso"}


def test_a_selection_may_leave_some_out(strait, jorun):
    given = {"section": "people", "wanted": {}, "without": ["ada"], "wish": {"add_roles": ["clerk"], "retired": True}}
    assert jorun.post("/organisation/bulk", given)[1]["title"] == "Changed 1 people at once"
    assert ids(table(jorun, "people")) == ["ada"]
    assert ids(table(jorun, "people", retired="true")) == ["desk"]


@pytest.mark.parametrize(
    "given, title",
    [
        ({"section": "people", "ids": ["ada"], "wish": {}}, "Nothing is asked"),
        ({"section": "people", "ids": [], "wish": {"retired": True}}, "Nothing is chosen"),
        ({"section": "people", "ids": ["ada"], "wish": {"body": "iso"}}, "People have no body"),
        ({"section": "people", "ids": ["zoe"], "wish": {"retired": True}}, "not there any more"),
    ],
)
def test_bulk_changes_that_make_no_sense_are_refused(strait, jorun, given, title):
    status, problem = jorun.post("/organisation/bulk", given)
    assert status in (400, 409)
    assert title in problem["title"]


def test_readers_look_and_change_nothing(strait, tove):
    before = item(tove, "people", "desk")
    assert change(tove, "people", before, {**before, "name": "Other"})[0] == 403
    assert tove.post("/organisation/bulk", {"section": "people", "ids": ["ada"], "wish": {"retired": True}})[0] == 403


def test_effective_settings_name_layers_reasons_and_what_they_hid(strait, ines):
    assign = {"setup": ines.get("/lenses")[1][0]["setup"], "program": "quaysheet", "command": "filter"}
    found = ines.get("/organisation/effective?person=ada")[1]
    assert [(layer["profile"], layer["because"]) for layer in found["layers"]] == [
        ("house", ["to everybody"]),
        ("harbour", ["to all of Harbour"]),
        ("control", ["to all of Control room"]),
        ("pilot", ["to the role Pilot"]),
        ("clerk", ["to the role Clerk"]),
        ("ada", ["to Ada alone"]),
    ]
    sheet = next(p for p in found["programs"] if p["program"] == "quaysheet")
    values = next(s for s in sheet["settings"] if s["command"] == "paste-values")
    assert (values["now"]["layer"], [h["layer"] for h in values["hid"]]) == ("House", ["default"])
    assert found["layers"][0]["sets"] == 2
    without = ines.get(f"/organisation/without?setup={found['setup']}&layer=house")[1]
    assert "Paste values only in Quaysheet has Strg Umschalt V instead of Strg Alt V." in without["commands"]
    assert assign["setup"]


def test_what_a_further_layer_holds_back_says_so(strait, ines):
    house = ines.get("/documents/profile/house")[1]
    entry = {"program": "quaysheet", "command": "filter", "platform": "windows", "shortcuts": [{"keys": "F7"}]}
    digest = ines.client.get("/api/documents/profile/house")["ETag"]
    locked = {**house, "entries": [*house["entries"], {**entry, "locked": True}]}
    assert ines.put("/documents/profile/house", locked, **{"If-Match": digest})[0] == 200
    own = {"format": "amberkey/profile@1", "id": "ada", "name": "Ada", "entries": [{**entry, "shortcuts": [{"keys": "F8"}]}]}
    digest = ines.client.get("/api/documents/profile/ada")["ETag"]
    assert ines.put("/documents/profile/ada", own, **{"If-Match": digest})[0] == 200
    found = ines.get("/organisation/effective?person=ada")[1]
    sheet = next(p for p in found["programs"] if p["program"] == "quaysheet")
    one = next(s for s in sheet["settings"] if s["command"] == "filter")
    assert one["now"]["layer"] == "House"
    assert [(r["layer"], r["why"]) for r in one["refused"]] == [("Ada", "House locked it")]
    assert next(layer for layer in found["layers"] if layer["profile"] == "ada")["vain"] == 1


@pytest.mark.parametrize("query", ["person=zoe", "person=ada&machine=two", "person=ada&setup=attic"])
def test_effective_settings_of_nobody_are_a_clear_404(strait, jorun, query):
    status, problem = jorun.get(f"/organisation/effective?{query}")
    assert status == 404
    assert problem["cure"]


def test_a_personal_entry_leaves_all_other_programs_computed(strait, ines):
    from amberkey.server.estate import current_estate

    before = current_estate()
    boards = {s: before.board(s) for s in before.setups}
    mine = next(i for i, s in before.setups.items() if "ada" in s.layers)
    own = {"format": "amberkey/profile@1", "id": "ada", "name": "Ada", "entries": []}
    entry = {"program": "quaysheet", "command": "filter", "platform": "windows", "shortcuts": [{"keys": "F7"}]}
    digest = ines.client.get("/api/documents/profile/ada")["ETag"]
    assert ines.put("/documents/profile/ada", {**own, "entries": [entry]}, **{"If-Match": digest})[0] == 200
    after = current_estate()
    assert {s for s in after.setups if after.board(s) is not boards[s]} == {mine}
    parts = {p for p in boards[mine].parts if after.board(mine).parts[p] is not boards[mine].parts[p]}
    assert parts == {"quaysheet"}


def test_the_profiles_of_everybody_are_changed_like_any_item(strait, jorun):
    items = [{"section": "everybody", "before": {"profiles": ["house"]}, "after": {"profiles": ["harbour", "house"]}}]
    status, done = jorun.post("/organisation/change", {"title": "For everybody", "items": items})
    assert status == 200
    assert jorun.get("/organisation")[1]["profiles"] == ["harbour", "house"]
    assert jorun.post("/organisation/change", {"title": "x", "items": items})[0] == 409
    assert jorun.post(f"/history/{done['id']}/undo")[0] == 200
    gone = [{"section": "everybody", "before": {"profiles": ["house"]}, "after": {"profiles": ["attic"]}}]
    assert jorun.post("/organisation/plan", {"title": "x", "items": gone})[0] == 400


def test_uses_are_entered_by_name_seen_and_taken_out(strait, jorun, tove):
    path = "/organisation/roles/pilot/uses"
    assert jorun.get(path)[1] == []
    given = {"program": "Quaysheet", "command": "Quote the fare", "weekly": 12}
    assert jorun.post(path, given)[0] == 200
    (use,) = jorun.get(path)[1]
    assert (use["program"], use["command"], use["weekly"]) == ("Quaysheet", "Quote the fare", 12)
    assert jorun.post(path, given)[0] == 409
    status, problem = jorun.post(path, {**given, "command": "Quote the fair"})
    assert (status, problem["faults"][0]["place"]) == (400, "row 1, Command")
    assert tove.post(path, {**given, "weekly": 3})[0] == 403
    uses = jorun.get(f"/commands/life?setup=all&row=quaysheet/{use['item']['command']}")[1]["uses"]
    pilots = next(u for u in uses if u["role"] == "pilot")
    assert (pilots["weekly"], pilots["people"] > 0) == (12, True)
    items = [{"section": "uses", "before": use["item"], "after": None}]
    assert jorun.post("/organisation/change", {"title": "Out", "items": items})[0] == 200
    assert jorun.get(path)[1] == []
    assert jorun.get("/organisation/roles/cook/uses")[0] == 404
