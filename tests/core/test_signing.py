"""Signatures of bundles: who signed, keys that follow one another, and everything that isn't a signature."""

import base64
import io
import itertools
import json
import zipfile

import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from amberkey.core.exchange.bundle import Signing, read_bundle, write_bundle
from amberkey.core.exchange.errors import BundleError, KeyFault
from amberkey.core.exchange.signing import (
    MOST_HANDOVERS,
    HandOver,
    KeyCard,
    SigningKey,
    fingerprint,
    leading_to,
    reached_from,
    who_signed,
)
from amberkey.core.profiles.model import Profile

HOUSE = Profile(id="house", name="House")
seeds = st.binary(min_size=32, max_size=32)


def key(n: int) -> SigningKey:
    return SigningKey(bytes([n]) * 32)


def signed(by: SigningKey | None = None, handovers=()) -> bytes:
    signing = Signing(by or key(1), "Merrow Strait Ferries", tuple(handovers))
    return write_bundle([HOUSE], bundle_id="b", name="B", signing=signing)


def repacked(data: bytes, **parts) -> bytes:
    """A bundle with some parts changed (a function of the old bytes), or gone (None)."""
    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(data)) as old, zipfile.ZipFile(out, "w") as new:
        for info in old.infolist():
            change = parts.get(info.filename.partition(".")[0].replace("/", "_"), lambda body: body)
            if change is not None:
                new.writestr(info.filename, change(old.read(info)))
    return out.getvalue()


def test_the_public_key_is_that_of_the_standard():
    # RFC 8032, section 7.1, test 1.
    known = SigningKey.from_text("9d61b19deffd5a60ba844af492ec2cc44449c5697b326919703bac031cae7f60")
    assert base64.b64decode(known.public).hex() == "d75a980182b10ab7d54bfed3c964073a0ee172f3daa62325af021a68f707511a"


@given(seeds, st.binary(max_size=50), st.binary(max_size=50))
def test_a_signature_fits_what_was_signed_and_nothing_else(seed, data, other):
    signature = SigningKey(seed).sign(data, "Ours")
    assert signature.fits(data)
    assert signature.fits(other) == (other == data)


def test_equal_contents_and_keys_give_equal_bytes():
    assert signed() == signed()
    assert signed(key(2)) != signed()


def test_who_signed_is_told_by_the_key_and_never_by_the_name():
    signature = read_bundle(signed()).signature
    known = who_signed(signature, {key(1).public: "The ferries"})
    assert (known.state, known.name, known.handed_over) == ("known", "The ferries", False)
    stranger = who_signed(signature, {key(2).public: "Merrow Strait Ferries"})
    assert (stranger.state, stranger.name) == ("unknown", "Merrow Strait Ferries")
    assert stranger.fingerprint == fingerprint(key(1).public)
    assert who_signed(None, {key(1).public: "The ferries"}).state == "unsigned"


def test_a_bundle_without_its_signature_is_one_that_nobody_signed():
    assert read_bundle(repacked(signed(), signature=None)).signature is None


@pytest.mark.parametrize(
    ("change", "says"),
    [
        (lambda b: b.replace(b'"name":"Merrow', b'"name":"Mellow').replace(b'"B"', b'"C"'), "not of this bundle"),
        (lambda b: b[:-1], "not JSON"),
        (lambda b: b"{}", "format"),
        (lambda b: b.replace(b"@1", b"@2"), "newer"),
    ],
)
def test_what_was_changed_after_signing_is_refused(change, says):
    part = "manifest" if says.startswith("not of") else "signature"
    with pytest.raises(BundleError, match=says):
        read_bundle(repacked(signed(), **{part: change}))


def test_a_signature_of_another_bundle_is_refused():
    other = write_bundle([HOUSE], bundle_id="c", name="C", signing=Signing(key(1), "Ours"))
    with zipfile.ZipFile(io.BytesIO(other)) as archive:
        foreign = archive.read("signature.json")
    with pytest.raises(BundleError, match="not of this bundle"):
        read_bundle(repacked(signed(), signature=lambda _: foreign))


@pytest.mark.parametrize("field", ["key", "signature"])
@pytest.mark.parametrize("value", ["", "AAAA", "!" * 44, "A" * 43 + "=", "A" * 87 + "=", 7, None, "é" * 44])
def test_what_is_no_key_and_no_signature_is_refused(field, value):
    def change(body):
        return json.dumps({**json.loads(body), field: value}).encode()

    with pytest.raises(BundleError):
        read_bundle(repacked(signed(), signature=change))


@pytest.mark.parametrize("text", ["A" * 42 + "B=", base64.b64encode(b"x" * 33).decode(), "A" * 40 + "===="])
def test_a_key_is_32_bytes_written_in_one_way(text):
    with pytest.raises(ValidationError, match="base64"):
        KeyCard(name="Ours", key=text)


def test_a_signature_is_none_of_another_kind():
    old, new = key(1), key(2)
    words = base64.b64decode(old.public) + base64.b64decode(new.public)
    forged = HandOver(old=old.public, new=new.public, signature=old.sign(words, "Ours").signature)
    assert not forged.holds
    assert old.hand_over(new).holds


def test_a_key_that_follows_a_known_one_is_known():
    one, two, three = key(1), key(2), key(3)
    chain = [one.hand_over(two), two.hand_over(three)]
    signature = read_bundle(signed(three, chain)).signature
    found = who_signed(signature, {one.public: "The ferries"})
    assert (found.state, found.name, found.handed_over) == ("known", "The ferries", True)
    assert who_signed(signature, {two.public: "The ferries"}).state == "known"
    # Knowing a newer key says nothing of an older one, and a chain with a hole leads nowhere.
    assert who_signed(read_bundle(signed(one, chain)).signature, {two.public: "The ferries"}).state == "unknown"
    assert who_signed(read_bundle(signed(three, chain[1:])).signature, {one.public: "The ferries"}).state == "unknown"


def test_a_hand_over_that_somebody_else_signed_leads_nowhere():
    one, two, thief = key(1), key(2), key(9)
    forged = HandOver(old=one.public, new=thief.public, signature=thief.hand_over(two).signature)
    assert reached_from([one.public], [forged]) == {}
    # Hand-overs in a circle end.
    circle = [one.hand_over(two), two.hand_over(one)]
    assert reached_from([one.public], circle) == {two.public: one.public}


@given(st.lists(st.tuples(st.integers(1, 6), st.integers(1, 6)), max_size=12), st.integers(1, 6))
def test_the_hand_overs_that_lead_to_a_key_reach_it_from_wherever_all_of_them_do(pairs, last):
    keys = {n: key(n) for n in range(1, 7)}
    # Each new key comes after what it follows, as they are kept.
    said = [keys[a].hand_over(keys[b]) for a, b in sorted(p for p in pairs if p[0] < p[1])]
    led = leading_to(keys[last].public, sorted(said, key=lambda h: [k.public for k in keys.values()].index(h.new)))
    for n, one in keys.items():
        if n != last:
            reaches = keys[last].public in reached_from([one.public], said)
            assert (keys[last].public in reached_from([one.public], led)) == reaches
    assert {h.new for h in led} <= {keys[n].public for n in range(1, last + 1)}


def test_of_many_hand_overs_the_newest_come_along():
    keys = [SigningKey(n.to_bytes(32, "big")) for n in range(MOST_HANDOVERS + 6)]
    chain = [a.hand_over(b) for a, b in itertools.pairwise(keys)]
    led = leading_to(keys[-1].public, chain)
    assert led == tuple(chain[-MOST_HANDOVERS:])
    with pytest.raises(ValidationError):
        keys[-1].sign(b"", "Ours", chain)


@pytest.mark.parametrize("text", ["", "zz", "00" * 31, "00" * 33, "é"])
def test_what_is_no_secret_key_is_refused(text):
    with pytest.raises(KeyFault, match="64 hexadecimal digits"):
        SigningKey.from_text(text)


def test_a_fingerprint_is_short_and_of_the_key():
    assert len(fingerprint(key(1).public).split()) == 8
    assert fingerprint(key(1).public) != fingerprint(key(2).public)
