"""The programs that there are, whoever has them: made by hand, like another, or as a new version; their commands edited."""

from collections.abc import Iterator
from dataclasses import replace
from typing import Annotated, Any, Literal, cast, get_args

from django.http import HttpRequest
from ninja import File, Router
from ninja.files import UploadedFile
from pydantic import Field

from amberkey.core.compare.operations import JsonDocument, compare
from amberkey.core.documents.canonical import Json
from amberkey.core.documents.field import Language
from amberkey.core.documents.ids import fresh_id
from amberkey.core.documents.model import Whole, read_document
from amberkey.core.formats import FORMATS, read_any
from amberkey.core.keys.platform import Platform
from amberkey.core.profiles.model import Profile
from amberkey.core.programs.editions import figures_of
from amberkey.core.programs.making import blank_program, like, new_version, with_commands, write_keys
from amberkey.core.programs.model import Argument, CommandKind, Kind, Program
from amberkey.core.standard.model import Standard
from amberkey.server.estate import STANDARD, current_estate, current_organisation
from amberkey.server.library.contradicting import ChosenItemIn, chosen_items
from amberkey.server.library.documents import digests, find, key_of, newest_of, parsed, programs_by_key
from amberkey.server.library.history import ChangeOut
from amberkey.server.library.verbs.change import Making, change
from amberkey.server.library.verbs.save import save
from amberkey.server.people.acting import By, actor_of
from amberkey.server.people.models import Role
from amberkey.server.problems import NotFound, Problem
from amberkey.server.schema import Name, Schema
from amberkey.server.workbench.clashes.difference import clash_difference

router = Router(tags=["workbench"])
_SHOWN = 12
_LARGEST = 8 * 1024 * 1024  # bytes of a file
_Version = Annotated[Name, Field(max_length=40)]


class ListedProgramOut(Schema):
    """`machines`: how many have it installed. `tables`: it is a system table, which tells what a desktop does."""

    id: str
    version: str
    name: str
    kind: Kind
    platforms: list[Platform]
    commands: int
    with_task: int
    machines: int
    table: bool


class CatalogueOut(Schema):
    programs: list[ListedProgramOut]


class ProgramMakeIn(Schema):
    """A program to make. `like`: key of one that it begins as; `as_version`: it is the next version of that one."""

    name: Name
    version: _Version = "1"
    kind: Kind = "office"
    platforms: Annotated[list[Platform], Field(min_length=1, max_length=3)]
    like: str | None = None
    as_version: bool = False


class MadeProgramOut(ChangeOut):
    program: str
    version: str


class ArgumentOut(Schema):
    """`values`: those allowed; or the whole numbers from `least` to `most`; with neither, any."""

    name: Annotated[str, Field(min_length=1, max_length=80)]
    values: list[Annotated[str, Field(min_length=1, max_length=200)]] = []
    least: Whole | None = None
    most: Whole | None = None


class ReachedByOut(Schema):
    """How people come to a command without a key."""

    by: Literal["menu", "button", "dialog"]
    depth: Annotated[int, Field(ge=1, le=9)] = 1


def argument_out(one: Argument) -> ArgumentOut:
    return ArgumentOut(name=one.name, values=list(one.values), least=one.least, most=one.most)


class EditedScopeOut(Schema):
    id: str
    name: str
    parent: str | None
    takes_text: bool


class EditedCommandOut(Schema):
    """`keys`: by platform, as text that can be typed over."""

    id: str
    name: str
    was: list[str]
    group: str
    scope: str
    description: str
    names: dict[str, str]
    other_words: list[str]
    kind: CommandKind
    task: str | None
    risky: bool
    opens: str
    closes: str | None
    arguments: list[ArgumentOut]
    reached_by: ReachedByOut | None
    retired: bool
    keys: dict[str, str]


class EditedProgramOut(Schema):
    id: str
    version: str
    digest: str
    name: str
    kind: Kind
    description: str
    platforms: list[Platform]
    scopes: list[EditedScopeOut]
    commands: list[EditedCommandOut]
    kinds: list[str]
    table: bool


class EditedCommandIn(Schema):
    """One command as it shall be: `id` of one that there is, none for a new one. What isn't given stays."""

    id: str | None = None
    name: Annotated[str, Field(max_length=200)]
    group: Annotated[str, Field(max_length=80)] | None = None
    scope: str | None = None
    description: Annotated[str, Field(max_length=4000)] | None = None
    names: dict[Language, Name] | None = None
    other_words: list[str] | None = None
    kind: str | None = None
    task: str | None = None
    risky: bool | None = None
    opens: Annotated[str, Field(max_length=200)] | None = None
    closes: str | None = None
    arguments: list[ArgumentOut] | None = None
    reached_by: ReachedByOut | None = None
    retired: bool | None = None
    keys: dict[str, Annotated[str, Field(max_length=400)]] | None = None


class EditedScopeIn(Schema):
    id: str | None = None
    name: Name
    parent: str | None = None
    takes_text: bool = False


class ProgramEditIn(Schema):
    """A program as it shall be: all its commands and scopes, in their order; `digest` of what it was made from."""

    digest: str
    name: Name
    description: Annotated[str, Field(max_length=4000)] = ""
    kind: Kind
    platforms: Annotated[list[Platform], Field(min_length=1, max_length=3)]
    scopes: list[EditedScopeIn]
    commands: list[EditedCommandIn]
    chosen: list[ChosenItemIn] = []


class ProgramPlanOut(Schema):
    """What an edit would do: how many differences; clashes solved and made; what is set for commands that would be gone, and
    lines of the standard whose task no command would do any more."""

    differences: int
    solves: list[str]
    makes: list[str]
    solved: int
    made: int
    orphans: list[str]
    lines: list[str]


@router.get("/catalogue", response=CatalogueOut)
def catalogue(request: HttpRequest) -> CatalogueOut:
    """Every program, by name and version; system tables last."""
    organisation = current_organisation()
    installed: dict[tuple[str, str], int] = {}
    for machine in organisation.machines:
        for used in organisation.programs_on(machine):
            installed[used.id, used.version] = installed.get((used.id, used.version), 0) + 1
    found = sorted(
        programs_by_key().values(), key=lambda p: (p.kind == "system", p.name.lower(), figures_of(p.version), p.version)
    )
    return CatalogueOut(programs=[_listed(p, installed.get((p.id, p.version), 0)) for p in found])


def _listed(program: Program, machines: int) -> ListedProgramOut:
    return ListedProgramOut(
        id=program.id,
        version=program.version,
        name=program.name,
        kind=program.kind,
        platforms=list(program.platforms),
        commands=len(program.commands),
        with_task=sum(c.task is not None for c in program.commands),
        machines=machines,
        table=program.kind == "system",
    )


@router.post("/catalogue", response=MadeProgramOut, auth=By(Role.EDITOR))
def make_program(request: HttpRequest, given: ProgramMakeIn) -> MadeProgramOut:
    """A new program, empty or like another; or the next version of one."""
    programs = programs_by_key()
    name, version = given.name.strip(), given.version.strip()
    base = programs.get(f"program/{given.like}") if given.like else None
    if given.like and base is None:
        raise NotFound(f"program {given.like[:80]}")
    taken = {p.id for p in programs.values()}
    if base is None:
        made = blank_program(name, version, given.kind, given.platforms, taken)
        title = f"Made {made.name}"
    elif given.as_version:
        made = new_version(base, version, {p.version for p in programs.values() if p.id == base.id})
        title = f"Made {made.name} {made.version} from {base.version}"
    else:
        made = like(base, name, version, taken)
        title = f"Made {made.name}, like {base.name}"
    made = cast(Program, read_document(made.to_json(), FORMATS))
    done = change(actor_of(request), title, {}, making=Making(make=[made]))
    return MadeProgramOut(id=done.id, title=done.title, program=made.id, version=made.version)


@router.post("/catalogue/file", response=MadeProgramOut, auth=By(Role.EDITOR))
def bring_program(request: HttpRequest, file: File[UploadedFile]) -> MadeProgramOut:
    """A program out of a file: a document that Amber Key wrote, or that somebody wrote by its schema. Refused where there is
    one of its id and version."""
    if (file.size or 0) > _LARGEST:
        raise Problem(413, "This file is too large.", f"{_LARGEST // 1048576} MB is the most.", "Choose another file.")
    value = read_any(file.read())
    if not isinstance(value, Program):
        raise Problem(400, "This is no program.", f"It is a document of the format {value.format}.", "Choose another file.")
    done = change(actor_of(request), f"Brought in {value.name} {value.version}", {}, making=Making(make=[value]))
    return MadeProgramOut(id=done.id, title=done.title, program=value.id, version=value.version)


@router.get("/catalogue/{program}/{version}", response=EditedProgramOut)
def read_program(request: HttpRequest, program: str, version: str) -> EditedProgramOut:
    """A program to be edited."""
    value, digest = newest_program(program, version)
    return EditedProgramOut(
        id=value.id,
        version=value.version,
        digest=digest,
        name=value.name,
        kind=value.kind,
        description=value.description,
        platforms=list(value.platforms),
        scopes=[EditedScopeOut(id=s.id, name=s.name, parent=s.parent, takes_text=s.takes_text) for s in value.scopes],
        commands=[
            EditedCommandOut(
                id=c.id,
                name=c.name,
                was=list(c.was),
                group=c.group,
                scope=c.scope,
                description=c.description,
                names=dict(c.names),
                other_words=list(c.other_words),
                kind=c.kind,
                task=c.task,
                risky=c.risky,
                opens=c.opens,
                closes=c.closes,
                arguments=[argument_out(a) for a in c.arguments],
                reached_by=ReachedByOut(by=c.reached_by.by, depth=c.reached_by.depth) if c.reached_by else None,
                retired=c.retired,
                keys={p: write_keys(c.defaults_on(p)) for p in c.defaults},
            )
            for c in value.commands
        ],
        kinds=list(get_args(CommandKind)),
        table=value.kind == "system",
    )


@router.post("/catalogue/{program}/{version}/plan", response=ProgramPlanOut)
def plan_program(request: HttpRequest, program: str, version: str, given: ProgramEditIn) -> ProgramPlanOut:
    """What an edit would do, before it is saved. Refused with the row of every fault."""
    before, _ = newest_program(program, version)
    after = _edited(before, given)
    now = current_estate()
    then = replace(now, programs={**now.programs, (after.id, after.version): after})
    clashes = clash_difference(now, then)
    return ProgramPlanOut(
        differences=len(compare(cast(JsonDocument, before.to_json()), cast(JsonDocument, after.to_json()))),
        solves=clashes.solves,
        makes=clashes.makes,
        solved=clashes.solved,
        made=clashes.made,
        orphans=list(dict.fromkeys(_orphans(before, after)))[:_SHOWN],
        lines=sorted(_lines_without(before, after))[:_SHOWN],
    )


@router.put("/catalogue/{program}/{version}", response=ChangeOut, auth=By(Role.EDITOR))
def save_program(request: HttpRequest, program: str, version: str, given: ProgramEditIn) -> ChangeOut:
    """Save an edit, as one change that can be undone; what others saved since stays beside it."""
    actor = actor_of(request)
    before = seen_program(program, version, given.digest)
    note, chosen = f"Edited {given.name} {version}", chosen_items(given.chosen)
    done = save(actor, f"program/{program}@{version}", _edited(before, given), given.digest, note, chosen)
    return ChangeOut(id=done.id, title=done.title)


def newest_program(program: str, version: str) -> tuple[Program, str]:
    """The newest revision of a version of a program, with its digest. Raises NotFound."""
    digest = newest_of(find(f"program/{program}@{version}")).digest
    value = parsed(digest)
    assert isinstance(value, Program)
    return value, digest


def seen_program(program: str, version: str, digest: str) -> Program:
    """The revision that somebody edits; where it isn't known, the newest, and saving refuses."""
    known = find(f"program/{program}@{version}").revisions.filter(body_id=digest).exists()
    value = parsed(digest) if known else newest_program(program, version)[0]
    assert isinstance(value, Program)
    return value


def _edited(before: Program, given: ProgramEditIn) -> Program:
    """The program with an edit in it. Raises DocumentError with every fault and its place."""
    value: dict[str, Any] = dict(cast(dict[str, Any], before.to_json()))
    value |= {"name": given.name, "description": given.description, "kind": given.kind, "platforms": list(given.platforms)}
    value["scopes"] = [*_scopes(given.scopes)]
    kept = {c.id for c in given.commands if c.id}
    value["commands"] = [c for c in value.get("commands", []) if c["id"] in kept]
    scoped = {s["id"] for s in value["scopes"]}
    root = next((s["id"] for s in value["scopes"] if not s.get("parent")), "")
    moved = {c.id: c.scope for c in given.commands if c.id and c.scope}
    for one in value["commands"]:  # moved together with its scope, so that it is sound at every step
        one["scope"] = moved.get(one["id"], one["scope"])
        if one["scope"] not in scoped:
            one["scope"] = root
    base = read_document(cast(Json, value), FORMATS)
    assert isinstance(base, Program)
    return with_commands(base, [_said(c) for c in given.commands])


def _said(command: EditedCommandIn) -> dict[str, Json]:
    """What is said of a command. A task, or what closes it, is taken away by null; of all else null says nothing."""
    said = cast(dict[str, Json], command.model_dump(mode="json", exclude_unset=True))
    return {k: v for k, v in said.items() if v is not None or k in ("task", "closes")}


def _scopes(given: list[EditedScopeIn]) -> Iterator[dict[str, Any]]:
    taken = {s.id for s in given if s.id}
    for scope in given:
        made = scope.id or fresh_id(scope.name, taken)
        taken.add(made)
        found: dict[str, Any] = {"id": made, "name": scope.name}
        if scope.parent:
            found["parent"] = scope.parent
        if scope.takes_text:
            found["takes_text"] = True
        yield found


def _orphans(before: Program, after: Program) -> Iterator[str]:
    """What profiles set for commands that would be gone, in words."""
    gone = {
        i: c for i, c in before.commands_by_id.items() if not c.retired and ((now := after.command(i)) is None or now.retired)
    }
    if not gone:
        return
    for document in map(parsed, digests().values()):
        if isinstance(document, Profile):
            for entry in document.all_entries:
                if entry.program == before.id and entry.command in gone:
                    keys = write_keys(g.keys for g in entry.shortcuts) or "no key"
                    yield f"{document.name}: {keys} for {gone[entry.command].name}"


def _lines_without(before: Program, after: Program) -> set[str]:
    """The tasks of the standard's lines that no command of any program would do any more."""
    digest = digests().get(STANDARD)
    standard = parsed(digest) if digest else None
    if not isinstance(standard, Standard):
        return set()
    lost = before.commands_by_task.keys() - after.commands_by_task.keys()
    others = {t for p in programs_by_key().values() if key_of(p) != key_of(before) for t in p.commands_by_task}
    tasks = current_estate().tasks
    ruled = {line.task for line in standard.lines}
    return {found.name if (found := tasks.task(t)) else t for t in (lost - others) & ruled}
