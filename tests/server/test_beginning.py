"""From an empty database to a standard: everything is made through the API, and everything can be taken back."""

import datetime

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.utils import timezone

from amberkey.core.organisation.model import Organisation
from amberkey.core.profiles.decisions import Decisions
from amberkey.server.library.models import Document
from amberkey.server.library.verbs import first
from amberkey.server.people.models import OneTimeLink, User
from amberkey.server.people.verbs.link import first_link
from tests.server.conftest import Api
from tests.server.unpacked import unpacked

PASSWORD = "Tidal-Basin-42"


def begin(name="merete", called="Merete") -> Api:
    api = Api()
    given = {"secret": first_link(), "signs_in_as": name, "name": called, "password": PASSWORD}
    status, session = api.post("/links/use", given)
    assert (status, session["me"]["role"]) == (200, "administrator")
    return api


@pytest.fixture
def merete(db) -> Api:
    return begin()


def steps(api):
    return {s["id"]: s["state"] for s in api.get("/beginning")[1]["steps"]}


def make_program(api, name="Tide Ledger", *commands, **more):
    body = {"name": name, "platforms": ["windows"], **more}
    status, made = api.post("/catalogue", body)
    assert status == 200, made
    if commands:
        save(api, made["program"], made["version"], commands)
    return made["program"], made["version"]


def edit_of(api, program, version, commands=None, **more):
    now = api.get(f"/catalogue/{program}/{version}")[1]
    kept = {k: now[k] for k in ("digest", "name", "description", "kind", "platforms", "scopes", "commands")}
    return {**kept, **({"commands": list(commands)} if commands is not None else {}), **more}


def save(api, program, version, commands, **more):
    status, done = api.put(f"/catalogue/{program}/{version}", edit_of(api, program, version, commands, **more))
    assert status == 200, done
    return done


def seat(api, *programs):
    item = {"id": "ada", "name": "Ada", "department": "everybody"}
    used = [{"id": "windows", "version": "11"}, *({"id": p, "version": v} for p, v in programs)]
    desk = {"id": "desk", "name": "Desk", "platform": "windows", "edition": "Pro", "layouts": ["de"], "body": "iso"}
    items = [
        {"section": "people", "before": None, "after": item},
        {"section": "machines", "before": None, "after": {**desk, "programs": used}},
        {"section": "seats", "before": None, "after": {"person": "ada", "machine": "desk"}},
    ]
    status, done = api.post("/organisation/change", {"title": "Seated Ada", "items": items})
    assert status == 200, done


def test_the_first_day_from_nothing(merete):
    assert steps(merete)["organisation"] == "next"
    assert merete.post("/beginning/organisation", {"name": "Northgate Water Board"})[0] == 200
    assert steps(merete) | {"organisation": "done", "programs": "next"} == steps(merete)
    commands = [
        {"name": "Save", "keys": {"windows": "Ctrl+S"}},
        {"name": "Print", "keys": {"windows": "Ctrl+P"}},
        {"name": "Stamp", "keys": {"windows": "Ctrl+P"}},
    ]
    ledger = make_program(merete, "Tide Ledger", *commands)
    assert merete.post("/tasks/neutral", {"groups": ["Files"]})[0] == 200
    edited = merete.get(f"/catalogue/{ledger[0]}/{ledger[1]}")[1]["commands"]
    tasks = {"Save": "save-document", "Print": "print-document"}
    save(merete, *ledger, [{**c, "task": tasks.get(c["name"])} for c in edited])
    seat(merete, ledger)
    setup = merete.get("/lenses")[1][0]["setup"]
    found = unpacked(merete.get(f"/clashes?setup={setup}")[1])
    assert [g["kind"] for g in found if g["severity"] != "low"] == ["same_scope"]
    identity = next(g["identity"] for g in found if g["kind"] == "same_scope")
    ways = merete.get(f"/clashes/{identity}/ways?setup={setup}")[1]
    move = next(w for w in ways if w["kind"] == "move")["key"]
    status, done = merete.post(f"/clashes/{identity}/decision", {"setup": setup, "way": move})
    assert status == 200, done
    assert merete.get("/documents/profile/house")[1]["entries"] != []
    begun = merete.get("/standard/beginnings")[1]
    assert {w["way"]: w["lines"] for w in begun["ways"]}["presses"] == 2
    assert merete.post("/standard/beginnings", {"way": "presses"})[0] == 200
    assert merete.client.get("/api/profiles/house/bundle").status_code == 200
    assert set(steps(merete).values()) == {"done"}


def test_a_decision_that_would_reach_nobody_is_refused_with_what_to_do(merete):
    merete.post("/beginning/organisation", {"name": "Northgate Water Board"})
    ledger = make_program(merete, "Tide Ledger", *({"name": n, "keys": {"windows": "Ctrl+P"}} for n in ("Print", "Stamp")))
    seat(merete, ledger)
    assert merete.post("/profiles/house/holders", {"whom": "everybody", "given": False})[0] == 200
    setup = merete.get("/lenses")[1][0]["setup"]
    identity = next(g["identity"] for g in unpacked(merete.get(f"/clashes?setup={setup}")[1]) if g["kind"] == "same_scope")
    status, refused = merete.get(f"/clashes/{identity}/ways?setup={setup}")
    assert (status, "give it to everybody" in refused["cure"]) == (409, True)
    assert merete.post("/profiles/house/holders", {"whom": "everybody", "given": True})[0] == 200
    setup = merete.get("/lenses")[1][0]["setup"]
    assert merete.get(f"/clashes/{identity}/ways?setup={setup}")[0] == 200


@pytest.mark.parametrize("by", ["a way out", "a shortcut"])
def test_where_there_is_no_house_profile_the_first_decision_makes_it_and_undo_takes_it_away(db, monkeypatch, by):
    nothing = (Organisation(id="organisation", name="Northgate"), Decisions(id="decisions", name="Allowed clashes"))
    monkeypatch.setattr(first, "_FIRST", nothing)
    merete = begin()
    assert merete.post("/beginning/organisation", {"name": "Northgate"})[0] == 200
    ledger = make_program(merete, "Tide Ledger", *({"name": n, "keys": {"windows": "Ctrl+P"}} for n in ("Print", "Stamp")))
    seat(merete, ledger)
    assert merete.get("/documents/profile/house")[0] == 404
    (lens,) = merete.get("/lenses")[1]
    setup = lens["setup"]
    identity = next(g["identity"] for g in unpacked(merete.get(f"/clashes?setup={setup}")[1]) if g["kind"] == "same_scope")
    if by == "a way out":
        ways = merete.get(f"/clashes/{identity}/ways?setup={setup}")[1]
        move = next(w for w in ways if w["kind"] == "move")
        assert len(move["solves"]) == 1
        status, done = merete.post(f"/clashes/{identity}/decision", {"setup": setup, "way": move["key"]})
    else:
        body = {"setup": setup, "program": ledger[0], "command": "stamp", "shortcuts": ["F9"]}
        status, done = merete.post("/commands/shortcuts", body)
    assert status == 200, done
    assert len(merete.get("/documents/profile/house")[1]["entries"]) == 1
    assert merete.get("/documents/organisation/organisation")[1]["profiles"] == ["house"]
    (after,) = merete.get("/lenses")[1]
    assert after["setup"] == setup  # the same one as it was told before
    assert [g for g in unpacked(merete.get(f"/clashes?setup={setup}")[1]) if g["kind"] == "same_scope"] == []
    assert merete.post(f"/history/{done['id']}/undo")[0] == 200
    assert merete.get("/documents/profile/house")[0] == 404
    assert "profiles" not in merete.get("/documents/organisation/organisation")[1]
    assert merete.post(f"/history/{done['id']}/redo")[0] == 200
    assert len(merete.get("/documents/profile/house")[1]["entries"]) == 1
    # Undone once more, another decision brings it back with itself alone.
    assert merete.post(f"/history/{done['id']}/undo")[0] == 200
    body = {"setup": setup, "program": ledger[0], "command": "print", "shortcuts": ["F8"]}
    status, other = merete.post("/commands/shortcuts", body)
    assert status == 200, other
    assert [e["command"] for e in merete.get("/documents/profile/house")[1]["entries"]] == ["print"]
    assert merete.post(f"/history/{other['id']}/undo")[0] == 200
    assert merete.get("/documents/profile/house")[0] == 404


def test_every_screen_answers_before_there_is_anything(merete):
    paths = ("/lenses", "/catalogue", "/tasks", "/tasks/neutral", "/profiles", "/organisation", "/organisation/setups")
    more = (
        "/organisation/table/people",
        "/machines",
        "/standard/beginnings",
        "/beginning",
        "/history",
        "/releases",
        "/deleted",
    )
    assert [(p, merete.get(p)[0]) for p in (*paths, *more) if merete.get(p)[0] != 200] == []


def test_a_link_works_once_and_says_why_it_does_not(db):
    secret = first_link()
    merete = Api()
    assert merete.post("/links/look", {"secret": secret})[1]["first"]
    weak = {"secret": secret, "signs_in_as": "merete", "name": "Merete", "password": "merete1"}
    status, problem = merete.post("/links/use", weak)
    assert (status, problem["title"]) == (400, "This password can't be taken.")
    assert User.objects.count() == 0
    assert merete.post("/links/use", {**weak, "password": PASSWORD})[0] == 200
    for path, body in (("/links/look", {"secret": secret}), ("/links/use", {**weak, "password": PASSWORD})):
        status, problem = Api().post(path, body)
        assert (status, problem["title"]) == (403, "This link doesn't work.")
        assert "was used" in problem["detail"]
    assert "not one of ours" in Api().post("/links/look", {"secret": "forged"})[1]["detail"]
    assert first_link() is None


def test_an_old_link_and_one_that_a_newer_one_replaced_do_not_work(db):
    first = first_link()
    second = first_link()
    assert Api().post("/links/look", {"secret": first})[0] == 403
    OneTimeLink.objects.update(expires_at=timezone.now() - datetime.timedelta(minutes=1))
    assert "was good until" in Api().post("/links/look", {"secret": second})[1]["detail"]


def test_accounts_are_added_changed_and_closed(merete):
    status, added = merete.post("/accounts", {"signs_in_as": "odd", "name": "Odd", "role": "editor"})
    assert status == 200
    odd = Api()
    used = {"secret": added["link"]["secret"], "password": "Harbour-Wall-7"}
    assert odd.post("/links/use", used)[1]["me"]["role"] == "editor"
    assert odd.get("/accounts")[0] == 403
    one = added["account"]["id"]
    assert merete.put(f"/accounts/{one}", {"role": "reader"})[1]["role"] == "reader"
    assert odd.post("/beginning/organisation", {"name": "Odd's"})[0] == 403
    listed = {a["signs_in_as"]: a for a in merete.get("/accounts")[1]}
    assert len(listed["odd"]["sessions"]) == 1
    assert merete.post(f"/accounts/{one}/sessions/end")[1] == {"ended": 1}
    assert odd.get("/lenses")[0] == 401
    assert odd.post("/session", {"name": "odd", "password": "Harbour-Wall-7"})[0] == 200
    assert merete.put(f"/accounts/{one}", {"active": False})[1]["active"] is False
    assert odd.get("/lenses")[0] == 401
    assert odd.post("/session", {"name": "odd", "password": "Harbour-Wall-7"})[0] == 401
    assert merete.post(f"/accounts/{one}/link")[0] == 409
    assert merete.put(f"/accounts/{one}", {"active": True})[1]["active"] is True
    assert odd.post("/session", {"name": "odd", "password": "Harbour-Wall-7"})[0] == 200


@pytest.mark.parametrize("change", [{"role": "releaser"}, {"active": False}])
def test_the_last_administrator_stays(merete, change):
    me = next(a for a in merete.get("/accounts")[1] if a["me"])
    status, problem = merete.put(f"/accounts/{me['id']}", change)
    assert (status, problem["title"]) == (409, "Merete is the last administrator.")
    assert merete.get("/accounts")[0] == 200
    other = merete.post("/accounts", {"signs_in_as": "odd", "role": "administrator"})[1]["account"]
    assert merete.put(f"/accounts/{me['id']}", change)[0] == 200
    assert User.objects.get(pk=other["id"]).is_active


@pytest.mark.parametrize("name", ["", "MERETE", "two words", "merete "])
def test_names_to_sign_in_with_are_checked(merete, name):
    status, problem = merete.post("/accounts", {"signs_in_as": name})
    assert status in (400, 409)
    assert problem["cure"] == "Choose another name."


def test_everybody_changes_their_own_password_and_ends_their_other_sessions(merete):
    elsewhere = Api()
    elsewhere.post("/session", {"name": "merete", "password": PASSWORD})
    assert len(merete.get("/session/open")[1]) == 2
    assert merete.put("/session/password", {"now": "wrong", "after": "Harbour-Wall-7"})[0] == 403
    assert merete.put("/session/password", {"now": PASSWORD, "after": "1234567890"})[0] == 400
    assert merete.put("/session/password", {"now": PASSWORD, "after": "Harbour-Wall-7"})[0] == 200
    assert elsewhere.get("/lenses")[0] == 401
    assert [s["this"] for s in merete.get("/session/open")[1]] == [True]
    assert Api().post("/session", {"name": "merete", "password": PASSWORD})[0] == 401


def test_who_did_what_is_found_and_taken_as_a_list(merete):
    merete.post("/accounts", {"signs_in_as": "odd", "name": "Odd"})
    make_program(merete)
    found = merete.get("/audit?words=tide-ledger")[1]
    assert [(r["who"], r["did"], r["detail"]) for r in found["rows"]] == [("Merete", "changed", "Made Tide Ledger")]
    assert merete.get("/audit?did=added an account")[1]["total"] == 1
    assert merete.get("/audit?until=2020-01-01")[1]["total"] == 0
    assert merete.get("/audit?who=Nobody")[1]["rows"] == []
    sheet = merete.client.get("/api/audit.csv?did=added an account").content.decode("utf-8-sig")
    assert [line.split(",")[2:5] for line in sheet.splitlines()[1:]] == [["Merete", "added an account", "account/odd"]]


def test_making_a_program_is_undone_and_done_again(merete):
    program, version = make_program(merete)
    last = merete.get("/history")[1][0]
    assert merete.post(f"/history/{last['id']}/undo")[0] == 200
    assert merete.get(f"/catalogue/{program}/{version}")[0] == 404
    status, problem = merete.post("/catalogue", {"name": "Tide Ledger", "platforms": ["windows"]})
    assert (status, "Bring that one back" in problem["cure"]) == (409, True)
    assert merete.post(f"/history/{last['id']}/redo")[0] == 200
    assert merete.get(f"/catalogue/{program}/{version}")[0] == 200


def test_a_program_with_newer_work_is_not_undone_away(merete):
    program, version = make_program(merete)
    made = merete.get("/history")[1][0]
    done = save(merete, program, version, [{"name": "Save"}])
    status, problem = merete.post(f"/history/{made['id']}/undo")
    assert (status, problem["title"]) == (409, "Tide Ledger has newer work in it.")
    assert merete.get(f"/history/{made['id']}")[1]["why_not"].startswith("Merete changed Tide Ledger since")
    assert merete.post(f"/history/{done['id']}/undo")[0] == 200
    assert merete.post(f"/history/{made['id']}/undo")[0] == 200


def test_programs_are_copied_and_get_new_versions(merete):
    program, version = make_program(merete, "Tide Ledger", {"name": "Save", "keys": {"windows": "Ctrl+S"}})
    like = {"like": f"{program}@{version}", "platforms": ["windows"]}
    assert merete.post("/catalogue", {**like, "name": "Wave Ledger"})[1]["program"] == "wave-ledger"
    assert merete.post("/catalogue", {**like, "name": "x", "version": "2", "as_version": True})[1]["program"] == program
    status, problem = merete.post("/catalogue", {**like, "name": "x", "version": "2", "as_version": True})
    assert (status, "already" in problem["detail"]) == (400, True)
    assert merete.post("/catalogue", {**like, "name": "Tide  ledger"})[0] == 400
    listed = merete.get("/catalogue")[1]["programs"]
    assert [(p["id"], p["version"], p["commands"]) for p in listed if not p["table"]] == [
        ("tide-ledger", "1", 1),
        ("tide-ledger", "2", 1),
        ("wave-ledger", "1", 1),
    ]


def test_what_an_edit_of_a_program_does_is_told_first(merete):
    merete.post("/beginning/organisation", {"name": "Northgate"})
    merete.post("/tasks/neutral", {"groups": ["Files"]})
    save_it = {"name": "Save", "keys": {"windows": "Ctrl+S"}, "task": "save-document"}
    ledger = make_program(merete, "Tide Ledger", save_it, {"name": "Print", "keys": {"windows": "Ctrl+P"}})
    seat(merete, ledger)
    setup = merete.get("/lenses")[1][0]["setup"]
    given = {"setup": setup, "program": ledger[0], "command": "save", "shortcuts": ["F8"]}
    assert merete.post("/commands/shortcuts", given)[0] == 200
    assert merete.post("/standard/beginnings", {"way": "presses"})[0] == 200
    path = f"/catalogue/{ledger[0]}/{ledger[1]}"
    gone = edit_of(merete, *ledger, [{"id": "print", "name": "Print"}])
    plan = merete.post(f"{path}/plan", gone)[1]
    assert plan["orphans"] == ["House: F8 for Save"]
    assert plan["lines"] == ["Save the document"]
    both = edit_of(
        merete, *ledger, [{"id": "save", "name": "Save"}, {"id": "print", "name": "Print", "keys": {"windows": "F8"}}]
    )
    assert merete.post(f"{path}/plan", both)[1]["made"] == 1
    renamed = edit_of(merete, *ledger, [{"id": "save", "name": "Keep"}, {"id": "print", "name": "Print"}])
    assert merete.post(f"{path}/plan", renamed)[1]["orphans"] == []
    bad = edit_of(merete, *ledger, [{"name": "x", "keys": {"windows": "Ctrl+Nonsense"}}])
    status, problem = merete.post(f"{path}/plan", bad)
    assert (status, problem["faults"][0]["place"]) == (400, "commands[0].keys.windows")


def test_two_who_edit_a_program_lose_nothing(merete):
    ledger = make_program(merete, "Tide Ledger", {"name": "Save"}, {"name": "Print"})
    mine = edit_of(merete, *ledger, [{"id": "save", "name": "Save", "group": "Files"}, {"id": "print", "name": "Print"}])
    theirs = edit_of(merete, *ledger, [{"id": "save", "name": "Save"}, {"id": "print", "name": "Print", "group": "Files"}])
    path = f"/catalogue/{ledger[0]}/{ledger[1]}"
    assert merete.put(path, mine)[0] == 200
    assert merete.put(path, theirs)[0] == 200
    assert [c["group"] for c in merete.get(path)[1]["commands"]] == ["Files", "Files"]
    again = edit_of(merete, *ledger, [{"id": "save", "name": "Save", "group": "A"}, {"id": "print", "name": "Print"}])
    other = {**again, "commands": [{**again["commands"][0], "group": "B"}, again["commands"][1]]}
    assert merete.put(path, again)[0] == 200
    status, problem = merete.put(path, other)
    assert (status, [c["key"] for c in problem["contradictions"]]) == (409, ["save"])
    (both,) = problem["contradictions"]
    assert (both["base"]["group"], both["ours"]["group"], both["theirs"]["group"]) == ("Files", "B", "A")
    assert both["says_ours"] != both["says_theirs"]
    chosen = [{"section": "commands", "key": "save", "value": both["ours"]}]
    assert merete.put(path, {**other, "chosen": chosen})[0] == 200
    assert [c["group"] for c in merete.get(path)[1]["commands"]] == ["B", "Files"]


def test_tasks_are_taken_made_merged_split_and_taken_out(merete):
    assert merete.post("/tasks/neutral", {"groups": ["Files", "Finding"]})[0] == 200
    assert merete.post("/tasks/neutral", {"groups": ["Attic"]})[0] == 404
    groups = {g["name"]: (g["tasks"], g["there"]) for g in merete.get("/tasks/neutral")[1]}
    assert groups["Files"] == (15, 15)
    assert groups["Text"][1] == 0
    assert merete.post("/tasks", {"name": "Stamp", "usual": {"windows": "Ctrl+Shift+S or F9"}})[0] == 200
    assert (
        merete.post("/tasks", {"name": "Seal", "usual": {"windows": "Ctrl+Nonsense"}})[1]["faults"][0]["place"]
        == "usual.windows"
    )
    commands = [
        {"name": "Stamp it", "task": "stamp"},
        {"name": "Save", "task": "save-document"},
        {"name": "Keep", "task": "stamp"},
    ]
    ledger = make_program(merete, "Tide Ledger", *commands)
    plan = merete.post("/tasks/merge/plan", {"gone": "stamp", "into": "save-document"})[1]
    assert (plan["commands"], plan["programs"], plan["could"]) == (2, ["Tide Ledger"], 0)
    assert merete.post("/tasks/merge", {"gone": "stamp", "into": "save-document"})[0] == 200
    one = {t["id"]: t for t in merete.get("/tasks")[1]["tasks"]}
    assert "stamp" not in one
    assert (one["save-document"]["commands"], "Stamp" in one["save-document"]["other_words"]) == (3, True)
    split = {"name": "Seal", "commands": [{"program": ledger[0], "command": "keep"}]}
    assert merete.post("/tasks/one/save-document/split", split)[0] == 200
    done = [c["command"] for c in merete.get("/tasks/one/seal/commands")[1]]
    assert done == ["keep"]
    assert merete.put("/tasks/families/new", {"name": "Both", "step": "shift", "members": ["seal", "save-document"]})[0] == 200
    assert merete.post("/tasks/one/seal/removal")[0] == 200
    assert [f["name"] for f in merete.get("/tasks")[1]["families"]] == ["Find onwards and back"]
    last = merete.get("/history")[1][0]
    assert merete.post(f"/history/{last['id']}/undo")[0] == 200
    assert [c["command"] for c in merete.get("/tasks/one/seal/commands")[1]] == ["keep"]
    assert {"name": "Both"}.items() <= merete.get("/tasks")[1]["families"][0].items()


def test_what_a_change_of_tasks_does_is_told_before_it_is_saved(ines):
    lines = [{"task": t, "platform": "windows", "keys": k} for t, k in (("save", "Control+S"), ("copy", "Control+C"))]
    assert ines.post("/standard/lines", {"lines": lines})[0] == 200
    save = next(t for t in ines.get("/tasks")[1]["tasks"] if t["id"] == "save")
    same = {"name": save["name"], "group": save["group"], "other_words": save["other_words"], "protected": True}
    plan = ines.post("/tasks/one/save/plan", {**same, "usual": save["usual"]})[1]
    assert plan["commands"] > 2
    assert (plan["made"], plan["solved"], plan["coming"], plan["lines_apart"], plan["agree"]) == (
        *(0, 0, 0, plan["lines_apart_then"]),
        plan["agree_then"],
    )
    moved = ines.post("/tasks/one/save/plan", {**same, "usual": {**save["usual"], "windows": "F9"}})[1]
    assert moved["lines_apart_then"] == plan["lines_apart"] + (1 if moved["lines"] else 0)
    commands = [c for c in ines.get("/tasks/one/save/commands")[1] if c["program"] == "quaysheet"]
    chosen = [{"program": c["program"], "command": c["command"]} for c in commands]
    before = ines.get("/history")[1]
    split = ines.post("/tasks/one/save/split/plan", {"name": "Save the sheet", "commands": chosen})[1]
    assert (split["commands"], split["programs"], split["lines_gone"]) == (len(commands), ["Quaysheet"], 0)
    assert split["could_then"] < split["could"]
    assert any("has" in s or "means" in s for s in split["come"] + split["go"])
    family = {"name": "Shifted", "step": "shift", "members": ["save", "copy"]}
    broken = ines.post("/tasks/families/new/plan", family)[1]
    assert any("Shifted on Windows doesn't keep one shape" in s for s in broken["come"])
    assert ines.get("/history")[1] == before
    assert ines.post("/tasks/one/attic/plan", {**same, "usual": {}})[0] == 404
    assert ines.post("/tasks/one/save/plan", {**same, "usual": {"windows": "Ctrl+Nonsense"}})[0] == 400


def test_profiles_are_made_described_given_copied_deleted_and_brought_back(merete):
    merete.post("/beginning/organisation", {"name": "Northgate", "department": "Weir"})
    status, made = merete.post("/profiles/new", {"name": "Weir keepers"})
    assert (status, made["profile"]) == (200, "weir-keepers")
    assert merete.post("/profiles/new", {"name": "Weir-Keepers"})[1]["faults"][0]["place"] == "name"
    path = "/profiles/weir-keepers"
    assert merete.put(f"{path}/about", {"name": "Keepers", "description": "Those at the weir."})[0] == 200
    assert merete.post(f"{path}/holders", {"whom": "departments", "id": "weir"})[0] == 200
    assert merete.post(f"{path}/holders", {"whom": "departments", "id": "weir"})[0] == 409
    assert merete.get(f"{path}/holders")[1] == [{"whom": "departments", "id": "weir", "name": "Weir"}]
    assert merete.post("/profiles/new", {"name": "Like keepers", "like": "weir-keepers"})[0] == 200
    status, problem = merete.post("/documents/profile/weir-keepers/delete")
    assert (status, "Weir" in problem["detail"] or "departments" in problem["detail"]) == (400, True)
    assert merete.post(f"{path}/holders", {"whom": "departments", "id": "weir", "given": False})[0] == 200
    assert merete.post("/documents/profile/weir-keepers/delete")[0] == 200
    last = merete.get("/history")[1][0]
    assert last["title"] == "Deleted Keepers"
    assert merete.post(f"/history/{last['id']}/undo")[0] == 200
    assert Document.objects.get(key="profile/weir-keepers").deleted_at is None


def test_the_standard_begins_once_and_is_undone(merete):
    merete.post("/tasks/neutral", {})
    make_program(merete, "Tide Ledger", {"name": "Save", "keys": {"windows": "Ctrl+S"}, "task": "save-document"})
    ways = {w["way"]: w for w in merete.get("/standard/beginnings")[1]["ways"]}
    assert ways["presses"]["lines"] == 0
    assert ways["usual"]["lines"] > 60
    assert merete.post("/standard/beginnings", {"way": "usual"})[0] == 200
    assert merete.post("/standard/beginnings", {"way": "empty"})[0] == 409
    assert merete.get("/standard/beginnings")[1]["begun"]
    last = merete.get("/history")[1][0]
    assert merete.post(f"/history/{last['id']}/undo")[0] == 200
    assert not merete.get("/standard/beginnings")[1]["begun"]


def test_a_program_is_brought_in_out_of_a_file(merete):
    program, version = make_program(merete, "Tide Ledger", {"name": "Save", "arguments": [{"name": "by", "values": ["1"]}]})
    data = merete.client.get(f"/api/documents/program/{program}@{version}").content

    def bring(content):
        return merete.send("/catalogue/file", {"file": SimpleUploadedFile("x.json", content)})

    status, problem = bring(data)
    assert (status, problem["title"]) == (409, "There is a program tide-ledger@1 already.")
    other = data.replace(b'"tide-ledger"', b'"wave-ledger"')
    status, made = bring(other)
    assert (status, made["program"]) == (200, "wave-ledger")
    read = merete.get("/catalogue/wave-ledger/1")[1]["commands"][0]
    named = {"name": "by", "values": ["1"], "least": None, "most": None}
    assert (read["arguments"], read["retired"]) == ([named], False)
    profile = merete.client.get("/api/documents/profile/house").content
    assert bring(profile)[1]["title"] == "This is no program."
    assert bring(b"{")[0] == 400
    assert bring(b"\xff\xfe")[0] == 400
