"""The lens's physical keyboard: every key with its cap, and who takes it with the modifiers held."""

from collections.abc import Mapping
from functools import lru_cache
from typing import Literal, NamedTuple

from django.http import HttpRequest
from ninja import Router
from pydantic import Field

from amberkey.core.clashes.binding import Binding
from amberkey.core.clashes.board import Board
from amberkey.core.clashes.trace import Focus, Trace, trace
from amberkey.core.clashes.wording import say_shortcut
from amberkey.core.keys.codes import MODIFIER_CODES
from amberkey.core.keys.names import NAMED_KEYS, PAD_CAPS, case_of_key
from amberkey.core.keys.platform import FN, Platform
from amberkey.core.keys.reading import read_shortcut
from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.keys.wording import Style, cap_of_key, cap_of_modifier
from amberkey.core.layouts.keyboard import pressed
from amberkey.core.layouts.reach import reach_of
from amberkey.core.layouts.stroke import Stroke
from amberkey.core.layouts.typing import types
from amberkey.server.estate import board_of, current_estate
from amberkey.server.problems import NotFound, Problem
from amberkey.server.schema import Schema
from amberkey.server.workbench.keeping import kept
from amberkey.server.workbench.trying import TriedDraftIn, draft
from amberkey.server.workbench.words import ShortcutOut, shortcut_out

router = Router(tags=["workbench"])
HOLDABLE = ("Control", "Alt", "Shift", "Meta", "AltGraph", "Fn")
_SYMBOL_CAPS = {"Shift", "Enter", "Tab", "Backspace", "CapsLock"}


Owner = Literal["system", "utility", "browser", "program", "text", "free", "dead"]


class _Owned(NamedTuple):
    """Who takes a key, and the words for it."""

    owner: Owner
    says: str
    short: str
    sentence: str
    source: str = ""


class KeyOut(Schema):
    """`modifier` is set on keys that are held. `owner` is who takes it; `says`
    what it does, `short` one word of that for the cap. `second`: what else is printed on it, as the letter of another script.
    `source`: where that was read which takes the key or is typed by it."""

    code: str
    x: float
    y: float
    w: float
    below: list[float] | None
    cap: str
    second: str
    modifier: str | None
    owner: Owner
    says: str
    short: str
    sentence: str
    source: str
    reach: int


class KeyboardOut(Schema):
    """`after`: the presses that a sequence began with, `waiting` what may come of it. `free`: the codes of keys that nobody
    takes, the easiest to reach first."""

    width: float
    rows: int
    platform: Platform
    language: str
    held: list[str]
    modifier_caps: dict[str, str]
    keys: list[KeyOut]
    after: ShortcutOut | None
    waiting: list[str]
    free: list[str]


class KeyboardIn(Schema):
    """`held`: modifiers. `after`: presses that went before, as the beginning of a sequence. `drafts`: as if they were saved."""

    setup: str
    program: str | None = None
    scope: str | None = None
    held: list[str] = []
    after: str = ""
    drafts: list[TriedDraftIn] = Field(default=[], max_length=40)


@router.get("/keyboard", response=KeyboardOut)
@kept
def keyboard(
    request: HttpRequest,
    setup: str,
    program: str | None = None,
    scope: str | None = None,
    held: str = "",
    after: str = "",
) -> KeyboardOut:
    """Who takes each key with `held` modifiers (names with commas between) and a program's scope in focus.

    `after`: presses that went before, as the beginning of a sequence.
    """
    modifiers = [m for m in held.split(",") if m]
    return keyboard_shown(KeyboardIn(setup=setup, program=program, scope=scope, held=modifiers, after=after))


@router.post("/keyboard", response=KeyboardOut)
def keyboard_with_drafts(request: HttpRequest, given: KeyboardIn) -> KeyboardOut:
    """The same with drafts in it. Nothing is saved."""
    return keyboard_shown(given)


def keyboard_shown(given: KeyboardIn) -> KeyboardOut:
    """The keyboard of a lens. Raises Problem and NotFound for what isn't there."""
    estate = current_estate()
    board = board_of(draft(estate, given.drafts).after if given.drafts else estate, given.setup)
    modifiers = frozenset(given.held)
    unknown = sorted(modifiers - set(HOLDABLE))
    if unknown:
        raise Problem(400, f"{unknown[0][:40]} is not a modifier.", cure=f"Use {', '.join(HOLDABLE)}.")
    if given.program is not None:
        found = board.setup.program(given.program)
        if found is None or given.scope not in {s.id for s in found.scopes}:
            raise NotFound(f"focus {given.program}, {given.scope}")
    if "AltGraph" in modifiers and board.setup.setup.works_on != "linux" and board.setup.layout.has_altgr:
        modifiers = modifiers - {"AltGraph"} | {"Control", "Alt"}
    focus = Focus(given.program, given.scope) if given.program is not None and given.scope is not None else None
    begun = read_shortcut(given.after).resolve(board.ground.platform) if given.after else None
    before = _strokes(board, begun, focus) if begun else ()
    waiting = trace(board, before, focus)[-1].effect.waiting if before else ()
    setup_doc, body, layout = board.setup.setup, board.setup.body, board.setup.layout
    keys = [
        KeyOut(
            code=key.code,
            x=key.x,
            y=key.y,
            w=key.w,
            below=list(key.below) if key.below else None,
            cap=cap_of_code(board, key.code),
            second=_second_cap(board, key.code),
            modifier=modifier_of_code(board, key.code),
            **_owner(board, key.code, modifiers, focus, before)._asdict(),
            reach=reach_of(Stroke(key.code, modifiers), body, board.ground.keyboard.remaps, board.ground.mouse_hand).score,
        )
        for key in (*body.keys, *([body.fn_key] if body.fn_key else []))
    ]
    return KeyboardOut(
        width=body.width,
        rows=body.rows,
        platform=setup_doc.works_on,
        language=layout.language,
        held=[m for m in HOLDABLE if m in modifiers],
        modifier_caps={m: cap_of_modifier(m, setup_doc.works_on, layout.language) for m in HOLDABLE},
        keys=keys,
        after=shortcut_out(begun, board) if begun else None,
        waiting=[f"{say_shortcut(b.shortcut, board)}: {b.command.name}" for b in waiting],
        free=[k.code for k in sorted(keys, key=lambda k: (k.reach, k.code)) if k.owner == "free"],
    )


def _strokes(board: Board, begun: Shortcut, focus: Focus | None) -> tuple[Stroke, ...]:
    part = board.parts[focus.program] if focus else None
    reads = part.reads if part else "character"
    ways, unreachable = pressed(begun, board.ground.keyboard, reads, bool(part and part.pad))
    if not ways:
        raise Problem(400, f"{begun} can't be pressed here.", f"{unreachable}.", "Begin with another press.")
    return ways[0]


def cap_of_code(board: Board, code: str) -> str:
    """What is printed on the key, in the language of the keyboard."""
    modifier = modifier_of_code(board, code)
    platform, language = board.setup.setup.works_on, board.setup.layout.language
    # Keyboards outside of the English-speaking countries print these as symbols (ISO 9995-7).
    style: Style = "symbols" if language != "en" and (modifier or code) in _SYMBOL_CAPS else "words"
    if modifier is not None:
        return cap_of_modifier(modifier, platform, language, style)
    levels = board.setup.layout.keys.get(code)
    if code == "Space":
        return ""
    if levels is not None and levels[0] is not None:
        return case_of_key(levels[0].text)
    code = board.setup.body.bare.get(code, code)
    if code in NAMED_KEYS:
        return cap_of_key(code, language, style)
    if code == "NumpadDecimal":
        return board.ground.layout.decimal
    if code == "Backquote" and language == "ja":
        return "半/全"
    return PAD_CAPS.get(code, code)


def _second_cap(board: Board, code: str) -> str:
    """What is printed on the key beside its cap: the letter of another script, or the function key under special ones."""
    layout = board.setup.layout
    own = layout.second.get(code)
    if own is not None and own[0] is not None and code != "Space":
        return case_of_key(own[0].text)
    if code in layout.legends:
        return layout.legends[code]
    return code if code in board.setup.body.bare else ""


def modifier_of_code(board: Board, code: str) -> str | None:
    if code == "AltRight" and board.setup.layout.has_altgr and board.setup.setup.works_on != "macos":
        return "AltGraph"
    return FN if code == FN else MODIFIER_CODES.get(code)


_OWNERS: Mapping[str, Owner] = {
    "input_method": "utility",
    "guarded": "system",
    "system_last": "system",
    "intercept": "utility",
    "browser_keeps": "browser",
    "browser": "browser",
}


@lru_cache(maxsize=1)
def _nothing() -> "_Owned":
    return _Owned("dead", "", "", "")


def _owner(board: Board, code: str, held: frozenset[str], focus: Focus | None, before: tuple[Stroke, ...]) -> "_Owned":
    if code in MODIFIER_CODES or code == FN:
        return _nothing()
    stroke = Stroke(code, held)
    found = trace(board, (*before, stroke), focus)[-1]
    binding, effect = found.effect.binding, found.effect
    if binding is not None:
        name = binding.command.name
        kind = _owner_of(found.taken_at, binding)
        says = "waits for more" if effect.kind == "wait" else name
        typed = types(stroke, board.setup.layout)
        would = f" It would type {typed.text}." if typed and held - {"Shift"} and not typed.dead else ""
        where = binding.program.name if binding.everywhere else f"{binding.program.name}, {binding.scope_name}"
        return _Owned(kind, says, _short(says, kind), f"{where}: {says}.{would}", binding.source)
    if effect.kind in ("text", "accent", "caret"):
        verb = {"text": "types ", "accent": "begins the accent ", "caret": ""}[effect.kind]
        short = effect.text if effect.kind != "caret" else _short(effect.text, "program")
        return _Owned(
            "text", effect.text, short, f"The focus takes text: it {verb}{effect.text}.", _source_of_text(board, found)
        )
    if effect.kind == "menu":
        return _Owned("program", effect.text, "menu", f"It opens {effect.text}.")
    return _Owned("free", "", "", "Nobody takes it: free in this focus.")


def _source_of_text(board: Board, found: Trace) -> str:
    """Where it was read what a key types, or what the caret does at it."""
    ground = board.ground
    level = types(found.stroke, ground.layout, ground.numlock)
    if found.effect.kind != "caret":
        return f"{ground.layout.name}: {level.source}" if level else ""
    caret = ground.caret.get(found.stroke)
    return ground.system.told_source(caret.cited) if ground.system and caret else ""


def _owner_of(station: str | None, binding: Binding) -> Owner:
    if station == "system":
        return "system" if binding.program.kind == "system" else "utility"
    return _OWNERS.get(station or "", "program")


def _short(says: str, kind: str) -> str:
    """The telling word: commands begin with it (Quote the fare), what a system does ends with it (locks the screen)."""
    words = says.split()
    return words[-1] if kind == "system" else words[0]
