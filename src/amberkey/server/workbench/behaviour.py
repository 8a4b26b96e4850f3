"""How a program behaves: its habits in sentences with small traces, tried as a draft, planned, and saved."""

from dataclasses import replace
from typing import Any, cast

from django.http import HttpRequest
from ninja import Router

from amberkey.core.clashes.showing import Stage, show
from amberkey.core.compare.operations import JsonDocument
from amberkey.core.documents.canonical import Json
from amberkey.core.documents.model import read_document
from amberkey.core.formats import FORMATS
from amberkey.core.programs.habits import HabitId, habits_of, say_habit
from amberkey.core.programs.model import Program
from amberkey.server.estate import board_of, current_estate
from amberkey.server.library.contradicting import ChosenItemIn, chosen_items
from amberkey.server.library.documents import find, newest_of, parsed
from amberkey.server.library.verbs.save import save
from amberkey.server.people.acting import By, actor_of
from amberkey.server.people.models import Role
from amberkey.server.problems import NotFound
from amberkey.server.schema import Schema
from amberkey.server.workbench.clashes.told import brief

router = Router(tags=["workbench"])
_SHOWN = 12
# What of a program's document is edited here; its commands are edited in their own place, but for what they hold on to.
FIELDS = frozenset(
    {"reads_keys_by", "limits", "pad_counts", "scope_order", "on_tie", "on_prefix", "after_miss", "takes_by", "takes_effect"}
    | {"switches", "card_only", "scopes", "description"}
)
COMMAND_FIELDS = frozenset({"grip", "keeps", "editions", "off"})


class OptionOut(Schema):
    value: str
    title: str
    does: str


class ShownPressOut(Schema):
    pressed: str
    taken_at: str | None
    says: str


class ShownOut(Schema):
    given: str
    presses: list[ShownPressOut]


class HabitOut(Schema):
    """`value` as one of the options; `says` what the present choice does, `shown` a small trace of it."""

    id: str
    title: str
    asks: str
    value: str
    options: list[OptionOut]
    says: str
    shown: ShownOut | None


class BehaviourScopeOut(Schema):
    id: str
    name: str
    parent: str | None
    takes_text: bool
    commands: int


class HoldOut(Schema):
    """A command of a system or browser table, with what it holds on to."""

    id: str
    name: str
    keys: list[str]
    grip: str
    keeps: bool
    editions: list[str]
    off: bool
    source: str


class BehaviourOut(Schema):
    program: str
    name: str
    version: str
    kind: str
    digest: str
    platform: str
    fields: dict[str, Any]
    scopes: list[BehaviourScopeOut]
    habits: list[HabitOut]
    holds: list[HoldOut]
    editions: list[str]


class DraftIn(Schema):
    """`fields` of the document as they shall be; `commands` by id, with what shall be of their grip, editions, keeping, or
    being off."""

    setup: str
    fields: dict[str, Any] = {}
    commands: dict[str, dict[str, Any]] = {}


class SaveIn(DraftIn):
    digest: str
    chosen: list[ChosenItemIn] = []


class ConsequencesOut(Schema):
    solves: list[str]
    makes: list[str]
    solved: int
    made: int


class BehaviourSavedOut(Schema):
    id: int
    title: str


def _key(program: str, version: str) -> str:
    return f"program/{program}@{version}"


def _program(program: str, version: str) -> tuple[Program, str]:
    digest = newest_of(find(_key(program, version))).digest
    value = parsed(digest)
    assert isinstance(value, Program)
    return value, digest


@router.get("/programs/{program}/{version}/behaviour", response=BehaviourOut)
def behaviour(request: HttpRequest, program: str, version: str, setup: str) -> BehaviourOut:
    """How a program behaves, shown on the keyboard of a setup."""
    found, digest = _program(program, version)
    return _out(found, digest, setup)


@router.post("/programs/{program}/{version}/behaviour/try", response=BehaviourOut)
def try_behaviour(request: HttpRequest, program: str, version: str, given: DraftIn) -> BehaviourOut:
    """The same for a draft; nothing is saved. Refused with the place of every fault."""
    found, digest = _program(program, version)
    return _out(_with(found, given), digest, given.setup)


@router.post("/programs/{program}/{version}/behaviour/plan", response=ConsequencesOut)
def plan_behaviour(request: HttpRequest, program: str, version: str, given: DraftIn) -> ConsequencesOut:
    """Which clashes a draft would solve and make, over all setups in use."""
    draft = _with(_program(program, version)[0], given)
    now = current_estate()
    then = replace(now, programs={**now.programs, (draft.id, draft.version): draft})
    before = {g.clash.identity: g for g in now.groups()}
    after = {g.clash.identity: g for g in then.groups()}
    solves = sorted((g for i, g in before.items() if i not in after), key=lambda g: -g.people)
    makes = sorted((g for i, g in after.items() if i not in before), key=lambda g: -g.people)
    return ConsequencesOut(
        solves=[brief(g, now.board(g.setups[0].id)) for g in solves[:_SHOWN]],
        makes=[brief(g, then.board(g.setups[0].id)) for g in makes[:_SHOWN]],
        solved=len(solves),
        made=len(makes),
    )


@router.put("/programs/{program}/{version}/behaviour", response=BehaviourSavedOut, auth=By(Role.EDITOR))
def save_behaviour(request: HttpRequest, program: str, version: str, given: SaveIn) -> BehaviourSavedOut:
    """Save a draft over the revision that it was made from, as one change that can be undone."""
    actor = actor_of(request)
    draft = _with(_program(program, version)[0], given)
    note = f"Changed how {draft.name} {draft.version} behaves"
    done = save(actor, _key(program, version), draft, given.digest, note, chosen_items(given.chosen))
    return BehaviourSavedOut(id=done.id, title=done.title)


def _with(program: Program, given: DraftIn) -> Program:
    """The program with a draft in it. Raises DocumentError, or NotFound for a field or command that isn't edited here."""
    value = cast(JsonDocument, program.to_json())
    for name, after in given.fields.items():
        if name not in FIELDS:
            raise NotFound(f"habit {name[:40]}")
        value[name] = cast(Json, after)
    commands = cast(list[dict[str, Json]], value.get("commands", []))
    unknown = given.commands.keys() - {str(c["id"]) for c in commands}
    if unknown:
        raise NotFound(f"command {min(unknown)[:60]}")
    for command in commands:
        for name, after in given.commands.get(str(command["id"]), {}).items():
            if name not in COMMAND_FIELDS:
                raise NotFound(f"choice {name[:40]} of a command")
            command[name] = after
    draft = read_document(value, FORMATS)
    assert isinstance(draft, Program)
    return draft


def _out(program: Program, digest: str, setup_id: str) -> BehaviourOut:
    setup = board_of(current_estate(), setup_id).setup.setup
    platform = setup.works_on if setup.works_on in program.platforms else program.platforms[0]
    stage = Stage(platform, setup.reads_by, setup.body)
    if platform != setup.works_on:
        stage = next(
            (Stage(s.works_on, s.reads_by, s.body) for s in current_estate().setups.values() if s.works_on == platform),
            stage,
        )
    document = cast(JsonDocument, program.model_dump(mode="json"))
    counts: dict[str, int] = {}
    for command in program.commands:
        counts[command.scope] = counts.get(command.scope, 0) + 1
    return BehaviourOut(
        program=program.id,
        name=program.name,
        version=program.version,
        kind=program.kind,
        digest=digest,
        platform=stage.platform,
        fields={name: document[name] for name in sorted(FIELDS)},
        scopes=[
            BehaviourScopeOut(id=s.id, name=s.name, parent=s.parent, takes_text=s.takes_text, commands=counts.get(s.id, 0))
            for s in program.scopes
        ],
        habits=[
            HabitOut(
                id=h.id,
                title=h.title,
                asks=h.asks,
                value=_value(program, h.id, stage),
                options=[OptionOut(value=o.value, title=o.title, does=o.does) for o in h.options],
                says=say_habit(program, h.id, _value(program, h.id, stage)),
                shown=_shown(program, h.id, stage),
            )
            for h in habits_of(program)
        ],
        holds=[
            HoldOut(
                id=c.id,
                name=c.name,
                keys=[stage.words(s) for s in c.defaults_on(stage.platform)],
                grip=c.grip,
                keeps=c.keeps,
                editions=list(c.editions),
                off=c.off,
                source=program.told_source(c.cited),
            )
            for c in program.commands
            if program.kind in ("system", "browser") and c.defaults_on(stage.platform)
        ],
        editions=[e.name for e in program.known_editions],
    )


def _shown(program: Program, habit: HabitId, stage: Stage) -> ShownOut | None:
    found = show(program, habit, stage)
    if found is None:
        return None
    presses = [ShownPressOut(pressed=p.pressed, taken_at=p.taken_at, says=p.says) for p in found.presses]
    return ShownOut(given=found.given, presses=presses)


def _value(program: Program, habit: HabitId, stage: Stage) -> str:
    match habit:
        case "reads_keys_by":
            return program.reads_on(stage.platform)
        case "bare_keys":
            return "yes" if program.limits.bare_keys else "no"
        case "sequence_length":
            return str(program.limits.sequence_length)
        case "pad_counts" | "card_only":
            return "yes" if getattr(program, habit) else "no"
        case "on_prefix":
            return program.on_prefix.wins
        case "grip" | "keeps" | "switches":
            return ""
        case _:
            return str(getattr(program, habit))
