"""Clashes through a lens, in groups, with the ways out of each."""

import datetime
from dataclasses import replace

from django.http import HttpRequest
from django.utils import timezone
from ninja import Router, Schema

from amberkey.core.clashes.binding import STATIONS, Binding
from amberkey.core.clashes.board import Board
from amberkey.core.clashes.estate import Estate, Group
from amberkey.core.clashes.model import Clash
from amberkey.core.clashes.wayout import WayOut
from amberkey.core.clashes.ways import move_to, ways_out
from amberkey.core.clashes.wording import KIND_WORDS, say_clash, say_shortcut
from amberkey.core.keys.reading import read_shortcut
from amberkey.core.profiles.decisions import SEVERITIES, Allowance, Severity
from amberkey.server.library.models import ChangeSet
from amberkey.server.problems import Conflict, NotFound
from amberkey.server.workbench.estate import board_of, current_estate, decisions, target_of
from amberkey.server.workbench.words import ShortcutOut, StrokeOut, shortcut_out, stroke_out

router = Router(tags=["workbench"])


class PartyOut(Schema):
    program: str
    program_name: str
    command: str
    command_name: str
    scope: str
    scope_name: str
    shortcut: ShortcutOut


class AllowedOut(Schema):
    reason: str
    by: str
    until: datetime.date | None


class GroupOut(Schema):
    """One clash with its copies. The press runs to `taken_at` and should have run to `meant_for` (stations by name).

    `seen_in`: the setup in whose words it is told, and through which it is decided.
    """

    identity: str
    seen_in: str
    kind: str
    severity: Severity
    says: str
    subject: PartyOut
    holder: PartyOut | None
    stroke: StrokeOut | None
    text: str
    taken_at: str | None
    taken_says: str
    meant_for: str
    meant_says: str
    setups: list[str]
    people: int
    allowed: AllowedOut | None


class DecidedOut(Schema):
    """A decision that was taken on some clash: who, when, what; whether it stands."""

    id: int
    title: str
    by: str
    at: datetime.datetime
    undone: bool


class ClashesOut(Schema):
    stations: list[str]
    groups: list[GroupOut]
    setups: int
    people: int
    decided: list[DecidedOut]


class WayGroupOut(Schema):
    kind: str
    says: str


class WayOutOut(Schema):
    key: str
    kind: str
    shortcut: ShortcutOut | None
    subject: PartyOut
    reach: int | None
    reach_before: int | None
    reasons: list[str]
    profile: str
    entries: int
    people: int
    setups: list[str]
    solves: list[WayGroupOut]
    makes: list[WayGroupOut]
    remains: list[str]
    scopes: list[str]


def group_of(estate: Estate, setup_id: str, identity: str) -> Group:
    """The group of a clash over all setups; raises Conflict where it was decided since, or NotFound."""
    board_of(estate, setup_id)
    clash = next((c for c in estate.clashes(setup_id) if c.identity == identity), None)
    if clash is None:
        decided = ChangeSet.objects.filter(clash=identity, undone=False).select_related("actor").first()
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
    group = next(g for g in estate.groups() if g.clash.identity == identity)
    return replace(group, clash=clash, setups=tuple(sorted(group.setups, key=lambda s: s.id != setup_id)))


@router.get("/clashes", response=ClashesOut)
def clashes(request: HttpRequest, setup: str, everywhere: bool = False) -> ClashesOut:
    """Where presses stop through this lens, or in all setups in use: the most felt and worst first, allowed ones marked."""
    estate = current_estate()
    board = board_of(estate, setup)
    whole = {g.clash.identity: g for g in estate.groups()}
    allowed = {a.clash: a for a in decisions().allowances}
    today = timezone.localdate()
    if everywhere:
        boards = ((g, setup if any(s.id == setup for s in g.setups) else g.setups[0].id) for g in whole.values())
        groups = [_group(g, g, estate.board(where), allowed, today) for g, where in boards]
    else:
        groups = [_group(whole[g.clash.identity], g, board, allowed, today) for g in estate.groups([setup])]
    groups.sort(key=lambda g: (-g.people, SEVERITIES.index(g.severity), g.identity))
    touched = {i for g in groups if g.allowed is None for i in g.setups}
    decided = ChangeSet.objects.exclude(clash="").filter(undoes=None).select_related("actor")[:100]
    return ClashesOut(
        stations=list(STATIONS),
        groups=groups,
        setups=len(touched),
        people=estate.people_of(s for s in estate.setups.values() if s.name in touched),
        decided=[DecidedOut(id=c.id, title=c.title, by=c.actor.display_name, at=c.at, undone=c.undone) for c in decided],
    )


@router.get("/clashes/{identity}/ways", response=list[WayOutOut])
def ways(request: HttpRequest, identity: str, setup: str, own: str | None = None, target: str | None = None) -> list[WayOutOut]:
    """The ways out of a clash with their consequences; `own` adds a move to a shortcut of one's own choice.

    `target`: the layer in which the decision is kept, unless a layer has set the key already.
    """
    estate = current_estate()
    group = group_of(estate, setup, identity)
    board = estate.board(setup)
    layer = target_of(estate.setups[setup], target)
    found = ways_out(estate, group, layer)
    if own:
        shortcut = read_shortcut(own).resolve(group.clash.platform)
        found = [move_to(estate, group, shortcut, layer), *(w for w in found if w.kind == "allow")]
    return [_way(w, estate, board) for w in found]


def party(binding: Binding, board: Board) -> PartyOut:
    return PartyOut(
        program=binding.program.id,
        program_name=binding.program.name,
        command=binding.command.id,
        command_name=binding.command.name,
        scope=binding.scope,
        scope_name=binding.scope_name,
        shortcut=shortcut_out(binding.shortcut, board),
    )


def _group(everywhere: Group, here: Group, board: Board, allowed: dict[str, Allowance], today: datetime.date) -> GroupOut:
    clash = here.clash
    allowance = allowed.get(clash.identity)
    holds = allowance is not None and allowance.holds(
        today, everywhere.clash.severity, frozenset(s.id for s in everywhere.setups)
    )
    meant_for, meant_says = _meant(clash)
    return GroupOut(
        identity=clash.identity,
        seen_in=board.setup.setup.id,
        kind=clash.kind,
        severity=clash.severity,
        says=say_clash(clash, board),
        subject=party(clash.subject, board),
        holder=party(clash.holder, board) if clash.holder else None,
        stroke=stroke_out(clash.stroke) if clash.stroke else None,
        text=clash.text,
        taken_at=_station(clash),
        taken_says=_taken(clash),
        meant_for=meant_for,
        meant_says=meant_says,
        setups=[s.name for s in everywhere.setups],
        people=everywhere.people,
        allowed=AllowedOut(reason=allowance.reason, by=allowance.by, until=allowance.until)
        if allowance is not None and holds
        else None,
    )


def _meant(clash: Clash) -> tuple[str, str]:
    """The station that the press was meant for, and what it would have done there."""
    match clash.kind:
        case "swallows_text":
            return "text", f"types {clash.text}"
        case "takes_caret":
            return "text", clash.text
        case "protected":
            return "program", clash.text
        case "browser" if clash.station == "program" and clash.loser is not None:
            return "browser", clash.loser.command.name
        case _:
            loser = clash.loser or clash.subject
            return ("program" if not loser.everywhere else loser.station), loser.program.name


def _station(clash: Clash) -> str | None:
    """Where the press ends. A shortcut that its program doesn't take, or that means nothing, ends there all the same."""
    if clash.station is None and clash.kind != "out_of_reach":
        return "program"
    return clash.station


def _taken(clash: Clash) -> str:
    if clash.kind == "prefix" and clash.note != "short":
        return "waits for more"
    if clash.holder is not None:
        return clash.holder.command.name
    return {"orphan": "isn't there", "cannot": "can't be taken"}.get(clash.kind, "no such press here")


def _way(way: WayOut, estate: Estate, board: Board) -> WayOutOut:
    told = way.consequences

    def tell(groups: tuple[Group, ...]) -> list[WayGroupOut]:
        return [WayGroupOut(kind=g.clash.kind, says=brief(g, board)) for g in groups]

    return WayOutOut(
        key=way.key,
        kind=way.kind,
        shortcut=shortcut_out(way.shortcut, board) if way.shortcut else None,
        subject=party(way.subject, board),
        reach=way.reach.score if way.reach else None,
        reach_before=way.reach_before.score if way.reach_before else None,
        reasons=list(way.reasons),
        profile=", ".join(estate.profiles[i].name for i in way.changes),
        entries=sum(len(o) for o in way.changes.values()),
        people=told.people,
        setups=[estate.setups[i].name for i in told.setups],
        solves=tell(told.solves),
        makes=tell(told.makes),
        remains=[s.name for s in told.remains],
        scopes=[way.subject.program.scope(s).name for s in way.scopes],
    )


def brief(group: Group, board: Board) -> str:
    """A clash in half a line, in the words of a lens's keyboard: whose, where, which key, what kind."""
    return brief_clash(group.clash, board)


def brief_clash(clash: Clash, board: Board) -> str:
    subject = clash.subject
    pressed = say_shortcut(subject.shortcut, board) or "no shortcut"
    return f"{subject.command.name} in {subject.program.name}, {pressed} ({KIND_WORDS[clash.kind]})"
