"""Filters, several clashes at once, what makers meant, what was decided and can be undone."""

import datetime

import pytest
from django.contrib.auth import get_user_model

from amberkey.server.library.models import ChangeSet, Document
from amberkey.server.library.verbs.release import release
from amberkey.server.people.acting import Actor
from tests.server.unpacked import unpacked

GERMAN, TRAINING = "ticket-counters", "training-centre"


def groups(api, setup=GERMAN, everywhere=False):
    status, body = api.get(f"/clashes?setup={setup}&everywhere={str(everywhere).lower()}")
    assert status == 200
    return {g["subject"]["command"]: g for g in unpacked(body)}


def chosen(found, *names):
    return [{"identity": found[n]["identity"], "setup": found[n]["seen_in"]} for n in names]


def plan(api, *names):
    status, body = api.post("/settlements/plan", {"chosen": chosen(groups(api), *names)})
    assert status == 200, body
    return body


def settle(api, told, reason=""):
    given = {"chosen": [{"identity": s["identity"], "setup": GERMAN} for s in told["settled"]]}
    return api.post("/settlements", {**given, "ways": [s["way"] for s in told["settled"]], "reason": reason})


def test_several_are_settled_as_the_plan_told_and_undone_as_one(ines):
    told = plan(ines, "quote-fare", "fold-all")
    assert all(s["done"] for s in told["settled"])
    assert told["makes"] == []
    assert len(told["solves"]) >= 2
    before = ines.get("/documents/profile/house")[1]
    status, change = settle(ines, told, "Tidied up")
    assert status == 200
    assert "Settled 2 clashes" in change["title"]
    assert not {"quote-fare", "fold-all"} & groups(ines).keys()
    (decided,) = ines.get("/clashes/decided")[1]["decided"]
    assert (decided["reason"], decided["by"], decided["why_not"]) == ("Tidied up", "Ines", "")
    ines.post(f"/history/{change['id']}/undo")
    assert ines.get("/documents/profile/house")[1] == before


def test_settling_one_is_worth_what_its_way_out_is(ines):
    (group,) = chosen(groups(ines), "quote-fare")
    told = plan(ines, "quote-fare")
    ways = ines.get(f"/clashes/{group['identity']}/ways?setup={group['setup']}")[1]
    way = next(w for w in ways if w["key"] == told["settled"][0]["way"])
    assert told["worth"] == way["worth"]
    assert told["worth"]["says"]


def test_a_plan_that_is_old_is_not_carried_out(ines, jorun):
    told = plan(ines, "quote-fare", "fold-all")
    taken = told["settled"][0]["way"].removeprefix("move:")
    given = {"setup": GERMAN, "program": "quaysheet", "command": "filter", "shortcuts": [taken]}
    assert jorun.post("/commands/shortcuts", given)[0] == 200
    status, problem = settle(ines, told)
    assert status == 409
    assert "other ones by now" in problem["title"]


def test_one_that_was_decided_meanwhile_is_named(ines, jorun):
    told = plan(ines, "quote-fare", "fold-all")
    identity = told["settled"][0]["identity"]
    jorun.post(f"/clashes/{identity}/decision", {"setup": GERMAN, "way": told["settled"][0]["way"]})
    status, problem = settle(ines, told)
    assert (status, problem["by"]) == (409, "Jorun")


@pytest.mark.parametrize("number", [0, 61])
def test_none_and_too_many_are_refused(ines, number):
    one = chosen(groups(ines), "quote-fare")[0]
    many = [{**one, "identity": f"{n:016x}"} for n in range(number)]
    status, problem = ines.post("/settlements/plan", {"chosen": many})
    assert status in (400, 404)
    assert problem["title"]


def test_several_are_allowed_with_one_reason(ines):
    found = groups(ines)
    until = (datetime.datetime.now(tz=datetime.UTC).date() + datetime.timedelta(days=9)).isoformat()
    given = {"chosen": chosen(found, "quote-fare", "fold-all"), "reason": "Only until the training", "until": until}
    assert ines.post("/allowances", given)[0] == 200
    after = groups(ines)
    assert {after[n]["allowed"]["until"] for n in ("quote-fare", "fold-all")} == {until}
    assert ines.post("/allowances", {**given, "reason": " "})[0] == 400
    assert ines.post("/allowances", {**given, "chosen": []})[0] == 400


def test_readers_settle_nothing(tove):
    found = chosen(groups(tove), "quote-fare")
    assert tove.post("/settlements/plan", {"chosen": found})[0] == 200
    assert tove.post("/settlements", {"chosen": found, "ways": ["x"]})[0] == 403
    assert tove.post("/allowances", {"chosen": found, "reason": "because"})[0] == 403
    assert tove.post("/meanings", {"chosen": found, "meant": True})[0] == 403


def of_the_maker(api):
    return next(g for g in groups(api).values() if g["may_be_meant"])


def test_what_a_maker_meant_goes_out_of_sight_and_comes_back(ines):
    group = of_the_maker(ines)
    one = {"chosen": [{"identity": group["identity"], "setup": GERMAN}]}
    status, change = ines.post("/meanings", {**one, "meant": True})
    assert status == 200
    assert group["subject"]["command"] not in groups(ines)
    marked = {g["identity"]: g for g in ines.get(f"/clashes/meant?setup={GERMAN}")[1]["groups"]}
    assert marked[group["identity"]]["meaning"]["by"] == "Ines"
    assert ines.post("/meanings", {**one, "meant": False})[0] == 200
    assert group["subject"]["command"] in groups(ines)
    assert ines.get("/documents/decisions/decisions")[1].get("meant", []) == []  # what is so anyway isn't written down
    assert ines.get("/clashes/decided")[1]["decided"][-1]["id"] == change["id"]


def test_a_clash_that_somebody_made_is_no_matter_of_the_maker(ines):
    found = groups(ines)
    status, problem = ines.post("/meanings", {"chosen": chosen(found, "print-manifest"), "meant": True})
    assert status == 409
    assert problem["cure"]


def test_decisions_are_found_by_words_and_say_why_they_stay(ines, jorun):
    found = groups(ines)
    way = next(w for w in ines.get(f"/clashes/{found['quote-fare']['identity']}/ways?setup={GERMAN}")[1] if w["kind"] == "move")
    ines.post(f"/clashes/{found['quote-fare']['identity']}/decision", {"setup": GERMAN, "way": way["key"], "reason": "Euro"})
    given = {"setup": GERMAN, "program": "quaysheet", "command": "quote-fare", "shortcuts": ["Control+Shift+K"]}
    assert jorun.post("/commands/shortcuts", given)[0] == 200
    (decided,) = ines.get("/clashes/decided?words=euro fare")[1]["decided"]
    assert decided["why_not"].startswith("Jorun changed the same in House since: Gave Quote the fare")
    assert ines.post(f"/history/{decided['id']}/undo")[0] == 409
    assert ines.get("/clashes/decided?words=nothing such")[1]["total"] == 0


def test_pages_of_decisions_hold_fifty(ines):
    user = get_user_model().objects.get(username="ines")
    for n in range(120):
        one = ChangeSet.objects.create(actor=user, title=f"Decision {n}")
        one.settled.create(clash=f"{n:016x}")
    found = ines.get("/clashes/decided?page=3")[1]
    assert (found["total"], found["pages"], len(found["decided"])) == (120, 3, 20)
    assert found["decided"][-1]["title"] == "Decision 0"
    assert ines.get("/clashes/decided?page=99")[1]["page"] == 3


def test_groups_say_what_they_are_chosen_by(ines):
    body = ines.get(f"/clashes?setup={GERMAN}")[1]
    assert {k["id"] for k in body["kinds"]} >= {g["kind"] for g in unpacked(body)}
    for group in unpacked(body):
        assert GERMAN in group["setups"]
        assert group["people"] >= 31


def test_what_is_new_since_the_release_says_so(ines):
    actor = Actor(get_user_model().objects.get(username="ines"))
    release(actor, "profile/house", Document.objects.get(key="profile/house").newest.number)
    assert not any(g["new"] for g in groups(ines).values())
    given = {"setup": GERMAN, "program": "quaysheet", "command": "filter", "shortcuts": ["Meta+L"]}
    assert ines.post("/commands/shortcuts", given)[0] == 200
    assert [n for n, g in groups(ines).items() if g["new"]] == ["filter"]


def test_where_a_decision_lands_and_whom_it_reaches(ines):
    identity = groups(ines)["quote-fare"]["identity"]
    status, found = ines.get(f"/clashes/{identity}/landings?setup={GERMAN}")
    assert status == 200
    assert [(x["name"], x["copies"]) for x in found] == [("House", 1)]
    assert found[0]["others"] > 0  # the harbour's keyboard is a US one, and has no such clash


def test_a_task_moves_along_or_says_that_it_has_none(ines):
    found = groups(ines)
    with_task = next(g for g in found.values() if g["subject"]["program"] == "quaysheet" and _task(ines, g) is not None)
    told = _task(ines, with_task)
    assert told["way"]["key"] == "task:Control+Shift+J"
    status, change = ines.post(
        f"/clashes/{with_task['identity']}/decision", {"setup": GERMAN, "way": told["way"]["key"], "reason": "Everywhere alike"}
    )
    assert status == 200
    assert "its task in every program" in change["title"]
    without = next(g for g in groups(ines).values() if _task(ines, g) is None)
    problem = ines.post(f"/clashes/{without['identity']}/decision", {"setup": GERMAN, "way": "task:Control+Shift+Y"})
    assert problem[0] == 400


def _task(api, group):
    return api.get(f"/clashes/{group['identity']}/task?setup={GERMAN}&shortcut=Control%2BShift%2BJ")[1]
