"""Profiles in full through the API: found, read, arranged with the consequences first, tidied, carried; and what travels."""

import io
import json
import zipfile

import pytest

from amberkey.demo.load import DOCUMENTS
from amberkey.server.estate import current_estate
from amberkey.server.fleet.models import Order
from amberkey.server.fleet.verbs.order import order_back
from amberkey.server.people.models import User
from tests.server.conftest import Api
from tests.server.test_fleet import Agent
from tests.server.test_workbench import decide, groups, ways

ROW = {"program": "quaysheet", "shelf": "quick-shelf"}


@pytest.fixture
def offering(example, jorun):
    """The example's Quaysheet with what the demo's lets people arrange."""
    status, program = jorun.get("/documents/program/quaysheet@7.2")
    assert status == 200, program
    offers = json.loads((DOCUMENTS / "program-quaysheet.json").read_text())["offers"]
    answer = jorun.client.get("/api/documents/program/quaysheet@7.2")
    status, saved = jorun.put("/documents/program/quaysheet@7.2", {**program, "offers": offers}, **{"If-Match": answer["ETag"]})
    assert status == 200, saved
    return jorun


def commands(api, count):
    return [c["id"] for c in api.get("/profiles/offers/quaysheet")[1]["commands"][:count]]


def wish(section, item, key=None, **more):
    return {"section": section, "items": [{"key": key, "item": item}], **more}


def save(api, section, item, key=None):
    status, done = api.post("/profiles/house/items", wish(section, item, key))
    assert status == 200, done
    return done


def held(api, profile="house"):
    return api.get(f"/profiles/{profile}/held")[1]


ITEMS = {
    "shelves": {**ROW, "commands": ["save"]},
    "menu_groups": {"program": "quaysheet", "id": "own", "place": "bar", "name": "Own", "commands": ["save"]},
    "abbreviations": {"id": "mfg", "short": "mfg", "text": "Mit freundlichen Grüßen\n{name}"},
    "macros": {"program": "quaysheet", "id": "m", "name": "Twice", "steps": [{"runs": "save"}]},
    "launchers": {"id": "log", "name": "Sailing log", "runs": "log --open"},
    "remaps": {"key": "CapsLock", "becomes": "ControlLeft"},
    "translations": {"program": "quaysheet", "platform": "windows", "keys": "F4", "becomes": "F5"},
    "preferences": {"program": "quaysheet", "preference": "text-size", "value": 120},
}


@pytest.mark.parametrize("section", sorted(ITEMS))
def test_an_item_is_planned_saved_read_changed_and_taken_back(offering, section):
    before = offering.get("/documents/profile/house")[1]
    status, plan = offering.post("/profiles/house/items/plan", wish(section, ITEMS[section]))
    assert status == 200, plan
    assert offering.get("/documents/profile/house")[1] == before
    done = save(offering, section, ITEMS[section])
    assert done["title"].endswith(" of House")
    counts = {s["id"]: s["count"] for s in held(offering)["sections"]}
    assert counts[section] == len(before.get(section, ())) + 1
    assert offering.post(f"/history/{done['id']}/undo")[0] == 200
    assert offering.get("/documents/profile/house")[1] == before


def test_one_of_a_kind_stands_once_and_what_is_gone_is_not_changed(offering):
    save(offering, "abbreviations", ITEMS["abbreviations"])
    status, problem = offering.post("/profiles/house/items", wish("abbreviations", ITEMS["abbreviations"]))
    assert (status, "mfg" in problem["title"]) == (409, True)
    assert offering.post("/profiles/house/items", wish("abbreviations", None, "nothing"))[0] == 404
    renamed = {**ITEMS["abbreviations"], "id": "vg", "short": "vg"}
    save(offering, "abbreviations", renamed, "mfg")
    assert [a["short"] for a in held(offering)["abbreviations"]] == ["vg"]
    assert offering.post("/profiles/house/items", wish("abbreviations", None, "vg"))[0] == 200
    assert held(offering)["abbreviations"] == []


@pytest.mark.parametrize(
    ("section", "item", "says"),
    [
        ("shelves", {**ROW, "commands": [f"c-{n}" for n in range(200)]}, "has 9 places, and this shelf has 200"),
        ("abbreviations", {"id": "a", "short": " ", "text": "x"}, "no blanks"),
        ("abbreviations", {"id": "a", "short": "\u0301", "text": "x"}, "stands on what is before it"),
        ("macros", {**ITEMS["macros"], "name": "Auto"}, "keeps for itself"),
        ("launchers", {**ITEMS["launchers"], "runs": "log\n--open"}, "control character"),
        ("launchers", {**ITEMS["launchers"], "runs": "log\x07"}, "control character"),
        ("preferences", {**ITEMS["preferences"], "value": 500}, "between 70 and 200"),
        ("translations", {**ITEMS["translations"], "becomes": "F4"}, "becomes itself"),
        ("remaps", {"key": "KeyA", "becomes": "KeyA"}, "becomes itself"),
        ("menu_groups", {"program": "quaysheet", "id": "file", "place": "bar", "hidden": True}, "can't be hidden"),
        ("shelves", {"shelf": "quick-shelf"}, "program"),
    ],
)
def test_bad_items_are_refused_with_place_and_cure_and_nothing_changes(offering, section, item, says):
    before = offering.get("/documents/profile/house")[1]
    for path in ("items/plan", "items"):
        status, problem = offering.post(f"/profiles/house/{path}", wish(section, item))
        assert status in (400, 409, 422), problem
        assert says in json.dumps(problem, ensure_ascii=False)
    assert offering.get("/documents/profile/house")[1] == before


def test_an_emoji_can_be_saved_and_is_told_as_a_clash(offering):
    plan = offering.post("/profiles/house/items/plan", wish("abbreviations", {"id": "a", "short": "🙂", "text": "x"}))[1]
    assert any("types 🙂" in line for line in plan["would"]["makes"])


@pytest.mark.parametrize("body", [wish("nothing", {}), {"section": "shelves", "items": []}, {"section": "shelves"}, {}])
def test_a_wish_for_nothing_is_refused(offering, body):
    assert offering.post("/profiles/house/items", body)[0] in (400, 422)


def test_moving_a_command_tells_every_changed_key_and_offers_fewer(offering):
    a, b, c, d = commands(offering, 4)
    save(offering, "shelves", {**ROW, "commands": [a, b, c]})
    plan = offering.post(
        "/profiles/house/items/plan",
        wish("shelves", {**ROW, "commands": [d, a, b, c]}, "quick-shelf in quaysheet", about=d),
    )[1]["shelf"]
    assert plan["changes"] == 3
    told = {(r["command"], (r["before"] or {}).get("text"), r["after"]["text"]) for r in plan["renumbered"]}
    assert told >= {(d, None, "F9 then 1"), (a, "F9 then 1", "F9 then 2")}
    assert plan["people"] > 0
    ends = {p["says"]: p for p in plan["others"]}
    at_end = next(p for says, p in ends.items() if says.endswith("at the end"))
    assert (at_end["commands"], at_end["changes"]) == ([a, b, c, d], 0)


def test_what_runs_something_waits_for_a_releaser_and_stays_out_of_bundles(offering, ines):
    plan = offering.post("/profiles/house/items/plan", wish("macros", ITEMS["macros"]))[1]
    assert len(plan["waits"]) == 1
    save(offering, "macros", ITEMS["macros"])
    (macro,) = held(offering)["macros"]
    assert (macro["approved"], macro["kept"]) == (False, "with the person")
    assert bundle(offering).get("macros") is None
    (line,) = [t for t in offering.get("/profiles/house/travels")[1]["lines"] if t["section"] == "macros"]
    assert line["goes"] == "waits"
    waiting = next(a for a in ines.get("/approvals")[1] if a["kind"] == "macro")
    assert ines.post("/approvals", {"id": waiting["id"]})[0] == 200
    assert held(offering)["macros"][0]["approved"] is True
    assert [m["id"] for m in bundle(offering)["macros"]] == ["m"]


def bundle(api):
    data = api.client.get("/api/profiles/house/bundle").content
    with zipfile.ZipFile(io.BytesIO(data)) as file:
        name = next(n for n in file.namelist() if "house" in n and n.endswith(".json"))
        return json.loads(file.read(name))


def test_changed_keys_tell_what_nothing_makes_any_more(offering):
    plan = offering.post("/profiles/house/items/plan", wish("remaps", ITEMS["remaps"]))[1]
    assert any("nothing makes CapsLock any more" in line for line in plan["told"])


def test_letters_that_change_are_told(offering):
    save(offering, "menu_groups", {**ITEMS["menu_groups"], "commands": ["save"]})
    more = {**ITEMS["menu_groups"], "name": "Sums", "commands": ["save"]}
    plan = offering.post("/profiles/house/items/plan", wish("menu_groups", more, "own in quaysheet"))[1]
    assert plan["told"] == ["Sums in Quaysheet is reached by U instead of O."]


def test_profiles_are_found_by_words_program_section_and_person(offering, tove):
    save(offering, "abbreviations", ITEMS["abbreviations"])

    def found(**asked):
        query = "&".join(f"{k}={v}" for k, v in asked.items())
        return {p["id"]: p for p in tove.get(f"/profiles/found?{query}")[1]["profiles"]}

    assert set(found()) >= {"house", "training"}
    assert set(found(words="house")) == {"house"}
    assert found(words="freundlichen")["house"]["because"] == "abbreviations: mfg"
    assert set(found(section="abbreviations")) == {"house"}
    assert found(section="macros") == {}
    assert found(section="model_copy") == {}
    assert "house" in found(program="quaysheet")
    assert found(program="nothing") == {}
    assert found(person="nobody") == {}
    assert found(words="house")["house"]["people"] > 0


def test_entries_are_copied_and_moved_with_what_that_changes_for_whom(offering):
    entries = {e["key"]: e for p in offering.get("/profiles")[1] if p["id"] == "house" for e in p["entries"]}
    key = next(k for k in entries if "quaysheet" in k)
    asked = {"keys": [key], "to": "training", "stay": False}
    before = {p: offering.get(f"/documents/profile/{p}")[1] for p in ("house", "training")}
    plan = offering.post("/profiles/house/entries/carry/plan", asked)[1]
    assert plan["carried"] == 1
    assert sum(r["people"] for r in plan["relearn"]) > 0
    status, done = offering.post("/profiles/house/entries/carry", asked)
    assert (status, done["title"]) == (200, "Moved 1 shortcut from House to Training centre")
    now = {p: offering.get(f"/documents/profile/{p}")[1] for p in before}
    assert len(now["house"]["entries"]) == len(before["house"]["entries"]) - 1
    assert offering.post(f"/history/{done['id']}/undo")[0] == 200
    assert {p: offering.get(f"/documents/profile/{p}")[1] for p in before} == before


def test_entries_are_carried_to_another_layout_and_over_others_only_if_said(offering):
    entries = next(p for p in offering.get("/profiles")[1] if p["id"] == "house")["entries"]
    key = entries[0]["key"]
    asked = {"keys": [key], "to": "house", "layouts": ["fr(azerty)"]}
    assert offering.post("/profiles/house/entries/carry", asked)[0] == 200
    assert offering.post("/profiles/house/entries/carry", {"keys": [key], "to": "house"})[0] == 409
    assert offering.post("/profiles/house/entries/carry", {"keys": ["gone"], "to": "training"})[0] == 404
    assert offering.post("/profiles/house/entries/carry", {**asked, "layouts": ["nowhere"]})[0] == 400
    other = f"{key} for fr(azerty)"
    assert any(e["key"] == other for p in offering.get("/profiles")[1] if p["id"] == "house" for e in p["entries"])


def test_what_says_what_the_maker_ships_is_found_and_taken_out_several_at_once(offering):
    program = offering.get("/documents/program/quaysheet@7.2")[1]
    some = [c for c in program["commands"] if c.get("defaults", {}).get("windows")][:2]
    for one in some:
        keys = [k.replace("Main", "Control") if isinstance(k, str) else k for k in one["defaults"]["windows"]]
        entry = {"program": "quaysheet", "command": one["id"], "platform": "windows", "shortcuts": [{"keys": k} for k in keys]}
        key = f"quaysheet/{one['id']} on windows"
        known = {e["key"] for p in offering.get("/profiles")[1] if p["id"] == "training" for e in p["entries"]}
        asked = {"section": "entries", "items": [{"key": key if key in known else None, "item": entry}]}
        assert offering.post("/profiles/training/items", asked)[0] == 200
    spare = offering.get("/profiles/training/entries/spare")[1]
    found = [s["key"] for s in spare]
    assert {f"quaysheet/{c['id']} on windows" for c in some} <= set(found) | {"quaysheet/save on windows"}
    gone = {"section": "entries", "items": [{"key": k, "item": None} for k in found]}
    assert offering.post("/profiles/training/items/plan", gone)[1]["would"]["made"] == 0
    assert offering.post("/profiles/training/items", gone)[0] == 200
    assert offering.get("/profiles/training/entries/spare")[1] == []


def test_somebody_elses_own_layer_is_nobodys_to_see_in_full(offering, tove):
    assert tove.get("/profiles/nothing/held")[0] == 404
    assert tove.get("/profiles/nothing/travels")[0] == 404
    assert tove.get("/profiles/offers/nothing")[0] == 404


def test_the_menus_of_a_program_are_there_before_anything_is_arranged(offering):
    def groups():
        status, (bar,) = offering.get("/profiles/house/levels/quaysheet")
        assert status == 200
        return [(g["id"], g["hidden"]) for g in bar["groups"]]

    assert held(offering)["levels"] == []
    assert groups() == [(g, False) for g in ("file", "edit", "rows", "looks", "sailings")]
    save(offering, "menu_groups", {"program": "quaysheet", "id": "looks", "place": "bar", "hidden": True})
    assert groups() == [*((g, False) for g in ("file", "edit", "rows", "sailings")), ("looks", True)]
    assert offering.get("/profiles/house/levels/nothing")[0] == 404
    assert offering.get("/profiles/nothing/levels/quaysheet")[0] == 404


# Preferences on a machine


@pytest.fixture
def agent(offering, machines_folder, signing_key):
    """The agent of counter 3, where the house wants larger text, released with what lets people set it."""
    save(offering, "preferences", ITEMS["preferences"])
    ines = Api("ines")
    wishes = [{"key": r["key"], "number": r["newest"]} for r in ines.get("/releases")[1]]
    assert ines.post("/releases", {"wishes": wishes})[0] == 200
    found = Agent(machines_folder / "counter-3")
    found.round()
    return found


def stands(api):
    return next(m for m in api.get("/machines")[1]["machines"] if m["id"] == "counter-3")["files"][0]


def applied(api, agent):
    assert api.post("/machines/counter-3/apply", {})[0] == 200
    agent.round()


def test_a_preference_is_written_with_the_keys_and_taken_back_with_them(agent, ines):
    before = agent.settings.read_bytes()
    assert "Text size is 100 percent on the machine; 120 percent is wanted." in stands(ines)["differences"]
    applied(ines, agent)
    assert json.loads(agent.settings.read_text())["view"] == {"textSize": 120}
    assert stands(ines)["state"] == "in step"
    back(agent)
    assert agent.settings.read_bytes() == before


def back(agent):
    """The last order taken back."""
    order = Order.objects.latest("id")
    board = current_estate(released=True).board("ticket-counters")
    program = board.setup.program("quaysheet")
    assert order_back(User.objects.get(username="ines"), order, program, program.settings_files[0], board)
    agent.round()


def test_taken_back_beside_another_change_the_preference_goes_and_the_change_stays(agent, ines):
    before = json.loads(agent.settings.read_text())
    applied(ines, agent)
    agent.settings.write_text(agent.settings.read_text().replace('"view": {', '"view": {"theme": "dark", '))
    agent.round()
    back(agent)
    now = json.loads(agent.settings.read_text())
    assert now.pop("view") == {"theme": "dark", "textSize": 100}
    assert now == before


def test_what_somebody_set_since_is_told_and_never_written_over(agent, ines, offering):
    applied(ines, agent)
    own = agent.settings.read_text().replace("120", "150")
    agent.settings.write_text(own)
    agent.round()
    assert any("150 percent on the machine, as somebody set it" in d for d in stands(ines)["differences"])
    save(offering, "preferences", {**ITEMS["preferences"], "value": 130}, "text-size in quaysheet")
    assert ines.post("/profiles/house/release", {"number": 3})[0] == 200
    assert stands(ines)["state"] == "in step"
    assert json.loads(agent.settings.read_text())["view"] == {"textSize": 150}


def test_a_preference_that_is_wanted_no_more_goes_back_to_the_makers(agent, ines, offering):
    applied(ines, agent)
    assert offering.post("/profiles/house/items", wish("preferences", None, "text-size in quaysheet"))[0] == 200
    assert ines.post("/profiles/house/release", {"number": 3})[0] == 200
    assert stands(ines)["differences"] == ["Text size is 120 percent on the machine; 100 percent is wanted."]
    applied(ines, agent)
    assert json.loads(agent.settings.read_text())["view"] == {"textSize": 100}
    assert stands(ines)["state"] == "in step"


# Deciding what is placed


def told(api, kind):
    return next(g for g in groups_of(api) if g["kind"] == kind)


def groups_of(api):
    return list(groups(api).values())


@pytest.mark.parametrize(
    ("kind", "title"),
    [
        ("on_key", "Set und off on a key"),
        ("take_off", "Took und out"),
        ("allow", "Allowed und in Abbreviations as it is"),
    ],
)
def test_an_abbreviation_that_goes_wrong_is_decided_and_undone(offering, ines, kind, title):
    save(offering, "abbreviations", {"id": "u", "short": "und", "text": "und so weiter"})
    clash = told(ines, "abbreviation")
    way = next(w for w in ways(ines, clash["identity"]) if w["kind"] == kind)
    more = {"reason": "They know it."} if kind == "allow" else {}
    status, done = decide(ines, clash["identity"], way["key"], **more)
    assert (status, done["title"]) == (200, title)
    left = [a["item"].get("set_off") for a in held(offering)["abbreviations"]]
    assert left == {"on_key": ["on a key"], "take_off": [], "allow": [None]}[kind]
    assert ines.post(f"/history/{done['id']}/undo")[0] == 200
    assert [a["short"] for a in held(offering)["abbreviations"]] == ["und"]


def test_what_has_its_key_from_its_place_can_not_be_moved_by_hand_but_a_macro_can(offering, ines):
    save(offering, "abbreviations", {"id": "u", "short": "und", "text": "und so weiter"})
    identity = told(ines, "abbreviation")["identity"]
    status, problem = ines.get(f"/clashes/{identity}/ways?setup=ticket-counters&own=F7")
    assert (status, "can't be given another shortcut" in problem["title"]) == (409, True)
    assert ines.get(f"/clashes/{identity}/task?setup=ticket-counters&shortcut=F7") == (200, None)
    save(offering, "macros", {**ITEMS["macros"], "shortcuts": {"windows": ["Meta+L"]}})
    identity = next(g["identity"] for g in groups_of(ines) if g["subject"]["command"] == "macro.m")
    (way,) = ines.get(f"/clashes/{identity}/ways?setup=ticket-counters&own=F7")[1]
    assert way["shortcut"]["text"] == "F7"
    assert decide(ines, identity, way["key"])[0] == 200
    assert held(offering)["macros"][0]["item"]["shortcuts"] == {"windows": ["F7"]}
