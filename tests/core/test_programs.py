import pytest

from amberkey.core.keys.reading import read_shortcut
from amberkey.core.layouts.keyboard import usual_keyboard
from amberkey.core.programs.limits import why_not
from amberkey.core.programs.model import Command, Program, ProgramLimits, Scope

SCOPES = (
    Scope(id="window", name="Window"),
    Scope(id="panel", name="Panel", parent="window"),
    Scope(id="editor", name="Editor", parent="panel", takes_text=True),
    Scope(id="list", name="List", parent="window"),
)


def program(**more):
    commands = (
        Command(id="save", name="Save", scope="window", was=("store",), defaults={"windows": (read_shortcut("Main+S"),)}),
    )
    base = {"id": "p", "name": "P", "version": "1", "kind": "office", "platforms": ("windows", "macos"), "scopes": SCOPES}
    return Program(**{**base, "commands": commands, **more})


def test_scopes_lead_outward_and_text_is_found_within():
    p = program()
    assert [s.id for s in p.outward("editor")] == ["editor", "panel", "window"]
    assert p.text_is_taken_within("window").id == "editor"
    assert p.text_is_taken_within("list") is None


def test_a_renamed_command_is_found_by_its_old_name():
    assert program().command("store").id == "save"
    assert program().command("attic") is None


def test_windows_programs_read_by_key_unless_they_say_otherwise():
    assert program().reads_on("windows") == "key"
    assert program().reads_on("macos") == "character"
    assert program(reads_keys_by={"windows": "position"}).reads_on("windows") == "position"


def test_defaults_are_resolved_for_the_platform():
    assert [str(s) for s in program().commands[0].defaults_on("windows")] == ["Control+S"]
    assert program().commands[0].defaults_on("macos") == ()


@pytest.mark.parametrize(
    "limits, shortcut, says",
    [
        (ProgramLimits(), "F8 then B", "1 press in a row"),
        (ProgramLimits(sequence_length=2), "F8 then B then C", "2 presses"),
        (ProgramLimits(), "J", "without a modifier"),
        (ProgramLimits(), "Shift+J", "without a modifier"),
        (ProgramLimits(refuses=(read_shortcut("F1"),)), "F1", "refuses F1"),
        (ProgramLimits(bare_keys=True), "J", None),
        (ProgramLimits(), "F5", None),
        (ProgramLimits(), "Control+J", None),
    ],
)
def test_limits_say_why_not(limits, shortcut, says):
    why = why_not(program(limits=limits), read_shortcut(shortcut), usual_keyboard("windows"))
    assert (why == "") if says is None else (says in why)
