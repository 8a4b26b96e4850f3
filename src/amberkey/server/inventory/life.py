"""A command's life: what its maker gave it in each version, what each layer said of it, when and by whom, and what holds."""

import datetime
from typing import Annotated

from django.http import HttpRequest
from ninja import Router
from pydantic import Field

from amberkey.core.inventory.free_keys import KeyRow, Narrowed, OneHand, free_keys
from amberkey.core.inventory.rows import Row, Sheet
from amberkey.core.keys.platform import Platform
from amberkey.core.layouts.strokes import say_derived
from amberkey.core.profiles.defaults import DEFAULT
from amberkey.core.profiles.effective import Set
from amberkey.core.profiles.guard import Held
from amberkey.core.programs.editions import figures_of
from amberkey.core.programs.model import Program
from amberkey.server.estate import current_estate, current_organisation, layer_names
from amberkey.server.inventory.sheets import rows_named, sheet_through
from amberkey.server.inventory.told import CommandRowOut, keys_out, layer_words, row_out
from amberkey.server.library.documents import programs_by_key
from amberkey.server.library.models import Revision
from amberkey.server.library.sight import sees_document
from amberkey.server.schema import Schema, Words
from amberkey.server.workbench.words import ShortcutOut, shortcut_on, shortcut_out

router = Router(tags=["commands"])
_FREE = 12
"""So many free keys are shown."""
_LOOKED_AT = 80
"""Revisions of a profile in which is looked for who said something."""


class VersionDefaultOut(Schema):
    """What the maker gave the command in a version; `there`: whether that version has it at all."""

    version: str
    there: bool
    keys: list[ShortcutOut]


class StageOut(Schema):
    """What a layer says of the command. `by`, `at`: who said it and when, where that is known; `long_ago`: before anything
    that is looked through. `holds`: it is what holds; `in_vain`: why it doesn't count, else empty."""

    layer: str
    profile: str
    keys: list[ShortcutOut]
    by: str
    at: datetime.datetime | None
    long_ago: bool
    holds: bool
    in_vain: str


class ElsewhereOut(Schema):
    """Another command that does the same task."""

    id: str
    program_name: str
    name: str
    keys: list[ShortcutOut]


class RoleUsesOut(Schema):
    """How often one person of a role uses the command in a week (null: nobody has said), and how many of them have it."""

    role: str
    name: str
    people: int
    weekly: int | None


class CommandLifeOut(Schema):
    """`notes`: what is to be known of its keys here, in sentences. `elsewhere`: what else does its task. `uses`: by the roles
    of those who have the program, those of most people first."""

    row: CommandRowOut
    versions: list[VersionDefaultOut]
    stages: list[StageOut]
    notes: list[str]
    elsewhere: list[ElsewhereOut]
    uses: list[RoleUsesOut]
    source: str


class FreeKeyOut(Schema):
    """A free key: how far it is (less is easier), and what speaks for it or has to be known of it."""

    keys: ShortcutOut
    reach: int
    reasons: list[str]


@router.get("/commands/life", response=CommandLifeOut)
def command_life(request: HttpRequest, setup: Words, row: Words) -> CommandLifeOut:
    """The life of one command through a lens."""
    sheet = sheet_through(setup)
    (one,) = rows_named(sheet, [row])
    names = layer_words(layer_names(current_estate()))
    effective, platform = one.effective, sheet.boards[one.setup].setup.setup.works_on
    stages = [_stage(one, said, sheet, names, said is effective.now) for said in reversed((effective.now, *effective.hid))]
    stages += [_stage(one, r.said, sheet, names, False, _against(r.held, names)) for r in effective.refused]
    return CommandLifeOut(
        row=row_out(one, sheet, names),
        versions=_versions(one, platform),
        stages=stages,
        notes=_notes(one, sheet),
        elsewhere=[
            ElsewhereOut(id=r.id, program_name=r.program.name, name=r.command.name, keys=_now(r, sheet))
            for r in sheet.rows
            if r is not one and one.command.task is not None and r.command.task == one.command.task
        ],
        uses=_uses(one),
        source=one.program.told_source(one.command.cited),
    )


def _uses(row: Row) -> list[RoleUsesOut]:
    estate, organisation = current_estate(), current_organisation()
    if estate.census is None:
        return []
    setups = frozenset(s.id for s in estate.setups.values() if any(u.id == row.program.id for u in s.programs))
    said = estate.census.weekly.get((row.program.id, row.command.id), {})
    found = [
        RoleUsesOut(role=i, name=organisation.roles_by_id[i].name, people=tally.within(setups), weekly=said.get(i))
        for i, tally in estate.census.roles.items()
        if i in organisation.roles_by_id
    ]
    return sorted((u for u in found if u.people or u.weekly is not None), key=lambda u: (-u.people, u.name))


def _against(held: Held, names: dict[str, str]) -> str:
    return f"{names[held.by]} {'locks the command' if held.why == 'locked' else 'keeps that press free'}"


@router.get("/commands/free", response=list[FreeKeyOut])
def free_keys_for(
    request: HttpRequest,
    setup: Words,
    row: Words,
    everywhere: bool = False,
    hand: OneHand | None = None,
    in_row: KeyRow | None = None,
    modifiers: Annotated[int, Field(ge=0, le=4)] | None = None,
    first_letter: bool = False,
) -> list[FreeKeyOut]:
    """The easiest free keys for a command: on the setup of its row, or on all of that platform which have the program."""
    sheet = sheet_through(setup)
    (one,) = rows_named(sheet, [row])
    estate = current_estate()
    boards = [sheet.boards[one.setup]]
    if everywhere:
        platform = boards[0].setup.setup.works_on
        boards += [
            estate.board(i)
            for i, s in estate.setups.items()
            if i != one.setup and s.works_on == platform and any(u.id == one.program.id for u in s.programs)
        ]
    found = free_keys(one, boards, Narrowed(hand, in_row, modifiers, first_letter), _FREE)
    return [FreeKeyOut(keys=shortcut_out(c.shortcut, boards[0]), reach=c.reach.score, reasons=list(c.reasons)) for c in found]


def _now(row: Row, sheet: Sheet) -> list[ShortcutOut]:
    return keys_out(tuple(k for k, _ in row.effective.now.shortcuts), row, sheet)


def _stage(row: Row, said: Set, sheet: Sheet, names: dict[str, str], holds: bool, in_vain: str = "") -> StageOut:
    by, at, long_ago = ("", None, False) if said.layer == DEFAULT else _who_said(said.layer, row, sheet)
    return StageOut(
        layer=names[said.layer],
        profile="" if said.layer == DEFAULT or not sees_document(f"profile/{said.layer}") else said.layer,
        keys=keys_out(tuple(k for k, _ in said.shortcuts), row, sheet),
        by=by,
        at=at,
        long_ago=long_ago,
        holds=holds,
        in_vain=in_vain,
    )


def _who_said(profile: str, row: Row, sheet: Sheet) -> tuple[str, datetime.datetime | None, bool]:
    """Who gave a layer's entries for a command their present form, and when."""
    revisions = Revision.objects.filter(document_id=f"profile/{profile}").select_related("author", "body").order_by("-number")
    platform = sheet.boards[row.setup].setup.setup.works_on
    newest: Revision | None = None
    wanted: list[object] | None = None
    for n, revision in enumerate(revisions[:_LOOKED_AT]):
        said = _entries_in(revision, row, platform)
        if wanted is None:
            wanted = said
        elif said != wanted:
            break
        newest = revision
        if n == _LOOKED_AT - 1:
            return "", None, True
    return (newest.author.display_name, newest.at, False) if newest is not None else ("", None, False)


def _entries_in(revision: Revision, row: Row, platform: Platform) -> list[object]:
    value = revision.body.json()
    assert isinstance(value, dict)
    sets = value.get("sets") or ()
    lists = [value.get("entries") or (), *(s.get("entries") or () for s in sets if isinstance(s, dict))]  # type: ignore[union-attr]
    given = dict(row.arguments)
    return [
        e
        for entries in lists
        for e in entries  # type: ignore[union-attr]
        if isinstance(e, dict)
        and (e.get("program"), e.get("command"), e.get("platform")) == (row.program.id, row.command.id, platform)
        and (e.get("arguments") or {}) == given
    ]


def _versions(row: Row, platform: Platform) -> list[VersionDefaultOut]:
    programs: list[Program] = [p for p in programs_by_key().values() if p.id == row.program.id]
    found = []
    for program in sorted(programs, key=lambda p: (figures_of(p.version), p.version)):
        command = program.command(row.command.id)
        there = command is not None and not command.retired
        keys = command.defaults_on(platform) if command is not None and there else ()
        found.append(VersionDefaultOut(version=program.version, there=there, keys=[shortcut_on(k, platform) for k in keys]))
    return found


def _notes(row: Row, sheet: Sheet) -> list[str]:
    board = sheet.boards[row.setup]
    found: dict[str, None] = {}
    for binding in row.bindings:
        why = binding.unreachable or binding.refused or binding.asleep
        if why:
            found[f"{binding.shortcut}: {why}."] = None
        for press in binding.shortcut.presses:
            derived = say_derived(press, board.ground.layout, row.program.reads_on(board.ground.platform))
            if derived:
                found[f"{derived[0].upper()}{derived[1:]}."] = None
    return list(found)
