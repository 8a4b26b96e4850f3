import io
import json
import zipfile

from django.core.files.uploadedfile import SimpleUploadedFile

from amberkey.core.documents.model import read_document
from amberkey.core.exchange.bundle import read_bundle, write_bundle
from amberkey.core.formats import FORMATS
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
    assert "holds no profile" in problem["detail"]


def test_the_bundle_says_who_made_it(tove):
    found = preview(tove, export(tove))[1]
    assert (found["made_by"], found["profile"], found["into"]) == ("Tove", "House", "Training centre")


def keys_of(api, command, profile="house"):
    entries = api.get(f"/documents/profile/{profile}")[1]["entries"]
    return next((e["shortcuts"][0]["keys"] for e in entries if e["command"] == command), None)


def give(api, command, keys, profile="house"):
    """The profile with another key for a command; gone where there is none."""
    response = api.client.get(f"/api/documents/profile/{profile}")
    value = json.loads(response.content)
    moved = [{**e, "shortcuts": [{"keys": keys}]} if e["command"] == command else e for e in value["entries"]]
    left = [e for e in moved if keys or e["command"] != command]
    assert api.put(f"/documents/profile/{profile}", {**value, "entries": left}, **{"If-Match": response["ETag"]})[0] == 200


def there(data, command, keys):
    """What somebody elsewhere made of a bundle: brought into a profile of theirs, changed, and sent back as one of theirs."""
    came = read_bundle(data)
    manifest, (profile,) = came.manifest, came.documents
    value = profile.to_json()
    entries = [{**e, "shortcuts": [{"keys": keys}]} if e["command"] == command else e for e in value["entries"]]
    changed = read_document({**value, "name": "Theirs", "entries": entries}, FORMATS)
    (part,) = manifest.parts
    return write_bundle([changed], bundle_id="back", name="Back", lineages={profile.id: (part.sha256, *part.lineage)})


def test_a_bundle_that_comes_back_is_merged_with_what_it_was_made_from(ines):
    sent = export(ines)
    give(ines, "word-count", "F7")  # done here meanwhile
    back = there(sent, "paste-values", "Control+Alt+Shift+V")
    status, found = preview(ines, back, "house", how="")
    assert (status, found["how"], found["made_from"]) == (200, "merge", 1)
    (one,) = found["differences"]
    assert one["says"] == "Paste values only, in Quaysheet, moves from Ctrl Alt V to Ctrl Alt Shift V."
    status, _ = take(ines, back, [one["key"]], "house", how="merge")
    assert status == 200
    assert (keys_of(ines, "paste-values"), keys_of(ines, "word-count")) == ("Control+Alt+Shift+V", "F7")
    assert ines.get("/documents/profile/house")[1]["name"] == "House"
    # What came once is what the next bundle from there is held against.
    give(ines, "paste-values", "F8")
    again = there(back, "word-count", "F6")
    found = preview(ines, again, "house", how="")[1]
    assert (found["how"], found["made_from"]) == ("merge", 3)
    (one,) = found["differences"]
    assert (one["says"], one["against"]) == (
        "Count words, in Folioform, moves from F7 to F6.",
        "Count words, in Folioform, moves from no shortcut to F7.",
    )


def test_a_bundle_from_elsewhere_is_added_and_cannot_be_merged(ines):
    data = export(ines)
    found = preview(ines, data, how="")[1]
    assert (found["how"], found["made_from"]) == ("add", 0)
    status, problem = preview(ines, data, how="merge")
    assert (status, "isn't known here" in problem["title"]) == (409, True)
    assert take(ines, data, [], how="merge")[0] == 409


def test_an_older_bundle_of_ones_own_brings_nothing_back_by_itself(ines):
    data = export(ines)
    give(ines, "word-count", "")
    found = preview(ines, data, "house", how="")[1]
    assert (found["how"], found["made_from"], found["differences"]) == ("merge", 1, [])
    assert [d["does"] for d in preview(ines, data, "house", how="add")[1]["differences"]] == ["adds"]
