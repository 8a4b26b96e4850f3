"""Rows of the sheet as the screen shows them."""

from collections.abc import Mapping

from amberkey.core.inventory.choosing import Head, Shown, marked
from amberkey.core.inventory.rows import Row, Sheet, State
from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.profiles.defaults import DEFAULT
from amberkey.core.programs.model import CommandKind
from amberkey.server.schema import Schema
from amberkey.server.workbench.catalogue import ArgumentOut, argument_out
from amberkey.server.workbench.words import BoundOut, ShortcutOut, bound_out, shortcut_out

_STATES_IN_ORDER: tuple[State, ...] = (
    *("clashing", "can't be pressed", "same key twice", "changed since the release", "own key", "no key", "several keys"),
    *("risky", "from an add-on", "without a task"),
)


class MarkOut(Schema):
    """Where something stands in a text: the places of its first letter and behind its last."""

    begin: int
    end: int


class CommandRowOut(Schema):
    """`layers`: the names of those that say something of it, `default` first, the one that holds last. `marks`: where in it
    stand the words that were looked for; `also`: what else it is called, if that is where they were found. `clashes`: their
    identities. `setup`: that through which the row is seen. `arguments`: what a template gives the command here; `takes`: what
    it can be given."""

    id: str
    program: str
    program_name: str
    version: str
    command: str
    name: str
    arguments: dict[str, str | int]
    takes: list[ArgumentOut]
    marks: list[MarkOut]
    also: str
    description: str
    group: str
    scope: str
    scope_name: str
    kind: CommandKind
    keys: list[BoundOut]
    layers: list[str]
    task: str | None
    task_name: str
    people: int
    states: list[State]
    clashes: list[str]
    setup: str
    settable: bool


class HeadOut(Schema):
    """The head of a group of a program's commands."""

    id: str
    program_name: str
    group: str
    rows: int
    closed: bool


class ShownCommandOut(Schema):
    """A row, or the head of a group."""

    row: CommandRowOut | None = None
    head: HeadOut | None = None


def shown_out(shown: Shown, sheet: Sheet, names: dict[str, str], programs: Mapping[str, str]) -> ShownCommandOut:
    if shown.head is not None:
        return ShownCommandOut(head=_head_out(shown.head, programs))
    assert shown.row is not None
    found = shown.found
    row = row_out(shown.row, sheet, names)
    if found is not None:
        row.marks = [MarkOut(begin=begin, end=end) for begin, end in marked(row.name, found.marks)]
        row.also = also_said(found.because, shown.row.command.description)
    return ShownCommandOut(row=row)


def also_said(because: str, description: str) -> str:
    """Why something was found that isn't called so: what else it is called, or its description."""
    return because if because in ("", description) else f"also said: {because}"


def _head_out(head: Head, programs: Mapping[str, str]) -> HeadOut:
    return HeadOut(
        id=head.id, program_name=programs[head.program], group=head.group or "Ungrouped", rows=head.rows, closed=head.closed
    )


def row_out(row: Row, sheet: Sheet, names: dict[str, str]) -> CommandRowOut:
    board, command, program = sheet.boards[row.setup], row.command, row.program
    task = sheet.task(command.task)
    return CommandRowOut(
        id=row.id,
        program=program.id,
        program_name=program.name,
        version=program.version,
        command=command.id,
        name=command.told_with(row.arguments),
        arguments=dict(row.arguments),
        takes=[argument_out(a) for a in command.arguments],
        marks=[],
        also="",
        description=command.description,
        group=command.group,
        scope=command.scope,
        scope_name=program.scope(command.scope).name,
        kind=command.kind,
        keys=[bound_out(b, board) for b in row.bindings],
        layers=[names[s.layer] for s in reversed((row.effective.now, *row.effective.hid))],
        task=command.task,
        task_name=task.name if task else "",
        people=row.people,
        states=[s for s in _STATES_IN_ORDER if s in row.states],
        clashes=list(row.clashes),
        setup=row.setup,
        settable=not program.card_only and not (program.kind == "system" and command.grip == "fixed"),
    )


def keys_out(shortcuts: tuple[Shortcut, ...], row: Row, sheet: Sheet) -> list[ShortcutOut]:
    """Some shortcuts as the keyboard of a row's setup words them."""
    return [shortcut_out(s, sheet.boards[row.setup]) for s in shortcuts]


def layer_words(names: dict[str, str]) -> dict[str, str]:
    """What the layers are called, the makers' own word included."""
    return {DEFAULT: "default", **names}
