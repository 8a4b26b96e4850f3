"""What is found of documents as sheets: how far programs follow the standard, and where presses stop."""

from collections.abc import Iterator, Mapping, Sequence

from amberkey.core.clashes.board import Board
from amberkey.core.clashes.estate import Group
from amberkey.core.clashes.wording import KIND_WORDS, say_clash
from amberkey.core.exchange.as_sheets.cells import canonical, in_words
from amberkey.core.keys.platform import PLATFORM_NAMES
from amberkey.core.standard.coverage import Coverage
from amberkey.core.standard.judging import STATE_WORDS

COVERAGE_HEADS = (
    *("Task", "Program", "Platform", "State", "Keys in words", "Keys", "Standard in words", "Standard", "Why"),
    *("Setups", "People", "Task id", "Program id"),
)
CLASH_HEADS = (
    *("Severity", "Kind", "What happens", "Command", "Program", "Keys in words", "Keys", "Taken by", "Setups", "People"),
    *("Allowed", "Command id", "Program id", "Clash id"),
)


def coverage_rows(coverage: Coverage, setups: Sequence[str] | None = None, language: str = "en") -> Iterator[tuple[str, ...]]:
    """One row for each task in each program, and in each state that it is in on some of the setups (all unless given)."""
    called = {t.id: t.name for t in coverage.estate.tasks.tasks}
    counted: dict[tuple[str, ...], list[int]] = {}
    for strip, own in coverage.copies(setups):
        part = strip.column.part
        program, platform = part.effective.program, own[0].works_on
        for task, cell in strip.cells.items():
            ruling = strip.column.rulings.get(task)
            line = [ruling.line.shortcut] if ruling is not None else []
            key: tuple[str, ...] = (
                called.get(task, task),
                program.name,
                PLATFORM_NAMES[platform],
                STATE_WORDS[cell.state],
                in_words(cell.shortcuts, platform, language),
                canonical(cell.shortcuts),
                in_words(line, platform, language) if line else "",
                canonical(line) if line else "",
                cell.why,
                task,
                program.id,
            )
            count = counted.setdefault(key, [0, 0])
            count[0] += len(own)
            count[1] += sum(s.people for s in own)
    for key, (many, people) in sorted(counted.items()):
        *head, task, program_id = key
        yield (*head, str(many), str(people), task, program_id)


def clash_rows(
    groups: Sequence[Group], boards: Mapping[str, Board], allowed: Mapping[str, str], language: str = "en"
) -> Iterator[tuple[str, ...]]:
    """One row for each clash with its copies, in the given order. `boards`: by identity, through which it is told; `allowed`:
    by identity, why somebody allowed it."""
    for group in groups:
        clash, subject = group.clash, group.clash.subject
        board = boards[clash.identity]
        holder = clash.holder if clash.holder is not subject else None
        yield (
            clash.severity,
            KIND_WORDS[clash.kind],
            say_clash(clash, board),
            subject.command.name,
            subject.program.name,
            in_words([subject.shortcut], clash.platform, language),
            canonical([subject.shortcut]),
            f"{holder.command.name} in {holder.program.name}" if holder is not None else "",
            str(len(group.setups)),
            str(group.people),
            allowed.get(clash.identity, ""),
            subject.command.id,
            subject.program.id,
            clash.identity,
        )
