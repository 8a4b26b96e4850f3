"""Differences between two documents as people are told of them: a sentence, what it means, what stands against it."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import Literal

from amberkey.core.compare.operations import Operation
from amberkey.core.compare.views import Does, as_sentences, does_of, id_of
from amberkey.core.keys.reading import read_document_shortcut
from amberkey.core.keys.wording import words_of
from amberkey.core.layouts.errors import LayoutNotThere, UnknownLayout
from amberkey.core.layouts.keyboard import Keyboard, usual_keyboard, ways_of
from amberkey.core.profiles.model import Entry
from amberkey.core.programs.limits import why_not
from amberkey.core.programs.model import Program

Programs = Mapping[str, Program]
Meaning = Literal["moves", "new", "gone", "runs", "other", "nothing"]
MEANINGS: Mapping[Meaning, str] = {
    "moves": "Moves a key that people know",
    "new": "New",
    "gone": "Gone",
    "runs": "Runs something, waits for a releaser",
    "other": "Says something else",
    "nothing": "Of no effect",
}
_WORDING = frozenset({"name", "description"})


@dataclass(frozen=True, slots=True)
class Difference:
    """One difference: its operation, its sentence, what it means for people. `nothing`: why it is of no effect, in a few words.
    `refused`: why it can't be taken over here. `program`: the one that it is about, if it is about one."""

    key: str
    does: Does
    says: str
    operation: Operation
    refused: str = ""
    means: Meaning = "other"
    nothing: str = ""
    program: str = ""

    @property
    def id(self) -> str:
        """What names it among all differences of one comparison."""
        return id_of(self.operation)


def tell(operations: Iterable[Operation], programs: Programs) -> list[Difference]:
    """What some differences are, in their order. `programs` by id, the newest version of each."""
    return [tell_one(o, programs) for o in operations]


def tell_one(operation: Operation, programs: Programs) -> Difference:
    """What one difference is."""
    if operation.section == "entries" and _is_entry(operation.after if operation.after is not None else operation.before):
        return _of_entry(operation, programs)
    return _of_item(operation, programs)


def _is_entry(value: object) -> bool:
    return isinstance(value, dict) and {"program", "command", "platform"} <= value.keys()


def _of_item(operation: Operation, programs: Programs) -> Difference:
    """A launcher, remap, translation, reserved press or set; an item or field of any other document."""
    given = operation.after if operation.after is not None else operation.before
    named = given.get("program") if isinstance(given, dict) else None
    entries = given.get("entries") if isinstance(given, dict) else None
    wanted = {str(named)} if named else set()
    if isinstance(entries, list):
        wanted |= {str(e["program"]) for e in entries if isinstance(e, dict) and _is_entry(e)}
    missing = sorted(wanted - programs.keys())
    refused = f"There is no program {missing[0]} here." if missing else ""
    key = f"{operation.section}: {operation.key}"
    (says,) = as_sentences([operation])
    means, nothing = _meaning(operation)
    return Difference(key, does_of(operation), says, operation, refused, means, nothing, str(named or ""))


def _meaning(operation: Operation) -> tuple[Meaning, str]:
    if operation.section == "in order":
        return "nothing", "only the order differs"
    if operation.section == "" and operation.key in _WORDING:
        return "nothing", "only the wording differs"
    if operation.section in ("launchers", "macros") and operation.after is not None:
        return "runs", ""
    by_does: dict[Does, Meaning] = {"adds": "new", "removes": "gone", "changes": "other"}
    return by_does[does_of(operation)], ""


def _of_entry(operation: Operation, programs: Programs) -> Difference:
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
    nothing = _why_nothing(before, after, program)
    says = _sentence(name, where, before, after)
    if nothing and before is not None:
        says = f"{name}, in {where}, stays on {_keys(before)}."
    locked = before is not None and after is not None and before.shortcuts == after.shortcuts and before.locked != after.locked
    if locked and after is not None:
        says = f"{name}, in {where}, is {'locked for nearer layers' if after.locked else 'let go for nearer layers'}."
    means: Meaning = "nothing" if nothing else "other" if locked else _moves(before, after)
    return Difference(operation.key, does_of(operation), says, operation, refused, means, nothing, entry.program)


def _moves(before: Entry | None, after: Entry | None) -> Meaning:
    """An entry that takes a default's place moves a key too."""
    if after is None:
        return "gone"
    return "moves" if before is not None or after.over else "new"


def _why_nothing(before: Entry | None, after: Entry | None, program: Program | None) -> str:
    """Why a changed entry gives its command the same presses, in a few words; empty where it doesn't."""
    if before is None or after is None:
        return ""
    if before.shortcuts == after.shortcuts and before.locked == after.locked:
        return "only notes or days differ"
    if before.locked != after.locked or [g.scope for g in before.shortcuts] != [g.scope for g in after.shortcuts]:
        return ""
    if program is None or len(before.shortcuts) != len(after.shortcuts):
        return ""
    reads = program.reads_on(after.platform)
    for keyboard in _keyboards(after):
        for one, other in zip(before.shortcuts, after.shortcuts, strict=True):
            ways = ways_of(one.keys.resolve(after.platform), keyboard, reads).ways
            if not ways or ways != ways_of(other.keys.resolve(after.platform), keyboard, reads).ways:
                return ""
    return "another spelling of the same press"


def _keyboards(entry: Entry) -> list[Keyboard]:
    """The keyboards that an entry is for; with no layout named, the usual one."""
    try:
        return [usual_keyboard(entry.platform, layout) for layout in entry.layouts or (None,)]
    except (UnknownLayout, LayoutNotThere):
        return []


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
        if after.over and _over(after) == _keys(after):
            return f"{name}, in {where}, is held on {_keys(after)}, which it has anyway."
        was = f" instead of {_over(after)}" if after.over else ""
        return f"{name}, in {where}, gets {_keys(after)}{was}."
    return f"{name}, in {where}, moves from {_keys(before)} to {_keys(after)}."


def _keys(entry: Entry) -> str:
    return " and ".join(words_of(g.keys, entry.platform) for g in entry.shortcuts) or "no shortcut"


def _over(entry: Entry) -> str:
    return " and ".join(words_of(read_document_shortcut(s), entry.platform) for s in entry.over)
