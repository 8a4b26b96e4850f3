import io
import json
import zipfile

from django.core.files.uploadedfile import SimpleUploadedFile

from tests.server.test_workbench import GERMAN, TRAINING, decide, groups, ways


def export(api, profile="house"):
    answer = api.client.get(f"/api/profiles/{profile}/bundle")
    assert answer.status_code == 200
    assert ".amberkey.zip" in answer["Content-Disposition"]
    return answer.content


def upload(data):
    return {"file": SimpleUploadedFile("bundle.zip", data)}


def preview(api, data, into="training", how="add"):
    return api.send(f"/profiles/{into}/import/preview", {**upload(data), "how": how})


def take(api, data, chosen, into="training", how="add"):
    return api.send(f"/profiles/{into}/import", {**upload(data), "chosen": json.dumps(chosen), "how": how})


def test_what_was_decided_here_solves_the_same_clashes_there(ines):
    for command in ("quote-fare", "jump-to-record"):
        identity = groups(ines)[command]["identity"]
        decide(ines, identity, ways(ines, identity)[0]["key"])
    data = export(ines)
    status, found = preview(ines, data)
    assert status == 200
    assert {d["does"] for d in found["differences"]} == {"adds"}
    assert any("Quote the fare" in d["says"] for d in found["differences"])
    assert {"quote-fare", "jump-to-record"} <= groups(ines, TRAINING).keys()
    status, taken = take(ines, data, [d["key"] for d in found["differences"]])
    assert (status, "Brought in 4 entries" in taken["title"]) == (200, True)
    assert not {"quote-fare", "jump-to-record"} & groups(ines, TRAINING).keys()
    assert preview(ines, data)[1]["unchanged"] == 4
    ines.post(f"/history/{taken['id']}/undo")
    assert "quote-fare" in groups(ines, TRAINING)


def test_each_difference_can_be_left(ines):
    data = export(ines)
    keys = [d["key"] for d in preview(ines, data)[1]["differences"]]
    take(ines, data, keys[:1])
    assert len(ines.get("/documents/profile/training")[1]["entries"]) == 1


def test_replacing_removes_what_the_bundle_lacks(ines):
    empty = export(ines, "training")
    assert preview(ines, empty, "house")[1]["differences"] == []
    found = preview(ines, empty, "house", how="replace")[1]["differences"]
    assert {d["does"] for d in found} == {"removes"}


def test_a_choice_that_is_not_in_the_preview_takes_nothing(ines):
    status, problem = take(ines, export(ines), ["no such difference"])
    assert status == 409
    assert "Preview it again" in problem["cure"]


def test_hostile_bundles_are_refused_on_both_ways(ines):
    good = export(ines)
    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(good)) as old, zipfile.ZipFile(out, "w") as new:
        for info in old.infolist():
            body = old.read(info)
            new.writestr(info.filename, body.replace(b"House", b"Mouse") if info.filename != "manifest.json" else body)
        new.comment = b"changed"
    before = ines.get("/documents/profile/training")[1]
    for data, says in ((out.getvalue(), "digest is wrong"), (b"nothing", "can't be opened"), (good[:-40], "can't be opened")):
        for status, problem in (preview(ines, data), take(ines, data, [])):
            assert status == 400
            assert says in problem["detail"]
    assert ines.get("/documents/profile/training")[1] == before


def test_a_reader_exports_and_previews_but_does_not_take(ines, tove):
    data = export(tove)
    status, found = preview(tove, data)
    assert status == 200
    assert take(tove, data, [d["key"] for d in found["differences"]])[0] == 403
    assert groups(ines, GERMAN)


def test_a_bundle_that_is_too_large_is_refused_before_it_is_read(ines):
    status, problem = preview(ines, b"x" * (17 * 1024 * 1024))
    assert status == 400
    assert "16 MB is the most" in problem["detail"]


def test_a_bundle_of_other_documents_is_told_to_hold_none(ines):
    from amberkey.core.exchange.bundle import write_bundle
    from amberkey.core.programs.model import Program
    from amberkey.server.library.documents import load

    program = load("program/quaysheet@7.2", Program)
    status, problem = preview(ines, write_bundle([program], bundle_id="b", name="B"))
    assert status == 400
    assert "0 profiles" in problem["detail"]


def test_the_bundle_says_who_made_it(tove):
    found = preview(tove, export(tove))[1]
    assert (found["made_by"], found["profile"], found["into"]) == ("Tove", "House", "Training centre")
