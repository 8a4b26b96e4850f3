"""Where a program keeps its keys: described from a file that somebody drops, tried out, kept."""

import json
from collections.abc import Iterator, Mapping
from typing import Annotated, Any, Literal, cast

from django.http import HttpRequest
from ninja import File, Form, Router
from ninja.files import UploadedFile
from pydantic import Field, TypeAdapter, ValidationError

from amberkey.core.containers.errors import SettingsFileError
from amberkey.core.descriptions.carrying import Reading, Wanted, places_of, read_file, write_file
from amberkey.core.descriptions.described import Described
from amberkey.core.descriptions.differing import differing
from amberkey.core.descriptions.guessing import guess
from amberkey.core.descriptions.records import MARKS
from amberkey.core.descriptions.shown import shown_defaults
from amberkey.core.documents.canonical import Json
from amberkey.core.documents.errors import DocumentError, Fault
from amberkey.core.documents.model import read_document
from amberkey.core.formats import FORMATS
from amberkey.core.keys.platform import Platform
from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.keys.wording import words_of
from amberkey.core.programs.editions import figures_of
from amberkey.core.programs.making import read_keys
from amberkey.core.programs.model import Program
from amberkey.core.programs.settings_files import called_in, made_new, may_be, read_settings, write_settings
from amberkey.server.library.documents import programs_by_key
from amberkey.server.library.history import ChangeOut
from amberkey.server.library.verbs.save import save
from amberkey.server.people.acting import By, actor_of
from amberkey.server.people.models import Role
from amberkey.server.problems import Problem
from amberkey.server.schema import Schema
from amberkey.server.workbench.catalogue import newest_program, seen_program

router = Router(tags=["workbench"])
_LARGEST = 512 * 1024  # bytes of a sample
_MOST_LINES = 3_000
_ENTRIES = 500


class FileCommandOut(Schema):
    id: str
    name: str


class DiffersOut(Schema):
    """A part of a description in words, as this version has it and as the other one has it; empty where it says nothing."""

    what: str
    here: str
    there: str


class OtherVersionOut(Schema):
    """Another version of the program with descriptions of its own. `differs`: for each of them what this version's says
    otherwise; one that this version doesn't have is not among them, so `described` is what it could begin with."""

    version: str
    described: list[dict[str, Any]]
    differs: list[list[DiffersOut]]


class DescribedFilesOut(Schema):
    """`described`: the descriptions of the program's settings files, as documents have them; `others`: those of its other
    versions, the newest first."""

    name: str
    digest: str
    platforms: list[Platform]
    described: list[dict[str, Any]]
    commands: list[FileCommandOut]
    others: list[OtherVersionOut]


class SettingsEntryOut(Schema):
    """What a line says. `command`: its id, none where the program has no such command; then `may_be` says which it may be.
    `shown`: nothing is set there, it only shows a default. `keys` are in words, `shortcuts` the same as they are kept."""

    line: int
    called: str
    context: str
    command: str | None
    name: str
    keys: list[str]
    shortcuts: list[str]
    shown: bool
    state: Literal["default", "differs", "off", "unknown"]
    may_be: str | None


class UnreadEntryOut(Schema):
    line: int
    says: str


class PlaceOut(Schema):
    """A part of a line, from which character to which, counted from 0, the last one not with it."""

    line: int
    begin: int
    end: int


class SettingsReadOut(Schema):
    """A description, and what it reads of the file: `read` entries, and `shown` defaults that only stand there. `same`: written
    back unchanged, the file has the same bytes; `places`: the only ones that writing changes, as far as lines are shown."""

    described: dict[str, Any]
    why: list[str]
    read: int
    shown: int
    entries: list[SettingsEntryOut]
    unread: list[UnreadEntryOut]
    missing: str
    same: bool
    places: list[PlaceOut]


class WrittenLineOut(Schema):
    line: int
    before: str
    after: str


class WouldWriteOut(Schema):
    """What writing would do: the lines that would be others, and why it can't be written; bytes of the file then."""

    lines: list[WrittenLineOut]
    size: int
    refused: str


class SettingsFileOut(Schema):
    """`lines`: the file's, as far as they are shown of `total`; `proposals`: the best first."""

    size: int
    total: int
    lines: list[str]
    proposals: list[SettingsReadOut]
    tried: WouldWriteOut | None


class CalledIn(Schema):
    """What a file calls a command, and the context in which it has it."""

    called: Annotated[str, Field(min_length=1, max_length=120)]
    context: Annotated[str, Field(max_length=40)] = ""


class NewCommandIn(CalledIn):
    """A name that becomes a command. `shortcuts`: the default that the file shows for it, if it shows any."""

    shortcuts: Annotated[list[Annotated[str, Field(max_length=200)]], Field(max_length=20)] = []


class DescribeIn(Schema):
    """`number`: which description to replace, counted from 0; the next free one adds it. `described`: none takes it away.
    `called`: what the file calls commands, by their ids; `new`: names that become commands of the program, with their defaults
    on `platform` (the program's first one if it isn't told)."""

    digest: str
    number: Annotated[int, Field(ge=0, le=12)]
    described: dict[str, Any] | None
    called: dict[str, CalledIn] = {}
    new: Annotated[list[NewCommandIn], Field(max_length=2_000)] = []
    platform: Platform | None = None


_CALLED = TypeAdapter(dict[str, CalledIn])


@router.get("/catalogue/{program}/{version}/settings-files", response=DescribedFilesOut)
def described_files(request: HttpRequest, program: str, version: str) -> DescribedFilesOut:
    """How the settings files of a program are described."""
    value, digest = newest_program(program, version)
    return DescribedFilesOut(
        name=f"{value.name} {value.version}",
        digest=digest,
        platforms=list(value.platforms),
        described=[_json(how) for how in value.settings_files],
        commands=[FileCommandOut(id=c.id, name=c.name) for c in value.commands if not c.retired],
        others=_others_of(value),
    )


@router.post("/catalogue/{program}/{version}/settings-files", response=SettingsFileOut)
def read_sample(
    request: HttpRequest,
    program: str,
    version: str,
    file: File[UploadedFile],
    described: Form[str] = "",
    called: Form[str] = "{}",
    command: Form[str] = "",
    shortcuts: Form[str] = "",
    platform: Form[str] = "",
) -> SettingsFileOut:
    """What a settings file says by a description, a JSON text; without one the best three are guessed.

    `called`: what it calls commands (as when it is kept, a JSON text), beside what is known of that. `command` and
    `shortcuts`: what is tried to be written, by the first of them. Nothing is kept.
    """
    value, _ = newest_program(program, version)
    if (file.size or 0) > _LARGEST:
        raise Problem(413, "This sample is too large.", f"{_LARGEST // 1024} KB is the most.", "Drop a shorter one.")
    where = next((p for p in value.platforms if p == platform), value.platforms[0])
    data = file.read()
    tries: list[tuple[Described, tuple[str, ...]]]
    if described:
        value = _described(value, described, called)
        tries = [(value.settings_files[0], ())]
    else:
        usual = {c.in_file or c.id: c.defaults_on(where) for c in value.commands if not c.retired}
        tries = [(g.described, g.why) for g in guess(data, usual, usual)]
    proposals = [_read(data, value, how, why, where) for how, why in tries]
    encoding = tries[0][0].encoding if tries else "utf-8"
    lines = _lines(_text(data, encoding))
    tried = _tried(data, value, tries[0][0], command, shortcuts, where) if tries and command else None
    return SettingsFileOut(size=len(data), total=len(lines), lines=lines[:_MOST_LINES], proposals=proposals, tried=tried)


@router.put("/catalogue/{program}/{version}/settings-files", response=ChangeOut, auth=By(Role.EDITOR))
def keep_described(request: HttpRequest, program: str, version: str, given: DescribeIn) -> ChangeOut:
    """Keep a description, or take one away, as one change that can be undone."""
    actor = actor_of(request)
    key = f"program/{program}@{version}"
    before = seen_program(program, version, given.digest)
    files = [_json(how) for how in before.settings_files]
    if given.described is None:
        if given.number >= len(files):
            raise Problem(400, "There is no such description.", f"{before.name} has {len(files)}.", "Look at the newest state.")
        del files[given.number]
    else:
        value = _with_scopes(before, given.described, given.called)
        if given.new:
            how = _with_files(before, [value], given.called).settings_files[0]
            taken = {c.called for c in given.called.values()}
            names = {Wanted(n.called, n.context): _defaults_in(n) for n in given.new if n.called not in taken}
            where = given.platform if given.platform in before.platforms else before.platforms[0]
            before, how = made_new(before, how, names, where)
            value = _json(how)
        files[given.number : given.number + 1] = [value]
    after = _with_files(before, files, given.called)
    verb = "Took away" if given.described is None else "Described"
    many = f", with {len(given.new)} new command{'s' if len(given.new) != 1 else ''}" if given.new else ""
    note = f"{verb} where {before.name} {version} keeps its keys{many}"
    done = save(actor, key, after, given.digest, note)
    return ChangeOut(id=done.id, title=done.title)


def _defaults_in(new: NewCommandIn) -> tuple[Shortcut, ...]:
    """The default shortcuts of a new command. Raises DocumentError."""
    return tuple(dict.fromkeys(s for text in new.shortcuts for s in read_keys(text)))


def _others_of(program: Program) -> list[OtherVersionOut]:
    others = [p for p in programs_by_key().values() if p.id == program.id and p.version != program.version]
    others = [p for p in others if p.settings_files]
    others.sort(key=lambda p: (figures_of(p.version), p.version), reverse=True)
    return [
        OtherVersionOut(
            version=other.version,
            described=[_json(how) for how in other.settings_files],
            differs=[
                [DiffersOut(what=d.what, here=d.here, there=d.there) for d in differing(here, there)]
                for here, there in zip(program.settings_files, other.settings_files, strict=False)
            ],
        )
        for other in others
    ]


def _json(how: Described) -> dict[str, Any]:
    return how.model_dump(mode="json", exclude_defaults=True)


def _described(program: Program, described: str, called: str) -> Program:
    """A program with one description alone, out of its text. Raises DocumentError with every fault and its place."""
    try:
        value = json.loads(described)
    except (ValueError, RecursionError) as error:
        raise DocumentError([Fault("described", f"This is no JSON: {error}.", "Mend it.")]) from error
    try:
        names = _CALLED.validate_json(called)
    except ValidationError as error:
        raise DocumentError(
            [Fault("called", f"{error.error_count()} names of commands can't be read.", "Mend them.")]
        ) from error
    return _with_files(program, [_with_scopes(program, value, names)], names)


def _with_scopes(program: Program, described: Any, called: Mapping[str, CalledIn]) -> Any:
    """A description that says which context each scope is, as far as commands that are matched tell. Raises DocumentError where
    commands of one scope stand in two contexts."""
    if not isinstance(described, dict) or not described.get("context"):
        return described
    said = described.get("scopes")
    scopes: dict[str, Any] = dict(said) if isinstance(said, dict) else {}
    for command_id, name in called.items():
        command = program.command(command_id)
        if command is None:
            continue
        if scopes.setdefault(command.scope, name.context) != name.context:
            scope = next((s.name for s in program.scopes if s.id == command.scope), command.scope)
            says = f"Commands of {scope} stand in {scopes[command.scope]} and in {name.context}."
            raise DocumentError([Fault("scopes", says, "Give the program a scope for each, or match only those of one.")])
    return {**described, "scopes": scopes} if scopes else described


def _with_files(program: Program, files: list[Any], called: Mapping[str, CalledIn]) -> Program:
    value = dict(cast(dict[str, Any], program.to_json()))
    value["settings_files"] = files
    commands = [dict(c) for c in value.get("commands", [])]
    for command in commands:
        if command["id"] in called:
            command["in_file"] = called[command["id"]].called
    made = read_document(cast(Json, {**value, "commands": commands}), FORMATS)
    assert isinstance(made, Program)
    return made


def _read(data: bytes, program: Program, how: Described, why: tuple[str, ...], platform: Platform) -> SettingsReadOut:
    reading = read_file(data, how)
    settings = read_settings(data, program, how, platform)
    shown = shown_defaults(data, how)
    by_called = {called_in(how, c): c for c in reversed(program.commands)}
    # What is shown as a default tells better which command it is than what somebody set.
    said = {**reading.shortcuts, **{one.what: one.shortcuts for one in shown}}
    unknown = {what: keys for what, keys in said.items() if what not in by_called and what.command != how.keys.off}
    named = {command.id for what, command in by_called.items() if what in said}
    proposed = may_be(program, platform, how, unknown, named)
    lines = sorted([*((one, False) for one in reading.found), *((one, True) for one in shown)], key=lambda o: o[0].line)
    entries = []
    for one, is_shown in lines[:_ENTRIES]:
        command = by_called.get(one.what)
        keys = one.shortcuts if is_shown or command is None else settings.entries.get(command.id)
        default = command is not None and keys == command.defaults_on(platform)
        entries.append(
            SettingsEntryOut(
                line=one.line,
                called=one.what.command,
                context=one.what.context,
                command=command.id if command else None,
                name=command.name if command else one.what.command,
                keys=[words_of(s, platform) for s in one.shortcuts],
                shortcuts=[str(s) for s in one.shortcuts],
                shown=is_shown,
                state="off" if one.what.command == how.keys.off else _state(command is not None, default),
                may_be=proposed.get(one.what) if command is None else None,
            )
        )
    return SettingsReadOut(
        described=_json(how),
        why=list(why),
        read=len(reading.found),
        shown=len(shown),
        entries=entries,
        unread=[UnreadEntryOut(line=u.line, says=u.says) for u in reading.unread[:_ENTRIES]],
        missing=reading.missing,
        same=_same(data, how, reading),
        places=[PlaceOut(line=p.line, begin=p.begin, end=p.end) for p in places_of(data, how) if p.line <= _MOST_LINES],
    )


def _state(known: bool, default: bool) -> Literal["unknown", "default", "differs"]:
    if not known:
        return "unknown"
    return "default" if default else "differs"


def _same(data: bytes, how: Described, reading: Reading) -> bool:
    try:
        return write_file(data, how, reading.shortcuts).data == data
    except SettingsFileError:
        return False


def _tried(data: bytes, program: Program, how: Described, command: str, keys: str, platform: Platform) -> WouldWriteOut:
    if program.command(command) is None:
        raise Problem(400, "There is no such command.", f"{program.name} has no {command[:80]}.", "Choose another one.")
    try:
        written = write_settings(data, program, how, {command: read_keys(keys)}, platform).data
    except SettingsFileError as error:
        return WouldWriteOut(lines=[], size=len(data), refused=error.says)
    return WouldWriteOut(
        lines=list(_others(_text(data, how.encoding), _text(written, how.encoding))), size=len(written), refused=""
    )


def _others(before: str, after: str) -> Iterator[WrittenLineOut]:
    """The lines between the first and the last that differ."""
    old, new = _lines(before), _lines(after)
    first = next((i for i, (a, b) in enumerate(zip(old, new, strict=False)) if a != b), min(len(old), len(new)))
    end = 0
    while end < min(len(old), len(new)) - first and old[-1 - end] == new[-1 - end]:
        end += 1
    gone, come = old[first : len(old) - end], new[first : len(new) - end]
    for i in range(max(len(gone), len(come))):
        yield WrittenLineOut(
            line=first + i + 1, before=gone[i] if i < len(gone) else "", after=come[i] if i < len(come) else ""
        )


def _text(data: bytes, encoding: str) -> str:
    mark, encoding = next(((m, e) for m, e in MARKS if data.startswith(m)), (b"", encoding))
    return data[len(mark) :].decode(encoding, "replace")


def _lines(text: str) -> list[str]:
    return [line.removesuffix("\r") for line in text.split("\n")]
