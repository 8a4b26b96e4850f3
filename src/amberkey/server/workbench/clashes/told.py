"""Clashes and their groups in the words of a lens's keyboard, as the screens show them."""

import datetime
from collections.abc import Mapping
from dataclasses import dataclass
from weakref import WeakKeyDictionary

from amberkey.core.clashes.binding import Binding, Station
from amberkey.core.clashes.board import Board
from amberkey.core.clashes.estate import Group
from amberkey.core.clashes.model import Clash, ClashKind
from amberkey.core.clashes.wording import KIND_WORDS, say_clash, say_shortcut
from amberkey.core.profiles.decisions import Allowance, Meaning, Severity
from amberkey.server.schema import Schema
from amberkey.server.workbench.words import ShortcutOut, StrokeOut, shortcut_out, stroke_out


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


class MeaningOut(Schema):
    """What somebody said of it: whether the maker meant it."""

    meant: bool
    by: str
    since: datetime.date | None


class PressedInOut(Schema):
    program: str
    scope: str


class GroupOut(Schema):
    """One clash with its copies. The press runs to `taken_at` and should have run to `meant_for` (stations by name).

    `seen_in`: the setup in whose words it is told, and through which it is decided. `strokes`: what the fingers do for the
    subject's shortcut. `focus`: where the press has to be made for it; None where that's all the same. `setups` by id.
    `new`: not there in what its machines were last given. `may_be_meant`: it is within one program's own defaults; `meaning` is
    what somebody found out of that.
    """

    identity: str
    seen_in: str
    kind: ClashKind
    severity: Severity
    says: str
    subject: PartyOut
    holder: PartyOut | None
    stroke: StrokeOut | None
    strokes: list[StrokeOut]
    text: str
    focus: PressedInOut | None
    taken_at: Station | None
    taken_says: str
    meant_for: Station
    meant_says: str
    setups: list[str]
    departments: list[str]
    people: int
    new: bool
    may_be_meant: bool
    meaning: MeaningOut | None
    allowed: AllowedOut | None


@dataclass(frozen=True)
class Said:
    """What people said of clashes, by identity, and what is looked up for each group."""

    allowed: Mapping[str, Allowance]
    meanings: Mapping[str, Meaning]
    departments: Mapping[str, tuple[str, ...]]
    new: Mapping[str, frozenset[str]]
    """The setups in which a clash is new."""
    today: datetime.date


def party(binding: Binding, board: Board) -> PartyOut:
    return PartyOut(
        program=binding.program.id,
        program_name=binding.program.name,
        command=binding.command.id,
        command_name=binding.called,
        scope=binding.scope,
        scope_name=binding.scope_name,
        shortcut=shortcut_out(binding.shortcut, board),
    )


def group_out(everywhere: Group, here: Group, board: Board, said: Said) -> GroupOut:
    """A group as it is over all setups, told as it is on one board, with what people said of it."""
    identity = everywhere.clash.identity
    allowance, meaning = said.allowed.get(identity), said.meanings.get(identity)
    holds = allowance is not None and allowance.holds(
        said.today, everywhere.clash.severity, frozenset(s.id for s in everywhere.setups)
    )
    departments = dict.fromkeys(d for s in everywhere.setups for d in said.departments.get(s.id, ()))
    return _told(everywhere, here, board).model_copy(
        update={
            "departments": list(departments),
            "new": not said.new.get(identity, frozenset()).isdisjoint(s.id for s in here.setups),
            "meaning": MeaningOut(meant=meaning.meant, by=meaning.by, since=meaning.since) if meaning else None,
            "allowed": AllowedOut(reason=allowance.reason, by=allowance.by, until=allowance.until)
            if allowance is not None and holds
            else None,
        }
    )


# What was told of a group, with the clash and the board that it was told of: most groups outlive a change of documents.
_known: WeakKeyDictionary[Group, tuple[Clash, Board, GroupOut]] = WeakKeyDictionary()


def _told(everywhere: Group, here: Group, board: Board) -> GroupOut:
    clash = here.clash
    known = _known.get(everywhere)
    if known is not None and known[0] is clash and known[1] is board:
        return known[2]
    meant_for, meant_says = _meant(clash)
    told = GroupOut(
        identity=clash.identity,
        seen_in=board.setup.setup.id,
        kind=clash.kind,
        severity=clash.severity,
        says=say_clash(clash, board),
        subject=party(clash.subject, board),
        holder=party(clash.holder, board) if clash.holder else None,
        stroke=stroke_out(clash.stroke) if clash.stroke else None,
        strokes=[stroke_out(s) for s in (clash.subject.ways[0] if clash.subject.ways else ())],
        text=clash.text,
        focus=PressedInOut(program=clash.focus[0], scope=clash.focus[1]) if clash.focus else None,
        taken_at=_station(clash),
        taken_says=_taken(clash),
        meant_for=meant_for,
        meant_says=meant_says,
        setups=[s.id for s in everywhere.setups],
        departments=[],
        people=everywhere.people,
        new=False,
        may_be_meant=clash.may_be_meant,
        meaning=None,
        allowed=None,
    )
    _known[everywhere] = clash, board, told
    return told


def brief(group: Group, board: Board) -> str:
    """A clash in half a line, in the words of a lens's keyboard: whose, where, which key, what kind."""
    return brief_clash(group.clash, board)


def brief_clash(clash: Clash, board: Board) -> str:
    subject = clash.subject
    if clash.kind == "abbreviation":
        return f"{subject.command.name}: {clash.why} ({KIND_WORDS[clash.kind]})"
    pressed = say_shortcut(subject.shortcut, board) or "no shortcut"
    return f"{subject.called} in {subject.program.name}, {pressed} ({KIND_WORDS[clash.kind]})"


def _meant(clash: Clash) -> tuple[Station, str]:
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


def _station(clash: Clash) -> Station | None:
    """Where the press ends. A shortcut that its program doesn't take, or that means nothing, ends there all the same."""
    if clash.station is None and clash.kind != "out_of_reach":
        return "program"
    return clash.station


def _taken(clash: Clash) -> str:
    if clash.begins is not None and clash.begins.goes_on != "short":
        return "waits for more"
    if clash.holder is not None:
        return clash.holder.command.name
    if clash.kind == "abbreviation":
        return clash.why.removeprefix("it is ")
    return {"orphan": "isn't there", "cannot": "can't be taken"}.get(clash.kind, "no such press here")
