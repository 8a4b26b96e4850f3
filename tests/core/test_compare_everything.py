"""The laws of comparing, merging and undoing, on every section of every kind of document."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from amberkey.core.compare.merging import Whose, merge
from amberkey.core.compare.operations import apply, compare, operation_from_json, operation_to_json
from amberkey.core.compare.views import as_rows, as_sentences, chosen, id_of
from amberkey.core.documents.canonical import canonical_bytes
from amberkey.core.documents.sections import SECTIONS

FORMATS = sorted(SECTIONS)
every_format = pytest.mark.parametrize("format_name", FORMATS)


def item(n, value):
    """Number n of any section: every field by which some section tells its items apart."""
    names = ("id", "program", "command", "keys", "task", "key", "clash", "person", "machine", "role", "becomes")
    names += ("shelf", "place", "preference")
    return {**{name: f"{name}-{n}" for name in names}, "platform": "windows", "value": value}


@st.composite
def documents(draw, format_name):
    document = {"format": format_name, "id": "one", "name": draw(st.sampled_from(["House", "Quay"]))}
    if draw(st.booleans()):
        document["description"] = draw(st.sampled_from(["What everybody has.", "Else."]))
    for name, section in SECTIONS[format_name].items():
        numbers = draw(st.lists(st.integers(0, 4), unique=True, max_size=4))
        found = [item(n, draw(st.integers(0, 2))) for n in numbers]
        if found:
            document[name] = found if section.ordered else sorted(found, key=section.key_of)
    return document


def same(a, b):
    return canonical_bytes(a) == canonical_bytes(b)


def items(document):
    """Every item by section and key, and every field, as comparing has them."""
    sections = SECTIONS[document["format"]]
    found = {("", name): value for name, value in document.items() if name not in sections}
    for name, section in sections.items():
        found |= {(name, section.key_of(one)): one for one in document.get(name, ())}
    return found


@every_format
@given(st.data())
def test_differences_lead_there_and_back_and_can_be_kept(format_name, data):
    a, b = (data.draw(documents(format_name)) for _ in range(2))
    assert compare(a, a) == []
    operations = compare(a, b)
    assert same(apply(a, operations), b)
    assert same(apply(b, [o.inverse() for o in reversed(operations)]), a)
    assert [operation_from_json(operation_to_json(o)) for o in operations] == operations


@every_format
@given(st.data())
def test_every_difference_is_told_and_can_be_taken_alone_and_taken_back(format_name, data):
    a, b = (data.draw(documents(format_name)) for _ in range(2))
    operations = compare(a, b)
    assert len(as_sentences(operations)) == len(operations)
    assert {(o.section, o.key) for o in operations} == {(r.section, r.key) for r in as_rows(operations)}
    if operations:
        one = data.draw(st.sampled_from([o for o in operations if o.section != "in order"] or operations))
        if one.section == "in order":
            return
        (same_one,) = chosen(operations, [id_of(one)])
        alone = apply(a, [same_one])
        where = (one.section, one.key)
        assert items(alone).get(where) == items(b).get(where)
        assert {k: v for k, v in items(alone).items() if k != where} == {k: v for k, v in items(a).items() if k != where}
        assert items(apply(alone, [same_one.inverse()])) == items(a)


@every_format
@given(st.data())
def test_merging_keeps_what_either_did_and_tells_where_both_did_otherwise(format_name, data):
    base, ours, theirs = (data.draw(documents(format_name)) for _ in range(3))
    merged = merge(base, ours, theirs)
    result = items(apply(theirs, merged.operations))
    was, mine, yours = items(base), items(ours), items(theirs)
    against = {(c.section, c.key) for c in merged.contradictions if c.section != "in order"}
    for where in was.keys() | mine.keys() | yours.keys():
        a, m, y = was.get(where), mine.get(where), yours.get(where)
        both_else = m != a and y != a and m != y
        assert (where in against) is both_else
        assert result.get(where) == (y if both_else or m == a else m)


@every_format
@given(st.data())
def test_whoever_is_chosen_counts(format_name, data):
    base, ours, theirs = (data.draw(documents(format_name)) for _ in range(3))
    found = merge(base, ours, theirs).contradictions
    choice = {(c.section, c.key): data.draw(st.sampled_from([c.ours, c.theirs, Whose.OURS])) for c in found}
    merged = merge(base, ours, theirs, choice)
    assert merged.contradictions == ()
    result, mine = items(apply(theirs, merged.operations)), items(ours)
    for (section, key), value in choice.items():
        if section != "in order":
            assert result.get((section, key)) == (mine.get((section, key)) if value is Whose.OURS else value)


@every_format
@given(st.data())
def test_what_one_alone_did_is_all_that_comes_of_it(format_name, data):
    base, other = (data.draw(documents(format_name)) for _ in range(2))
    assert same(apply(base, merge(base, other, base).operations), other)
    assert merge(base, base, other).operations == ()
