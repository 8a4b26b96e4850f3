"""Signed bundles: whose key it is, whom we trust, what travels, and what taking it would do."""

import json
import threading

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import connection, transaction

from amberkey.core.exchange.bundle import Signing, read_bundle, write_bundle
from amberkey.core.exchange.signing import KeyCard, SigningKey
from amberkey.core.profiles.model import Profile
from amberkey.server.exchange.models import HandedOver, TrustedKey
from amberkey.server.exchange.verbs.trust import follow
from amberkey.server.library.models import Revision
from amberkey.server.people.acting import Actor
from amberkey.server.people.models import User
from tests.server.conftest import Api
from tests.server.test_exchange import export, preview, take, upload
from tests.server.test_workbench import decide, groups, ways

OTHER = SigningKey(bytes([7]) * 32)


@pytest.fixture
def key_file(tmp_path, settings):
    file = tmp_path / "signing-key"
    file.write_text("11" * 32)
    settings.SIGNING_KEY_FILE = str(file)
    return file


def from_elsewhere(ines, by=OTHER, name="Harbour Office", handovers=()):
    """The house profile of this database as somebody else would send it."""
    came = read_bundle(export(ines))
    signing = Signing(by, name, tuple(handovers)) if by else None
    return write_bundle(came.documents, bundle_id="theirs", name="Theirs", signing=signing)


def trusted(api, card, name=""):
    file = SimpleUploadedFile("key.json", card.to_bytes() if isinstance(card, KeyCard) else card)
    return api.send("/keys", {"file": file, "name": name})


def test_without_a_key_bundles_go_out_unsigned_and_that_is_said(ines):
    assert read_bundle(export(ines)).signature is None
    assert ines.get("/keys")[1]["own"] == {
        "name": "The organisation",
        "fingerprint": "",
        "kept": "",
        "older": 0,
    }
    assert ines.get("/keys/card")[0] == 404
    assert preview(ines, export(ines))[1]["signer"]["says"].startswith("Nobody signed it")


def test_with_a_key_they_are_signed_and_known_again(ines, key_file):
    data = export(ines)
    assert read_bundle(data).signature.key == SigningKey.from_text("11" * 32).public
    signer = preview(ines, data)[1]["signer"]
    assert (signer["state"], signer["says"]) == ("known", "Signed here, by your own organisation.")
    assert signer["fingerprint"] == ines.get("/keys")[1]["own"]["fingerprint"]


def test_a_key_that_is_none_is_told_and_not_signed_with(ines, key_file):
    key_file.write_text("not a key")
    status, problem = ines.get("/keys")
    assert status == 409
    assert "64 hexadecimal digits" in problem["detail"]
    assert ines.client.get("/api/profiles/house/bundle").status_code == 409


def test_another_organisation_is_unknown_until_its_key_is_trusted(ines, arvid, key_file):
    data = from_elsewhere(ines)
    assert preview(ines, data)[1]["signer"]["says"].startswith("Signed with a key that nobody here knows")
    status, keys = trusted(arvid, OTHER.card("Harbour Office"), "The harbour")
    assert (status, [(t["name"], t["by"], t["withdrawn"]) for t in keys["trusted"]]) == (
        200,
        [("The harbour", "Arvid", False)],
    )
    assert preview(ines, data)[1]["signer"]["says"] == "Signed by The harbour."
    arvid.post("/keys/withdrawn", {"key": OTHER.public, "withdrawn": True})
    assert preview(ines, data)[1]["signer"]["state"] == "unknown"
    arvid.post("/keys/withdrawn", {"key": OTHER.public, "withdrawn": False})
    assert preview(ines, data)[1]["signer"]["state"] == "known"


def test_their_new_key_is_known_by_the_hand_over(ines, arvid):
    trusted(arvid, OTHER.card("Harbour Office"))
    new = SigningKey(bytes([8]) * 32)
    data = from_elsewhere(ines, new, handovers=[OTHER.hand_over(new)])
    signer = preview(ines, data)[1]["signer"]
    assert signer["says"] == "Signed by Harbour Office, with a key that followed the one that is known."
    # Its card takes the name over; a stranger's card with that name doesn't.
    assert trusted(arvid, new.card("Harbour Office", [OTHER.hand_over(new)]))[0] == 200
    assert trusted(arvid, SigningKey(bytes([9]) * 32).card("Harbour Office"))[0] == 409


@pytest.mark.parametrize(
    ("card", "says"),
    [
        (b"", "JSON"),
        (b"{", "JSON"),
        (b'{"format":"amberkey/key@1"}', "key"),
        (OTHER.card("X").to_bytes().replace(OTHER.public.encode(), b"AAAA"), "32 bytes"),
        (Profile(id="house", name="House").to_bytes(), "format"),
        (b" " * 100_000, "far too large"),
    ],
)
def test_what_is_no_public_key_is_refused(arvid, card, says):
    status, problem = trusted(arvid, card)
    assert status in (400, 413)
    assert says in problem["detail"]
    assert not TrustedKey.objects.exists()


def test_the_own_key_needs_no_trust(arvid, key_file):
    status, problem = trusted(arvid, SigningKey.from_text("11" * 32).card("Us"))
    assert (status, problem["title"]) == (409, "This is your own key.")
    assert arvid.post("/keys/withdrawn", {"key": "A" * 43 + "=", "withdrawn": True})[0] == 404


def test_a_new_key_follows_the_old_one(ines, arvid, key_file):
    old = export(ines)
    before = arvid.get("/keys")[1]["own"]["fingerprint"]
    status, keys = arvid.post("/keys/next")
    assert (status, keys["own"]["older"]) == (200, 1)
    assert keys["own"]["fingerprint"] != before
    assert len(key_file.read_text()) == 64
    assert key_file.stat().st_mode & 0o077 == 0
    new = export(ines)
    # Whoever knows the old key knows the new one; here both are our own.
    signature = read_bundle(new).signature
    assert [h.old for h in signature.handovers] == [SigningKey.from_text("11" * 32).public]
    assert all(h.holds for h in signature.handovers)
    for data in (old, new):
        assert preview(ines, data)[1]["signer"]["says"] == "Signed here, by your own organisation."
    card = KeyCard.model_validate_json(arvid.client.get("/api/keys/card").content)
    assert card.handovers == signature.handovers


def test_a_key_of_the_environment_is_followed_there(arvid, settings):
    settings.SIGNING_KEY = "22" * 32
    status, problem = arvid.post("/keys/next")
    assert status == 409
    assert "AMBERKEY_SIGNING_KEY_BEFORE" in problem["cure"]
    settings.SIGNING_KEY_BEFORE = "11" * 32
    for _ in range(2):
        assert arvid.get("/keys")[1]["own"]["older"] == 1
    assert HandedOver.objects.count() == 1


@pytest.mark.django_db(transaction=True)
def test_of_two_new_keys_at_once_one_is_made(key_file):
    arvid = Actor(User.objects.create(username="arvid", first_name="Arvid", role="administrator"))
    outcomes = []
    ready = threading.Barrier(2)

    def make():
        ready.wait()
        try:
            outcomes.append(follow(arvid).public)
        except Exception as error:
            outcomes.append(str(error))
        finally:
            connection.close()

    threads = [threading.Thread(target=make) for _ in range(2)]
    for one in threads:
        one.start()
    for one in threads:
        one.join()
    now = SigningKey.from_text(key_file.read_text()).public
    assert now in outcomes
    # Whichever came first, each key that was ever in the file was handed over to by the one before.
    assert HandedOver.objects.filter(new=now).exists()


def test_what_travels_is_told_before(ines, key_file):
    status, found = ines.get("/profiles/house/bundle/contents")
    assert (status, found["signed"]) == (200, "The organisation")
    assert {s["id"]: s["count"] for s in found["sections"]}["entries"] > 0
    assert any("as quaysheet" in n for n in found["needs"])
    manifest = read_bundle(export(ines)).manifest
    assert [f["path"] for f in found["files"]] == [f.path for f in manifest.files]
    assert found["needs"] == list(manifest.needs)
    assert [(s["what"], s["why"]) for s in found["stays"]] == [(s.what, s.why) for s in manifest.stays]
    beside = ines.get("/profiles/house/travels")[1]["lines"]
    assert {(f.section, f.lives, f.goes) for f in manifest.fares} == {(t["section"], t["lives"], t["goes"]) for t in beside}
    newest = Revision.objects.filter(document_id="profile/house").latest("number")
    assert manifest.parts[0].revision == newest.number
    assert ines.get("/profiles/house/bundle/contents?sections=poems")[0] == 400


def test_chosen_sections_say_nothing_of_the_others(ines):
    data = ines.client.get("/api/profiles/house/bundle?sections=launchers").content
    came = read_bundle(data)
    assert came.manifest.parts[0].sections == ("launchers",)
    assert came.documents[0].entries == ()
    for how in ("replace", "merge", "add"):
        status, found = preview(ines, data, "house", how)
        # Replacing would take every shortcut out, were the bundle's silence about them taken for a word.
        assert (status, found["differences"]) == (200, [])
    assert found["sections"] == ["launchers"]


def test_what_it_would_make_of_clashes_is_worked_out_and_nothing_written(ines):
    data = export(ines)
    keys = [d["key"] for d in preview(ines, data)[1]["differences"] if not d["refused"]]
    revisions = Revision.objects.count()
    body = {**upload(data), "chosen": json.dumps(keys), "how": "add"}
    status, told = ines.send("/profiles/training/import/plan", body)
    assert status == 200
    assert told["solved"] == len(told["solves"]) or told["solved"] > 20
    assert told["people"] > 0
    assert Revision.objects.count() == revisions
    before = ines.get("/clashes")[1]
    take(ines, data, keys)
    after = ines.get("/clashes")[1]
    assert (told["solved"], told["made"]) != (0, 0) or before == after
    assert ines.send("/profiles/training/import/plan", {**upload(data), "chosen": "[3]"})[0] == 400


def test_the_revision_before_is_named_so_that_it_is_found(ines):
    for command in ("quote-fare", "jump-to-record"):
        identity = groups(ines)[command]["identity"]
        decide(ines, identity, ways(ines, identity)[0]["key"])
    data = export(ines)
    found = preview(ines, data)[1]
    take(ines, data, [found["differences"][0]["key"]])
    names = list(Revision.objects.filter(document_id="profile/training").order_by("number").values_list("name", flat=True))
    assert names[-2:] == [f"Before {found['bundle']}", ""]
    take(ines, data, [found["differences"][1]["key"]])
    take(ines, data, [found["differences"][2]["key"]])
    names = Revision.objects.filter(document_id="profile/training").exclude(name="").values_list("name", flat=True)
    assert len(set(names)) == 3


def test_of_several_profiles_one_is_chosen(ines):
    house = read_bundle(export(ines)).documents[0]
    other = Profile(id="another", name="Another")
    data = write_bundle([house, other], bundle_id="two", name="Two")
    found = preview(ines, data)[1]
    assert [p["id"] for p in found["profiles"]] == ["another", "house"]
    assert found["part"] == "another"
    found = ines.send("/profiles/training/import/preview", {**upload(data), "how": "add", "part": "house"})[1]
    assert (found["part"], bool(found["differences"])) == ("house", True)
    assert ines.send("/profiles/training/import/preview", {**upload(data), "part": "nobody"})[0] == 400


def test_only_administrators_touch_keys(ines):
    assert ines.post("/keys/next")[0] == 403
    assert Api("tove").get("/keys")[0] == 200


def test_made_on_one_instance_it_solves_the_same_clashes_on_another(ines, key_file):
    """The other instance is this one before anything was decided."""
    before = {g["identity"] for g in groups(ines).values()}
    with transaction.atomic():
        for command in ("quote-fare", "jump-to-record", "fold-all"):
            identity = groups(ines)[command]["identity"]
            decide(ines, identity, ways(ines, identity)[0]["key"])
        here, data = {g["identity"] for g in groups(ines).values()}, export(ines)
        transaction.set_rollback(True)
    assert {g["identity"] for g in groups(ines).values()} == before
    assert len(before - here) == 3
    found = preview(ines, data, "house")[1]
    take(ines, data, [d["key"] for d in found["differences"]], "house", found["how"])
    assert {g["identity"] for g in groups(ines).values()} == here
