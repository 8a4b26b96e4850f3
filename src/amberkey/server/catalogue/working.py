"""The work on a list of commands: opening it, checking it against a program, taking it as one change set.

What takes long is done by jobs, the rest at once; both by the same functions, which may be begun again at any point.
"""

from collections.abc import Mapping, Sequence
from typing import Annotated, Any, Literal, cast
from uuid import UUID

from django.db import transaction
from pydantic import Field as Within

from amberkey.core.catalogue.headings import Field, Matching, match_headings
from amberkey.core.catalogue.listing import (
    Corrections,
    Listing,
    ListOfCommands,
    Said,
    told,
    where_general,
    with_listed,
    with_retired,
)
from amberkey.core.catalogue.tables import Table, TableRow, read_pasted, read_tables
from amberkey.core.documents.canonical import Json
from amberkey.core.documents.errors import DocumentError, Fault
from amberkey.core.exchange.errors import SheetError
from amberkey.core.exchange.lists.nightly import RUNS
from amberkey.core.keys.platform import Platform
from amberkey.core.programs.making import blank_program, new_version, without_commands
from amberkey.core.programs.model import Kind, Program
from amberkey.server.catalogue.models import CommandList
from amberkey.server.estate import current_estate
from amberkey.server.library.documents import digests, parsed, programs_by_key
from amberkey.server.library.lists import ListState
from amberkey.server.library.models import Body
from amberkey.server.library.verbs.change import Making, change
from amberkey.server.library.verbs.save import save
from amberkey.server.people.acting import Actor
from amberkey.server.problems import NotFound, Problem
from amberkey.server.schema import Name, Schema

AT_ONCE = 2_000
"""Rows up to which a list is checked and taken while somebody waits; longer ones are a job."""
State = ListState
_Text = Annotated[str, Within(max_length=4000)]


class NewProgramIn(Schema):
    name: Name
    version: Annotated[str, Within(min_length=1, max_length=40)] = "1"
    kind: Kind = "office"
    platforms: Annotated[list[Platform], Within(min_length=1, max_length=3)]


class Asked(Schema):
    """How a list is to be understood. `program`: the one that it is held against, as id@version; without one `new` says what is
    made. `next_version`: the list is that of a newer version, which is made of `program`; `lacking`: what becomes there of
    commands of which the list says nothing. `head`: the row of headings, 0 for none; `columns`: what each is, by its place
    from 0; null lets both be found. `platforms`: where keys count of which nothing says where. `corrections`: by row, other
    texts by field.
    """

    table: Annotated[int, Within(ge=0, le=200)] = 0
    program: Annotated[str, Within(max_length=200)] | None = None
    new: NewProgramIn | None = None
    next_version: Annotated[str, Within(min_length=1, max_length=40)] | None = None
    lacking: Literal["gone", "stay"] = "gone"
    head: Annotated[int, Within(ge=0, le=60_000)] | None = None
    columns: dict[Annotated[int, Within(ge=0, le=200)], Field] | None = None
    platforms: list[Platform] = []
    corrections: Annotated[dict[int, dict[str, _Text]], Within(max_length=5_000)] = {}


def opened(found: CommandList, text: str = "", html: str = "") -> None:
    """Read the tables of a file, or of what was pasted. Raises SheetError."""
    tables = read_pasted(text, html) if text or html else read_tables(bytes(found.content.data))
    found.tables = Body.keep_json([_table_json(t) for t in tables])
    found.total = len(tables[0].rows)


def tables_of(found: CommandList) -> list[Table]:
    """The tables of a list, the largest first; none before it was opened."""
    return [_table(t) for t in cast(list[Any], found.tables.json())] if found.tables else []


def _table_json(table: Table) -> Json:
    rows = [[r.number, list(r.cells), [[f.place, f.says, f.cure] for f in r.faults]] for r in table.rows]
    return cast(Json, {"name": table.name, "rows": rows})


def _table(value: Mapping[str, Any]) -> Table:
    rows = (TableRow(n, tuple(cells), tuple(Fault(*f) for f in faults)) for n, cells, faults in value["rows"])
    return Table(value["name"], tuple(rows))


def program_of(asked: Asked) -> tuple[Program, str]:
    """The program that a list is held against, and the digest of the revision that it was read from, empty where there is none.
    A newer version is like the one before until the list is taken. Raises NotFound, DocumentError."""
    if asked.program is not None:
        key = f"program/{asked.program}"
        digest = digests().get(key)
        value = parsed(digest) if digest else None
        if not isinstance(value, Program):
            raise NotFound(key.replace("/", " ", 1)[:80])
        if asked.next_version is not None:
            known = {p.version for p in programs_by_key().values() if p.id == value.id}
            value = new_version(value, asked.next_version.strip(), known)
        return value, str(digest)
    new = asked.new or NewProgramIn(name="The new program", platforms=["windows"])
    taken = {p.id for p in programs_by_key().values()} if asked.new else ()
    return blank_program(new.name, new.version, new.kind, new.platforms, taken), ""


def platforms_of(asked: Asked, program: Program) -> list[Platform]:
    """Where keys count of which nothing says where: as asked, else where that is usual."""
    return [p for p in asked.platforms if p in program.platforms] or list(where_general(program))


def matching_of(asked: Asked, table: Table) -> Matching:
    """What each column is: as asked, or as found."""
    found = match_headings(table)
    if asked.columns is None:
        return found
    return Matching(found.head if asked.head is None else asked.head, asked.columns)


def listing_of(found: CommandList, asked: Asked, program: Program, *, progress: bool = False) -> Listing:
    """What the list says, held against a program and what the last list of that program said."""
    tables = tables_of(found)
    if asked.table >= len(tables):
        raise NotFound(f"table {asked.table + 1}")
    table = tables[asked.table]
    reader = ListOfCommands(
        program,
        current_estate().tasks,
        matching_of(asked, table),
        platforms=platforms_of(asked, program),
        corrections=cast(Corrections, asked.corrections),
        last=_last_said(program.id) if asked.program is not None and asked.next_version is None else None,
    )

    def note(done: int) -> None:
        CommandList.objects.filter(id=found.id).update(done=done, total=len(table.rows))

    return reader.read(table, note if progress else None)


def _last_said(program: str) -> Mapping[str, Said]:
    last = CommandList.objects.filter(program=program, state=State.TAKEN).select_related("result").order_by("-at").first()
    result = cast(dict[str, Any], last.result.json()) if last is not None and last.result is not None else {}
    return cast(Mapping[str, Said], result.get("said", {}))


def check(found: CommandList, *, progress: bool = False) -> None:
    """Hold the list against its program, and keep what that found. Raises Problem, DocumentError."""
    asked = Asked.model_validate(found.asked)
    program, found.basis = program_of(asked)
    listing = listing_of(found, asked, program, progress=progress)
    found.total = found.done = len(listing.rows)
    found.result = Body.keep_json(_kept(found, listing, program))
    found.state, found.says = State.CHECKED, ""


def _kept(found: CommandList, listing: Listing, program: Program) -> dict[str, Json]:
    rows = [
        {
            "row": r.row,
            "what": r.what,
            "name": r.name,
            "command": r.command,
            "found_by": r.found_by,
            "guessed": r.guessed,
            "cells": {f: {"text": c.text, "read": c.read, "state": c.state, "says": c.says} for f, c in r.cells.items()},
            "differs": [{"field": d.field, "now": d.now, "then": d.then, "taken": d.taken} for d in r.differs],
            "faults": [{"place": f.place, "says": f.says, "cure": f.cure} for f in r.faults],
        }
        for r in listing.rows
    ]
    counts: dict[str, int] = {**{str(k): n for k, n in listing.counts().items()}}
    counts["guessed"] = sum(r.guessed and r.good for r in listing.rows)
    gone = _gone(Asked.model_validate(found.asked), listing)
    retire, back = _missing_and_back(found, listing, program)
    counts["retires"], counts["returns"], counts["gone"] = len(retire), len(back), len(gone)
    says = told(listing, program, gone=bool(gone))
    says += [f"Retires {_commands(len(retire))}, missing {RUNS} times in a row."] if retire else []
    says += [f"Brings {_commands(len(back))} back."] if back else []
    return {
        "rows": cast(Json, rows),
        "told": cast(Json, says),
        "counts": cast(Json, counts),
        "said": cast(Json, listing.said()),
    }


def _missing_and_back(found: CommandList, listing: Listing, program: Program) -> tuple[set[str], set[str]]:
    """The commands that a list retires by missing them, and those that it brings back."""
    listed = listing.said().keys()
    retired = {c.id for c in program.commands if c.retired}
    there = {c.id for c in program.commands}
    return set(found.retiring) & there - retired - listed, set(found.returning) & retired & listed


def _gone(asked: Asked, listing: Listing) -> set[str]:
    """The commands that a newer version no longer has: those of which its list says nothing."""
    return set(listing.missing) if asked.next_version is not None and asked.lacking == "gone" else set()


def _commands(number: int) -> str:
    return f"{number:,} {'command' if number == 1 else 'commands'}"


def take(actor: Actor, found: CommandList) -> None:
    """Make the program what its good rows say, as one change set. Raises Problem where it was changed since the check."""
    asked = Asked.model_validate(found.asked)
    program, digest = program_of(asked)
    if digest != found.basis:
        raise Problem(409, f"{program.name} was changed since the list was checked.", cure="Check the list again.")
    listing = listing_of(found, asked, program)
    retire, back = _missing_and_back(found, listing, program)
    after = without_commands(with_retired(with_listed(program, listing), retire=retire, back=back), _gone(asked, listing))
    good = sum(r.good and r.what != "same" for r in listing.rows)
    title = f"Brought {_commands(good)} of {program.name} from {found.name}"
    if asked.next_version is not None:
        title = f"Made {program.name} {program.version} from {found.name}"
        found.change_set = change(actor, title, {}, making=Making(make=[after]))
    elif digest:
        found.change_set = save(actor, f"program/{program.id}@{program.version}", after, digest, title)
    else:
        found.change_set = change(actor, title, {}, making=Making(make=[after]))
    found.program, found.state = program.id, State.TAKEN


def do(found_id: UUID) -> None:
    """The job: opens, checks or takes a list, whichever its state says. Does nothing where that has been done. Checking notes
    how far it is, so it is in no transaction; taking is in one, so that an end in the middle leaves nothing."""
    try:
        found = CommandList.objects.select_related("content", "tables").filter(id=found_id).first()
        if found is None:
            return
        state = found.state
        if state == State.OPENING:
            opened(found)
            found.asked = Asked().model_dump(mode="json")
        if state in (State.OPENING, State.CHECKING):
            check(found, progress=True)
            with transaction.atomic():
                if CommandList.locked(found_id).state == state:
                    found.save()
        elif state == State.TAKING:
            with transaction.atomic():
                found = CommandList.locked(found_id)
                if found.state == State.TAKING:
                    take(Actor(found.actor), found)
                    found.save()
    except (Problem, DocumentError, SheetError) as error:
        CommandList.fail(found_id, error.faults[0].sentence() if isinstance(error, SheetError | DocumentError) else str(error))


def names_of(tables: Sequence[Table]) -> list[str]:
    """What tables are called, with how many rows each has."""
    return [f"{t.name or f'Table {n}'} ({len(t.rows)} rows)" for n, t in enumerate(tables, 1)]
