"""The board of a setup: the parts of its programs, and who takes a press before a program hears of it.

Clashes, traces and suggestions all read this one index.
"""

from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property
from itertools import chain
from typing import NamedTuple
from weakref import WeakKeyDictionary

from amberkey.core.clashes.binding import (
    ABBREVIATIONS,
    ASSISTIVE,
    INPUT_METHOD,
    LAUNCHERS,
    REMAPS,
    STATIONS,
    TRANSLATIONS,
    Binding,
)
from amberkey.core.clashes.ground import Ground
from amberkey.core.clashes.model import Clash
from amberkey.core.clashes.part import Part
from amberkey.core.keys.shortcut import Press, Shortcut
from amberkey.core.layouts.keyboard import Way, ways_of
from amberkey.core.layouts.remaps import unmade_keys
from amberkey.core.layouts.stroke import Stroke
from amberkey.core.profiles.abbreviations import Abbreviation, GoesWrong, going_wrong
from amberkey.core.profiles.input_methods import presses_of
from amberkey.core.profiles.model import Launcher, Translation
from amberkey.core.profiles.resolving import ResolvedSetup
from amberkey.core.profiles.setup import ProgramUsed, Setup
from amberkey.core.programs.model import Command, Program, Scope

Takers = dict[Stroke, list[Binding]]


class Translated(NamedTuple):
    """A per-window translation as it works here: in `scope` of `program` (or all of it), its stroke `becomes` another one.
    None: it ends there, as it closes the window or starts a launcher."""

    binding: Binding
    program: str
    scope: str | None
    becomes: Stroke | None


class Chain(NamedTuple):
    """A hotkey of several presses: its station takes the last one of them. Those before it pass."""

    way: Way
    binding: Binding


@dataclass(frozen=True, slots=True)
class Composer:
    """An input method that is on: what it `takes` at all times, and what it takes `composing`."""

    binding: Binding
    takes: frozenset[Stroke]
    composing: frozenset[Stroke]


@dataclass(eq=False)
class Board:
    """`parts` by program, in the order in which they start. `guarded`, `intercept`, `registered` and `last` have the hotkeys of
    each station by stroke, the one that gets the press first."""

    setup: ResolvedSetup
    ground: Ground
    parts: Mapping[str, Part]
    far: Part | None = None
    guarded: Takers = field(default_factory=dict)
    intercept: Takers = field(default_factory=dict)
    registered: Takers = field(default_factory=dict)
    last: Takers = field(default_factory=dict)
    """Presses that the system keeps for itself only where no program wants them."""
    chains: dict[Stroke, list[Chain]] = field(default_factory=dict)
    """Hotkeys of several presses, by the last of them, in the order of their stations."""
    translations: dict[tuple[str, Stroke], list[Translated]] = field(default_factory=dict)
    """By program and stroke, the nearest first: of the innermost scope, of the nearest layer."""
    extra: list[Binding] = field(default_factory=list)
    passed_on: Takers = field(default_factory=dict)
    """Hotkeys of the near system that a remote session passes on to the far one."""
    composer: Composer | None = None
    remaps: list[tuple[str, Binding]] = field(default_factory=list)
    """The keys that nothing makes any more, with what stands for the remap that took each."""
    assistive: Binding | None = None
    abbreviations: list[tuple[GoesWrong, Binding, Binding | None]] = field(default_factory=list)
    """The abbreviations that go wrong here, with what stands for them, and for the other one that each meets."""
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

    def passes_on(self, part: Part, binding: Binding) -> bool:
        """Whether a hotkey of this machine's own system is nobody's here, as a remote session passes its press on."""
        remote = self.setup.setup.remote
        if remote is None or remote.presses == "kept" or part is self.far:
            return False
        return part.program.kind == "system" and not binding.command.secure

    def part_of(self, program: str) -> Part:
        """Where a program is laid out here: the far system of a remote session too. Raises KeyError."""
        if self.far is not None and self.far.program.id == program:
            return self.parts.get(program, self.far)
        return self.parts[program]

    @cached_property
    def taken(self) -> frozenset[Stroke]:
        """Strokes that some hotkey, or an input method, takes before any program."""
        composing = self.composer.takes if self.composer else ()
        return frozenset((*self.guarded, *self.intercept, *self.registered, *composing))

    def browsers_of(self, program: Program) -> list[Part]:
        """The browsers in which a web program may run here, by their ids: which one starts first makes no difference."""
        if program.kind != "web":
            return []
        browsers = (part for part in self.parts.values() if part.program.kind == "browser")
        here = (part for part in browsers if not program.runs_in or part.program.id in program.runs_in)
        return sorted(here, key=lambda part: part.program.id)

    def used(self, program: Program) -> ProgramUsed | None:
        """How the setup uses a program; None where it doesn't."""
        return self._used.get(program.id)

    @cached_property
    def _used(self) -> Mapping[str, ProgramUsed]:
        return {u.id: u for u in self.setup.setup.programs}

    def in_a_tab(self, program: Program) -> bool:
        """Whether a web program runs in a tab here, and not in a window of its own."""
        return program.kind == "web" and _in_a_tab(self.used(program))

    def there_for(self, program: Program, command: Command) -> bool:
        """Whether a browser's command is there in the window in which a web program runs."""
        return there_for(self.used(program), command)

    def kept_from(self, program: Program) -> Mapping[Stroke, Binding]:
        """The presses that some browser keeps from a web program, by stroke: those that it keeps from every page, those of its
        add-ons, and all where the page may not go first."""
        if program.kind != "web" or not any(p.program.kind == "browser" for p in self.parts.values()):
            return {}
        found = self._kept_from.get(program.id)
        if found is None:
            found = self._kept_from[program.id] = self._keep_from(program)
        return found

    @cached_property
    def _kept_from(self) -> dict[str, Mapping[Stroke, Binding]]:
        return {}

    def _keep_from(self, program: Program) -> Mapping[Stroke, Binding]:
        used = self.used(program)
        found: dict[Stroke, Binding] = {}
        for browser in self.browsers_of(program):
            for stroke, bucket in browser.first.items():
                for binding in bucket:
                    if keeps_from(used, binding.command, in_root=_in_root(binding)) and (stroke,) in binding.ways:
                        found.setdefault(stroke, binding)
        return found

    def left_to_browsers(self, program: Program, stroke: Stroke) -> list[Binding]:
        """The browsers' bindings that get a press which the page let through, one for each browser that has it."""
        found = []
        for browser in self.browsers_of(program):
            for binding in browser.first.get(stroke, ()):
                if (stroke,) in binding.ways and _in_root(binding) and self.there_for(program, binding.command):
                    found.append(binding)
                    break
        return found

    def menus_of(self, part: Part) -> list[Part]:
        """The parts whose menus the letters open with the focus in a program: its own, or those of its browsers in a tab."""
        return self.browsers_of(part.program) if self.in_a_tab(part.program) else [part]

    def menu_at(self, part: Part, stroke: Stroke) -> Binding | None:
        """What a menu's letter opens with the focus in a program, or None."""
        found = (p.menus[stroke] for p in self.menus_of(part) if stroke in p.menus)
        return next(found, None)

    def chained(self, history: Sequence[Stroke]) -> list[Binding]:
        """The hotkeys of several presses of which the last one was just made, by their stations."""
        if not self.chains:
            return []
        ending = self.chains.get(history[-1], ())
        return [c.binding for c in ending if tuple(history[-len(c.way) :]) == c.way]

    def system_part(self) -> Part | None:
        """The platform's own table as it is laid out here, or None in a setup without one."""
        return next((p for p in self.parts.values() if p.program.kind == "system"), None)


def _in_a_tab(used: ProgramUsed | None) -> bool:
    return used is None or used.runs == "in a tab"


def there_for(used: ProgramUsed | None, command: Command) -> bool:
    """Whether a browser's command is there in the window in which a web program runs that is used so."""
    if used is not None and used.full_screen and not command.in_full_screen:
        return False
    return command.in_own_window or _in_a_tab(used)


def keeps_from(used: ProgramUsed | None, command: Command, *, in_root: bool) -> bool:
    """Whether a browser's command keeps its presses from a web program that is used so: in a tab, where it keeps them from
    every page or is an add-on's; anywhere, where the page may not go first and the command is live all over (`in_root`)."""
    behind = used is not None and not used.goes_first and in_root
    kept = _in_a_tab(used) and (command.keeps or command.add_on is not None)
    return (behind or kept) and there_for(used, command)


def _in_root(binding: Binding) -> bool:
    return binding.program.scope(binding.scope).parent is None


def put_together(setup: ResolvedSetup, ground: Ground, parts: Mapping[str, Part], far: Part | None = None) -> Board:
    """The board of a setup from the parts of its programs; `far` is the far system's in a remote session."""
    board = Board(setup, ground, parts, far)
    _systems(board, far)
    _utilities(board)
    _input_method(board)
    _lost_caret(board)
    _abbreviations(board)
    for chains in board.chains.values():
        chains.sort(key=lambda c: STATIONS.index(c.binding.station))
    return board


def _systems(board: Board, far: Part | None) -> None:
    remote = board.setup.setup.remote
    passed = remote is not None and remote.presses == "passed on"
    for part in board.parts.values():
        if part.program.kind != "system":
            continue
        for binding in part.bindings:
            if passed and not binding.command.secure:
                _enter(board, board.passed_on, binding, chains=False)
            else:
                _enter(board, _of_system(board, binding), binding)
    for binding in far.bindings if far else ():
        # The far machine never sees the press that its own person would use to call for its security screen.
        if not binding.command.secure:
            _enter(board, _of_system(board, binding), binding)


def _of_system(board: Board, binding: Binding) -> Takers:
    station = binding.station
    return board.guarded if station == "guarded" else board.last if station == "system_last" else board.registered


def _utilities(board: Board) -> None:
    """Last started intercepts first; first registered wins. Launchers register last, the translations of windows intercept."""
    utilities = [p for p in board.parts.values() if p.program.kind == "utility"]
    for part in utilities:
        if part.program.takes_by == "register":
            for binding in _hotkeys(part):
                _enter(board, board.registered, binding)
    for binding in _launchers(board):
        board.extra.append(binding)
        _enter(board, board.registered, binding)
    for part in reversed(utilities):
        if part.program.takes_by == "intercept":
            for binding in _hotkeys(part):
                _enter(board, board.intercept, binding)
    assistive = board.setup.setup.assistive
    if assistive is not None:
        board.assistive = _of_the_setup(ASSISTIVE, assistive.name, "own", "its own commands", board, assistive.modifier)
    _translations(board)


def _hotkeys(part: Part) -> list[Binding]:
    """The hotkeys of a utility, of two on one stroke the one first that its `on_tie` lets win."""
    found = [b for b in part.bindings if b.everywhere]
    return found[::-1] if part.program.on_tie == "last" else found


def _enter(board: Board, takers: Takers, binding: Binding, *, chains: bool = True) -> None:
    if not binding.live:
        return
    for way in binding.ways:
        if len(way) == 1:
            takers.setdefault(way[0], []).append(binding)
        elif chains:
            board.chains.setdefault(way[-1], []).append(Chain(way, binding))


def _launchers(board: Board) -> Iterator[Binding]:
    platform = board.setup.setup.works_on
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


def translation_id(translation: Translation) -> str:
    """The id of the command that stands for a translation: its program, and its scope if it has one."""
    return f"{translation.program}.{translation.scope}" if translation.scope else translation.program


def _translations(board: Board) -> None:
    if not board.setup.translations:
        return
    platform = board.setup.setup.works_on
    layers = {layer: n for n, layer in enumerate(board.setup.setup.layers)}
    for translation, layer in board.setup.translations:
        part = board.parts[translation.program]
        says, missing = _does(translation, board)
        commands = [Command(id=translation_id(translation), name=says, scope="everywhere")]
        program = _stand_in(TRANSLATIONS, f"The translation in {part.program.name}", board.setup.setup, commands)
        ways, unreachable = ways_of(translation.keys.resolve(platform), board.ground.keyboard, part.reads)
        # What it becomes needs no fingers: it is made by name, even where a body lacks the key.
        to: tuple[Way, ...] = ()
        not_made = ""
        if translation.becomes is not None:
            to, not_made = ways_of(translation.becomes, board.ground.keyboard, part.reads)
        if not_made:
            ways, unreachable = (), f"{translation.becomes}, which it becomes, can't be made: {not_made}"
        refused = missing
        if to and any(way == to[0] for way in ways):
            refused = (
                f"on the {board.ground.layout.name} keyboard {translation.becomes} is the same press, so it becomes itself"
            )
        binding = Binding(program, commands[0], (), "everywhere", translation.keys, layer, 0, ways, unreachable, refused)
        board.extra.append(binding)
        if not binding.live or (translation.scope is not None and not part.program.has_scope(translation.scope)):
            continue
        for way in ways:
            found = Translated(binding, translation.program, translation.scope, to[0][0] if to else None)
            board.translations.setdefault((translation.program, way[0]), []).append(found)
    for (program_id, _), translated in board.translations.items():
        around = board.parts[program_id].program.scope_tree.around
        translated.sort(key=lambda t: (-len(around[t.scope]) - 1 if t.scope else 0, -layers.get(t.binding.layer, 0)))


def _does(translation: Translation, board: Board) -> tuple[str, str]:
    """What a translation does, in words, and why it can't, where the launcher that it starts isn't there."""
    if translation.closes:
        return "closes the window", ""
    if translation.starts is None:
        return f"becomes {translation.becomes}", ""
    launcher = next((v for v, _ in board.setup.launchers if v.id == translation.starts), None)
    if launcher is None:
        return f"starts {translation.starts}", f"there is no launcher {translation.starts} that it could start"
    return f"starts {launcher.name}", ""


def _input_method(board: Board) -> None:
    method = board.setup.setup.input_method
    if method is None:
        return
    command = Command(id="own", name="switches or converts", scope="everywhere")
    program = _stand_in(INPUT_METHOD, method.name, board.setup.setup, [command])
    platform, keyboard = board.setup.setup.works_on, board.ground.keyboard
    always, composing = presses_of(method, platform)

    def strokes(shortcuts: Iterable[Shortcut]) -> frozenset[Stroke]:
        return frozenset(w[0] for s in shortcuts for w in ways_of(s.resolve(platform), keyboard, "key").ways)

    shown = next(iter((*always, *composing)), Shortcut(()))
    ways = tuple((s,) for s in sorted(strokes(always), key=str))
    binding = Binding(program, command, (), "everywhere", shown.resolve(platform), "setup", 0, ways)
    board.composer = Composer(binding, strokes(always), strokes(composing))


def _lost_caret(board: Board) -> None:
    """A press of the caret that remaps leave nobody: for each such key, what stands for the remap."""
    keyboard = board.ground.keyboard
    if not keyboard.remaps or board.ground.system is None:
        return
    for code in sorted(unmade_keys(keyboard.body, keyboard.remaps) - keyboard.codes):
        command = Command(id=code.lower(), name=f"acts as {keyboard.remaps[code]}", scope="everywhere")
        program = _stand_in(REMAPS, f"The remap of {code}", board.setup.setup, [command])
        layer = board.setup.remapped_by.get(code, "setup")
        board.remaps.append(
            (code, Binding(program, command, (), "everywhere", Shortcut((Press.of((), None, code),)), layer, 0, ()))
        )


def _abbreviations(board: Board) -> None:
    setup, layout = board.setup, board.ground.layout
    if not setup.abbreviations:
        return
    commands = {a.id: Command(id=a.id, name=a.short, scope="everywhere") for a, _ in setup.abbreviations}
    program = _stand_in(ABBREVIATIONS, "Abbreviations", setup.setup, commands.values())

    def stands_for(one: Abbreviation, layer: str) -> Binding:
        return Binding(program, commands[one.id], (), "everywhere", Shortcut(()), layer, 0, ())

    for wrong in going_wrong(setup.abbreviations, layout, (layout.language,)):
        other = stands_for(wrong.other, wrong.other_layer) if wrong.other is not None else None
        board.abbreviations.append((wrong, stands_for(wrong.abbreviation, wrong.layer), other))


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
        platforms=(setup.works_on,),
        takes_by="register" if program_id == LAUNCHERS else "intercept",
        scopes=(Scope(id="everywhere", name="Everywhere"),),
        commands=tuple(commands),
    )
