import io
import json
import zipfile

import pytest
from hypothesis import given
from hypothesis import strategies as st

from amberkey.core.documents.canonical import canonical_bytes, digest_of
from amberkey.core.documents.model import read_document
from amberkey.core.exchange.bundle import LINEAGE, read_bundle, write_bundle
from amberkey.core.exchange.errors import BundleError
from amberkey.core.exchange.zips import ZipLimits
from amberkey.core.profiles.model import Profile
from tests.core.test_compare import profiles

profile_documents = profiles.map(lambda p: read_document(p, {"amberkey/profile@1": Profile}))
HOUSE = Profile(id="house", name="House")


def bundle(*documents):
    return write_bundle(documents, bundle_id="b", name="B")


def repacked(change=None, extra=(), drop=()):
    """The bundle of HOUSE with parts changed, added or dropped behind the manifest's back."""
    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(bundle(HOUSE))) as old, zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as new:
        for info in old.infolist():
            if info.filename not in drop:
                body = old.read(info)
                new.writestr(info.filename, change(info.filename, body) if change else body)
        for path, body in extra:
            new.writestr(path, body)
    return out.getvalue()


@given(profile_documents, st.text(max_size=20))
def test_what_goes_in_comes_out(profile, who):
    data = write_bundle([profile], bundle_id="b", name="B", made_by=who.encode("utf-8", "ignore").decode())
    came = read_bundle(data)
    assert came.documents == (profile,)
    assert [p.id for p in came.manifest.parts] == [profile.id]
    assert write_bundle(came.documents, bundle_id="b", name="B", made_by=came.manifest.made_by) == data


def test_the_manifest_names_digest_and_size():
    manifest = read_bundle(bundle(HOUSE)).manifest
    assert manifest.parts[0].sha256 == digest_of(HOUSE.to_bytes())
    assert manifest.parts[0].size == len(HOUSE.to_bytes())


DAMAGED = {
    "no zip": (b"PK\x03\x04 but nothing more", "can't be opened"),
    "cut off": (bundle(HOUSE)[:-30], "can't be opened"),
    "wrong digest": (repacked(lambda n, b: b.replace(b"House", b"Mouse") if n != "manifest.json" else b), "digest is wrong"),
    "no manifest": (repacked(drop=["manifest.json"]), "no manifest"),
    "missing part": (repacked(drop=["documents/house.json"]), "it is missing"),
    "stray part": (repacked(extra=[("documents/more.json", b"{}")]), "doesn't name"),
    "path outside": (repacked(extra=[("../../outside.json", b"{}")]), "leads outside"),
    "absolute path": (repacked(extra=[("/etc/amber", b"{}")]), "leads outside"),
    "drive path": (repacked(extra=[("c:boot", b"{}")]), "leads outside"),
    "bomb": (repacked(lambda n, b: b" " * 30_000_000 if n != "manifest.json" else b), "blows up"),
    "manifest of another kind": (
        repacked(lambda n, b: b'{"format":"amberkey/poem@1"}' if n == "manifest.json" else b),
        "not a format",
    ),
    "manifest that is no JSON": (repacked(lambda n, b: b"{" if n == "manifest.json" else b), "not JSON"),
}


@pytest.mark.parametrize("name", DAMAGED)
def test_a_damaged_bundle_is_refused_with_its_part(name):
    data, says = DAMAGED[name]
    with pytest.raises(BundleError, match=says):
        read_bundle(data)


def test_a_part_that_is_not_what_it_says_is_refused():
    other = Profile(id="other", name="Other").to_bytes()

    def change(name, body):
        if name != "manifest.json":
            return other
        return body.replace(digest_of(HOUSE.to_bytes()).encode(), digest_of(other).encode()).replace(
            f'"size":{len(HOUSE.to_bytes())}'.encode(), f'"size":{len(other)}'.encode()
        )

    with pytest.raises(BundleError, match="format or id"):
        read_bundle(repacked(change))


@pytest.mark.parametrize("lineage", [["x"], ["0" * 64] * 201, ["0" * 63 + "G"], "0" * 64, [None]])
def test_a_lineage_that_is_none_is_refused(lineage):
    def change(name, body):
        if name != "manifest.json":
            return body
        manifest = json.loads(body)
        manifest["parts"][0]["lineage"] = lineage
        return json.dumps(manifest).encode()

    with pytest.raises(BundleError, match="lineage"):
        read_bundle(repacked(change))


def test_a_lineage_comes_back_cut_to_what_a_bundle_may_name():
    states = [f"{n:064x}" for n in range(300)]
    manifest = read_bundle(write_bundle([HOUSE], bundle_id="b", name="B", lineages={"house": states})).manifest
    assert list(manifest.parts[0].lineage) == states[:LINEAGE]


def test_limits_hold_before_anything_is_unpacked():
    with pytest.raises(BundleError, match="parts"):
        read_bundle(bundle(HOUSE), ZipLimits(parts=1))
    with pytest.raises(BundleError, match="MB is the most"):
        read_bundle(b"x" * 100, ZipLimits(packed=50))
    with pytest.raises(BundleError, match="Unpacked"):
        read_bundle(bundle(HOUSE), ZipLimits(unpacked=10))


def test_canonical_bytes_are_those_of_the_standard():
    # RFC 8785, section 3.2.3: sorted by UTF-16 units, numbers as ECMAScript prints them.
    assert canonical_bytes({"\u20ac": 1, "\r": 2, "1": 1e30, "a": [True, None]}) == (
        b'{"\\r":2,"1":1e+30,"a":[true,null],"\xe2\x82\xac":1}'
    )
