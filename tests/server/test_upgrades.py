"""Upgrade checks over the API: which wait, what one means, what of it is taken, and refusals."""

import pytest

from amberkey.core.documents.model import read_document
from amberkey.core.formats import FORMATS
from amberkey.core.programs.model import Program
from amberkey.server.library.documents import load
from amberkey.server.library.models import Document, Revision
from amberkey.server.library.verbs.change import create


@pytest.fixture
def newer(example) -> Program:
    """A version of Quaysheet that nobody has: one command more, one gone under another id, one on another key."""
    key = Document.objects.filter(doc_id="quaysheet").order_by("key").last().key
    old = load(key, Program)
    value = old.to_json() | {"version": "99.0"}
    commands = [dict(c) for c in value["commands"]]
    save, filtered = (next(c for c in commands if c["id"] == i) for i in ("save", "filter"))
    save |= {"id": "save-it", "name": "Save it"}
    filtered["defaults"] = {"windows": ["F12"]}
    commands.append({"id": "weigh", "name": "Weigh the sheet", "scope": commands[0]["scope"]})
    made = read_document(value | {"commands": commands}, FORMATS)
    create(example, made)
    return old


def check(api, **asked):
    query = "&".join(f"{k}={v}" for k, v in asked.items())
    status, found = api.get(f"/upgrades/quaysheet?{query}")
    assert status == 200, found
    return found


def test_programs_with_a_newer_version_wait(ines, newer):
    (waits,) = [u for u in ines.get("/upgrades")[1] if u["program"] == "quaysheet" and u["old"] == newer.version]
    assert (waits["new"], waits["people"] > 0) == ("99.0", True)


def test_what_an_upgrade_changes_and_means(ines, newer):
    found = check(ines, old=newer.version, new="99.0")
    assert (found["came"], found["gone"]) == (["Weigh the sheet"], [])
    (one,) = [r for r in found["renamed"] if not r["known"]]
    assert (one["old"], one["new"], len(one["reasons"]) > 1) == ("save", "save-it", True)
    assert {m["name"] for m in found["moved"]} == {"Filter"}
    assert found["people"] > 0
    assert any(s["was"] == "Save" and s["now"] == "Save it" for s in found["surprises"])
    taken = check(ines, old=newer.version, new="99.0", taken="save")
    assert not any(s["was"] == "Save" for s in taken["surprises"])


def test_what_is_taken_is_said_in_the_new_version_in_one_change(ines, newer):
    body = {"old": newer.version, "new": "99.0", "renamed": ["save"]}
    status, done = ines.post("/upgrades/quaysheet", body)
    assert status == 200, done
    value = Revision.objects.filter(document_id="program/quaysheet@99.0").latest("number").body.json()
    assert next(c for c in value["commands"] if c["id"] == "save-it")["was"] == ["save"]
    assert all(r["known"] for r in check(ines, old=newer.version, new="99.0")["renamed"])
    assert ines.post("/upgrades/quaysheet", body)[0] == 409
    assert ines.post(f"/history/{done['id']}/undo")[0] == 200
    assert not all(r["known"] for r in check(ines, old=newer.version, new="99.0")["renamed"])


def test_spare_entries_are_taken_out(ines, newer):
    own = {"setup": ines.get("/lenses")[1][0]["setup"], "program": "quaysheet", "command": "filter", "shortcuts": ["F12"]}
    assert ines.post("/commands/shortcuts", own)[0] == 200
    (spare,) = [o for o in check(ines, old=newer.version, new="99.0")["spare"] if o["command"] == "Filter"]
    pair = [spare["profile"], spare["key"]]
    assert ines.post("/upgrades/quaysheet", {"old": newer.version, "new": "99.0", "spare": [pair]})[0] == 200
    assert not check(ines, old=newer.version, new="99.0")["spare"]
    status, problem = ines.post("/upgrades/quaysheet", {"old": newer.version, "new": "99.0", "spare": [pair]})
    assert (status, "says more" in problem["title"]) == (409, True)


@pytest.mark.parametrize(
    "path, status", [("nothing", 404), ("quaysheet?old=0.0", 404), ("quaysheet?old=99.0&new=99.0", 409), ("gullwake", 409)]
)
def test_what_can_not_be_checked_is_said(ines, newer, path, status):
    assert ines.get(f"/upgrades/{path}")[0] == status


def test_a_reader_looks_and_takes_nothing(tove, newer):
    assert check(tove)["new"] == "99.0"
    assert tove.post("/upgrades/quaysheet", {"old": newer.version, "new": "99.0"})[0] == 403
