"""The board: every binding of a setup laid out by stroke. Clashes, traces and suggestions all read this one index."""

from collections import defaultdict
from dataclasses import dataclass, field
from itertools import product

from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.layouts.strokes import Made, NotMade, Stroke, strokes_of
from amberkey.core.profiles.effective import ResolvedSetup
from amberkey.core.programs.model import Command, Program


@dataclass(frozen=True, slots=True)
class Binding:
    """A shortcut in effect: whose, in which scope, from which layer, and the strokes of each of its presses."""

    program: Program
    command: Command
    scope: str
    shortcut: Shortcut
    layer: str
    order: int
    ways: tuple[tuple[Stroke, ...], ...]
    """Each way of making the shortcut, as one stroke per press. Empty: out of reach."""

    unreachable: str = ""


@dataclass
class Board:
    setup: ResolvedSetup
    bindings: list[Binding] = field(default_factory=list)
    fixed: dict[Stroke, Binding] = field(default_factory=dict)
    changeable: dict[Stroke, Binding] = field(default_factory=dict)
    in_scope: dict[tuple[str, str, tuple[Stroke, ...]], list[Binding]] = field(default_factory=lambda: defaultdict(list))
    beginning: dict[tuple[str, str, Stroke], list[Binding]] = field(default_factory=lambda: defaultdict(list))


def lay_out(setup: ResolvedSetup) -> Board:
    """Lay every binding of the setup out by stroke."""
    board = Board(setup)
    for program in setup.programs:
        reads = program.reads_on(setup.setup.platform)
        for order, effective in enumerate(setup.commands[program.id]):
            for shortcut, scope in effective.now.shortcuts:
                per_press: list[tuple[Stroke, ...]] = []
                unreachable = ""
                for press in shortcut.presses:
                    made = strokes_of(press, setup.layout, reads)
                    match made:
                        case Made():
                            per_press.append(_on_body(made.strokes, setup))
                            if not per_press[-1]:
                                unreachable = f"the {setup.body.name} body lacks the key for {press}"
                        case NotMade():
                            unreachable = made.reason
                ways = () if unreachable else tuple(product(*per_press))
                binding = Binding(program, effective.command, scope, shortcut, effective.now.layer, order, ways, unreachable)
                _enter(board, binding)
    return board


def _on_body(strokes: tuple[Stroke, ...], setup: ResolvedSetup) -> tuple[Stroke, ...]:
    return tuple(s for s in strokes if s.code is None or setup.body.key(s.code) is not None)


def _enter(board: Board, binding: Binding) -> None:
    board.bindings.append(binding)
    for way in binding.ways:
        if binding.program.kind == "system":
            if len(way) == 1:
                table = board.fixed if binding.command.grip == "fixed" else board.changeable
                table.setdefault(way[0], binding)
            continue
        board.in_scope[binding.program.id, binding.scope, way].append(binding)
        if len(way) > 1:
            board.beginning[binding.program.id, binding.scope, way[0]].append(binding)


def winner_of(rivals: list[Binding]) -> Binding:
    """Who gets the press when several commands have one stroke in one scope, by the program's `on_tie`.

    With `either` nobody can say; the first one stands for it.
    """
    return rivals[-1] if rivals[0].program.on_tie == "last" else rivals[0]
