"""Programs through a lens: every command with its shortcuts, the layer that set them, and the clash it is in."""

from django.http import HttpRequest
from ninja import Router

from amberkey.core.clashes.binding import Binding
from amberkey.core.clashes.board import Board
from amberkey.core.profiles.effective import DEFAULT, EffectiveCommand, Set
from amberkey.core.programs.habits import habits_of, say_habit
from amberkey.core.programs.model import Kind, Program
from amberkey.server.estate import board_of, current_estate, layer_names
from amberkey.server.schema import Schema
from amberkey.server.workbench.keeping import kept
from amberkey.server.workbench.words import BoundOut, ShortcutOut, bound_out, shortcut_out

router = Router(tags=["workbench"])


class LayerOut(Schema):
    layer: str
    shortcuts: list[ShortcutOut]


class CommandOut(Schema):
    id: str
    name: str
    description: str
    other_words: list[str]
    group: str
    scope: str
    scope_name: str
    risky: bool
    grip: str
    source: str
    shortcuts: list[BoundOut]
    layer: str
    hid: list[LayerOut]
    clashes: list[str]


class ProgramOut(Schema):
    id: str
    name: str
    kind: Kind
    version: str
    description: str
    habits: list[str]
    commands: list[CommandOut]


@router.get("/programs", response=list[ProgramOut])
@kept
def programs(request: HttpRequest, setup: str) -> list[ProgramOut]:
    """The programs of a setup, the system last, with all their commands through this lens."""
    estate = current_estate()
    board = board_of(estate, setup)
    names = {DEFAULT: "default", **layer_names(estate)}
    clashes: dict[tuple[str, str], list[str]] = {}
    for clash in estate.clashes(setup):
        for binding in clash.parties:
            clashes.setdefault((binding.program.id, binding.command.id), []).append(clash.identity)
    bound: dict[tuple[str, str], list[Binding]] = {}
    for binding in board.bindings:
        bound.setdefault((binding.program.id, binding.command.id), []).append(binding)
    return [
        ProgramOut(
            id=program.id,
            name=program.name,
            kind=program.kind,
            version=program.version,
            description=program.description,
            habits=told_habits(program, board),
            commands=[
                _command(program, e, bound.get((program.id, e.command.id), []), board, names, clashes)
                for e in board.setup.commands[program.id]
            ],
        )
        for program in sorted(board.setup.programs, key=lambda p: p.kind == "system")
    ]


def told_habits(program: Program, board: Board) -> list[str]:
    """How a program behaves on a board, in sentences."""
    if program.kind == "system":
        return ["It takes its presses before any program hears of them."]
    platform = board.setup.setup.works_on
    told = {
        "reads_keys_by": program.reads_on(platform),
        "on_tie": program.on_tie,
        "sequence_length": "",
        "takes_effect": program.takes_effect,
        **({"switches": ""} if program.switches else {}),
        **({"card_only": "yes"} if program.card_only else {}),
    }
    return [say_habit(program, h.id, told[h.id]) for h in habits_of(program) if h.id in told]


def _command(
    program: Program,
    effective: EffectiveCommand,
    bound: list[Binding],
    board: Board,
    names: dict[str, str],
    clashes: dict[tuple[str, str], list[str]],
) -> CommandOut:
    command = effective.command

    def layer(said: Set) -> LayerOut:
        return LayerOut(layer=names[said.layer], shortcuts=[shortcut_out(s, board) for s, _ in said.shortcuts])

    return CommandOut(
        id=command.id,
        name=command.name,
        description=command.description,
        other_words=list(command.other_words),
        group=command.group,
        scope=command.scope,
        scope_name=program.scope(command.scope).name,
        risky=command.risky,
        grip=command.grip if program.kind == "system" else "",
        source=program.told_source(command.cited),
        shortcuts=[bound_out(b, board) for b in bound],
        layer=names[effective.now.layer],
        hid=[layer(s) for s in effective.hid],
        clashes=clashes.get((program.id, command.id), []),
    )
