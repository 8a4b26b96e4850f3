import pytest
from hypothesis import given
from hypothesis import strategies as st

from amberkey.core.compare.errors import PreconditionFailed
from amberkey.core.compare.operations import (
    Add,
    apply,
    compare,
    operation_from_json,
    operation_to_json,
    set_item,
)
from amberkey.core.documents.canonical import canonical_bytes
from amberkey.core.documents.model import read_document
from amberkey.core.profiles.model import Profile

keys = st.sampled_from(["Control+Shift+U", "F5", "Alt+1", ["F8", "B"]])
entries = st.fixed_dictionaries(
    {
        "program": st.sampled_from(["tableware", "pagewright"]),
        "command": st.sampled_from(["save", "open", "print"]),
        "platform": st.sampled_from(["windows", "macos"]),
        "shortcuts": st.lists(st.fixed_dictionaries({"keys": keys}), max_size=2),
    }
)
profiles = st.builds(
    lambda name, items: read_document(
        {
            "format": "amberkey/profile@1",
            "id": "p",
            "name": name,
            "entries": list({(e["program"], e["command"], e["platform"]): e for e in items}.values()),
        },
        {"amberkey/profile@1": Profile},
    ).to_json(),
    st.sampled_from(["House", "Quay"]),
    st.lists(entries, max_size=6),
)


@given(profiles)
def test_nothing_differs_from_itself(a):
    assert compare(a, a) == []


@given(profiles, profiles)
def test_applying_the_differences_gives_the_other(a, b):
    assert canonical_bytes(apply(a, compare(a, b))) == canonical_bytes(b)


@given(profiles, profiles)
def test_apply_then_undo_restores_the_bytes(a, b):
    operations = compare(a, b)
    back = [o.inverse() for o in reversed(operations)]
    assert canonical_bytes(apply(apply(a, operations), back)) == canonical_bytes(a)


@given(profiles, profiles)
def test_operations_survive_being_kept_as_json(a, b):
    operations = compare(a, b)
    assert [operation_from_json(operation_to_json(o)) for o in operations] == operations


@given(profiles, profiles, st.data())
def test_undo_works_after_other_entries_changed(a, b, data):
    operations = compare(a, b)
    if not operations:
        return
    one = data.draw(st.sampled_from(operations))
    others = [o for o in operations if o is not one]
    done = apply(apply(a, [one]), others)
    assert canonical_bytes(apply(done, [one.inverse()])) == canonical_bytes(apply(a, others))


def test_an_operation_over_newer_work_is_refused_and_changes_nothing():
    document = {"format": "amberkey/profile@1", "id": "p", "name": "House", "entries": []}
    value = {"program": "a", "command": "b", "platform": "windows", "shortcuts": [{"keys": "F5"}]}
    one = Add("entries", "a/b on windows", value)
    done = apply(document, [one])
    newer = apply(done, [set_item(done, "entries", one.key, {**value, "shortcuts": []})])
    before = canonical_bytes(newer)
    with pytest.raises(PreconditionFailed) as caught:
        apply(newer, [one.inverse()])
    assert caught.value.found == {**value, "shortcuts": []}
    assert canonical_bytes(newer) == before


def test_setting_an_item_to_what_it_is_is_no_operation():
    document = {"format": "amberkey/profile@1", "id": "p", "name": "House", "entries": []}
    assert set_item(document, "entries", "a/b on windows", None) is None


commands = st.lists(st.sampled_from(["save", "open", "print", "close"]), unique=True).map(
    lambda ids: {
        "format": "amberkey/program@1",
        "id": "p",
        "commands": [{"id": i, "name": i, "scope": "window"} for i in ids],
        "scopes": [{"id": "window", "name": "Window"}],
    }
)


@given(commands, commands)
def test_the_order_of_commands_is_carried_over_and_back(a, b):
    operations = compare(a, b)
    done = apply(a, operations)
    assert [c["id"] for c in done.get("commands", [])] == [c["id"] for c in b["commands"]]
    back = apply(done, [o.inverse() for o in reversed(operations)])
    assert [c["id"] for c in back.get("commands", [])] == [c["id"] for c in a["commands"]]


def test_an_order_is_undone_after_somebody_added_a_command():
    def program(*ids):
        return {"format": "amberkey/program@1", "id": "p", "commands": [{"id": i} for i in ids]}

    turned = compare(program("a", "b", "c"), program("c", "b", "a"))
    back = apply(program("c", "b", "new", "a"), [o.inverse() for o in turned])
    assert [c["id"] for c in back["commands"]] == ["a", "b", "new", "c"]
