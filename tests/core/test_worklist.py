"""The worklist: everything that layers set and no file says, and nothing that one does."""

import pytest

from amberkey.core.exchange.rendering import files_of_setup
from amberkey.core.exchange.worklist import by_hand
from amberkey.core.profiles.effective import DEFAULT
from tests.core.scenes import SCOPES, command, entry, office, scene
from tests.core.test_example import estate


@pytest.mark.parametrize("setup", sorted(estate().setups)[:20])
def test_files_and_worklist_together_say_all_that_is_set_and_nothing_twice(setup):
    resolved = estate().board(setup).setup
    in_files = {(f.program.id, c) for f in files_of_setup(resolved) for c in f.commands}
    items = by_hand(resolved)
    set_by_layers = [
        (program.id, one.command.id, one.arguments)
        for program in resolved.programs
        for one in resolved.commands[program.id]
        if one.now.layer != DEFAULT
        and tuple(dict.fromkeys(s for s, _ in one.now.shortcuts)) != one.command.defaults_on(resolved.setup.works_on)
    ]
    left = [s for s in set_by_layers if s[2] or s[:2] not in in_files]
    assert len([i for i in items if i.kind == "command"]) == len(left)
    assert len({i.id for i in items}) == len(items)


def resolved(**house):
    save = command("save", "page", "Control+S")
    return scene("windows", office("windows", save), house=house).board("here").setup


def test_a_command_of_a_program_without_a_file_is_told_with_what_it_was_and_shall_be():
    (one,) = by_hand(resolved(entries=[entry("windows", "save", "F9")]))
    assert (one.what, one.old, one.new, one.content) == ("Save", "Ctrl S", "F9", "F9")
    assert one.why == "Where it keeps its keys isn't described."
    scope = next(s["name"] for s in SCOPES if s["id"] == "page")
    assert one.where == f"Office, {scope}"
    assert len(one.id) == 16


def test_what_a_layer_holds_as_it_is_shipped_is_nothing_to_do():
    assert by_hand(resolved(entries=[entry("windows", "save", "Control+S")])) == []


def test_what_is_wanted_otherwise_is_the_same_thing_with_another_content():
    items = [by_hand(resolved(entries=[entry("windows", "save", *keys)]))[0] for keys in (["F9"], ["F8"], [])]
    assert len({i.id for i in items}) == 1
    assert [i.content for i in items] == ["F9", "F8", "none"]


LOG = {"id": "log", "name": "Log", "runs": "log -o", "shortcuts": {"windows": ["F12"]}}


def test_launchers_changed_keys_and_translations_are_set_by_hand():
    setup = resolved(
        launchers=[LOG],
        remaps=[{"key": "CapsLock", "becomes": "ControlLeft"}],
        translations=[{"program": "office", "platform": "windows", "keys": "F6", "becomes": "F7"}],
    )
    items = {i.kind: i for i in by_hand(setup)}
    assert items.keys() == {"launcher", "remap", "translation"}
    assert items["launcher"].new == "F12 runs log -o"
    assert (items["remap"].old, items["remap"].new) == ("CapsLock", "ControlLeft")
    assert (items["translation"].old, items["translation"].new) == ("F6", "F7")


def test_a_launcher_is_told_only_with_a_yes():
    setup = resolved(launchers=[LOG])
    assert by_hand(setup, None, lambda layer, launcher: False) == []
    (one,) = by_hand(setup, None, lambda layer, launcher: (layer, launcher.id) == ("house", "log"))
    assert one.kind == "launcher"


def test_what_waits_for_a_yes_is_set_by_hand_meanwhile():
    setup = next(s for s in estate().setups if any(f.data for f in files_of_setup(estate().board(s).setup)))
    resolved = estate().board(setup).setup
    assert len(by_hand(resolved, lambda *_: False)) > len(by_hand(resolved))
    assert not any(f.data for f in files_of_setup(resolved, lambda *_: False))
