"""Three-way merge and the views of differences, by their laws."""

import json

import pytest
from hypothesis import given
from hypothesis import strategies as st

from amberkey.core.compare.merging import Whose, merge
from amberkey.core.compare.operations import apply, compare
from amberkey.core.compare.views import as_json, as_rows, as_sentences, chosen, id_of
from amberkey.core.documents.canonical import canonical_bytes
from amberkey.core.documents.model import read_document
from amberkey.core.formats import FORMATS

KEYS = st.sampled_from(["F5", "Main+F", "Alt+1", ["F8", "B"]])
LINES = st.dictionaries(st.sampled_from([("save", "windows"), ("save", "macos"), ("find", "windows")]), KEYS)
NAMES = st.sampled_from(["House", "Quay"])


def standard(name, lines):
    value = {
        "format": "amberkey/standard@1",
        "id": "standard",
        "name": name,
        "lines": [{"task": t, "platform": p, "keys": k} for (t, p), k in lines.items()],
    }
    return read_document(value, FORMATS).to_json()


standards = st.builds(standard, NAMES, LINES)


@given(standards, standards)
def test_merging_with_what_nobody_changed_gives_the_other(base, other):
    for ours, theirs in ((other, base), (base, other), (other, other)):
        merged = merge(base, ours, theirs)
        assert not merged.contradictions
        assert canonical_bytes(merged.document) == canonical_bytes(other)


@given(standards, standards, standards)
def test_merging_tells_of_the_same_contradictions_from_both_sides(base, ours, theirs):
    one, other = merge(base, ours, theirs), merge(base, theirs, ours)
    assert [(c.section, c.key, c.ours, c.theirs) for c in one.contradictions] == [
        (c.section, c.key, c.theirs, c.ours) for c in other.contradictions
    ]
    if not one.contradictions:
        assert canonical_bytes(one.document) == canonical_bytes(other.document)


@given(standards, standards, standards)
def test_merging_loses_nothing_of_either(base, ours, theirs):
    """What only one changed is as that one made it; what both changed is told of or the same."""
    merged = merge(base, ours, theirs)
    assert canonical_bytes(apply(theirs, merged.operations)) == canonical_bytes(merged.document)
    mine = {id_of(o): o for o in compare(base, ours)}
    others = {id_of(o): o for o in compare(base, theirs)}
    left = {id_of(o) for o in compare(merged.document, ours)}
    against = {f"{c.section}:{c.key}" for c in merged.contradictions}
    for key in mine.keys() - others.keys():
        assert key not in left
    assert against == {k for k in mine.keys() & others.keys() if mine[k].after != others[k].after}
    assert not {id_of(o) for o in compare(merged.document, theirs)} & (others.keys() - mine.keys())


@given(standards, standards, standards, standards)
def test_what_is_made_of_a_contradiction_afterwards_counts_whatever_it_is(base, ours, theirs, edited):
    """Items that both made something else of are edited on, to a fourth thing or back to what they were."""
    where = {(c.section, c.key) for c in merge(base, ours, theirs).contradictions}
    rest = [o for o in compare(ours, edited) if (o.section, o.key) in where]
    made = apply(ours, rest)
    merged = merge(base, made, theirs, dict.fromkeys(where, Whose.OURS))
    assert not merged.contradictions
    assert not {(o.section, o.key) for o in compare(merged.document, made)} & where
    beside = {(o.section, o.key) for o in compare(merged.document, merge(base, ours, theirs).document)}
    assert beside <= where


@given(standards, standards, standards)
def test_contradictions_are_decided_item_by_item(base, ours, theirs):
    found = merge(base, ours, theirs).contradictions
    mine = merge(base, ours, theirs, {(c.section, c.key): c.ours for c in found})
    assert not mine.contradictions
    for c in found:
        assert all(o.key != c.key for o in compare(mine.document, ours))
    yours = merge(base, ours, theirs, {(c.section, c.key): c.theirs for c in found})
    assert not yours.contradictions
    for c in found:
        assert all(o.key != c.key for o in compare(yours.document, theirs))


@given(standards, standards)
def test_taking_all_differences_one_by_one_gives_the_other(a, b):
    document = a
    for one in compare(a, b):
        document = apply(document, chosen(compare(document, b), [id_of(one)]))
    assert canonical_bytes(document) == canonical_bytes(b)


@given(standards, standards)
def test_every_view_tells_of_every_difference(a, b):
    operations = compare(a, b)
    assert len(as_sentences(operations)) == len(operations)
    assert [v["id"] for v in as_json(operations)] == [id_of(o) for o in operations]
    assert {(r.section, r.key) for r in as_rows(operations)} == {(o.section, o.key) for o in operations}
    json.dumps(as_json(operations))


def test_sentences_and_rows_say_what_becomes_what():
    a = standard("House", {("save", "windows"): "F5", ("find", "windows"): "F6"})
    b = standard("House", {("save", "windows"): ["F8", "B"], ("save", "macos"): "Main+S"})
    assert as_sentences(compare(a, b)) == [
        "Takes out the line find on windows: F6.",
        "Adds the line save on macos: Main+S.",
        "Changes the line save on windows: keys from F5 to F8, B.",
    ]
    assert [(r.does, r.field, r.before, r.after) for r in as_rows(compare(a, b)) if r.field] == [
        ("changes", "keys", "F5", "F8, B")
    ]


def test_choosing_what_is_not_there_is_refused_by_name():
    with pytest.raises(KeyError, match="lines:gone"):
        chosen([], ["lines:gone"])
