import json
import pathlib

import jsonschema
import pytest
import rfc8785
from hypothesis import given
from hypothesis import strategies as st

from amberkey.core.documents.canonical import canonical_bytes
from amberkey.core.documents.errors import DocumentError, NewerFormat, NotReadable, TooLarge, UnknownFormat
from amberkey.core.formats import FORMATS, read_any, schema_of

DEMO = sorted((pathlib.Path(__file__).parents[2] / "src/amberkey/demo/documents").glob("*.json"))
PROFILE = {"format": "amberkey/profile@1", "id": "house", "name": "House", "entries": []}
ENTRY = {"program": "a", "command": "b", "platform": "windows", "shortcuts": [{"keys": "F5"}]}


def read(value):
    return read_any(json.dumps(value).encode())


def faults(value):
    with pytest.raises(DocumentError) as caught:
        read(value)
    return {f.place: f.says for f in caught.value.faults}


@pytest.mark.parametrize("path", DEMO, ids=lambda p: p.stem)
def test_documents_of_the_example_are_read_and_written_alike(path):
    document = read_any(path.read_bytes())
    assert read_any(document.to_bytes()) == document
    assert read_any(document.to_bytes()).to_bytes() == document.to_bytes()


@pytest.mark.parametrize("path", DEMO, ids=lambda p: p.stem)
def test_the_published_schemas_accept_the_example(path):
    value = json.loads(path.read_text(encoding="utf-8"))
    jsonschema.validate(value, schema_of(value["format"]))


@pytest.mark.parametrize("name", sorted(FORMATS))
def test_schemas_in_docs_are_those_of_the_models(name):
    file = pathlib.Path(__file__).parents[2] / "docs/formats" / f"{name.split('/')[1]}.schema.json"
    assert json.loads(file.read_text(encoding="utf-8")) == schema_of(name), "run tools/write_schemas.py"


def test_the_order_of_entries_makes_no_other_bytes():
    other = {**ENTRY, "command": "c"}
    assert read({**PROFILE, "entries": [ENTRY, other]}).to_bytes() == read({**PROFILE, "entries": [other, ENTRY]}).to_bytes()


def test_unknown_fields_are_refused_by_name():
    found = faults({**PROFILE, "colour": 1, "entries": [{**ENTRY, "hotkey": "F5"}]})
    assert set(found) == {"colour", "entries[0].hotkey"}


def test_every_fault_is_collected_with_its_place():
    bad = {**ENTRY, "platform": "amiga", "shortcuts": [{"keys": "ctrl+bakspace"}]}
    found = faults({**PROFILE, "name": 7, "entries": [ENTRY, bad]})
    assert set(found) >= {"name", "entries[1].platform", "entries[1].shortcuts[0].keys"}
    assert "bakspace" in found["entries[1].shortcuts[0].keys"]


def test_a_newer_format_is_refused_politely():
    with pytest.raises(NewerFormat, match=r"newer Amber Key.*profile@3"):
        read({**PROFILE, "format": "amberkey/profile@3"})


@pytest.mark.parametrize("format_name", [None, 5, "amberkey/poem@1", "profile", "amberkey/profile@0"])
def test_unknown_formats_are_refused(format_name):
    with pytest.raises(UnknownFormat):
        read({**PROFILE, "format": format_name})


def test_stand_in_modifiers_do_not_get_into_profiles():
    assert "real modifiers" in str(faults({**PROFILE, "entries": [{**ENTRY, "shortcuts": [{"keys": "Main+S"}]}]}))


@pytest.mark.parametrize(
    "data, error",
    [
        (b"{", NotReadable),
        (b"\xff\xfe", NotReadable),
        (b'{"a": 1, "a": 2}', NotReadable),
        (b'{"a": NaN}', NotReadable),
        (b'"\\ud800"', NotReadable),
        (b"[" * 100_000, TooLarge),
        (b'{"a":' * 50_000, TooLarge),
        (b" " * (20 * 1024 * 1024), TooLarge),
        (b'["' + b"\\" * 100, NotReadable),
        (b"[]", UnknownFormat),
        (b"null", UnknownFormat),
    ],
    ids=[
        "cut",
        "no text",
        "doubled",
        "nan",
        "half a character",
        "deep lists",
        "deep objects",
        "20 MB",
        "slashes",
        "list",
        "null",
    ],
)
def test_hostile_bytes_are_refused(data, error):
    with pytest.raises(error):
        read_any(data)


@pytest.mark.parametrize(
    "scopes, says",
    [
        (
            [{"id": "a", "name": "A", "parent": "b"}, {"id": "b", "name": "B", "parent": "a"}, {"id": "w", "name": "W"}],
            "inside itself",
        ),
        ([{"id": "a", "name": "A"}, {"id": "a", "name": "A"}], "stands twice"),
        ([{"id": "a", "name": "A"}, {"id": "b", "name": "B"}], "exactly one"),
        ([{"id": "a", "name": "A", "parent": "z"}, {"id": "w", "name": "W"}], "isn't there"),
    ],
)
def test_a_broken_scope_tree_is_refused(scopes, says):
    program = {
        "format": "amberkey/program@1",
        "id": "p",
        "name": "P",
        "version": "1",
        "kind": "office",
        "platforms": ["windows"],
        "scopes": scopes,
        "commands": [],
    }
    assert says in str(faults(program))


json_values = st.recursive(
    st.none()
    | st.booleans()
    | st.integers(-(2**53) + 1, 2**53 - 1)
    | st.floats(allow_nan=False, allow_infinity=False)
    | st.text(),
    lambda inner: st.lists(inner, max_size=4) | st.dictionaries(st.text(max_size=4), inner, max_size=4),
    max_leaves=20,
)


@given(json_values)
def test_the_quick_way_to_canonical_bytes_gives_what_rfc_8785_says(value):
    assert canonical_bytes(value) == rfc8785.dumps(value)
