"""Small traces that show what a program's habits do: its own scopes and habits, with a few made-up commands in them.

Nothing here decides anything: the commands are put on a real board, and what is shown is what the trace says.
"""

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass

from amberkey.core.clashes.binding import LAUNCHERS
from amberkey.core.clashes.estate import Estate
from amberkey.core.clashes.trace import Effect, Focus, Trace, trace
from amberkey.core.keys.platform import Platform
from amberkey.core.keys.reading import read_shortcut
from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.keys.wording import words_of
from amberkey.core.layouts.bodies import load_body
from amberkey.core.layouts.caps import printed_on
from amberkey.core.layouts.keyboard import Keyboard, keyboard_of, pressed, ways_of
from amberkey.core.layouts.layout import load_layout
from amberkey.core.layouts.naming import press_for
from amberkey.core.layouts.stroke import Stroke
from amberkey.core.profiles.setup import ProgramUsed, Setup
from amberkey.core.programs.habits import HabitId
from amberkey.core.programs.limits import why_not
from amberkey.core.programs.model import Command, Program, Scope

_SYSTEM, _OTHER = "the-system", "the-program"


@dataclass(frozen=True)
class ShownPress:
    """A press in words of the keyboard, the station that ends it, and what comes of it."""

    pressed: str
    taken_at: str | None
    says: str


@dataclass(frozen=True)
class Shown:
    """What is assumed, in a sentence, and the presses that show what follows."""

    given: str
    presses: tuple[ShownPress, ...]


@dataclass(frozen=True)
class Stage:
    """Where it is shown: a platform with a keyboard."""

    platform: Platform
    layout: str
    body: str

    @property
    def keyboard(self) -> Keyboard:
        """Its keyboard, without remaps."""
        return keyboard_of(load_layout(self.layout, self.platform), load_body(self.body), {})

    def words(self, shortcut: Shortcut) -> str:
        """A shortcut in the words of the stage's keyboard."""
        layout = load_layout(self.layout, self.platform)
        return words_of(shortcut, self.platform, layout.language, printed=printed_on(layout))

    def stroke(self, stroke: Stroke) -> str:
        """What the fingers do, by what is printed on the keys."""
        return self.words(Shortcut((press_for(stroke, load_layout(self.layout, self.platform), "key"),)))


def show(program: Program, habit: HabitId, stage: Stage) -> Shown | None:
    """A small trace for one habit of a program as it is; None where it has none to show."""
    made = _SHOWS.get(habit)
    return made(program, stage) if made else None


def _reads(program: Program, stage: Stage) -> Shown:
    presses = []
    for text in ("Main+/", "Main+Z", "Main+1"):
        shortcut = read_shortcut(text).resolve(stage.platform)
        ways, why = ways_of(shortcut, stage.keyboard, program.reads_on(stage.platform))
        said = " or ".join(stage.stroke(w[0]) for w in ways) if ways else why
        presses.append(ShownPress(stage.words(shortcut), None, f"the fingers press {said}" if ways else f"nobody can: {said}"))
    return Shown("Three shortcuts as it would hear them on this keyboard.", tuple(presses))


def _bare(program: Program, stage: Stage) -> Shown:
    text = next((s for s in program.scopes if s.takes_text), program.root)
    given = f"A command of {text.name} is on B alone."
    why = why_not(program, read_shortcut("B"), stage.keyboard)
    if why:
        return Shown(given, (ShownPress(stage.words(read_shortcut("B")), None, f"can't be set: {why}"),))
    return Shown(given, tuple(_press(program, stage, [("B", text.id)], ["B"], text)))


def _length(program: Program, stage: Stage) -> Shown:
    most = program.limits.sequence_length
    presses = []
    for count in range(1, min(most + 2, 5)):
        shortcut = read_shortcut(" then ".join(("F8", "B", "C", "D")[:count]))
        why = why_not(program, shortcut, stage.keyboard)
        presses.append(ShownPress(stage.words(shortcut), None, f"can't be set: {why}" if why else "can be set"))
    return Shown("Shortcuts of one press and more.", tuple(presses))


def _pad(program: Program, stage: Stage) -> Shown:
    main = "Main+7"
    return Shown(
        f"A command is on {stage.words(read_shortcut(main).resolve(stage.platform))}.",
        tuple(_press(program, stage, [(main, program.root.id)], [main, "Main+code:Numpad7"], program.root)),
    )


def _order(program: Program, stage: Stage) -> Shown | None:
    inner = next((s for s in program.scopes if s.parent is not None), None)
    if inner is None:
        return None
    outer = program.scope(program.outward(inner.id)[1].id)
    given = f"One command of {outer.name} and one of {inner.name} are on F7; the focus is in {inner.name}."
    return Shown(given, tuple(_press(program, stage, [("F7", outer.id), ("F7", inner.id)], ["F7"], inner)))


def _tie(program: Program, stage: Stage) -> Shown:
    root = program.root
    given = f"Two commands of {root.name} are on F7."
    return Shown(given, tuple(_press(program, stage, [("F7", root.id), ("F7", root.id)], ["F7"], root)))


def _prefix(program: Program, stage: Stage) -> Shown:
    root = program.root
    given = f"One command is on {stage.words(read_shortcut('F8'))}, another one on {stage.words(read_shortcut('F8 then F9'))}."
    return Shown(given, tuple(_press(program, stage, [("F8", root.id), ("F8 then F9", root.id)], ["F8", "F9"], root)))


def _miss(program: Program, stage: Stage) -> Shown:
    root = program.root
    longer, other = stage.words(read_shortcut("F8 then F9")), stage.words(read_shortcut("F6"))
    given = f"One command is on {longer}, another one on {other}; people begin the first and press {other}."
    return Shown(given, tuple(_press(program, stage, [("F8 then F9", root.id), ("F6", root.id)], ["F8", "F6"], root)))


def _takes_by(program: Program, stage: Stage) -> Shown:
    main = read_shortcut("Control+Alt+T")
    given = f"The system has a changeable hotkey on {stage.words(main)}, and so has {program.name}."
    system = _made_up(_SYSTEM, "The system", "system", stage, [("Control+Alt+T", "everywhere")], grip="can be reassigned")
    bare = _bare_copy(program, stage, [("Control+Alt+T", program.root.id)])
    return Shown(given, tuple(_traced((system, bare), stage, ["Control+Alt+T"], None)))


def _grip(program: Program, stage: Stage) -> Shown:
    presses: list[ShownPress] = []
    for grip in ("fixed", "can be switched off", "can be reassigned", "programs go first"):
        system = _made_up(program.id, program.name, "system", stage, [("Control+Alt+T", "everywhere")], grip=grip)
        other = _made_up(_OTHER, "A program", "office", stage, [("Control+Alt+T", "everywhere")])
        (one,) = _traced((system, other), stage, ["Control+Alt+T"], Focus(_OTHER, "everywhere"))
        presses.append(ShownPress(one.pressed, one.taken_at, f"{one.says} ({grip})"))
    free = _made_up(_OTHER, "A program", "office", stage, [("Control+Alt+T", "everywhere")])
    bare = _made_up(program.id, program.name, "system", stage, [])
    (one,) = _traced((bare, free), stage, ["Control+Alt+T"], Focus(_OTHER, "everywhere"))
    presses.append(ShownPress(one.pressed, one.taken_at, f"{one.says} (once it has let go)"))
    given = f"A program has a command on {stage.words(read_shortcut('Control+Alt+T'))}, and so has {program.name}."
    return Shown(given, tuple(presses))


def _keeps(program: Program, stage: Stage) -> Shown:
    presses = []
    for keeps in (True, False):
        browser = _made_up(program.id, program.name, "browser", stage, [("Main+Shift+M", "everywhere")], keeps=keeps)
        page = _made_up(_OTHER, "A page", "web", stage, [("Main+Shift+M", "everywhere")])
        (one,) = _traced((browser, page), stage, ["Main+Shift+M"], Focus(_OTHER, "everywhere"))
        presses.append(ShownPress(one.pressed, one.taken_at, f"{one.says} ({'kept' if keeps else 'not kept'})"))
    words = stage.words(read_shortcut("Main+Shift+M").resolve(stage.platform))
    return Shown(f"A page in a tab has a command on {words}, and so has {program.name}.", tuple(presses))


_SHOWS: Mapping[HabitId, Callable[[Program, Stage], Shown | None]] = {
    "reads_keys_by": _reads,
    "bare_keys": _bare,
    "sequence_length": _length,
    "pad_counts": _pad,
    "scope_order": _order,
    "on_tie": _tie,
    "on_prefix": _prefix,
    "after_miss": _miss,
    "takes_by": _takes_by,
    "grip": _grip,
    "keeps": _keeps,
}


def _press(
    program: Program, stage: Stage, commands: list[tuple[str, str]], pressed: list[str], focus: Scope
) -> Iterator[ShownPress]:
    copy = _bare_copy(program, stage, commands)
    return _traced((copy,), stage, pressed, Focus(program.id, focus.id))


def _bare_copy(program: Program, stage: Stage, commands: list[tuple[str, str]]) -> Program:
    """The program with its own scopes and habits, and nothing but some made-up commands."""
    return program.model_copy(
        update={
            "commands": tuple(_command(n, keys, scope, stage, program) for n, (keys, scope) in enumerate(commands)),
            "platforms": (stage.platform,),
            "menus": (),
            "kind": program.kind if program.kind in ("utility", "browser") else "office",
        }
    )


def _made_up(program_id: str, name: str, kind: str, stage: Stage, commands: list[tuple[str, str]], **more: object) -> Program:
    scope = Scope(id="everywhere", name="Everywhere")
    bare = Program.model_validate(
        {
            "id": program_id,
            "name": name,
            "version": "1",
            "kind": kind,
            "platforms": (stage.platform,),
            "scopes": (scope,),
            "commands": (),
            "limits": {"bare_keys": True},
        }
    )
    found = tuple(_command(n, keys, where, stage, bare).model_copy(update=more) for n, (keys, where) in enumerate(commands))
    return bare.model_copy(update={"commands": found})


def _command(number: int, keys: str, scope: str, stage: Stage, program: Program) -> Command:
    words = ("its first command", "its second command")[number]
    where = f" of {program.scope(scope).name}" if len(program.scopes) > 1 else ""
    return Command(
        id=f"command-{number + 1}",
        name=f"{words}{where}",
        scope=scope,
        defaults={stage.platform: (read_shortcut(keys).resolve(stage.platform),)},
    )


def _traced(programs: tuple[Program, ...], stage: Stage, texts: list[str], focus: Focus | None) -> Iterator[ShownPress]:
    setup = Setup(
        id="shown",
        name="Shown",
        place="here",
        platform=stage.platform,
        edition="any",
        layout=stage.layout,
        body=stage.body,
        programs=tuple(ProgramUsed(id=p.id, version=p.version) for p in programs),
        people=0,
        machines=0,
    )
    estate = Estate({setup.id: setup}, {(p.id, p.version): p for p in programs}, {})
    board = estate.board(setup.id)
    part = board.parts[programs[-1].id]
    strokes: list[Stroke] = []
    names: list[str] = []
    for text in texts:
        shortcut = read_shortcut(text).resolve(stage.platform)
        ways, why = pressed(shortcut, board.ground.keyboard, part.reads)
        if not ways:
            yield ShownPress(stage.words(shortcut), None, f"nobody can press it here: {why}")
            return
        strokes.append(ways[0][0])
        names.append(stage.words(shortcut))
    for name, one in zip(names, trace(board, strokes, focus), strict=True):
        yield ShownPress(name, one.taken_at, say_effect(one))


def say_effect(found: Trace) -> str:
    """What comes of a press, in words: first of those before it that it plays again."""
    replayed = [e for e in found.effect.replayed if e.kind != "nothing"]
    return ", then ".join(_said(e) for e in (*replayed, found.effect))


def _said(effect: Effect) -> str:
    if effect.undefined:
        return f"{' or '.join(b.command.name for b in effect.undefined)} of {effect.undefined[0].program.name}: nobody can say"
    match effect.kind:
        case "command":
            assert effect.binding is not None
            if effect.binding.program.id == LAUNCHERS:
                return f"a launcher starts {effect.binding.command.name}"
            return f"{effect.binding.program.name} does {effect.binding.command.name}"
        case "wait":
            otherwise = f", then {effect.otherwise.command.name}" if effect.otherwise else ""
            long = "as long as it takes" if effect.after_ms is None else f"{effect.after_ms / 1000:g} s"
            return f"it waits {long} for the next press{otherwise}"
        case "text":
            return f"types {effect.text}"
        case "accent":
            return f"begins the accent {effect.text}"
        case "caret" | "menu":
            return effect.text
        case _:
            return "nothing happens"
