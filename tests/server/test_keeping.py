"""Answers that are kept by what they depend on: given again, told to the browser, and never stale."""

import pytest

from amberkey.server.workbench import keeping
from amberkey.server.workbench.keeping import Kept
from tests.server.test_workbench import GERMAN
from tests.server.unpacked import unpacked

CLASHES = f"/api/clashes?setup={GERMAN}"
ASSIGN = {"setup": GERMAN, "program": "quaysheet", "command": "filter", "shortcuts": ["Control+W"]}


@pytest.fixture(autouse=True)
def nothing_kept(db, monkeypatch):
    monkeypatch.setattr(keeping, "_kept", Kept())
    keeping.caches["answers"].clear()


def test_what_was_answered_before_is_not_worked_out_again(ines, monkeypatch):
    first = ines.client.get(CLASHES)
    monkeypatch.setattr("amberkey.server.workbench.clashes.groups.packed", None)
    again = ines.client.get(CLASHES)
    assert again.content == first.content
    assert (again["ETag"], again["Cache-Control"]) == (first["ETag"], "private, no-cache")


def test_a_browser_that_has_it_is_told_so(ines):
    first = ines.client.get(CLASHES)
    again = ines.client.get(CLASHES, headers={"If-None-Match": first["ETag"]})
    assert (again.status_code, again.content, again["ETag"]) == (304, b"", first["ETag"])
    assert ines.client.get(CLASHES, headers={"If-None-Match": '"another"'}).status_code == 200


def test_after_a_change_the_answer_is_another_one_and_after_an_undo_the_first_again(ines):
    first = ines.client.get(CLASHES)
    change = ines.post("/commands/shortcuts", ASSIGN)[1]
    second = ines.client.get(CLASHES, headers={"If-None-Match": first["ETag"]})
    assert second.status_code == 200
    assert second.content != first.content
    ines.post(f"/history/{change['id']}/undo")
    third = ines.client.get(CLASHES)
    assert unpacked(third.json()) == unpacked(first.json())


def test_a_release_and_a_day_make_another_answer(ines, monkeypatch):
    ines.post("/commands/shortcuts", ASSIGN)
    tags = [ines.client.get(CLASHES)["ETag"]]
    ines.post("/profiles/house/release", {"number": 2})
    tags.append(ines.client.get(CLASHES)["ETag"])
    import datetime

    monkeypatch.setattr(keeping.timezone, "localdate", lambda: datetime.date(2031, 1, 1))
    tags.append(ines.client.get(CLASHES)["ETag"])
    # After an update the same question may have another answer.
    monkeypatch.setattr(keeping, "_code", lambda: "another")
    tags.append(ines.client.get(CLASHES)["ETag"])
    assert len(set(tags)) == 4


def test_who_may_see_less_has_answers_of_their_own(ines, tove):
    assert ines.client.get(CLASHES)["ETag"] != tove.client.get(CLASHES)["ETag"]
    assert tove.client.get(CLASHES, headers={"If-None-Match": ines.client.get(CLASHES)["ETag"]}).status_code == 200


def test_a_refusal_is_not_kept(ines):
    for _ in range(2):
        answer = ines.client.get("/api/clashes?setup=nowhere")
        assert (answer.status_code, answer["Cache-Control"]) == (404, "no-store")


def test_what_was_saved_while_it_was_worked_out_is_not_hidden_by_it(ines, monkeypatch):
    """The answer of a moment between two states is given, and neither kept nor tagged."""
    states = iter(["before", "after", "after"])
    monkeypatch.setattr(keeping, "_digest", lambda request: next(states))
    assert "ETag" not in ines.client.get(CLASHES)
    assert keeping._kept.get("before") is None


def test_no_more_is_kept_than_there_is_room_for():
    kept = Kept(most=100)
    for n in range(6):
        kept.put(str(n), b"x" * 30)
    assert [kept.get(str(n)) is not None for n in range(6)] == [False, False, False, True, True, True]
    kept.put("5", b"y" * 90)
    assert (kept.get("5"), kept.get("4"), kept.size) == (b"y" * 90, None, 90)
    kept.put("6", b"z" * 200)
    assert kept.size == 0


def test_what_another_process_worked_out_is_found(ines, monkeypatch):
    first = ines.client.get(CLASHES)
    monkeypatch.setattr(keeping, "_kept", Kept())  # as it is in a process that was just started
    monkeypatch.setattr("amberkey.server.workbench.clashes.groups.packed", None)
    assert ines.client.get(CLASHES).content == first.content
