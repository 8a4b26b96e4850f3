"""The groups of clashes through a lens, or in all setups in use; those that makers meant apart."""

from dataclasses import replace

from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from ninja import Router

from amberkey.core.clashes.binding import STATIONS, Station
from amberkey.core.clashes.estate import Estate, Group
from amberkey.core.clashes.model import CLASH_KINDS, ClashKind
from amberkey.core.clashes.wording import KIND_WORDS
from amberkey.core.exchange.as_sheets.found import CLASH_HEADS, clash_rows
from amberkey.core.profiles.decisions import SEVERITIES, Decisions
from amberkey.server.estate import (
    board_of,
    current_derived,
    current_estate,
    current_organisation,
    decisions,
    in_sight,
    language_of,
    new_since_given,
)
from amberkey.server.library.models import ChangeSet
from amberkey.server.problems import Conflict, NotFound
from amberkey.server.schema import NamedOut, Schema
from amberkey.server.sheets import sheet_response
from amberkey.server.workbench.clashes.packed import PackedOut, packed
from amberkey.server.workbench.clashes.told import GroupOut, Said, group_out
from amberkey.server.workbench.keeping import kept

router = Router(tags=["workbench"])


class KindOut(Schema):
    id: ClashKind
    name: str


class ClashesOut(Schema):
    """`kinds`, `stations` and `departments` name what groups can be chosen by."""

    stations: list[Station]
    kinds: list[KindOut]
    departments: list[NamedOut]
    packed: PackedOut
    setups: int
    people: int


class MeantOut(Schema):
    groups: list[GroupOut]


@router.get("/clashes", response=ClashesOut)
@kept
def clashes(request: HttpRequest, setup: str, everywhere: bool = False) -> ClashesOut:
    """Where presses stop through this lens, or in all setups in use: the most felt and worst first, allowed ones marked.

    What makers meant is not among them, unless somebody said that it isn't so.
    """
    estate = current_estate()
    board_of(estate, setup)
    said = _said(estate)
    told = _told(estate, _open(estate, said), setup, everywhere, said)
    touched = {i for g in told if g.allowed is None for i in g.setups}
    return ClashesOut(
        stations=list(STATIONS),
        kinds=[KindOut(id=k, name=KIND_WORDS[k]) for k in CLASH_KINDS],
        departments=[NamedOut(id=d.id, name=d.name) for d in current_organisation().departments],
        packed=packed(told),
        setups=len(touched),
        people=estate.people_of(estate.setups[i] for i in touched),
    )


@router.get("/clashes.{form}", response={200: None})
def clash_sheet(request: HttpRequest, form: str, setup: str, everywhere: bool = False) -> HttpResponse:
    """What `clashes` tells, as CSV, ODS or XLSX."""
    estate = current_estate()
    board_of(estate, setup)
    said = _said(estate)
    told = _told(estate, _open(estate, said), setup, everywhere, said)
    by_identity = {g.clash.identity: g for g in (*estate.groups(), *estate.meant_groups())}
    rows = clash_rows(
        [by_identity[g.identity] for g in told],
        {g.identity: estate.board(g.seen_in) for g in told},
        {g.identity: g.allowed.reason for g in told if g.allowed is not None},
        language_of(setup),
    )
    return sheet_response(form, "clashes", CLASH_HEADS, rows)


@router.get("/clashes/meant", response=MeantOut)
@kept
def meant(request: HttpRequest, setup: str, everywhere: bool = False) -> MeantOut:
    """What makers meant: the shadows between a program's own defaults, and what somebody said is so."""
    estate = current_estate()
    board_of(estate, setup)
    said = _said(estate)
    doubted = {i for i, m in said.meanings.items() if not m.meant}
    marked = {i for i, m in said.meanings.items() if m.meant}
    groups = [g for g in estate.groups() if g.clash.identity in marked] if marked else []
    groups += [g for g in estate.meant_groups(None if everywhere else [setup]) if g.clash.identity not in doubted]
    return MeantOut(groups=_told(estate, groups, setup, everywhere, said))


def _open(estate: Estate, said: Said) -> list[Group]:
    """All groups but those that makers meant, with those of which somebody said that they didn't."""
    out_of_sight = {i for i, m in said.meanings.items() if m.meant}
    doubted = {i for i, m in said.meanings.items() if not m.meant}
    groups = [g for g in estate.groups() if g.clash.identity not in out_of_sight]
    return [*groups, *(g for g in estate.meant_groups() if g.clash.identity in doubted)] if doubted else groups


def _told(estate: Estate, groups: list[Group], setup_id: str, everywhere: bool, said: Said) -> list[GroupOut]:
    """Groups of all setups as the lens shows them: told through its setup wherever that has the clash."""
    told = []
    own = {c.identity: c for c in [*estate.clashes(setup_id), *(estate.meant(setup_id) if any(_is_meant(groups)) else ())]}
    for group in groups:
        seen = next((s.id for s in group.setups if in_sight(s.id)), None)
        if seen is None:
            continue
        clash = own.get(group.clash.identity)
        if clash is not None:
            here = Group(clash, (estate.setups[setup_id],), group.people)
            told.append(group_out(group, group if everywhere else here, estate.board(setup_id), said))
        elif everywhere:
            told.append(group_out(group, group, estate.board(seen), said))
    return sorted(told, key=lambda g: (-g.people, SEVERITIES.index(g.severity), g.identity))


def tell_ahead(estate: Estate, setup_id: str) -> None:
    """Put every group into words, so that they lie ready."""
    _told(estate, estate.groups(), setup_id, True, Said({}, {}, {}, {}, timezone.localdate()))


def _is_meant(groups: list[Group]) -> list[bool]:
    return [g.clash.meant for g in groups]


def _said(estate: Estate) -> Said:
    document: Decisions = decisions()
    return Said(
        allowed={a.clash: a for a in document.allowances},
        meanings={m.clash: m for m in document.meant},
        departments=current_derived().departments,
        new=new_since_given(estate),
        today=timezone.localdate(),
    )


def group_of(estate: Estate, setup_id: str, identity: str) -> Group:
    """The group of a clash over all setups; raises Conflict where it was decided since, or NotFound."""
    board_of(estate, setup_id)
    clash = next((c for c in estate.clashes(setup_id) if c.identity == identity), None)
    groups = estate.groups()
    if clash is None:
        clash = next((c for c in estate.meant(setup_id) if c.identity == identity), None)
        groups = estate.meant_groups()
    if clash is None:
        decided = ChangeSet.objects.filter(settled__clash=identity, undone=False).select_related("actor").first()
        if decided is None:
            raise NotFound("such clash")
        raise Conflict(
            f"{decided.actor.display_name} decided this clash already.",
            decided.title,
            by=decided.actor.display_name,
            at=decided.at.isoformat(),
            changes=[decided.title],
        )
    # The specialist looks through this lens, so its setup speaks for the group.
    group = next(g for g in groups if g.clash.identity == identity)
    return replace(group, clash=clash, setups=tuple(sorted(group.setups, key=lambda s: s.id != setup_id)))
