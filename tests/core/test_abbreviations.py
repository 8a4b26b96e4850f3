"""Abbreviations: what a short form may be, what is filled into a text, and when one goes off unasked or not at all."""

import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from amberkey.core.layouts.layout import load_layout
from amberkey.core.layouts.typing import can_type
from amberkey.core.profiles.abbreviations import MOST_MET, Abbreviation, going_wrong, in_effect, parts_of
from amberkey.core.profiles.words import LANGUAGE_NAMES, words_of
from amberkey.core.ways.proposing import ways_out
from tests.core.scenes import clashes, command, office, scene
from tests.core.test_several import done

GERMAN = load_layout("de", "windows")


def short(form, **more):
    return Abbreviation.model_validate({"id": "a", "short": form, "text": "x", **more})


def wrong(*abbreviations, layout=GERMAN, languages=("de",)):
    found = going_wrong([(a, "house") for a in abbreviations], layout, languages)
    return [(w.kind, w.abbreviation.short, w.other.short if w.other else None) for w in found]


@pytest.mark.parametrize(
    ("text", "says"),
    [
        (" ", "no blanks"),
        ("a b", "no blanks"),
        ("a\n", "no blanks"),
        ("\u0301a", "stands on what is before it"),
        ("a\u200b", "nobody sees"),
        ("", "at least 1"),
        ("x" * 41, "at most 40"),
    ],
)
def test_what_no_short_form_can_be(text, says):
    with pytest.raises(ValidationError, match=says):
        short(text)


def test_an_emoji_is_a_short_form_that_nobody_types():
    assert wrong(short("🙂")) == [("untypable", "🙂", None)]
    assert wrong(short("aê")) == []  # by a dead key
    assert wrong(short("ñ"), layout=load_layout("us", "windows")) == [("untypable", "ñ", None)]


@pytest.mark.parametrize(("sign", "there"), [("ö", True), ("é", True), ("@", True), ("ł", False), ("я", False)])
def test_what_a_german_keyboard_types(sign, there):
    assert can_type(sign, GERMAN) is there


def test_words_of_the_language_are_told():
    assert wrong(short("und"), short("mfg", id="b")) == [("word", "und", None)]
    assert wrong(short("und"), languages=("fr", "de")) == [("word", "und", None)]
    assert wrong(short("und"), languages=("fr",)) == []
    assert wrong(short("UND"), languages=("de",)) == []
    assert wrong(short("UND", any_case=True)) == [("word", "UND", None)]
    assert wrong(short("und", set_off="on a key")) == []


def test_the_lists_have_words_and_a_licence():
    for language in LANGUAGE_NAMES:
        words = words_of(language)
        assert len(words) == 4000
        assert all(2 <= len(w) <= 7 and w == w.lower() for w in words)
    assert words_of("xx") == frozenset()


def test_beginnings_get_in_the_way_only_where_they_go_off_at_once():
    assert wrong(short("mf"), short("mfg", id="b")) == []
    assert wrong(short("mf", set_off="at once"), short("mfg", id="b")) == [("meets", "mfg", "mf")]
    apart = short("mf", set_off="at once", programs=["one"]), short("mfg", id="b", programs=["two"])
    assert wrong(*apart) == []
    assert wrong(short("mfg"), short("mfg", id="b")) == [("meets", "mfg", "mfg")]
    assert wrong(short("MFG"), short("mfg", id="b")) == []
    assert wrong(short("MFG", any_case=True), short("mfg", id="b")) != []


SHORTS = st.lists(
    st.tuples(st.sampled_from(["a", "ab", "abc", "b", "ba", "A"]), st.sampled_from(["at once", "after a space or sign"])),
    max_size=6,
)


@given(SHORTS)
def test_what_meets_is_just_what_comparing_all_pairs_finds(drawn):
    made = [short(text, id=f"a-{n}", set_off=off) for n, (text, off) in enumerate(drawn)]
    pairs = {
        frozenset((one.id, other.id))
        for one in made
        for other in made
        if one.id != other.id and other.short.startswith(one.short) and (one.short == other.short or one.set_off == "at once")
    }
    found = going_wrong([(a, "house") for a in made], GERMAN, ())
    assert {frozenset((w.abbreviation.id, w.other.id)) for w in found if w.other} == pairs


def test_many_that_equal_each_other_are_told_in_bounds():
    made = [short("mfg", id=f"a-{n}") for n in range(400)]
    found = list(going_wrong([(a, "house") for a in made], GERMAN, ()))
    assert {w.abbreviation.id for w in found} == {f"a-{n}" for n in range(1, 400)}
    assert len(found) < 400 * MOST_MET


def test_places_to_fill_in():
    parts = parts_of("Dear {name},\n{caret}{{x}} {ask: Berth}")
    assert [(p.kind, p.said) for p in parts] == [
        *(("text", "Dear "), ("name", "name"), ("text", ",\n"), ("caret", "caret")),
        *(("text", "{"), ("text", "x"), ("text", "}"), ("text", " "), ("ask", "Berth")),
    ]
    assert not any(p.fault for p in parts)


@pytest.mark.parametrize("text", ["{nothing}", "a { b", "}", "{ask:}", "{caret}{caret}"])
def test_a_text_that_can_not_be_filled_in_is_refused(text):
    with pytest.raises(ValidationError, match="text"):
        short("a", text=text)


@given(st.text(st.characters(codec="utf-8", exclude_categories=("Cs",)), max_size=30))
def test_no_text_is_lost_in_its_parts(text):
    parts = parts_of(text.replace("{", "{{").replace("}", "}}"))
    assert "".join(p.said for p in parts) == text
    assert not any(p.fault for p in parts)


def test_the_nearest_layer_says_what_a_short_form_becomes():
    far, near = short("a", text="far"), short("a", text="near")
    assert in_effect([("house", [far]), ("person", [near])]) == ((near, "person"),)


def test_what_goes_wrong_is_a_clash_with_ways_out():
    house = {"abbreviations": [{"id": "u", "short": "und", "text": "x"}]}
    estate = scene("windows", office("windows", command("a", "page")), house=house, layout="de", body="iso")
    assert clashes(estate) == [("abbreviation", "medium", None, "abbreviations/u")]
    ways = {w.kind: w for w in ways_out(estate, estate.groups()[0], "house")}
    assert done(estate, ways["on_key"].changes).profiles["house"].abbreviations[0].set_off == "on a key"
    for kind in ("on_key", "take_off"):
        assert done(estate, ways[kind].changes).clashes("here") == []


def test_one_for_programs_that_are_not_here_says_nothing():
    house = {"abbreviations": [{"id": "u", "short": "und", "text": "x", "programs": ["elsewhere"]}]}
    assert clashes(scene("windows", office("windows", command("a", "page")), house=house, layout="de", body="iso")) == []
