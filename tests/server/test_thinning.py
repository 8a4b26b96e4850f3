"""Dropping old revisions by a job: what is told before is what goes, however often the job is killed."""

import datetime

import pytest

from amberkey.core.documents.thinning import Rule
from amberkey.server.library.models import Body, Revision, Thinning
from amberkey.server.library.verbs import thin as verb

from .test_comparing import HOUSE, entries, moved, save

ALL_OLD = {"all_days": 0, "daily_days": 0, "weekly": False}


@pytest.fixture
def aged(ines):
    """The house profile with ten revisions, the older ones of long ago; the third is named."""
    for n in range(9):
        save(ines, f"n{n}", entries=moved(ines, f"F{n + 1}"))
    long_ago = datetime.datetime(2025, 1, 6, tzinfo=datetime.UTC)
    for revision in Revision.objects.filter(document_id="profile/house").exclude(number=10):
        Revision.objects.filter(pk=revision.pk).update(at=long_ago + datetime.timedelta(hours=revision.number))
    Revision.objects.filter(document_id="profile/house", number=3).update(name="Summer")
    return ines


def left():
    return sorted(Revision.objects.filter(document_id="profile/house").values_list("number", flat=True))


def begun(api):
    status, found = api.post("/space/thin", ALL_OLD)
    assert status == 200, found
    return found["id"]


def test_what_is_told_before_is_what_goes(aged, arvid):
    told = arvid.post("/space/plan", ALL_OLD)[1]
    assert {d["document"]: d["count"] for d in told["documents"]} == {"profile/house": 7}
    before = arvid.get("/space")[1]
    assert before["one"] > 0
    id_ = begun(arvid)
    verb.do_thin(id_)
    done = Thinning.objects.get(id=id_)
    assert (done.state, done.dropped, done.freed) == ("done", told["drop"], told["freed"])
    assert left() == [1, 3, 10]
    after = arvid.get("/space")[1]
    assert after["bytes"] == before["bytes"] - told["freed"] == told["left"]
    assert entries(aged)["quaysheet/paste-values"] == ["F9"]
    assert arvid.post("/space/thin", ALL_OLD)[0] == 409  # nothing would go any more


def test_revisions_after_what_went_stand_on_what_is_left_and_can_be_undone(aged, arvid):
    verb.do_thin(begun(arvid))
    newest = Revision.objects.get(document_id="profile/house", number=10)
    assert newest.parent.number == 3
    change = newest.change_set_id
    assert aged.post(f"/history/{change}/undo")[0] == 200
    assert entries(aged)["quaysheet/paste-values"] == ["F8"]
    assert aged.get(f"{HOUSE}/revisions")[1]["revisions"][1]["number"] == 10


@pytest.mark.parametrize("after", [0, 1, 2])
def test_killed_at_any_point_it_is_done_by_beginning_again(aged, arvid, monkeypatch, after):
    told = arvid.post("/space/plan", ALL_OLD)[1]
    id_ = begun(arvid)
    calls = {"n": 0}
    for name in ("_drop", "drop_bodies"):
        real = getattr(verb, name)

        def dying(*words, real=real):
            calls["n"] += 1
            if calls["n"] == after + 1:
                if after == 2:
                    real(*words)
                raise KeyboardInterrupt
            return real(*words)

        monkeypatch.setattr(verb, name, dying)
    if after < 2:
        with pytest.raises(KeyboardInterrupt):
            verb.do_thin(id_)
    monkeypatch.undo()
    verb.do_thin(id_)
    assert left() == [1, 3, 10]
    assert Thinning.objects.get(id=id_).state == "done"
    assert arvid.get("/space")[1]["bytes"] == told["left"]


def test_bodies_that_something_else_needs_stay(aged, arvid):
    verb.do_thin(begun(arvid))
    for revision in Revision.objects.all():
        assert Body.objects.filter(digest=revision.body_id).exists()


def test_a_budget_smaller_than_what_must_stay_is_refused(aged, arvid):
    status, problem = arvid.post("/space/thin", {"budget": 10})
    assert (status, problem["title"]) == (409, "The budget is too small for what has to stay.")
    assert left() == list(range(1, 11))


@pytest.mark.parametrize("rule", [{"all_days": -1}, {"daily_days": 10**9}, {"budget": -5}, {"weekly": "x"}])
def test_a_rule_that_is_none_is_refused(arvid, rule):
    assert arvid.post("/space/plan", rule)[0] in (400, 422)


def test_only_administrators_thin(ines):
    assert ines.get("/space")[0] == 403
    assert ines.post("/space/thin", ALL_OLD)[0] == 403
    assert verb.plan_thinning(Rule(), datetime.datetime.now(datetime.UTC)).drop == ()
