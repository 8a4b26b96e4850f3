"""Settings files on the server: a setup's files out one by one or together, and a person's file in."""

import io
import json
import zipfile

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile

from amberkey.core.keys.reading import read_shortcut
from amberkey.core.programs.settings_files import read_settings
from amberkey.server.library.documents import known_programs
from amberkey.server.library.models import Body, Revision
from tests.server.conftest import Api
from tests.server.test_workbench import GERMAN, TRAINING, decide, groups, ways

OWN = """{
  "keyboard": { "own": [
    { "do": "recalculate", "on": ["f4"] },
    { "do": "filter", "on": ["ctl-shift-m"] },
    { "do": "find", "on": ["hyper-x"] },
    { "do": "fly", "on": ["f2"] }
  ] },
  "zoom": 2
}
"""


def file(text, name="settings.json"):
    return SimpleUploadedFile(name, text if isinstance(text, bytes) else text.encode())


def preview(api, text, into="house", name="settings.json", **more):
    return api.send(f"/profiles/{into}/import/preview", {"file": file(text, name), **more})


@pytest.fixture
def decided(ines):
    """The setup of the counters, in which its layers give Quaysheet's command another key."""
    identity = groups(ines)["quote-fare"]["identity"]
    way = next(w for w in ways(ines, identity) if w["kind"] == "move")
    decide(ines, identity, way["key"])
    return read_shortcut(way["shortcut"]["text"])


def says(data):
    program = known_programs()["quaysheet"]
    return read_settings(data, program, program.settings_files[0]).entries


def test_a_setup_has_its_files_one_by_one_and_together(ines, decided):
    status, found = ines.get(f"/setups/{GERMAN}/files")
    assert status == 200
    one = next(f for f in found if f["program"] == "quaysheet")
    assert (one["path"], one["commands"], one["left_out"]) == ("Quaysheet/settings.json", 2, [])
    assert says(one["text"].encode()) == {"quote-fare": (decided,), "paste-values": (read_shortcut("Control+Alt+V"),)}
    answer = ines.client.get(f"/api/setups/{GERMAN}/files/quaysheet/0")
    assert (answer.status_code, answer.content) == (200, one["text"].encode())
    assert "settings.json" in answer["Content-Disposition"]
    together = ines.client.get(f"/api/setups/{GERMAN}/files/together")
    with zipfile.ZipFile(io.BytesIO(together.content)) as archive:
        assert archive.read("Quaysheet/settings.json") == one["text"].encode()
    # The same files, the same bytes.
    assert ines.client.get(f"/api/setups/{GERMAN}/files/together").content == together.content


def test_a_program_whose_file_nobody_described_is_told(ines):
    identity = next(g["identity"] for g in groups(ines).values() if g["subject"]["program"] == "ebbchart")
    decide(ines, identity, next(w["key"] for w in ways(ines, identity) if w["kind"] == "move"))
    found = {f["program"]: f for f in ines.get(f"/setups/{GERMAN}/files")[1]}
    assert found["ebbchart"]["text"] == ""
    assert found["ebbchart"]["left_out"] == ["Where it keeps its keys isn't described."]


def test_into_a_file_of_theirs_only_our_slots_change(ines, decided):
    mine = '{"zoom": 2, "keyboard": {"own": [{"do": "quote-fare", "on": ["f2"]}, {"do": "x", "on": 7}]}}\n'
    answer = ines.client.post(f"/api/setups/{GERMAN}/files/quaysheet/0", {"file": file(mine, "Ada's settings.json")})
    assert answer.status_code == 200
    assert says(answer.content)["quote-fare"] == (decided,)
    assert answer.content.startswith(b'{"zoom": 2, "keyboard": {"own": [{"do": "quote-fare", "on": ["')
    assert answer.content.endswith(b'{"do": "x", "on": 7}, {"do": "paste-values", "on": ["ctl-alt-v"]}]}}\n')


@pytest.mark.parametrize(
    ("path", "status"),
    [
        (f"/setups/{GERMAN}/files/quaysheet/1", 404),
        (f"/setups/{GERMAN}/files/quaysheet/-1", 404),
        (f"/setups/{GERMAN}/files/nothing/0", 404),
        ("/setups/nothing/files/quaysheet/0", 404),
        ("/setups/nothing/files", 404),
        ("/setups/nothing/files/together", 404),
        (f"/setups/{GERMAN}/files/quaysheet/x", 422),
    ],
)
def test_what_is_not_there_is_told(ines, path, status):
    assert ines.get(path)[0] == status


def test_without_anything_set_there_is_nothing_to_take_out(ines):
    assert ines.get(f"/setups/{TRAINING}/files")[1] == []
    status, problem = ines.get(f"/setups/{TRAINING}/files/together")
    assert (status, problem["title"]) == (409, "There is no settings file to take out.")


@pytest.mark.parametrize("text", [b"", b"\xff\xfe", b"[]", b"{", b"\0", b"x" * 5_000_000])
def test_what_is_no_such_file_is_not_written_into(ines, decided, text):
    status, problem = ines.send(f"/setups/{GERMAN}/files/quaysheet/0", {"file": file(text)})
    assert status in (400, 409, 413)
    assert problem["title"]


def test_a_persons_file_is_told_and_taken_like_a_bundle(ines):
    status, found = preview(ines, OWN)
    assert status == 200
    assert (found["way"]["program"], found["way"]["platform"], found["signer"]) == ("quaysheet@7.2", "windows", None)
    assert [d["says"] for d in found["differences"]] == ["Calculate again, in Quaysheet, gets F4 instead of F11."]
    assert found["unread"][0].startswith("Line 5 can't be read and is left alone")
    assert found["unread"][1] == "fly: Quaysheet 7.2 has no such command."
    body = {"file": file(OWN), "chosen": json.dumps([d["key"] for d in found["differences"]]), "how": "add"}
    status, told = ines.send("/profiles/house/import/plan", body)
    assert status == 200
    status, taken = ines.send("/profiles/house/import", {**body, "file": file(OWN)})
    assert (status, taken["title"]) == (200, "Brought in 1 entry from settings.json of Quaysheet")
    entries = ines.get("/documents/profile/house")[1]["entries"]
    assert ("recalculate", [{"keys": "F4"}]) in [(e["command"], e["shortcuts"]) for e in entries]
    assert preview(ines, OWN)[1]["differences"] == []
    assert told["people"] > 0
    ines.post(f"/history/{taken['id']}/undo")
    assert "recalculate" not in [e["command"] for e in ines.get("/documents/profile/house")[1]["entries"]]


def test_compared_with_what_they_should_have_the_file_speaks_of_its_program_only(ines, decided):
    found = preview(ines, OWN, how="replace")[1]
    told = {(d["does"], d["says"].partition(",")[0]) for d in found["differences"]}
    assert told == {("removes", "Quote the fare"), ("removes", "Paste values only"), ("adds", "Calculate again")}
    # Entries for other programs are none of its business.
    identity = next(g["identity"] for g in groups(ines).values() if g["subject"]["program"] == "ebbchart")
    decide(ines, identity, next(w["key"] for w in ways(ines, identity) if w["kind"] == "move"))
    assert {d["does"] for d in preview(ines, OWN, how="replace")[1]["differences"]} == {"adds", "removes"}
    assert "ebbchart" not in str(preview(ines, OWN, how="replace")[1]["differences"]).lower()


def test_a_file_that_says_the_default_where_we_say_otherwise_differs(ines, decided):
    text = '{"keyboard": {"own": [{"do": "quote-fare", "on": ["ctl-alt-e"]}]}}'
    (told,) = preview(ines, text)[1]["differences"]
    assert told["does"] == "changes"
    assert "to Strg Alt E" in told["says"] or "to Ctrl Alt E" in told["says"]


def test_another_way_to_read_it_is_taken_when_asked_for(ines):
    found = preview(ines, OWN)[1]
    assert [w["platform"] for w in found["ways"]] == ["windows", "macos"]
    mac = preview(ines, OWN, program="quaysheet@7.2", platform="macos")[1]
    assert mac["way"]["platform"] == "macos"
    assert preview(ines, OWN, program="quaysheet@7.2", platform="linux")[0] == 400
    assert preview(ines, OWN, program="nobody@1")[0] == 400
    assert preview(ines, OWN, program="quaysheet@7.2", number=5)[0] == 400


@pytest.mark.parametrize(
    ("text", "name"),
    [
        (b"", "settings.json"),
        (b"nothing of the kind", "x.txt"),
        (b"{}", "other.json"),
        (b"\xff\xfe\0", "settings.json"),
        (b"[" * 100_000, "settings.json"),
        (b'{"keyboard": {"own": [{"do": "recalculate", "on": ["f4"]}]}', "settings.json"),
        (b"x" * 5_000_000, "settings.json"),
        (b"not a zip", "bundle.zip"),
    ],
)
def test_what_nothing_here_reads_is_told(ines, text, name):
    status, problem = preview(ines, text, name=name)
    assert status in (400, 413)
    assert problem["title"]
    assert Revision.objects.filter(document_id="profile/house").count() == 1


@pytest.mark.parametrize("name", ["a" * 300 + ".json", "\u202egnp.json", "x\x07y.json", "ä ö.json", "..\\..\\settings.json"])
def test_whatever_the_file_is_called_it_can_be_taken(ines, name):
    found = preview(ines, OWN, name=name)[1]
    keys = json.dumps([d["key"] for d in found["differences"]])
    status, taken = ines.send("/profiles/house/import", {"file": file(OWN, name), "chosen": keys})
    assert status == 200
    assert "Quaysheet" in taken["title"]
    assert "\u202e" not in taken["title"]


def test_a_persons_file_is_not_kept(ines):
    bodies = Body.objects.count()
    preview(ines, OWN)
    assert Body.objects.count() == bodies


def test_readers_see_what_would_be_and_write_nothing(ines):
    tove = Api("tove")
    assert preview(tove, OWN)[0] == 200
    assert tove.send("/profiles/house/import", {"file": file(OWN), "chosen": "[]"})[0] == 403
