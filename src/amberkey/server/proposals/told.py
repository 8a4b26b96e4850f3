"""A point of a proposal as screens show it: its figures, its lines with why, who keeps what, who makes room."""

from collections.abc import Container

from amberkey.core.clashes.estate import Group
from amberkey.core.keys.platform import Platform
from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.proposing.instance import Does
from amberkey.core.proposing.proposal import Judged
from amberkey.core.proposing.propose import Proposal, ProposedLine
from amberkey.server.schema import Schema
from amberkey.server.workbench.words import ShortcutOut, shortcut_on
from amberkey.server.workbench.worth import NO_WORTH_OUT, WorthOut, worth_of


class PointsOut(Schema):
    """Points of each kind of trouble, and all together."""

    relearned: int
    first: int
    not_agreeing: int
    lost: int
    cleared: int
    lines: int
    moved: int
    clashes: int
    meanings: int = 0
    shapes: int = 0
    total: int


class JudgedOut(Schema):
    """A standard as the engine finds it: `agree` of `could` programs times people have the line's key; `worst`: blocker and
    high clashes times people."""

    points: PointsOut
    relearned: int
    agree: int
    could: int
    worst: int


class ProposedKeyOut(Schema):
    """The key of one task; `before`: that of its present line, null without one."""

    task: str
    name: str
    keys: ShortcutOut
    before: ShortcutOut | None


class ProposedLineOut(Schema):
    """A line, of a family with all its tasks. `platform`: null where one alone was asked for; `why`: in sentences; `second`:
    points that doing without its key would cost, about; null where that isn't known; `keep`: programs that keep their own."""

    platform: Platform | None = None
    tasks: list[ProposedKeyOut]
    layouts: list[str]
    people: int
    relearned: int
    follow: list[str]
    keep: list[str]
    why: list[str]
    second: int | None
    pinned: bool


class ProposedChangeOut(Schema):
    """A command that keeps its own key, moves, loses its key or gives one of several up, and why."""

    platform: Platform | None = None
    program: str
    program_name: str
    command: str
    name: str
    does: Does
    keys: ShortcutOut | None
    people: int
    why: str


class MadeClashOut(Schema):
    platform: Platform | None = None
    kind: str
    severity: str
    keys: str
    people: int
    commands: list[str]


class ProposedPointOut(Schema):
    """`gap`: by how much another proposal could be better at most, as a share; `status`: optimal where it is proven the best.
    `over_all`: that holds for all keys, not only for the cheapest of each task. `worth`: in minutes, against the standard now.
    `platforms`: all for which keys were chosen; figures are over all of them."""

    platform: Platform
    platforms: list[Platform] = []
    status: str
    gap: float
    over_all: bool
    relearned: int
    today: JudgedOut
    judged: JudgedOut
    lines: list[ProposedLineOut]
    changes: list[ProposedChangeOut]
    makes: list[MadeClashOut]
    split: list[str]
    worth: WorthOut = NO_WORTH_OUT


def point_of(made: Proposal, personal: Container[str]) -> ProposedPointOut:
    """A proposal in the words of the API, which everybody reads: of setups that are `personal` no command is named."""
    return ProposedPointOut(
        platform=made.question.platform,
        platforms=list(made.question.platforms),
        status=made.status,
        gap=made.gap,
        over_all=made.over_all,
        relearned=made.relearned,
        today=_judged(made.today),
        judged=_judged(made.judged),
        lines=[_line(v) for v in made.lines],
        changes=[
            ProposedChangeOut(
                platform=s.platform,
                program=c.post.program,
                program_name=c.post.places[0].program.name,
                command=c.post.command.id,
                name=c.post.command.name,
                does=c.does,
                keys=shortcut_on(c.shortcut, s.platform) if c.shortcut.presses else None,
                people=sum(p.people for p in c.post.places),
                why=why,
            )
            for s in made.sides
            for c, why in s.changes
        ],
        makes=[_made(g, s.platform, personal) for s in made.sides for g in s.makes],
        split=[f.name for f in made.split],
        worth=worth_of(made.before, made.after),
    )


def _made(group: Group, platform: Platform, personal: Container[str]) -> MadeClashOut:
    clash = group.clash
    if all(s.id in personal for s in group.setups):
        keys, commands = "", ["one in somebody's own settings"]
    else:
        keys = _words(clash.subject.shortcut, platform)
        commands = list(dict.fromkeys(f"{b.called} ({b.program.name})" for b in clash.parties))
    return MadeClashOut(
        platform=platform, kind=clash.kind, severity=clash.severity, keys=keys, people=group.people, commands=commands
    )


def _judged(judged: Judged) -> JudgedOut:
    points = PointsOut(**judged.points._asdict(), total=judged.points.total)
    return JudgedOut(points=points, relearned=judged.relearned, agree=judged.agree, could=judged.could, worst=judged.worst)


def _line(line: ProposedLine) -> ProposedLineOut:
    keys, platform = line.candidate.keys, line.platform
    return ProposedLineOut(
        platform=platform,
        tasks=[
            ProposedKeyOut(
                task=t.id,
                name=t.name,
                keys=shortcut_on(keys[t.id], platform),
                before=shortcut_on(line.before[t.id], platform) if t.id in line.before else None,
            )
            for t in line.wanted.tasks
        ],
        layouts=list(line.wanted.layouts),
        people=line.people,
        relearned=line.relearned,
        follow=list(line.follow),
        keep=list(line.keep),
        why=_why(line),
        second=round(line.second) if line.second is not None else None,
        pinned=line.wanted.pinned,
    )


def _why(line: ProposedLine) -> list[str]:
    """Why a line has its key: it had it, who holds better ones."""
    found: list[str] = []
    if line.wanted.pinned:
        found.append("It was settled beforehand.")
    elif line.before and all(line.candidate.keys[t] == key for t, key in line.before.items()):
        found.append("As the standard has it.")
    elif not line.relearned:
        found.append("As people have it.")
    if line.wanted.family is not None:
        found.append(f"One shape for {len(line.wanted.tasks)} tasks.")
    for held in line.better[:1]:
        keys = _words(held.shortcut, line.platform)
        found.append(f"{keys} would be better by itself, but {held.by} has it in {held.program}, for {held.people} people.")
    return found


def _words(shortcut: Shortcut, platform: Platform) -> str:
    return shortcut_on(shortcut, platform).words
