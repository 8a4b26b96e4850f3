"""The laws of every container of settings files: what stands in it after a change, and what stays as it was."""

import json

import pytest
from hypothesis import given
from hypothesis import strategies as st

from amberkey.core.containers.errors import SettingsFileError
from amberkey.core.containers.json_text import JsonText
from amberkey.core.containers.memory import InMemory
from amberkey.core.containers.port import Add, Remove, SetField

AT = ("keyboard", "own")
CONTAINERS = {"json": JsonText(), "in memory": InMemory()}
names = st.sampled_from(["do", "on", "wo", "größe", "", 'quote"d'])
values = st.recursive(
    st.none() | st.booleans() | st.integers(-(2**50), 2**50) | st.text(max_size=6),
    lambda inner: st.lists(inner, max_size=3) | st.dictionaries(names, inner, max_size=2),
    max_leaves=4,
)
fields = st.dictionaries(names, values, max_size=4)
items = st.lists(fields | values, max_size=5)
indents = st.sampled_from([None, 1, "\t"])


def plain(item) -> dict:
    return item if isinstance(item, dict) else {}


@st.composite
def texts(draw):
    """A file with entries among other things, and the entries themselves."""
    own = draw(items)
    root = {"speed": draw(values), "keyboard": {"own": own, "größe": draw(values)}, "own": [1]}
    return json.dumps(root, indent=draw(indents), ensure_ascii=draw(st.booleans())), root, own


@st.composite
def changed(draw):
    """A file, some changes of it, and the entries that these come to."""
    text, root, own = draw(texts())
    gone = draw(st.sets(st.integers(0, len(own) - 1))) if own else set()
    after = [dict(i) if isinstance(i, dict) else i for i in own]
    changes = [Remove(n) for n in sorted(gone)]
    for n, item in enumerate(after):
        if n not in gone and isinstance(item, dict) and draw(st.booleans()):
            name, value = draw(names), draw(values)
            item[name] = value
            changes.append(SetField(n, name, value))
    added = draw(st.lists(fields, max_size=3))
    changes += [Add(a) for a in added]
    left = [item for n, item in enumerate(after) if n not in gone] + added
    return text, root, draw(st.permutations(changes)) if not added else changes, left


@pytest.mark.parametrize("name", CONTAINERS)
@given(texts())
def test_entries_are_found_in_their_order(name, drawn):
    text, _, own = drawn
    assert list(CONTAINERS[name].open(text, AT).entries()) == [plain(i) for i in own]


@pytest.mark.parametrize("name", CONTAINERS)
@given(changed())
def test_a_change_comes_to_what_it_says_and_to_nothing_else(name, drawn):
    text, root, changes, left = drawn
    after = CONTAINERS[name].open(text, AT).edited(changes)
    assert list(CONTAINERS[name].open(after, AT).entries()) == [plain(i) for i in left]
    root["keyboard"]["own"] = left
    assert json.loads(after) == root


@pytest.mark.parametrize("name", CONTAINERS)
@given(changed())
def test_what_was_opened_stays_as_it_was_opened(name, drawn):
    text, _, changes, _ = drawn
    opened = CONTAINERS[name].open(text, AT)
    assert opened.edited(changes) == opened.edited(changes)
    before = list(opened.entries())
    assert before == list(CONTAINERS[name].open(text, AT).entries())


@pytest.mark.parametrize("name", CONTAINERS)
@pytest.mark.parametrize(
    "text", ["", "{", "[1]", "{}", '{"keyboard": 4}', '{"keyboard": {"own": {}}}', '{"keyboard": {"own": "x"}}']
)
def test_a_file_without_such_a_place_is_refused(name, text):
    with pytest.raises(SettingsFileError):
        CONTAINERS[name].open(text, AT)


@given(texts())
def test_json_without_a_change_is_the_same_text(drawn):
    text, _, _ = drawn
    assert JsonText().open(text, AT).edited([]) == text


def test_json_keeps_blanks_and_order_around_a_change():
    text = '{ "keyboard" : {\r\n\t"own":[ {"do" :"a" , "on":1 },{"do":"b"}\r\n\t] } }'
    opened = JsonText().open(text, AT)
    assert opened.edited([SetField(0, "on", 2)]) == text.replace('"on":1', '"on":2')
    assert opened.edited([Remove(1)]) == text.replace(',{"do":"b"}', "")
    assert opened.edited([Remove(0)]) == text.replace('{"do" :"a" , "on":1 },', "")
    assert opened.edited([SetField(1, "größe", "ü")]) == text.replace('{"do":"b"}', '{"größe": "ü", "do":"b"}')
    assert opened.edited([Remove(0), Remove(1)]) == '{ "keyboard" : {\r\n\t"own":[] } }'


def test_a_list_at_the_root_is_a_place_too():
    assert list(JsonText().open('[{"do": "a"}]', ()).entries()) == [{"do": "a"}]
    with pytest.raises(SettingsFileError, match="the file is not a list"):
        JsonText().open("{}", ())
