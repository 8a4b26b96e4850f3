"""Clashes and their strokes in sentences for people, in the words of a setup's platform and key caps."""

from amberkey.core.clashes.board import Binding, Board
from amberkey.core.clashes.model import Clash
from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.keys.wording import words_of
from amberkey.core.layouts.strokes import modifiers_of_level


def say_shortcut(shortcut: Shortcut, board: Board) -> str:
    return words_of(shortcut, board.setup.setup.platform, board.setup.layout.language)


def say_clash(clash: Clash, board: Board) -> str:
    """What happens, to whom, and what the people lose."""
    match clash.kind:
        case "system_fixed" | "system":
            return _system(clash, board)
        case "same_scope":
            return _same_scope(clash, board)
        case "shadow":
            return _shadow(clash)
        case "swallows_text":
            return _swallows(clash, board)
        case "out_of_reach":
            loser = _sure(clash.loser)
            return (
                f"Nobody can press {say_shortcut(loser.shortcut, board)} here: {clash.note}. "
                f"{loser.command.name} can't be reached by it."
            )


def _system(clash: Clash, board: Board) -> str:
    holder, loser = _sure(clash.holder), _sure(clash.loser)
    lets_go = {
        "fixed": f"{holder.program.name} can't be told otherwise.",
        "can be switched off": f"{holder.program.name} can switch it off.",
        "can be reassigned": f"{holder.program.name} can give it another key.",
    }[holder.command.grip]
    part = "one press of " if len(loser.shortcut.presses) > 1 else ""
    return (
        f"{holder.program.name} takes {part}{say_shortcut(loser.shortcut, board)} before any program: {holder.command.name}. "
        f"{loser.command.name} in {loser.program.name} never gets it. {lets_go}"
    )


def _same_scope(clash: Clash, board: Board) -> str:
    holder, loser = _sure(clash.holder), _sure(clash.loser)
    program = loser.program
    where = program.scope(loser.scope).name
    if program.on_tie == "either":
        end = "nobody can say which of them runs."
    else:
        end = f"{program.name} takes the {program.on_tie} one, so {loser.command.name} never runs."
    meet = ""
    if clash.spellings_meet:
        meet = (
            f" They are written {holder.shortcut} and {loser.shortcut}; on the {board.setup.layout.name} keyboard "
            "both are one stroke."
        )
    return f"{holder.command.name} and {loser.command.name} have one stroke in {where} of {program.name}: {end}{meet}"


def _shadow(clash: Clash) -> str:
    holder, loser = _sure(clash.holder), _sure(clash.loser)
    inner, outer = holder.program.scope(holder.scope).name, loser.program.scope(loser.scope).name
    return (
        f"In {inner} of {holder.program.name}, {holder.command.name} hides {loser.command.name} of {outer}: "
        f"there the press does the one and never the other."
    )


def _swallows(clash: Clash, board: Board) -> str:
    holder = _sure(clash.holder)
    scope = holder.program.text_is_taken_within(holder.scope)
    where = scope.name if scope else holder.scope
    keyboard = board.setup.layout.name
    pressed = say_shortcut(holder.shortcut, board)
    if clash.note == "accent":
        return (
            f"{pressed} begins the accent {clash.text} on the {keyboard} keyboard. {holder.command.name} takes it in {where} "
            f"of {holder.program.name}, and letters with that accent can't be typed there by it."
        )
    others = [
        p
        for p in board.setup.layout.places_of(clash.text)
        if clash.stroke is not None
        and (p[0] != clash.stroke.code or modifiers_of_level(board.setup.layout, p[1]) != clash.stroke.modifiers)
    ]
    rest = "There is another key for it." if others else "No other press types it."
    return (
        f"{pressed} types {clash.text} on the {keyboard} keyboard. {holder.command.name} takes it in {where} "
        f"of {holder.program.name}, and people can no longer type {clash.text} there. {rest}"
    )


def _sure(binding: Binding | None) -> Binding:
    assert binding is not None
    return binding
