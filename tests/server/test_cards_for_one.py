"""A card for one person: for whoever looks after settings, and their name is kept nowhere with it."""

import json
from urllib.parse import quote

import pytest
from django.test import Client

from amberkey.server.cards import staff as page_of_cards
from amberkey.server.cards.models import CardGiven
from amberkey.server.people.models import AuditEntry
from tests.server.conftest import Api
from tests.server.test_cards import draw, lines
from tests.server.test_privacy import staff  # noqa: F401


@pytest.fixture
def jorun(staff):  # noqa: F811
    page_of_cards.visits.forget()
    return Api("jorun")


@pytest.fixture
def bo(jorun):
    """A wish for Bo, on the keyboard where Bo sits."""
    found = jorun.get("/cards/choices?person=bo")[1]
    assert found["person"] == {"id": "bo", "name": "Bo"}
    (keyboard,) = found["keyboards"]
    assert keyboard["people"] == 1
    own = {"of": "person", "who": "bo", "platform": keyboard["platform"], "layout": keyboard["layout"]}
    return {**own, "most": 60, "whole": "by task"}


def test_it_says_what_is_set_for_them_alone(jorun, bo):
    card = draw(jorun, bo)
    assert (card["title"], card["people"]) == ("Bo", 1)
    found = lines(card)["quaysheet/filter"]
    assert [k["text"] for k in found["keys"]] == ["F12"]  # the layer of their own
    assert found["notes"] == []
    ada = lines(draw(jorun, {**bo, "who": "ada"}))["quaysheet/filter"]
    assert [k["text"] for k in ada["keys"]] != ["F12"]
    # What a key saves one person is nobody else's business.
    assert {line["says"] for line in lines(card).values()} == {""}


def test_a_person_who_isnt_there_or_sits_elsewhere_has_no_card(jorun, bo):
    assert jorun.post("/cards/draw", {**bo, "who": "cyd"})[0] == 404
    assert jorun.get("/cards/choices?person=cyd")[0] == 404
    status, problem = jorun.post("/cards/draw", {**bo, "platform": "linux", "layout": "us"})
    assert (status, problem["title"]) == (409, "Nobody would get this card.")
    assert jorun.post("/cards/draw", {**bo, "who": None})[0] in (400, 422)


def test_a_reader_gets_none_and_sees_none(jorun, bo):
    assert jorun.post("/cards", bo)[0] == 200
    tove = Api("tove")
    status, problem = tove.post("/cards/draw", bo)
    assert (status, problem["title"]) == (403, "A card for one person shows what they have set for themselves.")
    assert tove.get("/cards/choices?person=bo")[0] == 403
    assert tove.get(f"/cards/card.txt?wish={quote(json.dumps(bo))}")[0] == 403
    assert tove.get("/cards")[1] == []
    assert [c["title"] for c in jorun.get("/cards")[1]] == ["Bo"]


def test_handed_out_it_is_kept_without_their_name(jorun, bo):
    number = jorun.post("/cards", bo)[1]["number"]
    kept = CardGiven.objects.get()
    assert (kept.title, kept.text.splitlines()[0], kept.people) == ("Your card", "Your card", 1)
    assert AuditEntry.objects.filter(action="handed out a card").get().subject == "Your card"
    address = jorun.post(f"/cards/{number}/page", {"days": 3})[1]["address"]
    page = Client().get(address).content.decode()
    assert "Your card" in page
    assert ">Bo<" not in page
    # The next one for the same person tells what has changed since.
    assert draw(jorun, bo)["last"]["number"] == number
    assert draw(jorun, {**bo, "who": "ada"})["last"] is None


def test_today_says_that_it_is_out_of_date_and_not_whose_it_is(jorun, bo):
    jorun.post("/cards", bo)
    CardGiven.objects.update(stood={**CardGiven.objects.get().stood, "quaysheet/filter": ["F11"]})
    (told,) = [m for m in jorun.get("/today")[1]["matters"] if m["kind"] == "card"]
    assert told["says"] == "Card 1, for one person, is out of date: 1 command has other keys now."
    assert told["people"] == 1
    assert "whom=person+bo" in told["to"]
