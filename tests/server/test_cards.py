"""Cards over the API: drawn, printed, handed out, and what has changed since."""

import datetime
import io
import json
import re
import subprocess
import zipfile
import zlib
from collections import Counter
from urllib.parse import quote

import pytest
from django.conf import settings
from django.test import Client
from django.utils import timezone

from amberkey.core.cards.wish import PAPERS
from amberkey.server.cards import pressing, staff, tasks
from amberkey.server.cards.models import CardBatch, CardGiven
from amberkey.server.cards.working import make
from amberkey.server.people.models import User


@pytest.fixture(autouse=True)
def nobody_was_here():
    staff.visits.forget()


@pytest.fixture
def wish(ines):
    """For everybody on the keyboard of most people."""
    status, found = ines.get("/cards/choices")
    assert status == 200, found
    keyboard = found["keyboards"][0]
    return {"platform": keyboard["platform"], "layout": keyboard["layout"], "paper": "A5 across"}


def lines(card):
    return {line["id"]: line for part in card["parts"] for line in part["lines"]}


def draw(api, wish):
    status, card = api.post("/cards/draw", wish)
    assert status == 200, card
    return card


def test_a_card_is_drawn_for_those_who_have_the_keyboard(ines, wish):
    card = draw(ines, wish)
    assert card["people"] > 0
    assert card["parts"][0]["title"] == "Every day"
    assert 1 <= len(card["parts"][0]["lines"]) <= 8
    assert (card["pages"], card["why_not"], card["last"]) == (1, "", None)
    assert all(line["keys"] for line in card["parts"][0]["lines"])
    german = draw(ines, {**wish, "language": "de"})
    assert (german["parts"][0]["title"], german["between_presses"]) == ("Jeden Tag", "dann")


def test_pages_that_do_not_fit_are_counted(ines, wish):
    assert draw(ines, {**wish, "paper": "A5", "most": 60, "whole": "by program"})["pages"] > 1


def test_what_was_handed_out_makes_what_has_changed_a_fact(ines, wish):
    status, given = ines.post("/cards", wish)
    assert (status, given["number"], given["by"]) == (200, 1, "Ines")
    line = next(v for v in lines(draw(ines, {**wish, "most": 60})).values() if "/" in v["id"] and not v["notes"])
    program, command = line["id"].split("/")
    setup = ines.get("/lenses")[1][0]["setup"]
    free = ines.get(f"/commands/free?setup={setup}&row={line['id']}")[1][0]["keys"]["text"]
    body = {"setup": setup, "program": program, "command": command, "shortcuts": [free], "reason": "asked for"}
    assert ines.post("/commands/shortcuts", body)[0] == 200
    card = draw(ines, wish)
    assert card["last"]["number"] == 1
    changed = next(p for p in card["parts"] if p["title"].startswith("New since"))
    (one,) = [v for v in changed["lines"] if v["id"] == line["id"]]
    assert [k["text"] for k in one["old"]] == [k["text"] for k in line["keys"]]
    assert one["notes"][0].endswith(("does nothing any more", "now"))
    # A newer card begins anew; taken back, the one before counts again.
    second = ines.post("/cards", wish)[1]["number"]
    assert not any(p["title"].startswith("New since") for p in draw(ines, wish)["parts"])
    assert [c["number"] for c in ines.post(f"/cards/{second}/back")[1]] == [1]
    assert any(p["title"].startswith("New since") for p in draw(ines, wish)["parts"])
    assert CardGiven.objects.get().text.startswith("For everybody")


@pytest.mark.parametrize("form, begins", [("pdf", b"%PDF-"), ("html", b"<!doctype html>"), ("txt", b"For everybody")])
def test_a_card_is_printed(ines, wish, form, begins):
    answer = ines.client.get(f"/api/cards/card.{form}?wish={quote(json.dumps(wish))}")
    assert answer.status_code == 200
    assert answer.content.startswith(begins)
    assert answer["Content-Disposition"] == f'attachment; filename="card-for-everybody.{form}"'


def test_the_page_says_what_the_text_says_and_escapes_names(ines, wish):
    page = ines.client.get(f"/api/cards/card.html?wish={quote(json.dumps(wish))}").content.decode()
    for line in lines(draw(ines, wish)).values():
        assert line["name"] in page
        assert all(f"<kbd>{cap}</kbd>" in page for key in line["keys"] for press in key["caps"] for cap in press)
    assert "http" not in page.split("</style>")[1]


def test_the_pdf_is_tagged_and_has_the_applications_own_font(ines, wish):
    pdf = ines.client.get(f"/api/cards/card.pdf?wish={quote(json.dumps(wish))}").content
    streams = re.findall(rb"stream\n(.*?)\nendstream", pdf, re.DOTALL)
    objects = b"".join(map(zlib.decompress, (s for s in streams if s[:1] == b"x")))
    assert b"/StructTreeRoot" in objects
    assert b"Inter" in objects
    assert (settings.ROOT / "web/node_modules/inter-ui/web/Inter-Regular.woff2").is_file()


@pytest.mark.parametrize("paper", PAPERS)
def test_what_stands_on_paper_is_what_stands_on_the_card(ines, wish, tmp_path, paper):
    asked = {**wish, "paper": paper, "most": 14}
    card = draw(ines, asked)
    file = tmp_path / "card.pdf"
    file.write_bytes(ines.client.get(f"/api/cards/card.pdf?wish={quote(json.dumps(asked))}").content)
    told = subprocess.run(["pdftotext", "-raw", file, "-"], capture_output=True, check=True, text=True).stdout
    wanted = f"{card['title']} {card['organisation']} {card['foot']}".split()
    for part in card["parts"]:
        wanted += part["title"].split()
        for line in part["lines"]:
            wanted += line["name"].split()
            for n, key in enumerate(line["keys"]):
                wanted += ["or"] * (n > 0) + ["then"] * (len(key["caps"]) - 1)
                wanted += [word for press in key["caps"] for cap in press for word in cap.split()]
    # The programs beside a line, and what has to be known of it, are more words; none of the card's own is missing.
    missing = Counter(" ".join(wanted).replace(",", " ").split()) - Counter(told.replace(",", " ").split())
    assert not missing
    assert told.count("\f") == card["pages"]


def test_a_card_says_what_would_have_to_go_and_a_folded_one_has_two_sides(ines, wish):
    long = {**wish, "most": 44, "hurry": False}
    small = draw(ines, {**long, "paper": "A5 across"})
    assert small["pages"] > 1
    names = {line["name"] for part in small["parts"] for line in part["lines"]}
    assert small["beyond"]
    assert {one["name"] for one in small["beyond"]} < names
    fewer = draw(ines, {**long, "paper": "A5 across", "most": 44 - len(small["beyond"])})
    assert len(fewer["beyond"]) <= 1  # its foot may need the room of one more
    assert (fewer["pages"] == 1) == (fewer["beyond"] == [])
    folded = draw(ines, {**long, "paper": "A4 folded"})
    assert len(folded["beyond"]) < len(small["beyond"])


WAITING = {"state": "working", "done": 0, "says": ""}


def test_cards_of_all_roles_come_in_one_file(ines, jorun, wish, example):
    items = [{"section": "roles", "before": None, "after": {"id": "pilot", "name": "Pilots"}}]
    assert jorun.post("/organisation/change", {"title": "Pilots", "items": items})[0] == 200
    assert ines.post("/cards/many", {"form": "txt"})[0] == 404  # nobody is a pilot yet
    assert ines.post("/cards/many", {"form": "doc"})[0] == 422
    gone = {**wish, "of": "role", "who": "pilot"}
    batch = CardBatch.objects.create(wishes=[wish, gone], form="txt", made_by=User.objects.get(username="ines"))
    path = f"/cards/many/{batch.pk}"
    assert ines.get(path)[1] == {"id": str(batch.pk), "file": "cards.zip", **WAITING, "of": 2}
    assert ines.get(f"{path}/cards.zip")[0] == 409
    assert (ines.get(f"{path}/cards.pdf")[0], ines.get(f"{path}/cards.doc")[0]) == (404, 422)
    make(batch.pk)
    told = ines.get(path)[1]
    assert (told["state"], told["done"], told["says"]) == ("done", 2, "1 were left out: nobody would get them any more.")
    answer = ines.client.get(f"/api{path}/cards.zip")
    with zipfile.ZipFile(io.BytesIO(answer.content)) as file:
        (name,) = file.namelist()
        assert name == f"everybody-{wish['platform']}-{wish['layout']}-en.txt"
        assert file.read(name).decode() == draw(ines, wish)["text"]
    assert jorun.get(path)[0] == 404  # somebody else's
    make(batch.pk)  # begun again, nothing is made twice
    assert CardBatch.objects.get().done == 2


def test_cards_whose_job_broke_off_are_taken_up_again_and_old_ones_go(ines, wish):
    own = {"wishes": [wish], "form": "txt", "made_by": User.objects.get(username="ines")}
    batch, old = CardBatch.objects.create(**own), CardBatch.objects.create(**own)
    CardBatch.objects.filter(pk=old.pk).update(at=timezone.now() - tasks.KEPT * 2)
    assert tasks.cards_without_a_job() == 1
    assert tasks.cards_without_a_job() == 0  # one is at it now
    tasks.fail(batch.pk, "The worker was ended.")
    assert ines.get(f"/cards/many/{batch.pk}")[1]["says"] == "The worker was ended."
    assert CardBatch.objects.count() == 1


def test_names_in_other_languages_are_edited_and_stand_on_cards(ines, wish):
    tasks = ines.get("/tasks")[1]["tasks"]
    german = {**wish, "language": "de", "most": 60}
    line = next(v for v in lines(draw(ines, german)).values() if v["id"] in {t["id"] for t in tasks})
    task = next(t for t in tasks if t["id"] == line["id"])
    given = {k: task[k] for k in ("name", "group", "other_words", "protected", "usual")}
    status, done = ines.put(f"/tasks/one/{task['id']}", {**given, "names": {"de": "Auf Deutsch", "sv": "På svenska"}})
    assert status == 200, done
    assert lines(draw(ines, german))[line["id"]]["name"] == "Auf Deutsch"
    assert lines(draw(ines, {**german, "language": "fr"}))[line["id"]]["name"] == task["name"]
    names = next(t["names"] for t in ines.get("/tasks")[1]["tasks"] if t["id"] == task["id"])
    assert names == {"de": "Auf Deutsch", "sv": "På svenska"}
    assert ines.put(f"/tasks/one/{task['id']}", {**given, "names": {"la": "Latine"}})[0] == 422
    assert ines.post(f"/history/{done['id']}/undo")[0] == 200
    assert lines(draw(ines, german))[line["id"]]["name"] == task["name"]


def test_what_says_no_card_is_refused(ines, wish):
    nobody = {**wish, "layout": "fi", "platform": "windows"}
    status, problem = ines.post("/cards/draw", nobody)
    assert (status, problem["title"]) == (409, "Nobody would get this card.")
    assert ines.post("/cards/draw", {**wish, "of": "role", "who": "cook"})[0] == 404
    for wrong in ({"of": "role"}, {"paper": "A7"}, {"most": -1}, {"layout": "klingon"}, {"platform": "amiga"}):
        assert ines.post("/cards/draw", {**wish, **wrong})[0] in (400, 422)
    assert ines.get("/cards/card.pdf?wish=%7B")[0] == 400
    assert ines.get(f"/cards/card.doc?wish={quote(json.dumps(wish))}")[0] == 422


def test_without_pango_everything_but_printing_goes_on(ines, wish, monkeypatch):
    def missing(page):
        raise OSError("cannot load library 'libpango-1.0-0'")

    monkeypatch.setattr(pressing, "read", missing)
    card = draw(ines, {**wish, "most": 7})
    assert (card["pages"], "apt-get install" in card["why_not"]) == (None, True)
    assert ines.client.get(f"/api/cards/card.pdf?wish={quote(json.dumps(wish))}").status_code == 503
    assert ines.client.get(f"/api/cards/card.txt?wish={quote(json.dumps(wish))}").status_code == 200


def test_many_cards_are_made_by_several_processes_each_as_it_is_alone(ines, wish):
    wishes = [{**wish, "most": n, "hurry": False} for n in range(1, pressing.FEW + 3)]
    batch = CardBatch.objects.create(wishes=wishes, form="pdf", made_by=User.objects.get(username="ines"))
    make(batch.pk)
    batch.refresh_from_db()
    assert (batch.state, batch.done, batch.says) == ("done", len(wishes), "")
    with zipfile.ZipFile(io.BytesIO(batch.file)) as file:
        made = [file.read(info) for info in file.infolist()]
    # In their order: each has a line more than the one before.
    told = lambda data: subprocess.run(["pdftotext", "-", "-"], input=data, capture_output=True, check=True).stdout.decode()  # noqa: E731
    texts = [told(data) for data in made]
    counts = [sum(line["name"] in text for line in lines(draw(ines, wishes[-1])).values()) for text in texts]
    assert counts == sorted(counts)
    assert counts[0] < counts[-1]
    assert all(data.startswith(b"%PDF") for data in made)


def test_many_cards_lie_in_one_file_to_print_each_on_a_sheet_of_its_own(ines, wish):
    folded = {**wish, "paper": "A4 folded", "hurry": False}
    wishes = [{**folded, "most": 3}, {**folded, "most": 60, "whole": "by task"}, {**wish, "most": 4, "language": "de"}]
    sheets = [draw(ines, one) for one in wishes]
    assert (sheets[0]["pages"], sheets[1]["pages"] % 2, sheets[2]["pages"]) == (1, 0, 1)
    batch = CardBatch.objects.create(wishes=wishes, form="print", made_by=User.objects.get(username="ines"))
    make(batch.pk)
    path = f"/api/cards/many/{batch.pk}"
    assert (ines.client.get(path).json()["file"], ines.client.get(f"{path}/cards.zip").status_code) == ("cards.pdf", 404)
    answer = ines.client.get(f"{path}/cards.pdf")
    assert answer["Content-Type"] == "application/pdf"
    told = subprocess.run(
        ["pdftotext", "-raw", "-", "-"], input=answer.content, capture_output=True, check=True
    ).stdout.decode()
    # What is printed on both sides has both for itself.
    first, back, *second, third = told.split("\f")[:-1]
    assert back.strip() == ""
    for card, text in zip(sheets, (first, "".join(second), third), strict=True):
        wanted = " ".join([card["title"], *(line["name"] for line in lines(card).values())]).split()
        assert not Counter(wanted) - Counter(text.replace(",", " ").split())
    about = subprocess.run(["pdfinfo", "-"], input=answer.content, capture_output=True, check=True).stdout.decode()
    assert re.search(r"Tagged: +yes", about)
    assert re.search(rf"Title: +{sheets[0]['organisation']}", about)


def test_cards_of_all_roles_are_made_in_several_languages_and_not_too_many_at_once(ines, jorun, wish, monkeypatch):
    monkeypatch.setattr("amberkey.server.cards.api.setups_for", lambda *_: ("some",))
    items = [{"section": "roles", "before": None, "after": {"id": "pilot", "name": "Pilots"}}]
    assert jorun.post("/organisation/change", {"title": "Pilots", "items": items})[0] == 200
    status, one = ines.post("/cards/many", {"form": "print"})
    assert (status, one["file"]) == (200, "cards.pdf")
    both = ines.post("/cards/many", {"languages": ["de", "sv", "de"]})[1]
    assert (both["of"], both["file"]) == (2 * one["of"], "cards.zip")
    assert {w["language"] for w in CardBatch.objects.get(pk=both["id"]).wishes} == {"de", "sv"}
    for wrong in ([], ["la"]):
        assert ines.post("/cards/many", {"languages": wrong})[0] == 422
    monkeypatch.setattr("amberkey.server.cards.api._MOST_IN_ONE", 1)
    status, problem = ines.post("/cards/many", {"form": "print", "languages": ["de", "sv"]})
    assert (status, problem["cure"]) == (409, "Take a zip of files, or fewer languages.")
    assert ines.post("/cards/many", {"languages": ["de", "sv"]})[0] == 200


@pytest.fixture
def address(ines, wish):
    number = ines.post("/cards", wish)[1]["number"]
    status, opened = ines.post(f"/cards/{number}/page", {"days": 30})
    assert status == 200, opened
    return opened["address"]


def test_the_page_of_a_card_is_read_without_signing_in_by_nobody_else(ines, address, wish):
    stranger = Client(raise_request_exception=False)
    answer = stranger.get(address)
    assert (answer.status_code, answer["X-Robots-Tag"], answer["Referrer-Policy"]) == (200, "noindex, nofollow", "no-referrer")
    assert answer.cookies == {}
    page = answer.content.decode()
    assert all(line["name"] in page for line in lines(draw(ines, wish)).values())
    assert stranger.get(address.replace("/c/", "/c/x")).status_code == 404
    assert stranger.post(address).status_code == 405
    for name in ("card.js", "staff.css"):
        assert stranger.get(f"/c/{name}").status_code == 200
    assert stranger.get("/c/card.html").status_code == 404
    assert stranger.get("/api/cards").status_code == 401
    kept = CardGiven.objects.get()
    assert kept.token_hash not in address
    assert ines.get("/cards")[1][0]["open_until"] == kept.open_until.isoformat()


def test_a_page_ends_by_day_by_hand_and_with_its_card(ines, jorun, tove, address):
    stranger = Client(raise_request_exception=False)
    number = CardGiven.objects.get().number
    assert tove.post(f"/cards/{number}/page")[0] == 403
    CardGiven.objects.update(open_until=timezone.localdate() - datetime.timedelta(days=1))
    assert stranger.get(address).status_code == 404
    anew = jorun.post(f"/cards/{number}/page", {"days": 1})[1]["address"]
    assert (stranger.get(address).status_code, stranger.get(anew).status_code) == (404, 200)
    assert jorun.post(f"/cards/{number}/page/end")[0] == 200
    assert stranger.get(anew).status_code == 404
    assert jorun.post("/cards/99/page", {"days": 1})[0] == 404
    assert jorun.post(f"/cards/{number}/page", {"days": 0})[0] == 422


def test_a_flood_of_visits_is_held_back_and_costs_nothing_else(ines, address, django_assert_num_queries):
    """A thousand visits from one place: some are answered, the rest are told to wait, and nobody who works notices."""
    stranger = Client(raise_request_exception=False)
    codes = [stranger.get(address).status_code for _ in range(1000)]
    assert set(codes) == {200, 429}
    assert codes[: staff.visits.most] == [200] * staff.visits.most
    with django_assert_num_queries(0):
        held = stranger.get(address)
    assert (held.status_code, int(held["Retry-After"]) >= 1) == (429, True)
    assert ines.get("/cards")[0] == 200


def test_names_on_the_page_are_escaped(ines, wish):
    given = {"name": "<b>Save</b> & go", "group": "", "other_words": [], "protected": False, "usual": {}}
    task = next(t for t in ines.get("/tasks")[1]["tasks"] if t["id"] in lines(draw(ines, {**wish, "most": 60})))
    assert ines.put(f"/tasks/one/{task['id']}", given)[0] == 200
    number = ines.post("/cards", {**wish, "most": 60})[1]["number"]
    page = Client().get(ines.post(f"/cards/{number}/page")[1]["address"]).content.decode()
    assert "&lt;b&gt;Save&lt;/b&gt; &amp; go" in page
    assert "<b>Save" not in page
