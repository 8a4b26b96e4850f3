"""Names of tasks and commands in the languages of the organisation's people as a sheet, and the sheet as names again."""

from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass

from pydantic import TypeAdapter, ValidationError

from amberkey.core.documents.field import LANGUAGES, Language, Text
from amberkey.core.exchange.as_sheets.cells import Reader
from amberkey.core.exchange.sheets import Row, Sheet
from amberkey.core.programs.model import Command, Program
from amberkey.core.tasks.model import Task, Tasks

TASK, COMMAND = "task", "command"
HEADS = ("What", "Program", "Name", *LANGUAGES.values(), "Program id", "Id")
NEEDED = ("What", "Program id", "Id")
_NAME: TypeAdapter[str] = TypeAdapter(Text)
_Key = tuple[str, str]
"""The program's id, empty for a task, and the id of the command or task."""


@dataclass(frozen=True, slots=True)
class Renamed:
    """A task or a command (`of`, as people call it) whose name in a language is another one. Empty: it has none."""

    of: str
    language: Language
    before: str
    after: str


@dataclass(frozen=True, slots=True)
class Named:
    """What a sheet of names comes to: the `tasks` as they then are, the `programs` that change, and each name that does."""

    tasks: Tasks
    programs: tuple[Program, ...]
    changes: tuple[Renamed, ...]


def name_rows(tasks: Iterable[Task], programs: Iterable[Program]) -> Iterator[tuple[str, ...]]:
    """One row for each task, then for each command that is there. `programs`: those whose commands stand in it, one version of
    each."""
    for task in tasks:
        yield TASK, "", task.name, *_told(task.names), "", task.id
    for program in programs:
        for command in program.commands:
            if not command.retired:
                yield COMMAND, program.name, command.name, *_told(command.names), program.id, command.id


def names_from(sheet: Sheet, tasks: Tasks, programs: Iterable[Program]) -> Named:
    """The names that a sheet says, in every one of `programs` (all their versions) that has the command; under an id that it
    was called by before too.

    A language that the sheet has no column for stays as it is, and so does everything that has no row; an empty cell is no
    name. Raises SheetError with every fault and its place.
    """
    reader = Reader(sheet)
    reader.need(NEEDED)
    own = {head.casefold() for head in sheet.heads}
    columns = {language: head for language, head in LANGUAGES.items() if head.casefold() in own}
    if not columns:
        reader.need([LANGUAGES["de"]])
    versions: dict[str, list[Program]] = {}
    for program in programs:
        versions.setdefault(program.id, []).append(program)
    said: dict[_Key, Mapping[Language, str]] = {}
    for row in reader.rows():
        key = _key(reader, row, tasks, versions)
        if key is None:
            continue
        if key in said:
            reader.fault(row, "", f"{key[1]} stands in an earlier row too.", "Keep one of them.")
        said[key] = {language: reader.read(row, head, _name, "") for language, head in columns.items()}
    reader.finish()
    return _named(said, tasks, versions)


def _told(names: Mapping[Language, str]) -> tuple[str, ...]:
    return tuple(names.get(language, "") for language in LANGUAGES)


def _key(reader: Reader, row: Row, tasks: Tasks, versions: Mapping[str, list[Program]]) -> _Key | None:
    what, program, own = (reader.cell(row, head) for head in NEEDED)
    cure = "Take the sheet out again, or take the row out."
    if what.casefold() == TASK:
        if tasks.task(own) is not None:
            return "", own
        reader.fault(row, "Id", f"There is no task {own[:60]!r}.", cure)
    elif what.casefold() != COMMAND:
        reader.fault(row, "What", f"{what[:40]!r} is neither {TASK} nor {COMMAND}.", cure)
    elif program not in versions:
        reader.fault(row, "Program id", f"There is no program {program[:60]!r}.", cure)
    elif any(p.command(own) is not None for p in versions[program]):
        return program, own
    else:
        reader.fault(row, "Id", f"{versions[program][0].name} has no command {own[:60]!r}.", cure)
    return None


def _name(text: str) -> str:
    """Raises ValueError for what can't be a name."""
    try:
        return _NAME.validate_python(text) if text else ""
    except ValidationError as error:
        raise ValueError(str(error.errors()[0]["msg"]).removeprefix("Value error, ")) from error


def _named(said: Mapping[_Key, Mapping[Language, str]], tasks: Tasks, versions: Mapping[str, list[Program]]) -> Named:
    changes: dict[Renamed, None] = {}

    def renamed(one: Task | Command, given: Mapping[Language, str], of: str) -> dict[Language, str]:
        names = dict(one.names)
        for language, name in given.items():
            before = names.pop(language, "")
            if name:
                names[language] = name
            if name != before:
                changes[Renamed(of, language, before, name)] = None
        return {language: names[language] for language in LANGUAGES if language in names}

    new_tasks = tuple(
        t.model_copy(update={"names": renamed(t, said["", t.id], t.name)}) if ("", t.id) in said else t for t in tasks.tasks
    )
    programs = []
    for own in versions.values():
        for program in own:
            given = {c.id: row for (of, name), row in said.items() if of == program.id and (c := program.command(name))}
            before = len(changes)
            commands = tuple(
                c.model_copy(update={"names": renamed(c, given[c.id], f"{program.name}: {c.name}")}) if c.id in given else c
                for c in program.commands
            )
            if len(changes) > before or any(a.names != b.names for a, b in zip(commands, program.commands, strict=True)):
                programs.append(program.model_copy(update={"commands": commands}))
    return Named(tasks.model_copy(update={"tasks": new_tasks}), tuple(programs), tuple(changes))
