"""Lists that come every night: tokens, what is taken unseen, what waits, what goes because it was missing."""

import pytest

from amberkey.core.exchange.sheets_out import write_xlsx
from amberkey.server.estate import current_organisation
from amberkey.server.library.documents import known_programs
from amberkey.server.library.models import ChangeSet
from amberkey.server.nightly.models import Sender, SentList
from amberkey.server.nightly.tasks import sent_without_a_job
from amberkey.server.nightly.working import FIRST, do
from amberkey.server.organisation.working import do_check, do_take
from amberkey.server.people.models import User
from tests.server.conftest import Api
from tests.server.test_organisation import item, strait, table  # noqa: F401

HEADS = ("Personalnummer", "Name", "Abteilung", "Machines")
STAFF = [(f"N{n:02}", f"Person {n}", "Harbour", "one") for n in range(20)]


def staff(rows, heads=HEADS) -> bytes:
    return "\n".join(";".join(r) for r in (heads, *rows)).encode()


@pytest.fixture
def arvid(strait):  # noqa: F811
    return Api("arvid")


@pytest.fixture
def hr(arvid):
    """A token for people."""
    return made(arvid, "HR", "people")


def made(arvid, name, kind, **more) -> str:
    status, done = arvid.post("/nightly", {"name": name, "kind": kind, **more})
    assert status == 200, done
    return done["token"]


def post(token: str, kind: str, data: bytes, name: str = "people.csv"):
    answer = Api().client.post(
        f"/api/inbox/{kind}?name={name}",
        data,
        content_type="application/octet-stream",
        headers={"Authorization": f"Bearer {token}"},
    )
    return answer.status_code, answer.json()


def send(token: str, data: bytes, kind: str = "people") -> dict:
    """Sends a list, does the job, and says what became of it."""
    status, sent = post(token, kind, data)
    assert (status, sent["state"]) == (200, "working"), sent
    do(sent["id"])
    return look(token, sent["id"])


def look(token: str, sent_id: str) -> dict:
    return Api().get(f"/inbox/lists/{sent_id}", Authorization=f"Bearer {token}")[1]


def yes(api, sent: dict) -> dict:
    assert api.post(f"/nightly/lists/{sent['id']}/yes")[0] == 200
    do(sent["id"])
    (sender,) = Sender.objects.filter(sent__id=sent["id"])
    return next(s for s in api.get(f"/nightly/{sender.id}/sent")[1]["rows"] if s["id"] == sent["id"])


@pytest.fixture
def known(hr, jorun):
    """The token, after its first list was said yes to."""
    first = send(hr, staff(STAFF))
    assert (first["state"], FIRST in first["says"]) == ("waiting", True)
    assert yes(jorun, first)["state"] == "taken"
    return hr


def people() -> dict:
    return {p.name: p for p in current_organisation().people}


def test_the_first_list_waits_and_the_next_is_read_like_it(known, jorun):
    assert len(people()) == 22
    assert jorun.get("/nightly")[1][0]["headings"]["Personalnummer"] == "id"
    # Its columns stand elsewhere, and one says what isn't asked: they are known by their headings.
    moved = [(m, "x", a, n, i) for i, n, a, m in STAFF]
    again = send(known, staff(moved, ("Machines", "Telefon", "Abteilung", "Name", "Personalnummer")))
    assert (again["state"], again["says"]) == ("same", "Everything is so already.")
    two = [(i, n, "Control room" if n in ("Person 1", "Person 2") else a, m) for i, n, a, m in STAFF]
    taken = send(known, staff(two))
    assert (taken["state"], taken["says"]) == ("taken", "")
    assert people()["Person 1"].department == "control"
    newest = jorun.get("/history")[1][0]
    assert newest["title"] == "Brought in 2 people and shared sign-ins from people.csv"
    assert newest["by"] == "Arvid"
    assert jorun.post(f"/history/{newest['id']}/undo")[0] == 200
    assert people()["Person 1"].department == "harbour"


@pytest.mark.parametrize(
    "rows, heads, why",
    [
        (
            [(i, n, "Control room", m) for i, n, a, m in STAFF[:3]] + STAFF[3:],
            HEADS,
            "It would change 3, and 10% of its 20 rows",
        ),
        ([("N00", "Person 0", "Attic", "one"), *STAFF[1:]], HEADS, "1 row breaks a rule."),
        ([r[:3] for r in STAFF], HEADS[:3], "It has no column Machines any more."),
        ([(f"X{i}", f"Other {n}", a, m) for i, n, a, m in STAFF], HEADS, "Nothing in it is here yet"),
        ([], HEADS, "It has no rows."),
    ],
)
def test_what_is_unusual_waits_for_a_yes(known, rows, heads, why):
    before, changes = current_organisation(), ChangeSet.objects.count()
    sent = send(known, staff(rows, heads))
    assert sent["state"] == "waiting"
    assert why in sent["says"]
    assert (current_organisation(), ChangeSet.objects.count()) == (before, changes)


def test_a_yes_takes_the_good_rows_and_a_no_nothing(known, jorun):
    bad = [("N00", "Person 0", "Attic", "one"), *[(i, n, "Control room", m) for i, n, _, m in STAFF[1:]]]
    sent = send(known, staff(bad))
    assert yes(jorun, sent)["decided_by"] == "Jorun"
    assert {p.department for n, p in people().items() if n.startswith("Person")} == {"control", "harbour"}
    assert jorun.post(f"/nightly/lists/{sent['id']}/no")[0] == 409
    back = send(known, staff(STAFF))
    assert back["state"] == "waiting"
    assert jorun.post(f"/nightly/lists/{back['id']}/no")[1]["state"] == "refused"
    assert people()["Person 1"].department == "control"
    assert jorun.post(f"/nightly/lists/{back['id']}/yes")[0] == 409


def test_a_newer_list_takes_the_place_of_one_that_waits(known, jorun):
    first = send(known, staff([(i, n, "Control room", m) for i, n, _, m in STAFF]))
    second = send(known, staff(STAFF))
    assert (look(known, first["id"])["state"], second["state"]) == ("replaced", "same")
    assert jorun.post(f"/nightly/lists/{first['id']}/yes")[0] == 409
    assert jorun.get("/nightly")[1][0]["waiting"] == 0


def test_who_is_missing_three_times_in_a_row_retires_and_comes_back_when_listed_again(known):
    without = staff(STAFF[1:])
    assert [send(known, without)["state"] for _ in range(2)] == ["same", "same"]
    assert people()["Person 0"].retired is None
    third = send(known, without)
    assert (third["state"], third["told"][-1]) == (
        "taken",
        "Retires 1 person or shared sign-in, missing 3 times in a row.",
    )
    assert people()["Person 0"].retired is not None
    assert people()["Ada"].retired is None  # no list ever had her
    assert send(known, without)["state"] == "same"
    back = send(known, staff(STAFF))
    assert (back["state"], back["told"][-1]) == ("taken", "Brings 1 person or shared sign-in back.")
    assert people()["Person 0"].retired is None


def test_a_row_that_cannot_be_read_is_not_missing(known, jorun):
    send(known, staff(STAFF[1:]))
    send(known, staff(STAFF[1:]))
    bad = send(known, staff([("N00", "Person 0", "Attic", "one"), *STAFF[1:]]))
    yes(jorun, bad)
    assert people()["Person 0"].retired is None
    assert send(known, staff(STAFF))["state"] == "same"


def test_more_than_a_tenth_missing_waits(known):
    for _ in range(2):
        assert send(known, staff(STAFF[3:]))["state"] == "same"
    third = send(known, staff(STAFF[3:]))
    assert (third["state"], "It would change 3" in third["says"]) == ("waiting", True)
    assert people()["Person 0"].retired is None


def test_a_list_that_waits_can_be_corrected_by_hand_and_is_remembered_so(hr, jorun):
    heads = ("Personalnummer", "Wie sie heißen", "Abteilung", "Machines")
    sent = send(hr, staff(STAFF, heads))
    row = jorun.get(f"/nightly/{Sender.objects.get().id}/sent")[1]["rows"][0]
    matching = jorun.get(f"/organisation/imports/{row['list']}")[1]["matching"]
    assert "name" not in matching
    status, _ = jorun.post(f"/organisation/imports/{row['list']}/check", {"matching": {**matching, "name": 1}})
    assert status == 200
    do_check(row["list"])
    assert jorun.post(f"/organisation/imports/{row['list']}/take", {})[0] == 200
    do_take(row["list"])
    assert jorun.get("/nightly")[1][0]["newest"]["state"] == "taken"
    assert look(hr, sent["id"])["state"] == "taken"
    assert send(hr, staff(STAFF, heads))["state"] == "same"


def test_the_same_list_sent_twice_at_once_is_one_and_others_come_one_after_the_other(known):
    first, again = post(known, "people", staff(STAFF[1:]))[1], post(known, "people", staff(STAFF[1:]))[1]
    assert first["id"] == again["id"]
    two = [("N05", "Person 5", "Control room", "one"), *STAFF[:5], *STAFF[6:]]
    second = post(known, "people", staff(two))[1]
    do(second["id"])  # the older one is done before it
    assert [look(known, s["id"])["state"] for s in (first, second)] == ["same", "taken"]
    do(first["id"])
    assert look(known, first["id"])["state"] == "same"
    memory = Sender.objects.get().memory
    assert [len(r) for r in memory["runs"]] == [20, 19]
    for n in range(5):
        assert post(known, "people", staff(STAFF[n:]))[0] == 200
    status, problem = post(known, "people", staff(STAFF[6:]))
    assert (status, "in work" in problem["title"]) == (429, True)


def test_a_token_is_for_one_kind_until_it_is_revoked(hr, arvid, jorun):
    status, problem = post(hr, "machines", staff(STAFF))
    assert (status, problem["title"]) == (403, "This token is for a list of people, not of machines.")
    assert post(hr, "people", b"")[0] == 400
    assert post(hr, "people", b"x" * (9 * 1024 * 1024))[0] == 413
    assert post("no token", "people", staff(STAFF))[0] == 401
    assert Api().get("/nightly", Authorization=f"Bearer {hr}")[0] == 401
    assert hr not in str(list(Sender.objects.values()))
    assert arvid.post("/nightly", {"name": "HR", "kind": "people"})[0] == 409
    sender = jorun.get("/nightly")[1][0]["id"]
    assert arvid.post(f"/nightly/{sender}/revoke")[0] == 200
    assert arvid.post(f"/nightly/{sender}/revoke")[0] == 409
    assert post(hr, "people", staff(STAFF))[0] == 401
    other = made(arvid, "HR", "people")
    mine = post(other, "people", staff(STAFF))[1]["id"]
    third = made(arvid, "Directory", "people")
    assert Api().get(f"/inbox/lists/{mine}", Authorization=f"Bearer {third}")[0] == 404
    assert [a["did"] for a in arvid.get("/audit")[1]["rows"]].count("made a token for lists") == 3


def test_nothing_is_taken_in_the_name_of_somebody_who_may_not_any_more(known):
    User.objects.filter(username="arvid").update(is_active=False)
    two = [("N05", "Person 5", "Control room", "one"), *STAFF[:5], *STAFF[6:]]
    sent = send(known, staff(two))
    assert (sent["state"], "Arvid, in whose name" in sent["says"]) == ("waiting", True)
    assert people()["Person 5"].department == "harbour"


def test_what_cannot_be_read_at_all_fails_with_its_reason(known):
    sent = send(known, b"PK\x03\x04 no sheet")
    assert sent["state"] == "failed"
    assert sent["says"]
    assert send(known, staff(STAFF))["state"] == "same"


def test_work_whose_job_is_gone_is_taken_up(known):
    sent = post(known, "people", staff(STAFF))[1]
    from procrastinate.contrib.django.models import ProcrastinateJob

    assert sent_without_a_job() == 0
    ProcrastinateJob.objects.filter(args__has_key="sent_id").update(status="failed")
    assert sent_without_a_job() == 1
    do(sent["id"])
    assert SentList.objects.get(id=sent["id"]).state == "same"
    assert sent_without_a_job() == 0


def test_machines_come_as_a_packed_sheet(arvid, jorun):
    token = made(arvid, "Inventory", "machines")
    heads = ("Host", "OS", "Edition", "Layout", "Keyboard")
    rows = [("one", "windows", "Pro", "de", "iso"), ("two", "windows", "Pro", "de", "iso")]
    first = send(token, write_xlsx(heads, rows, "x"), "machines")
    assert first["state"] == "waiting", first
    assert yes(jorun, first)["state"] in ("taken", "same")
    assert send(token, write_xlsx(heads, rows, "x"), "machines")["state"] == "same"
    for n in range(3):
        state = send(token, write_xlsx(heads, rows[:1] * 1, f"x{n}"), "machines")
    assert (state["state"], "Retires 1" in state["told"][-1] or "would change 1" in state["says"]) == ("waiting", True)
    assert item(jorun, "machines", "two").get("retired") is None


def test_commands_come_into_the_newest_version_of_their_program(arvid, jorun):
    assert arvid.post("/nightly", {"name": "Docs", "kind": "commands"})[0] == 400
    assert arvid.post("/nightly", {"name": "Docs", "kind": "people", "program": "quaysheet"})[0] == 400
    assert arvid.post("/nightly", {"name": "Docs", "kind": "commands", "program": "none"})[0] == 404
    token = made(arvid, "Docs", "commands", program="quaysheet", platforms=["windows"])
    program = known_programs()["quaysheet"]
    rows = [(c.id, c.name) for c in program.commands]
    sheet = lambda given: ("\n".join(",".join(r) for r in (("Id", "Command"), *given))).encode()  # noqa: E731
    first = send(token, sheet(rows), "commands")
    assert (first["state"], FIRST in first["says"]) == ("waiting", True)
    assert yes(jorun, first)["state"] == "same"
    renamed = [(i, n + " now" if k == 0 else n) for k, (i, n) in enumerate(rows)]
    assert len(rows) >= 10
    assert send(token, sheet(renamed), "commands")["state"] == "taken"
    assert known_programs()["quaysheet"].commands[0].name.endswith(" now")
    states = [send(token, sheet(rows[:-1]), "commands") for _ in range(3)]
    assert [s["state"] for s in states[1:]] == ["same", "taken"]
    assert "Retires 1 command, missing 3 times in a row." in states[-1]["told"]
    assert known_programs()["quaysheet"].commands[-1].retired


def test_lists_out_of_order_and_by_nobody(jorun):
    nobody = "00000000-0000-0000-0000-000000000000"
    assert jorun.get(f"/nightly/{nobody}/sent")[0] == 404
    assert jorun.post(f"/nightly/lists/{nobody}/yes")[0] == 404
    do(nobody)
