"""Clashes and their strokes in sentences for people, in the words of a setup's platform and key caps."""

from amberkey.core.clashes.binding import REMAPS, Binding, Station
from amberkey.core.clashes.board import Board
from amberkey.core.clashes.model import Begins, Clash, ClashKind
from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.keys.wording import words_of
from amberkey.core.layouts.caps import printed_on
from amberkey.core.layouts.typing import other_places

KIND_WORDS: dict[ClashKind, str] = {
    "system_fixed": "the system keeps it",
    "system": "the system takes it",
    "utility": "a utility takes it",
    "browser": "the browser or the page",
    "same_scope": "two commands, one press",
    "shadow": "hidden by an inner scope",
    "prefix": "begins a longer one",
    "swallows_text": "takes text",
    "takes_caret": "takes a caret press",
    "out_of_reach": "nobody can press it",
    "awkward": "hard to press",
    "protected": "takes a protected task's press",
    "cannot": "the program can't take it",
    "duplicate": "stands twice",
    "orphan": "names what isn't there",
    "input_method": "an input method takes it",
    "remote": "taken around a remote session",
    "menu_letter": "a menu's letter",
    "goes_first": "the system wants it last",
    "recycled": "an old key with a new meaning",
    "abbreviation": "an abbreviation goes wrong",
}


STATION_WORDS: dict[Station, str] = {
    "remap": "Keys changed",
    "input_method": "Input method",
    "guarded": "Guarded by the system",
    "intercept": "Utilities that intercept",
    "system": "System and hotkeys",
    "browser_keeps": "Browser keeps",
    "program": "Program, focus outward",
    "menu": "Menu letters",
    "browser": "Browser after the page",
    "system_last": "System after programs",
    "text": "Text and caret",
}


def say_shortcut(shortcut: Shortcut, board: Board) -> str:
    """A shortcut in the words of a board's keyboard; empty for none."""
    layout = board.ground.layout
    return words_of(shortcut, board.ground.platform, layout.language, printed=printed_on(layout))


def say_clash(clash: Clash, board: Board) -> str:
    """What happens, to whom, and what the people lose."""
    match clash.kind:
        case "system_fixed" | "system" | "utility" | "remote":
            return _before(clash, board)
        case "input_method":
            return _input_method(clash, board)
        case "menu_letter":
            return _menu_letter(clash, board)
        case "goes_first":
            return _goes_first(clash, board)
        case "browser":
            return _browser(clash, board)
        case "same_scope":
            return _same_scope(clash, board)
        case "shadow":
            return _shadow(clash)
        case "prefix":
            return _prefix(clash, board)
        case "swallows_text":
            return _swallows(clash, board)
        case "takes_caret":
            return _takes_caret(clash, board)
        case "protected":
            return _protected(clash, board)
        case "recycled":
            return _recycled(clash, board)
        case "abbreviation":
            return f"{clash.subject.command.name} becomes its text while people type: {clash.why}."
        case "out_of_reach" | "cannot" | "awkward" | "duplicate" | "orphan":
            return _by_itself(clash, board)


def _before(clash: Clash, board: Board) -> str:
    holder, loser = _sure(clash.holder), _sure(clash.loser)
    part = "one press of " if len(loser.shortcut.presses) > 1 else ""
    first = clash.also[0].program.name if clash.also else ""
    others = f" {first} would take it otherwise." if first and first != loser.program.name else ""
    remote = board.setup.setup.remote
    if clash.kind == "remote" and remote is not None:
        others = f" That is so in {remote.name}, which has its presses {remote.presses}.{others}"
    if loser.everywhere:
        before = f"{holder.program.name} takes {part}{say_shortcut(loser.shortcut, board)} first: {holder.called}."
    else:
        before = f"{holder.program.name} takes {part}{say_shortcut(loser.shortcut, board)} before any program: {holder.called}."
    return f"{before} {loser.called} in {loser.program.name} never gets it. {_lets_go(holder)}{others}"


def _lets_go(holder: Binding) -> str:
    name = holder.program.name
    if holder.program.kind != "system":
        return f"{name} can give it another key." if holder.layer != "setup" else f"{name} can't be told otherwise."
    return {
        "fixed": f"{name} can't be told otherwise.",
        "can be switched off": f"{name} can switch it off.",
        "can be reassigned": f"{name} can give it another key.",
        "programs go first": f"{name} takes it only where no program wants it.",
    }[holder.command.grip]


def _input_method(clash: Clash, board: Board) -> str:
    holder, loser = _sure(clash.holder), _sure(clash.loser)
    part = "one press of " if len(loser.shortcut.presses) > 1 else ""
    pressed = f"{part}{say_shortcut(loser.shortcut, board)}"
    lost = f"{loser.called} in {loser.program.name} never gets it"
    if board.composer is not None and clash.stroke in board.composer.takes:
        return f"{holder.program.name} takes {pressed} as one of its own keys. {lost}."
    return f"{holder.program.name} takes {pressed} while a text is being composed. {lost} then."


def _menu_letter(clash: Clash, board: Board) -> str:
    holder, loser = _sure(clash.holder), _sure(clash.loser)
    if clash.station == "menu":
        return (
            f"{say_shortcut(loser.shortcut, board)} opens {holder.called} of {holder.program.name.rpartition(' of ')[2]} "
            f"first: {loser.called} in {loser.program.name} never gets it there."
        )
    return (
        f"{holder.called} in {holder.program.name} takes {say_shortcut(holder.shortcut, board)}, by which people open "
        f"{loser.called}: with the keyboard it is out of reach in {holder.scope_name}."
    )


def _goes_first(clash: Clash, board: Board) -> str:
    holder, loser = _sure(clash.holder), _sure(clash.loser)
    return (
        f"{holder.called} in {holder.program.name} takes {say_shortcut(holder.shortcut, board)}, at which the system "
        f"{loser.called} where no program wants it: with the focus in {holder.scope_name} it doesn't."
    )


def _browser(clash: Clash, board: Board) -> str:
    holder, loser = _sure(clash.holder), _sure(clash.loser)
    if clash.station == "browser_keeps":
        return (
            f"{holder.program.name} keeps {say_shortcut(loser.shortcut, board)} for itself: {holder.called}. "
            f"{loser.called} in {loser.program.name} never gets it in a tab; in a window of its own it would."
        )
    return (
        f"{holder.called} in {holder.program.name} takes {say_shortcut(holder.shortcut, board)} before "
        f"{loser.program.name}: {loser.called} does nothing while the page has the focus."
    )


def _same_scope(clash: Clash, board: Board) -> str:
    holder, loser = _sure(clash.holder), _sure(clash.loser)
    program = loser.program
    where = loser.scope_name
    if program.on_tie == "either":
        end = "nobody can say which of them runs."
    else:
        end = f"{program.name} takes the {program.on_tie} one, so {loser.called} never runs."
    return f"{holder.called} and {loser.called} have one stroke in {where} of {program.name}: {end}{_meet(clash, board)}"


def _meet(clash: Clash, board: Board) -> str:
    if not clash.spellings_meet:
        return ""
    holder, loser = _sure(clash.holder), _sure(clash.loser)
    return (
        f" They are written {holder.shortcut} and {loser.shortcut}; on the {board.ground.layout.name} keyboard "
        "both are one stroke."
    )


def _shadow(clash: Clash) -> str:
    holder, loser = _sure(clash.holder), _sure(clash.loser)
    return (
        f"In {holder.scope_name} of {holder.program.name}, {holder.called} hides {loser.called} of "
        f"{loser.scope_name}: there the press does the one and never the other."
    )


def _prefix(clash: Clash, board: Board) -> str:
    holder, loser = _sure(clash.holder), _sure(clash.loser)
    goes_on, pause = _sure_begins(clash.begins)
    short, longer = (holder, loser) if goes_on == "short" else (loser, holder)
    begins = (
        f"{say_shortcut(short.shortcut, board)} ({short.called}) begins {say_shortcut(longer.shortcut, board)} "
        f"({longer.called}) in {longer.program.name}. "
    )
    if goes_on == "short":
        return f"{begins}The short one runs at once, so {longer.called} never does."
    if goes_on == "long":
        return f"{begins}It waits for the rest as long as it takes, so {short.called} never runs."
    return f"{begins}{short.called} runs only after a pause of {pause} ms."


def _sure_begins(begins: Begins | None) -> Begins:
    assert begins is not None
    return begins


def _where_text(clash: Clash, board: Board) -> str:
    if clash.focus is None:
        return "in every program"
    program = board.parts[clash.focus[0]].program
    return f"in {program.scope(clash.focus[1]).name} of {program.name}"


def _swallows(clash: Clash, board: Board) -> str:
    holder = _sure(clash.holder)
    layout = board.ground.layout
    pressed = say_shortcut(holder.shortcut, board)
    where = _where_text(clash, board)
    if clash.accent:
        return (
            f"{pressed} begins the accent {clash.text} on the {layout.name} keyboard. {holder.called} takes it {where}, "
            "and letters with that accent can't be typed there by it."
        )
    others = clash.stroke is not None and other_places(clash.stroke, layout)
    rest = "There is another key for it." if others else "No other press types it."
    return (
        f"{pressed} types {clash.text} on the {layout.name} keyboard. {holder.called} takes it {where}, and people can "
        f"no longer type {clash.text} there. {rest}"
    )


def _takes_caret(clash: Clash, board: Board) -> str:
    holder = _sure(clash.holder)
    if holder.program.id == REMAPS:
        return f"{holder.program.name} {holder.called}, and no other key does what it did: it {clash.text}."
    return (
        f"{say_shortcut(holder.shortcut, board)} {clash.text} wherever people type. {holder.called} takes it "
        f"{_where_text(clash, board)}, and people lose that there."
    )


def _protected(clash: Clash, board: Board) -> str:
    holder = _sure(clash.holder)
    return (
        f"{say_shortcut(holder.shortcut, board)} is the press for {clash.text}, which nothing may take. In "
        f"{holder.program.name} it is {holder.called}."
    )


def _recycled(clash: Clash, board: Board) -> str:
    holder, loser = _sure(clash.holder), _sure(clash.loser)
    return (
        f"{say_shortcut(loser.shortcut, board)} was {loser.called} in {loser.program.name}, {clash.why}. "
        f"It means {holder.called} now, and fingers don't know that yet."
    )


def _by_itself(clash: Clash, board: Board) -> str:
    subject = clash.subject
    pressed = say_shortcut(subject.shortcut, board) if subject.shortcut.presses else "It"
    name = f"{subject.called} in {subject.program.name}"
    match clash.kind:
        case "out_of_reach":
            return f"Nobody can press {pressed} here: {clash.why}. {subject.called} can't be reached by it."
        case "cannot" if not subject.shortcut.presses:
            return f"{subject.called} in {subject.program.name} has no key there: {clash.why}."
        case "cannot":
            return f"{subject.program.name} can't take {pressed} for {subject.called}: {clash.why}."
        case "awkward":
            return f"{pressed} is hard to press: {clash.why}. It is {name}."
        case "duplicate":
            return f"{name} has {pressed} twice.{_meet(clash, board)}"
        case _:
            sets = "arranges" if subject.placed is not None else "sets"
            return f"{subject.layer} {sets} {subject.called}, but {clash.why}. The entry means nothing here."


def _sure(binding: Binding | None) -> Binding:
    assert binding is not None
    return binding
