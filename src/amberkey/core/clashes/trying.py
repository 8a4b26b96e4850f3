"""What several presses in a row come to: what they really type, and a key by which two answers are told apart."""

from collections.abc import Sequence

from amberkey.core.clashes.showing import say_effect
from amberkey.core.clashes.trace import Effect, Trace
from amberkey.core.layouts.accents import compose


def typed_by(traces: Sequence[Trace]) -> str:
    """The text that presses leave behind, accents put on their letters; one that waits for its letter stands at the end."""
    typed, accent = "", ""
    for effect in (e for one in traces for e in (*one.effect.replayed, one.effect)):
        if effect.kind == "text":
            typed += compose(accent, effect.text) if accent else effect.text
            accent = ""
        elif effect.kind == "accent":
            typed += accent
            accent = effect.text
        elif accent and effect.kind != "wait":
            typed, accent = typed + accent, ""
    return typed + accent


def outcome_key(traces: Sequence[Trace]) -> str:
    """What comes of the last press, the same for as long as the same comes of it: who runs, or what is typed."""
    if not traces:
        return "out of reach"
    last = traces[-1].effect
    return " then ".join(_key(e) for e in (*last.replayed, last))


def _key(effect: Effect) -> str:
    binding = effect.binding
    if binding is None or effect.kind == "wait":
        return f"{effect.kind} {effect.text}".strip()
    doubt = " or others" if effect.undefined else ""
    return f"{effect.kind} {binding.program.id}/{binding.command.id}{doubt}"


def say_outcome(traces: Sequence[Trace]) -> str:
    """What comes of the last press, in words."""
    return say_effect(traces[-1]) if traces else "nobody can press it here"
