"""What taking a bundle's profile into another one would do: differences told in sentences, each to take or to leave."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import cast

from amberkey.core.compare.operations import JsonDocument, Operation, compare
from amberkey.core.compare.views import Does, as_sentences, does_of
from amberkey.core.keys.reading import read_document_shortcut
from amberkey.core.keys.wording import words_of
from amberkey.core.layouts.errors import LayoutNotThere, UnknownLayout
from amberkey.core.layouts.keyboard import usual_keyboard
from amberkey.core.profiles.model import Entry, Profile
from amberkey.core.programs.limits import why_not
from amberkey.core.programs.model import Program


@dataclass(frozen=True, slots=True)
class Difference:
    """One difference of an import: its operation, its sentence, and whether the entry means anything here."""

    key: str
    does: Does
    says: str
    operation: Operation
    refused: str = ""


@dataclass(frozen=True, slots=True)
class Preview:
    differences: tuple[Difference, ...]
    unchanged: int


def preview_import(into: Profile, incoming: Profile, programs: Mapping[str, Program], *, replace: bool) -> Preview:
    """What the incoming profile would do to `into`: merging adds and changes; replacing also removes what it doesn't have.

    Every section is taken, item by item; name, description and other fields of the profile here stay.
    """
    here, there = cast(JsonDocument, into.to_json()), cast(JsonDocument, incoming.to_json())
    found = []
    for operation in compare(here, there):
        if operation.section not in into.sections or (operation.after is None and not replace):
            continue
        entries = operation.section == "entries"
        found.append(_of_entry(operation, programs) if entries else _of_item(operation, programs))
    touched = {(d.operation.section, d.operation.key) for d in found}
    items = [(name, getattr(i, section.by)) for name, section in incoming.sections.items() for i in getattr(incoming, name)]
    return Preview(tuple(found), sum(item not in touched for item in items))


def _of_item(operation: Operation, programs: Mapping[str, Program]) -> Difference:
    """A launcher, remap, translation, reserved press or set."""
    given = operation.after if operation.after is not None else operation.before
    named = given.get("program") if isinstance(given, dict) else None
    entries = given.get("entries") if isinstance(given, dict) else None
    wanted = {str(named)} if named else set()
    wanted |= {str(e["program"]) for e in entries if isinstance(e, dict)} if isinstance(entries, list) else set()
    missing = sorted(wanted - programs.keys())
    refused = f"There is no program {missing[0]} here." if missing else ""
    key = f"{operation.section}: {operation.key}"
    (says,) = as_sentences([operation])
    return Difference(key, does_of(operation), says, operation, refused)


def _of_entry(operation: Operation, programs: Mapping[str, Program]) -> Difference:
    before = _entry(operation.before)
    after = _entry(operation.after)
    entry = after or before
    assert entry is not None
    program = programs.get(entry.program)
    command = program.command(entry.command) if program is not None else None
    refused = ""
    if program is None:
        refused = f"There is no program {entry.program} here."
    elif command is None:
        refused = f"{program.name} has no command {entry.command}."
    elif after is not None:
        refused = _why_not(program, after)
    name = command.name if command is not None else entry.command
    where = program.name if program is not None else entry.program
    does: Does = "removes" if after is None else "adds" if before is None else "changes"
    return Difference(operation.key, does, _sentence(name, where, before, after), operation, refused)


def _why_not(program: Program, entry: Entry) -> str:
    """Why a program can't take an entry, on every one of the keyboards that it is for; with none named, on the usual one."""
    try:
        keyboards = [usual_keyboard(entry.platform, layout) for layout in entry.layouts or (None,)]
    except (UnknownLayout, LayoutNotThere) as error:
        return str(error)
    for given in entry.shortcuts:
        reasons = [why_not(program, given.keys, keyboard) for keyboard in keyboards]
        why = reasons[0] if all(reasons) else ""
        if why:
            return f"{program.name} can't take {given.keys}: {why}."
        if given.scope is not None and given.scope not in {s.id for s in program.scopes}:
            return f"{program.name} has no scope {given.scope}."
    return ""


def _entry(value: object) -> Entry | None:
    return None if value is None else Entry.model_validate(value)


def _sentence(name: str, where: str, before: Entry | None, after: Entry | None) -> str:
    if after is None:
        assert before is not None
        return f"{name}, in {where}, loses {_keys(before)} and gets back what lies below this profile."
    if not after.shortcuts:
        return f"{name}, in {where}, is left without a shortcut" + (f"; it was {_over(after)}." if after.over else ".")
    if before is None:
        was = f" instead of {_over(after)}" if after.over else ""
        return f"{name}, in {where}, gets {_keys(after)}{was}."
    return f"{name}, in {where}, moves from {_keys(before)} to {_keys(after)}."


def _keys(entry: Entry) -> str:
    return " and ".join(words_of(g.keys, entry.platform) for g in entry.shortcuts) or "no shortcut"


def _over(entry: Entry) -> str:
    return " and ".join(words_of(read_document_shortcut(s), entry.platform) for s in entry.over)
