"""The board of a setup: the parts of its programs, and who takes a press before a program hears of it.

Clashes, traces and suggestions all read this one index.
"""

from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass, field, replace
from functools import cached_property
from itertools import chain
from typing import NamedTuple
from weakref import WeakKeyDictionary

from amberkey.core.clashes.binding import Binding
from amberkey.core.clashes.ground import Ground
from amberkey.core.clashes.model import Clash
from amberkey.core.clashes.part import Part
from amberkey.core.keys.shortcut import Press, Shortcut
from amberkey.core.layouts.keyboard import ways_of
from amberkey.core.layouts.pad import arrivals
from amberkey.core.layouts.stroke import Stroke
from amberkey.core.profiles.model import Launcher
from amberkey.core.profiles.resolving import ResolvedSetup
from amberkey.core.profiles.setup import Setup
from amberkey.core.programs.model import Command, Program, Scope

LAUNCHERS = "launchers"
ASSISTIVE = "assistive"
TRANSLATIONS = "translations"
Takers = dict[Stroke, list[Binding]]


class Translated(NamedTuple):
    """A per-window translation as it works here: in `scope` of `program` (or all of it), `stroke` becomes `becomes`."""

    binding: Binding
    program: str
    scope: str | None
    becomes: Stroke


@dataclass(eq=False)
class Board:
    """`parts` by program, in the order in which they start. `fixed`, `intercept` and `registered` have the hotkeys of each
    station by stroke, the one that gets the press first."""

    setup: ResolvedSetup
    ground: Ground
    parts: Mapping[str, Part]
    far: Part | None = None
    fixed: Takers = field(default_factory=dict)
    intercept: Takers = field(default_factory=dict)
    registered: Takers = field(default_factory=dict)
    translations: dict[tuple[str, Stroke], list[Translated]] = field(default_factory=dict)
    extra: list[Binding] = field(default_factory=list)
    passed_on: Takers = field(default_factory=dict)
    """Hotkeys of the near system that a remote session passes on to the far one."""
    kept: dict[str, Mapping[Stroke, Binding]] = field(default_factory=dict)
    """For each browser, the presses that it keeps from pages in a tab."""
    assistive: Binding | None = None
    clashes: list[Clash] | None = None
    """What was found on it, once somebody has asked."""
    hotkey_clashes: list[Clash] | None = None
    """Those of them that hotkeys have with people's text and caret, likewise: boards with the same hotkeys share them."""
    arriving: WeakKeyDictionary[Part, list[Clash]] = field(default_factory=WeakKeyDictionary)
    """What each part's clashes come to among these hotkeys, likewise."""

    @property
    def bindings(self) -> Iterator[Binding]:
        """Every binding of every program, live or not."""
        return chain.from_iterable(part.bindings for part in self.parts.values())

    def with_parts(self, setup: ResolvedSetup, parts: Mapping[str, Part]) -> "Board":
        """This board with parts in another state of which none has hotkeys."""
        return replace(self, setup=setup, parts=parts, clashes=None)

    def bindings_of(self, program: str, command: str) -> list[Binding]:
        """The bindings of a command; none where the program isn't on this board."""
        part = self.parts.get(program)
        return part.commanded(command) if part else []

    @cached_property
    def taken(self) -> frozenset[Stroke]:
        """Strokes that some hotkey takes before any program."""
        return frozenset((*self.fixed, *self.intercept, *self.registered))

    def browser_of(self, program: Program) -> Part | None:
        """The browser in which a web program runs here: the first that it runs in."""
        if program.kind != "web":
            return None
        return next(
            (
                part
                for part in self.parts.values()
                if part.program.kind == "browser" and (not program.runs_in or part.program.id in program.runs_in)
            ),
            None,
        )

    def in_a_tab(self, program: Program) -> bool:
        """Whether a web program runs in a tab here, and not in a window of its own."""
        used = next((u for u in self.setup.setup.programs if u.id == program.id), None)
        return program.kind == "web" and (used is None or used.runs == "in a tab")

    def kept_from(self, program: Program) -> Mapping[Stroke, Binding]:
        """The presses that the browser keeps from a web program, by stroke."""
        browser = self.browser_of(program)
        return self.kept.get(browser.program.id, {}) if browser and self.in_a_tab(program) else {}

    def arrivals(self, stroke: Stroke) -> tuple[Stroke, ...]:
        """The strokes as which a stroke reaches programs, after what NumLock does to the pad."""
        return arrivals(stroke, self.ground.layout, self.ground.numlock)

    def system_part(self) -> Part | None:
        """The platform's own table as it is laid out here, or None in a setup without one."""
        return next((p for p in self.parts.values() if p.program.kind == "system"), None)


def put_together(setup: ResolvedSetup, ground: Ground, parts: Mapping[str, Part], far: Part | None = None) -> Board:
    """The board of a setup from the parts of its programs; `far` is the far system's in a remote session."""
    board = Board(setup, ground, parts, far)
    _systems(board, far)
    _utilities(board)
    for part in parts.values():
        if part.program.kind == "browser":
            board.kept[part.program.id] = {
                stroke: next(b for b in bucket if b.command.keeps)
                for stroke, bucket in part.first.items()
                if any(b.command.keeps for b in bucket)
            }
    return board


def _systems(board: Board, far: Part | None) -> None:
    remote = board.setup.setup.remote
    passed = remote is not None and remote.presses == "passed on"
    for part in board.parts.values():
        if part.program.kind != "system":
            continue
        for binding in part.bindings:
            if passed and not binding.command.secure:
                _enter(board.passed_on, binding)
            else:
                _enter(board.fixed if binding.command.grip == "fixed" else board.registered, binding)
    for binding in far.bindings if far else ():
        # The far machine never sees the press that its own person would use to call for its security screen.
        if not binding.command.secure:
            _enter(board.fixed if binding.command.grip == "fixed" else board.registered, binding)


def _utilities(board: Board) -> None:
    """Last started intercepts first; first registered wins. Launchers register last, the translations of windows intercept."""
    utilities = [p for p in board.parts.values() if p.program.kind == "utility"]
    for part in utilities:
        if part.program.takes_by == "register":
            for binding in _hotkeys(part):
                _enter(board.registered, binding)
    for binding in _launchers(board):
        board.extra.append(binding)
        _enter(board.registered, binding)
    for part in reversed(utilities):
        if part.program.takes_by == "intercept":
            for binding in _hotkeys(part):
                _enter(board.intercept, binding)
    assistive = board.setup.setup.assistive
    if assistive is not None:
        board.assistive = _of_the_setup(ASSISTIVE, assistive.name, "own", "its own commands", board, assistive.modifier)
    _translations(board)


def _hotkeys(part: Part) -> list[Binding]:
    """The hotkeys of a utility, of two on one stroke the one first that its `on_tie` lets win."""
    found = [b for b in part.bindings if b.everywhere]
    return found[::-1] if part.program.on_tie == "last" else found


def _enter(takers: Takers, binding: Binding) -> None:
    if not binding.live:
        return
    for way in binding.ways:
        if len(way) == 1:
            takers.setdefault(way[0], []).append(binding)


def _launchers(board: Board) -> Iterator[Binding]:
    platform = board.setup.setup.platform
    shown = [(v, layer) for v, layer in board.setup.launchers if v.shortcuts.get(platform)]
    if not shown:
        return
    program = _stand_in(LAUNCHERS, "The launcher", board.setup.setup, [_launcher_command(v) for v, _ in shown])
    for order, (launcher, layer) in enumerate(shown):
        command = program.commands[order]
        for shortcut in launcher.shortcuts[platform]:
            real = shortcut.resolve(platform)
            ways, unreachable = ways_of(real, board.ground.keyboard, "key" if platform == "windows" else "character")
            yield Binding(program, command, (), "everywhere", real, layer, order, ways, unreachable)


def _launcher_command(launcher: Launcher) -> Command:
    return Command(id=launcher.id, name=launcher.name, scope="everywhere", kind="launcher")


def _translations(board: Board) -> None:
    if not board.setup.translations:
        return
    platform = board.setup.setup.platform
    for translation, layer in board.setup.translations:
        part = board.parts[translation.program]
        commands = [Command(id=translation.program, name=f"becomes {translation.becomes}", scope="everywhere")]
        program = _stand_in(TRANSLATIONS, f"The translation in {part.program.name}", board.setup.setup, commands)
        reads = part.reads
        ways, unreachable = ways_of(translation.keys.resolve(platform), board.ground.keyboard, reads)
        to, not_made = ways_of(translation.becomes, board.ground.keyboard, reads)
        if not_made:
            ways, unreachable = (), f"{translation.becomes}, which it becomes, can't be made: {not_made}"
        binding = Binding(program, commands[0], (), "everywhere", translation.keys, layer, 0, ways, unreachable)
        board.extra.append(binding)
        for way in ways:
            found = Translated(binding, translation.program, translation.scope, to[0][0])
            board.translations.setdefault((translation.program, way[0]), []).append(found)


def _of_the_setup(program_id: str, name: str, command_id: str, says: str, board: Board, key: str) -> Binding:
    command = Command(id=command_id, name=says, scope="everywhere")
    program = _stand_in(program_id, name, board.setup.setup, [command])
    stroke = Stroke(key, frozenset())
    return Binding(program, command, (), "everywhere", Shortcut((Press.of((), key),)), "setup", 0, ((stroke,),))


def _stand_in(program_id: str, name: str, setup: Setup, commands: Iterable[Command]) -> Program:
    return Program(
        id=program_id,
        name=name,
        version=setup.edition,
        kind="utility",
        platforms=(setup.platform,),
        takes_by="register" if program_id == LAUNCHERS else "intercept",
        scopes=(Scope(id="everywhere", name="Everywhere"),),
        commands=tuple(commands),
    )
