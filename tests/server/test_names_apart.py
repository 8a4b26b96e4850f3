"""Names of people stand in a table of their own and nowhere else, and can be forgotten."""

import io
import json
import re
import zipfile

import pytest
from django.apps import apps
from django.db import connection
from openpyxl import Workbook

from amberkey.core.exchange.approving import launcher_of
from amberkey.core.organisation.pseudonyms import is_pseudonym, new_pseudonym
from amberkey.core.profiles.model import Launcher
from amberkey.server.estate import current_estate, current_organisation
from amberkey.server.library.approving import keep_approval, may_run
from amberkey.server.library.models import Body, ChangeSet, Document, PersonName, Revision
from amberkey.server.library.older_names import take_names_out
from amberkey.server.library.verbs.change import create
from amberkey.server.organisation.models import ListImport
from amberkey.server.organisation.verbs.forget import Cleaning, forget
from amberkey.server.organisation.working import let_old_ones_go
from amberkey.server.people.acting import Actor
from amberkey.server.people.models import User
from amberkey.server.problems import NotFound, Problem
from tests.core.organisations import organisation, read
from tests.server.test_lists import checked, take, upload
from tests.server.test_organisation import change, item, strait, table  # noqa: F401

STAFF = "Personalnummer;Name;Abteilung;Machines\nMA-47-11;Wilma Quast;Harbour;one\n4712;Ulf Zander;Control room;two\n"


def dump() -> str:
    """Every row of every table, as PostgreSQL writes it out, and what is packed unpacked."""
    found = []
    with connection.cursor() as cursor:
        for name in set(connection.introspection.table_names(cursor)) - {"library_body"}:
            cursor.execute(f'SELECT t::text FROM "{name}" t')
            found += [f"{name}: {row}" for (row,) in cursor.fetchall()]
    for body in Body.objects.all():
        data = body.data
        if zipfile.is_zipfile(io.BytesIO(data)):
            with zipfile.ZipFile(io.BytesIO(data)) as archive:
                found += [f"packed: {archive.read(part).decode('utf-8', 'replace')}" for part in archive.namelist()]
        found.append(f"body: {data.decode('utf-8', 'replace')}")
    return "\n".join(found)


# Digests; hashes of passwords with their salt; UUIDs; keys of sessions.
RANDOM = re.compile(
    r"[0-9a-f]{64}|md5\$\w+\$[0-9a-f]{32}|[0-9a-f]{8}(?:-[0-9a-f]{4}){3}-[0-9a-f]{12}|(?<![a-z0-9])[a-z0-9]{32}(?![a-z0-9])"
)


def holding(text: str) -> set[str]:
    """Which tables say a text, in any letter case; digests, ids and what is random say nothing, whatever letters they have."""
    lines = RANDOM.sub("", dump()).splitlines()
    return {line.split(":")[0] for line in lines if text.casefold() in line.casefold()}


def called(api, name: str) -> dict:
    (row,) = (r for r in table(api, "people", words=name)["rows"] if r["cells"]["name"] == name)
    return row["item"]


@pytest.mark.usefixtures("strait")
def test_names_are_in_one_table_alone(jorun):
    found = checked(jorun, "people", STAFF)
    assert take(jorun, found)[1]["state"] == "taken"
    status, _ = change(
        jorun, "people", None, {"id": new_pseudonym(), "name": "Ottilie Rehm", "department": "harbour"}, "Added Ottilie Rehm"
    )
    assert status == 200
    wilma = called(jorun, "Wilma Quast")
    assert change(jorun, "people", wilma, {**wilma, "name": "Wilma Zorn"}, "Changed Wilma Quast")[0] == 200
    for text in ("Wilma", "Zander", "Ottilie", "MA-47-11"):
        assert holding(text) == {"library_personname"}, text
    ids = {p.id for p in current_organisation().people} - {"ada", "desk"}
    assert len(ids) == 3
    assert all(map(is_pseudonym, ids))
    assert [h["title"] for h in jorun.get("/history")[1]][:2] == ["Changed a person", "Added a person"]


@pytest.mark.usefixtures("strait")
def test_a_new_name_is_told_undone_and_done_again(jorun, ines):
    ada = called(jorun, "Ada")
    before = Document.objects.get(key="organisation/organisation").newest_id
    done = change(jorun, "people", ada, {**ada, "name": "Adele"}, "Changed Ada")[1]
    assert Document.objects.get(key="organisation/organisation").newest_id == before  # the document says what it said
    assert called(ines, "Adele")["id"] == ada["id"]
    told = ines.get(f"/history/{done['id']}")[1]
    assert [s["says"] for p in told["parts"] for s in p["says"]] == ["Calls Ada Adele."]
    assert jorun.post(f"/history/{done['id']}/undo")[0] == 200
    assert called(ines, "Ada")["id"] == ada["id"]
    assert jorun.post(f"/history/{done['id']}/redo")[0] == 200
    assert called(ines, "Adele")["id"] == ada["id"]
    one = {"differences": {"organisation/organisation": [told["parts"][0]["says"][0]["id"]]}}
    assert jorun.post(f"/history/{done['id']}/undo-some", one)[0] == 200
    assert called(ines, "Ada")["id"] == ada["id"]


@pytest.mark.usefixtures("strait")
def test_who_is_added_by_hand_gets_an_id_that_says_nothing(jorun):
    new = {"section": "people", "before": None, "after": {"name": "Ottilie Rehm", "department": "harbour"}}
    seat = {"section": "seats", "before": None, "after": {"person": "", "machine": "two"}}
    for path in ("plan", "change"):
        assert jorun.post(f"/organisation/{path}", {"title": "Added Ottilie Rehm", "items": [new, seat]})[0] == 200
    (row,) = table(jorun, "people", words="ottilie")["rows"]
    assert is_pseudonym(row["id"])
    assert [s["item"]["machine"] for s in row["seats"]] == ["two"]


@pytest.mark.usefixtures("strait")
def test_of_two_who_rename_somebody_the_second_is_told(jorun, ines):
    ada = called(jorun, "Ada")
    assert change(jorun, "people", ada, {**ada, "name": "Adele"}, "")[0] == 200
    status, problem = change(ines, "people", ada, {**ada, "name": "Ida"}, "")
    assert (status, "in the meantime" in problem["title"]) == (409, True)
    assert called(ines, "Adele")["id"] == "ada"


@pytest.mark.usefixtures("strait")
def test_which_of_two_new_names_is_undone_is_never_mixed_up(jorun):
    ada, desk = called(jorun, "Ada"), called(jorun, "Desk")
    one = change(jorun, "people", ada, {**ada, "name": "Adele"}, "")[1]["id"]
    two = change(jorun, "people", desk, {**desk, "name": "Tresen"}, "")[1]["id"]
    assert jorun.post(f"/history/{one}/undo")[0] == 200
    assert {p.name for p in current_organisation().people} == {"Ada", "Tresen"}
    assert jorun.post(f"/history/{one}/redo")[0] == jorun.post(f"/history/{two}/undo")[0] == 200
    assert {p.name for p in current_organisation().people} == {"Adele", "Desk"}


@pytest.mark.usefixtures("strait")
def test_who_was_added_and_taken_away_again_comes_back_with_the_name(jorun):
    added = {"id": new_pseudonym(), "name": "Ottilie Rehm", "department": "harbour"}
    done = change(jorun, "people", None, added, "")[1]
    assert jorun.post(f"/history/{done['id']}/undo")[0] == 200
    assert table(jorun, "people", words="ottilie")["total"] == 0
    assert jorun.post(f"/history/{done['id']}/redo")[0] == 200
    assert called(jorun, "Ottilie Rehm")["id"] == added["id"]


@pytest.mark.usefixtures("strait")
def test_people_of_other_lists_are_known_again_by_their_ids_there(jorun):
    take(jorun, checked(jorun, "people", STAFF))
    ulf = called(jorun, "Ulf Zander")["id"]
    moved = checked(jorun, "people", "Personalnummer;Name;Abteilung\n4712;Ulf Zander-Ruh;Harbour\n4713;Ada;Control room\n")
    assert moved["told"][0] == "Changes 2 people and shared sign-ins."
    assert [g["says"] for g in moved["guessed"]] == ["4713 is taken for Ada, who is here; that id is kept beside."]
    assert take(jorun, moved)[1]["state"] == "taken"
    assert called(jorun, "Ulf Zander-Ruh")["id"] == ulf
    assert called(jorun, "Ada") == {**item(jorun, "people", "ada"), "known_as": "4713"}
    twice = checked(jorun, "people", "Id;Name;Department\n5001;Kim;harbour\n5001;Kim;harbour\n")
    assert [f["says"] for f in twice["faults"]] == ["Kim stands in row 2 already."]
    assert "p-" not in json.dumps(twice["faults"])


@pytest.mark.usefixtures("strait")
def test_two_lists_that_add_the_same_people_add_them_once(jorun):
    for text in (STAFF, "Name;Department\nKim;harbour\n"):
        first, second = checked(jorun, "people", text), checked(jorun, "people", text)
        assert take(jorun, first)[1]["state"] == "taken"
        assert take(jorun, second)[1]["state"] == "failed"
    assert table(jorun, "people")["total"] == 5


@pytest.mark.usefixtures("strait")
def test_lists_out_say_whether_names_are_in_them(jorun):
    take(jorun, checked(jorun, "people", STAFF))
    for names, file, there in (("true", "people-with-names.csv", True), ("false", "people-without-names.csv", False)):
        answer = jorun.client.get(f"/api/organisation/lists/people.csv?names={names}")
        assert file in answer["Content-Disposition"]
        text = answer.content.decode()
        assert ("Wilma" in text, "Name" in text.splitlines()[0]) == (there, there)
        assert "MA-47-11" not in text
        again = checked(jorun, "people", text)
        assert again["told"][0] == "Leaves as they are: 4 people and shared sign-ins."
    assert "machines.csv" in jorun.client.get("/api/organisation/lists/machines.csv")["Content-Disposition"]


@pytest.mark.usefixtures("strait")
def test_a_sheet_that_nobody_took_is_let_go_after_a_week(jorun):
    upload(jorun, "people", STAFF)
    assert let_old_ones_go() == 0
    ListImport.objects.update(at="2026-01-01T00:00Z")
    assert let_old_ones_go() == 1
    assert holding("Wilma") == set()
    assert jorun.get(f"/organisation/imports/{ListImport.objects.get().id}")[1]["state"] == "failed"


def everywhere(jorun, name: str) -> str:
    """Puts a name wherever somebody could; returns the id of the person."""
    take(jorun, checked(jorun, "people", f"Id;Name;Department;Machines\nMA-47-11;{name};harbour;one\n"))
    person = called(jorun, name)
    actor = Actor(User.objects.get(username="jorun"))
    create(
        actor,
        read(
            {"format": "amberkey/profile@1", "id": "wilma-quast-own", "name": f"Of {name}", "description": f"{name.upper()}'s."}
        ),
    )
    assert change(jorun, "people", person, {**person, "profiles": ["wilma-quast-own"]}, "")[0] == 200
    laptop = {**item(jorun, "machines", "one"), "id": "wilma-quast-laptop", "name": f"Laptop of {name}"}
    assert change(jorun, "machines", None, laptop, f"For {name}")[0] == 200
    seat = {"person": person["id"], "machine": "wilma-quast-laptop"}
    assert change(jorun, "seats", None, seat, f"Seated {name}")[0] == 200
    book = Workbook()
    book.active.append(["Name", "Department"])
    book.active.append([name, "harbour"])
    sheet = io.BytesIO()
    book.save(sheet)
    for kind, data in (("machines", sheet.getvalue()), ("people", f"Name\n{name}\n".encode("utf-16"))):
        ListImport.objects.create(kind=kind, name=f"{name}.xlsx", content=Body.keep(data), actor=actor.user)
    gone = User.objects.create(username="wilma-quast", first_name=name, is_active=False)
    Actor(gone).record("looked", f"person/{person['id']}", f"{name} again")
    return person["id"]


@pytest.mark.usefixtures("strait")
def test_a_forgotten_name_is_nowhere_in_the_whole_database(jorun):
    person = everywhere(jorun, "Wilma Quast")
    tables = holding("wilma quast") | holding("wilma-quast")
    assert {
        "library_personname",
        "library_document",
        "library_changeset",
        "people_auditentry",
        "people_user",
        "body",
        "packed",
    } <= tables
    changes, revisions, setups = ChangeSet.objects.count(), Revision.objects.count(), len(current_estate().setups)

    done = forget("wilma quast")

    assert (done.person, done.names) == (person, 2)
    for text in ("Wilma", "Quast", "MA-47-11"):
        assert holding(text) == set(), text
    # Everything else is there as before, and goes on.
    assert (ChangeSet.objects.count(), Revision.objects.count(), len(current_estate().setups)) == (changes, revisions, setups)
    for revision in Revision.objects.select_related("body"):
        assert Body(digest=revision.body.digest, packed=revision.body.packed).json() is not None
    assert f"{person}-own" in {d.doc_id for d in Document.objects.all()}
    assert called(jorun, person)["profiles"] == [f"{person}-own"]
    assert called(jorun, person)["name"] == person
    last = jorun.get("/history")[1][0]
    assert last["title"] == "Seated a person"
    assert jorun.post(f"/history/{last['id']}/undo")[0] == 200
    with pytest.raises(NotFound):
        forget("Wilma Quast")


@pytest.mark.usefixtures("strait")
def test_an_id_that_tells_a_name_goes_with_it(jorun):
    before = len(list(current_estate().groups()))
    done = forget("Ada")
    assert is_pseudonym(done.person)
    assert holding("Ada") == set()
    assert called(jorun, done.person)["roles"] == ["pilot", "clerk"]
    assert len(list(current_estate().groups())) == before


@pytest.mark.usefixtures("strait")
def test_what_was_approved_of_a_layer_that_gets_another_id_stays_approved():
    launcher = Launcher(id="log", name="Log", runs="log", shortcuts={})
    keep_approval(launcher_of("own-ada", launcher), None, None)
    done = forget("Ada")
    assert may_run(f"own-{done.person}")(launcher)
    assert not may_run("own-ada")(launcher)


@pytest.mark.usefixtures("strait")
def test_who_is_meant_must_be_clear_and_must_not_sign_in(jorun):
    for n in (1, 2):
        added = {"id": f"p-aaaaaaa{n + 1}", "name": "Kim", "department": "harbour"}
        assert change(jorun, "people", None, added, "")[0] == 200
    with pytest.raises(Problem, match=r"2 people are or were called Kim\. They are p-aaaaaaa2, p-aaaaaaa3"):
        forget("Kim")
    for nobody in ("Nobody", "", "  ", "%", "a person"):
        with pytest.raises(NotFound):
            forget(nobody)
    added = {"id": new_pseudonym(), "name": "Jorun", "department": "harbour"}
    assert change(jorun, "people", None, added, "")[0] == 200
    with pytest.raises(Problem, match="Jorun still signs in as jorun"):
        forget("Jorun")
    assert called(jorun, "Jorun")["id"] == added["id"]
    assert forget("p-aaaaaaa2").person == "p-aaaaaaa2"
    assert called(jorun, "Kim")["id"] == "p-aaaaaaa3"


def test_a_short_name_leaves_the_words_of_others_alone():
    cleaning = Cleaning("p-abcdefgh", ["An", "Bo Vik"])
    said = "an example: An takes an-own, Anna, can; bo vik and bo-vik-1, Bo"
    assert cleaning.text(said) == "an example: a person takes p-abcdefgh-own, Anna, can; a person and p-abcdefgh-1, Bo"
    assert cleaning.text("an") == "p-abcdefgh"


@pytest.mark.usefixtures("strait")
def test_what_an_older_version_kept_is_taken_apart(jorun):
    """As version 0.1.0 left it: names in the document, in every revision, in operations and titles."""
    PersonName.objects.all().delete()
    row = Document.objects.select_related("newest").get(key="organisation/organisation")
    old = {
        **organisation(),
        "people": [
            {"id": "ada-lund", "name": "Ada Lund", "department": "control"},
            {"id": "x1", "name": "Kim", "department": "harbour"},
        ],
    }
    old["seats"] = [{"person": "ada-lund", "machine": "one"}, {"person": "x1", "machine": "two"}]
    Revision.objects.filter(pk=row.newest_id).update(body=Body.keep_json(old))
    changed = ChangeSet.objects.create(actor=User.objects.get(username="jorun"), title="Added Ada Lund")
    added = [{"section": "people", "key": "ada-lund", "after": old["people"][0]}]
    added.append({"section": "seats", "key": "ada-lund at one", "after": old["seats"][0]})
    changed.parts.create(document=row, operations=Body.keep_json(added))
    take_names_out(apps)
    assert holding("Ada Lund") == {"library_personname"}
    assert holding("ada-lund") == set()
    organised = current_organisation()
    assert sorted(p.name for p in organised.people) == ["Ada Lund", "Kim"]
    (ada,) = (p.id for p in organised.people if p.name == "Ada Lund")
    assert is_pseudonym(ada)
    assert {s.person for s in organised.seats} == {ada, "x1"}
    assert jorun.post(f"/history/{changed.id}/undo")[0] == 200
    assert [p.id for p in current_organisation().people] == ["x1"]
    again = Document.objects.select_related("newest").get(key="organisation/organisation")
    take_names_out(apps)
    assert Document.objects.get(key=again.key).newest_id == again.newest_id
