"""Macros: named steps with a key, kept where their program keeps macros, and read as sentences."""

import json
from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from amberkey.core.documents.field import Id, Text
from amberkey.core.documents.model import Value, Whole
from amberkey.core.documents.sections import macro_key
from amberkey.core.keys.field import ShortcutField
from amberkey.core.keys.platform import Platform
from amberkey.core.keys.wording import words_of
from amberkey.core.programs.model import Command, Program
from amberkey.core.programs.offers import KeptIn, Replay

MACRO = "macro."
"""What the ids of commands that stand for macros begin with."""


class MacroStep(Value):
    """One thing that a macro does: it `runs` a command with its arguments, `types` a text, or `presses` keys."""

    runs: Id | None = None
    arguments: dict[str, str | Whole] = Field(default_factory=dict)
    types: Annotated[str, Field(min_length=1, max_length=2000)] | None = None
    presses: ShortcutField | None = None

    @model_validator(mode="after")
    def _one(self) -> Self:
        if sum(v is not None for v in (self.runs, self.types, self.presses)) != 1:
            raise ValueError("a step runs a command, types a text or presses keys: one of these")
        if self.arguments and self.runs is None:
            raise ValueError("arguments: only a command is given some")
        return self


class Macro(Value):
    """`kept`: where it is kept; of one kept in a document, `document` is that one. `replay`: whether its steps begin at a fixed
    place or wherever the caret is. It runs code on staff machines: data until approved."""

    program: Id
    id: Id
    name: Text
    steps: Annotated[tuple[MacroStep, ...], Field(min_length=1, max_length=200)]
    shortcuts: dict[Platform, tuple[ShortcutField, ...]] = Field(default_factory=dict)
    kept: KeptIn = "person"
    document: Text | None = None
    replay: Replay = "from the caret"

    @property
    def key(self) -> str:
        """What makes it the same macro in every revision: program and id."""
        return macro_key(self.model_dump(mode="json"))

    @property
    def content(self) -> str:
        """What it does, byte for byte: what an approval is of."""
        steps = [s.model_dump(mode="json", exclude_defaults=True) for s in self.steps]
        return json.dumps([self.replay, steps], sort_keys=True, ensure_ascii=False, separators=(",", ":"))

    @model_validator(mode="after")
    def _whole(self) -> Self:
        if (self.kept == "document") != (self.document is not None):
            raise ValueError("document: it is said exactly of a macro that is kept in one")
        for platform, shortcuts in self.shortcuts.items():
            for shortcut in shortcuts:
                if shortcut.resolve(platform) != shortcut:
                    raise ValueError(f"shortcuts: {shortcut} has Main or Side in it; a profile holds real modifiers")
        return self


def why_not(program: Program, macro: Macro) -> str:
    """Why a program can't have a macro, in words; empty where it can. Steps and keys are another matter."""
    rules = program.offers.macros
    if rules is None:
        return f"{program.name} has no macros"
    if macro.kept not in rules.kept_in:
        return f"{program.name} keeps macros {_kept_in(rules.kept_in)}, not {_WHERE[macro.kept]}"
    if macro.replay not in rules.replay:
        return f"{program.name} replays macros {' or '.join(rules.replay)} only"
    return rules.why_not(macro.name)


_WHERE: dict[KeptIn, str] = {"document": "in a document", "person": "with the person", "machine": "with the machine"}


def _kept_in(kept: tuple[KeptIn, ...]) -> str:
    return " or ".join(_WHERE[k] for k in kept)


def where_kept(macro: Macro) -> str:
    """Where a macro is kept, in words."""
    return f"in {macro.document}" if macro.document else _WHERE[macro.kept]


def command_of(program: Program, macro: Macro) -> Command:
    """The command that stands for a macro among those of its program."""
    return Command(
        id=f"{MACRO}{macro.id}"[:80].rstrip("-."), name=macro.name, scope=program.root.id, kind="macro", document=macro.document
    )


def say_step(step: MacroStep, program: Program | None, platform: Platform) -> str:
    """One step in words: Run Split the row, with count 2. Without its program a command is told by its id."""
    if step.types is not None:
        shown = step.types.replace("\n", " ⏎ ")
        return f"Type “{shown}”"
    if step.presses is not None:
        return f"Press {words_of(step.presses.resolve(platform), platform)}"
    named = step.runs or ""
    if program is not None:
        command = program.command(named)
        named = command.name if command is not None else f"{named}, which isn't there"
    given = ", ".join(f"{name} {value}" for name, value in sorted(step.arguments.items()))
    return f"Run {named}{f', with {given}' if given else ''}"


def say_macro(macro: Macro, program: Program | None, platform: Platform) -> str:
    """All of a macro as one text: where it begins, then its steps in turn."""
    begins: Literal["At its fixed place", "At the caret"] = (
        "At its fixed place" if macro.replay == "at a fixed place" else "At the caret"
    )
    return f"{begins}: {'; '.join(say_step(s, program, platform) for s in macro.steps)}."


def faults_of(macro: Macro, program: Program) -> list[str]:
    """What is wrong with its steps: commands that aren't there, arguments that they don't take."""
    found = []
    for n, step in enumerate(macro.steps, 1):
        if step.runs is None:
            continue
        command = program.command(step.runs)
        if command is None or command.retired:
            found.append(f"step {n} runs {step.runs}, which {program.name} doesn't have")
        elif why := command.why_not_with(step.arguments):
            found.append(f"step {n}: {why}")
    return found
