"""What can be said of how a program behaves: each choice, what may be chosen, and what that does, in a sentence.

Screens and help take their words from here, so that they can't drift from what the rules do.
"""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal, get_args

from amberkey.core.programs.model import Program

HabitId = Literal[
    "reads_keys_by",
    "bare_keys",
    "sequence_length",
    "pad_counts",
    "scope_order",
    "on_tie",
    "on_prefix",
    "after_miss",
    "takes_by",
    "grip",
    "keeps",
    "takes_effect",
    "switches",
    "card_only",
]
HABITS: tuple[HabitId, ...] = get_args(HabitId)


@dataclass(frozen=True, slots=True)
class Option:
    value: str
    title: str
    does: str


@dataclass(frozen=True, slots=True)
class Habit:
    """`asks`: the question that the specialist answers. No options: a number, a list or a yes and no of its own."""

    id: HabitId
    title: str
    asks: str
    options: tuple[Option, ...] = ()


_YES_NO = ("yes", "no")
_KNOWN: Mapping[HabitId, Habit] = {
    h.id: h
    for h in (
        Habit(
            "reads_keys_by",
            "Reading keys",
            "What does it go by when a key is pressed?",
            (
                Option(
                    "character",
                    "the character",
                    "A shortcut is pressed as its sign is typed here: with Shift or AltGr if it must.",
                ),
                Option("key", "the key", "A letter or digit is the key that carries it, whatever else is held."),
                Option("position", "the position", "The place of the key counts, whatever this layout prints on it."),
            ),
        ),
        Habit(
            "bare_keys",
            "Keys alone",
            "May a letter, digit or sign be a shortcut without a modifier?",
            (
                Option("yes", "yes", "A bare letter can be a shortcut; where text is taken, it can't be typed any more."),
                Option("no", "no", "Letters, digits and signs need a modifier, so typing is safe."),
            ),
        ),
        Habit("sequence_length", "Presses in a row", "How many presses may one shortcut have?"),
        Habit(
            "pad_counts",
            "Numeric pad",
            "Do the keys of the numeric pad count as the signs on them?",
            (
                Option("yes", "yes", "With NumLock, a digit of the pad is the digit: a shortcut on 7 answers to both."),
                Option("no", "no", "The pad's keys are keys of their own: a shortcut on 7 doesn't answer to them."),
            ),
        ),
        Habit(
            "scope_order",
            "Order of the scopes",
            "Which scope is asked first?",
            (
                Option(
                    "inner",
                    "the focused one",
                    "The part with the caret is asked first, then the whole window.",
                ),
                Option(
                    "outer",
                    "the whole window",
                    "The whole window is asked first, then the focused part.",
                ),
            ),
        ),
        Habit(
            "on_tie",
            "Two commands on one press",
            "Which of two commands in one scope runs?",
            (
                Option("first", "the first one", "The one that stands first in its list runs; the other one never does."),
                Option("last", "the last one", "The one that stands last in its list runs; the other one never does."),
                Option("either", "nobody knows", "Nobody can say which of the two will run, so neither counts on being had."),
            ),
        ),
        Habit(
            "on_prefix",
            "A press that begins a longer shortcut",
            "What happens when a short one begins a longer one?",
            (
                Option("long", "it waits", "The short one runs only when nothing more comes; people feel the pause."),
                Option("short", "the short one runs", "The short one runs at once, and the longer one never does."),
            ),
        ),
        Habit(
            "after_miss",
            "A sequence that goes wrong",
            "What happens when a press doesn't go on with it?",
            (
                Option("drop", "all of it is lost", "The presses do nothing; people press them again."),
                Option(
                    "replay",
                    "all of it counts",
                    "The earlier presses are heard again one by one, then this one.",
                ),
            ),
        ),
        Habit(
            "takes_by",
            "Getting at its hotkeys",
            "How does the utility get its presses?",
            (
                Option(
                    "intercept", "it intercepts", "It is asked before the system's changeable hotkeys; the last started first."
                ),
                Option("register", "it registers", "It asks the system for the press; who asked first has it."),
            ),
        ),
        Habit(
            "grip",
            "Letting go",
            "Can people tell the system otherwise?",
            (
                Option("fixed", "never", "The system takes the press; only a utility that intercepts is asked before it."),
                Option(
                    "can be switched off", "by switching it off", "Once switched off, it lets the press go on to the program."
                ),
                Option("can be reassigned", "by another key", "The hotkey can be given another press, and this one is free."),
                Option(
                    "programs go first",
                    "only what is left",
                    "A program that wants the press gets it; the system takes it when none does.",
                ),
            ),
        ),
        Habit(
            "keeps",
            "Keeping presses from pages",
            "Does the browser keep the press, or may the page have it first?",
            (
                Option("yes", "it keeps it", "No page in a tab ever hears the press; in a window of its own it does."),
                Option("no", "the page first", "The page is asked first; what it doesn't take, the browser gets."),
            ),
        ),
        Habit(
            "takes_effect",
            "When a change counts",
            "When does a changed shortcut work?",
            (
                Option("at once", "at once", "A change works as soon as the settings file is written."),
                Option("on reload", "when it reloads", "A change works when the document or page is loaded again."),
                Option("on restart", "at its next start", "A change works when people have closed and started it again."),
            ),
        ),
        Habit("switches", "Switches", "What must be on in the program before own shortcuts count?"),
        Habit(
            "card_only",
            "Only on the card",
            "Can its shortcuts be set at all?",
            (
                Option(
                    "yes",
                    "no, only printed",
                    "Nothing can be set in it; its keys are known, checked and printed.",
                ),
                Option("no", "yes, they can be set", "Its shortcuts can be set by profiles."),
            ),
        ),
    )
}


def habit(habit_id: HabitId) -> Habit:
    """What is asked of a program under an id, with the answers that can be chosen."""
    return _KNOWN[habit_id]


def habits_of(program: Program) -> tuple[Habit, ...]:
    """The choices that mean something for a kind of program, in the order in which people think of them."""
    own: set[HabitId] = {"takes_effect", "switches", "card_only"}
    if program.kind == "system":
        own = {"grip"}
    elif program.kind == "utility":
        own |= {"takes_by", "bare_keys", "sequence_length"}
    else:
        own |= {
            "reads_keys_by",
            "bare_keys",
            "sequence_length",
            "pad_counts",
            "scope_order",
            "on_tie",
            "on_prefix",
            "after_miss",
        }
    if program.kind == "browser":
        own |= {"keeps"}
    return tuple(_KNOWN[h] for h in HABITS if h in own)


def say_habit(program: Program, habit_id: HabitId, value: str) -> str:
    """What a choice does, in a sentence; for what has no options, what the program's own figures do."""
    found = _KNOWN[habit_id]
    option = next((o for o in found.options if o.value == value), None)
    if option is not None:
        waits = program.on_prefix.waits_ms
        if habit_id == "on_prefix" and value == "long" and waits is not None:
            return f"{option.does} It waits for {waits / 1000:g} s."
        return option.does
    if habit_id == "sequence_length":
        most = program.limits.sequence_length
        return "Takes single presses only." if most == 1 else f"Takes up to {most} presses in a row."
    if habit_id == "switches":
        names = [f"{s.name} ({s.where})" for s in program.switches]
        return f"Until {' and '.join(names)} is on, own shortcuts don't count." if names else "Nothing has to be switched on."
    return ""
