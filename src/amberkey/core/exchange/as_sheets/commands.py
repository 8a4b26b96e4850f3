"""A program's commands as a sheet: as they are, and so that the same sheet read as a list of commands changes nothing."""

from collections.abc import Iterator

from amberkey.core.exchange.as_sheets.cells import OR, in_words
from amberkey.core.keys.platform import PLATFORM_NAMES, PLATFORMS, Platform
from amberkey.core.programs.model import Command, Program
from amberkey.core.tasks.model import Tasks


def command_heads(program: Program) -> tuple[str, ...]:
    """The headings; keys of each platform that the program is on twice, as documents write them and in words."""
    keys = [PLATFORM_NAMES[p] for p in _on(program)]
    words = [f"How people read that on {PLATFORM_NAMES[p]} keyboards" for p in _on(program)]
    return ("Command", "Group", "Scope", *keys, *words, "Task", "Kind", "Risky", "Description", "Command id")


def command_rows(program: Program, tasks: Tasks, language: str = "en") -> Iterator[tuple[str, ...]]:
    """One row for each command that is there, with the keys that its maker ships."""
    called = {t.id: t.name for t in tasks.tasks}
    for command in program.commands:
        if not command.retired:
            yield (
                command.name,
                command.group,
                command.scope,
                *(_keys(command, p) for p in _on(program)),
                *(in_words(command.defaults_on(p), p, language) if command.defaults.get(p) else "" for p in _on(program)),
                called.get(command.task or "", command.task or ""),
                command.kind,
                "yes" if command.risky else "no",
                command.description,
                command.id,
            )


def _on(program: Program) -> tuple[Platform, ...]:
    return tuple(p for p in PLATFORMS if p in program.platforms)


def _keys(command: Command, platform: Platform) -> str:
    return OR.join(str(s) for s in command.defaults_on(platform))
