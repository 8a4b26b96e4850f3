"""The standard's lines, exceptions, keys that may mean several things and commands that make room as a sheet, and the sheet as
a standard again."""

from collections.abc import Iterator, Mapping

from pydantic import ValidationError

from amberkey.core.documents.errors import Fault, Faults
from amberkey.core.exchange.as_sheets.cells import OR, Reader, day_from, in_words, names_from, platform_from, shortcuts_from
from amberkey.core.exchange.errors import SheetError
from amberkey.core.exchange.sheets import Row, Sheet
from amberkey.core.keys.platform import PLATFORM_NAMES
from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.standard.model import Exempt, Line, MakesRoom, Meanings, Standard
from amberkey.core.tasks.model import Tasks

HEADS = (
    *("What", "Task", "Program", "Platform", "Keys in words", "Keys", "Layouts", "Reason", "Owner", "Since", "Until"),
    *("Task id", "Program id", "Command id"),
)
NEEDED = ("What", "Platform", "Keys", "Task id", "Program id", "Reason")
LINE, EXCEPTION, MEANING, ROOM = "line", "exception", "may mean several things", "makes room"


def standard_rows(
    standard: Standard, tasks: Tasks, names: Mapping[str, str], language: str = "en"
) -> Iterator[tuple[str, ...]]:
    """One row for each line, exception, allowed key and command that makes room. `names` of programs by id."""
    called = {t.id: t.name for t in tasks.tasks}
    for line in standard.lines:
        yield (
            LINE,
            called.get(line.task, line.task),
            "",
            PLATFORM_NAMES[line.platform],
            in_words([line.shortcut], line.platform, language),
            str(line.keys),
            "; ".join(line.layouts),
            line.reason,
            line.owner,
            line.since.isoformat() if line.since else "",
            "",
            line.task,
            "",
            "",
        )
    for one in standard.exceptions:
        yield (
            EXCEPTION,
            called.get(one.task, one.task),
            names.get(one.program, one.program),
            PLATFORM_NAMES[one.platform],
            "",
            "",
            "; ".join(one.layouts),
            one.reason,
            one.owner,
            "",
            one.until.isoformat() if one.until else "",
            one.task,
            one.program,
            "",
        )
    for meant in standard.meanings:
        words = in_words([meant.keys.resolve(meant.platform)], meant.platform, language)
        platform = PLATFORM_NAMES[meant.platform]
        yield (MEANING, "", "", platform, words, str(meant.keys), "", meant.reason, meant.owner, "", "", "", "", "")
    for room in standard.makes_room:
        yield (
            ROOM,
            "",
            names.get(room.program, room.program),
            PLATFORM_NAMES[room.platform],
            in_words(room.shortcuts, room.platform, language),
            OR.join(map(str, room.keys)),
            "",
            room.reason,
            room.owner,
            "",
            "",
            "",
            room.program,
            room.command,
        )


def standard_from(sheet: Sheet, now: Standard) -> Standard:
    """The standard with what a sheet says in place of its own; its name and description stay.

    Raises SheetError with every fault and its place.
    """
    reader = Reader(sheet)
    reader.need(NEEDED)
    found: list[Line | Exempt | Meanings | MakesRoom] = []
    for row in reader.rows():
        one = _item(reader, row)
        if one is not None:
            found.append(one)
    reader.finish()
    try:
        return Standard(
            id=now.id,
            name=now.name,
            description=now.description,
            lines=tuple(o for o in found if isinstance(o, Line)),
            exceptions=tuple(o for o in found if isinstance(o, Exempt)),
            meanings=tuple(o for o in found if isinstance(o, Meanings)),
            makes_room=tuple(o for o in found if isinstance(o, MakesRoom)),
        ).normal()
    except (ValidationError, Faults) as error:
        says = error.errors()[0]["msg"] if isinstance(error, ValidationError) else error
        raise SheetError([Fault("", str(says).removeprefix("Value error, ")[:400])]) from error


def _item(reader: Reader, row: Row) -> Line | Exempt | Meanings | MakesRoom | None:
    before = len(reader.faults)
    platform = reader.read(row, "Platform", platform_from, "windows")
    task, program = reader.cell(row, "Task id"), reader.cell(row, "Program id")
    reason, owner = reader.cell(row, "Reason"), reader.cell(row, "Owner")
    layouts = names_from(reader.cell(row, "Layouts"))
    since, until = (reader.read(row, head, day_from, None) for head in ("Since", "Until"))
    what = reader.cell(row, "What").casefold()
    keys: tuple[Shortcut, ...] = ()
    if what not in (LINE, EXCEPTION, MEANING, ROOM):
        reader.fault(row, "What", f"{what[:40]!r} is none of {LINE}, {EXCEPTION}, {MEANING}, {ROOM}.")
    elif what != EXCEPTION:
        keys = reader.read(row, "Keys", shortcuts_from, keys)
        if len(keys) != 1 and what != ROOM and len(reader.faults) == before:
            reader.fault(row, "Keys", f"It has {len(keys)} shortcuts, and one is wanted.")
    if len(reader.faults) > before:
        return None
    try:
        if what == LINE:
            return Line(task=task, platform=platform, layouts=layouts, keys=keys[0], reason=reason, owner=owner, since=since)
        if what == EXCEPTION:
            return Exempt(
                task=task, program=program, platform=platform, layouts=layouts, reason=reason, owner=owner, until=until
            )
        if what == ROOM:
            command = reader.cell(row, "Command id")
            return MakesRoom(program=program, command=command, platform=platform, keys=keys, reason=reason, owner=owner)
        return Meanings(keys=keys[0], platform=platform, reason=reason, owner=owner)
    except ValidationError as error:
        reader.refuse(
            row,
            error,
            {"task": "Task id", "program": "Program id", "command": "Command id", "reason": "Reason", "layouts": "Layouts"},
        )
        return None
