"""Benchmarks of the standard, as ratios within one run.

    PYTHONPATH=src python tools/bench_standard.py

Coverage of the example organisation again after one change, against cold. A standard of 1,000 tasks by 60 programs per cell,
against one of 140 by 14. Comparing two documents of 5,000 entries, against one dict pass over both.
"""

import datetime
import pathlib
import sys
from collections.abc import Callable, Iterator

from targets import Target, best, ratio, told

from amberkey.core.clashes.estate import Estate, Shared
from amberkey.core.compare.operations import JsonDocument, compare
from amberkey.core.documents.model import read_document
from amberkey.core.formats import FORMATS, read_any
from amberkey.core.keys.reading import read_document_shortcut, read_shortcut
from amberkey.core.layouts.keyboard import ways_of
from amberkey.core.layouts.strokes import strokes_of
from amberkey.core.organisation.deriving import derive
from amberkey.core.organisation.model import Organisation
from amberkey.core.profiles.model import Profile
from amberkey.core.programs.model import Program
from amberkey.core.programs.reference import system_tables
from amberkey.core.standard.coverage import Coverage, Gauge
from amberkey.core.standard.model import Line, Standard
from amberkey.core.tasks.model import NO_TASKS, Tasks

EXAMPLE = pathlib.Path(__file__).resolve().parent.parent / "src/amberkey/demo/documents"
TODAY = datetime.date(2026, 11, 25)
ENTRIES = 5_000
COLD = 3


def example(shared: Shared) -> tuple[Estate, Standard]:
    found = [*(read_any(p.read_bytes()) for p in sorted(EXAMPLE.glob("*.json"))), *system_tables()]
    organisation = next(d for d in found if isinstance(d, Organisation))
    derived = derive(organisation)
    programs = {(d.id, d.version): d for d in found if isinstance(d, Program)}
    profiles = {d.id: d for d in found if isinstance(d, Profile)}
    tasks = next((d for d in found if isinstance(d, Tasks)), NO_TASKS)
    standard = next(d for d in found if isinstance(d, Standard))
    # A line for each of the tasks, so that all cells are judged.
    named = {(v.task, v.platform) for v in standard.lines}
    more = [
        Line(task=t.id, platform=p, keys=read_shortcut("Control+Alt+Shift+F9"))
        for t in tasks.tasks
        for p in ("windows", "macos", "linux")
        if (t.id, p) not in named
    ]
    whole = standard.model_copy(update={"lines": (*standard.lines, *more)})
    return Estate(derived.setups, programs, profiles, tasks, TODAY, shared, derived.census), whole


def figures(coverage: Coverage) -> object:
    return coverage.whole(), coverage.by_program(), coverage.by_task(), coverage.states()


def in_turns(run: Callable[[], object], cold: Callable[[], object]) -> tuple[float, float]:
    """The best time of each, in seconds: the speed of a shared machine changes under both alike."""
    pairs = [(best(run, 5), best(cold, 1)) for _ in range(COLD)]
    return min(p[0] for p in pairs), min(p[1] for p in pairs)


def after_one_change() -> Iterator[Target]:
    warm = Shared()
    estate, standard = example(warm)
    gauge = Gauge()
    figures(gauge.measure(estate, standard))
    house = estate.profiles["house"]
    first, *others = house.entries
    states = iter(range(1_000_000))
    held = ("Control+Shift", "Control+Alt", "Alt+Shift", "Control+Alt+Shift")

    def changed() -> object:
        n = next(states)  # another state each time: none of an earlier run is found again
        given = first.shortcuts[0].model_copy(update={"keys": read_shortcut(f"{held[n // 12 % 4]}+F{1 + n % 12}")})
        entry = first.model_copy(update={"shortcuts": (given,)})
        profile = house.model_copy(update={"entries": (entry, *others)})
        return figures(gauge.measure(estate.with_profiles([profile]), standard))

    fresh = [example(Shared())[0] for _ in range(3 * COLD)]

    def cold() -> object:
        # As where the server has just begun: documents are read, and nothing is worked out of them.
        ways_of.cache_clear()
        strokes_of.cache_clear()
        return figures(Gauge().measure(fresh.pop(), standard))

    def another_line() -> object:
        n = next(states)
        line = standard.lines[n % 100].model_copy(update={"keys": read_shortcut(f"Control+Alt+F{1 + n % 12}")})
        lines = tuple(line if v.key == line.key else v for v in standard.lines)
        return figures(gauge.measure(estate, standard.model_copy(update={"lines": lines})))

    one, floor = in_turns(changed, cold)
    yield Target("coverage of the example after one entry changed, of cold", one / floor, 0.1)
    two, floor = in_turns(another_line, cold)
    yield Target("coverage of the example after one line changed, of cold", two / floor, 0.1)


def drawn(tasks: int, programs: int) -> tuple[Estate, Standard]:
    """Programs that all offer all tasks, on one keyboard."""
    # Enough for every task to have one of its own: what clashes is measured elsewhere.
    letters = "ABCDEFGHIJKLMNOPQRSTUVWXYZ0123456789"
    keys: list[list[str]] = [[f"{m}+{a}", b] for m in ("Control", "Control+Shift") for a in letters for b in letters][:tasks]
    docs = []
    for n in range(programs):
        commands = [
            {
                "id": f"c{t}",
                "name": f"C {t}",
                "scope": "window",
                "task": f"t{t}",
                "defaults": {"windows": [keys[(t * 7 + n * 3) % len(keys)]]},
            }
            for t in range(tasks)
        ]
        docs.append(
            read_document(
                {
                    "format": "amberkey/program@1",
                    "id": f"p{n}",
                    "name": f"P {n}",
                    "version": "1",
                    "kind": "office",
                    "limits": {"sequence_length": 2},
                    "platforms": ["windows"],
                    "scopes": [{"id": "window", "name": "Window"}],
                    "commands": commands,
                },
                FORMATS,
            )
        )
    setup = read_document(
        {
            "format": "amberkey/setup@1",
            "id": "here",
            "name": "Here",
            "place": "here",
            "platform": "windows",
            "edition": "any",
            "layout": "de",
            "body": "iso",
            "people": 10,
            "machines": 10,
            "programs": [{"id": f"p{n}", "version": "1"} for n in range(programs)],
            "layers": [],
        },
        FORMATS,
    )
    estate = Estate({"here": setup}, {(d.id, "1"): d for d in docs}, {}, NO_TASKS, TODAY)  # type: ignore[dict-item, attr-defined]
    lines = tuple(Line(task=f"t{t}", platform="windows", keys=read_document_shortcut(keys[t])) for t in range(tasks))
    return estate, Standard(id="standard", name="Standard", lines=lines)


def per_cell() -> Iterator[Target]:
    small, large = drawn(140, 14), drawn(1_000, 60)
    for estate, _ in (small, large):
        estate.clashes("here")  # what clashes is measured elsewhere
    pairs = [(_cell(small, 140 * 14, 5), _cell(large, 1_000 * 60, 1)) for _ in range(4)]
    few, many = min(p[0] for p in pairs), min(p[1] for p in pairs)
    print(f"     (a cell costs {few * 1e6:.1f} and {many * 1e6:.1f} µs)")
    yield Target("1,000 tasks by 60 programs per cell, of 140 by 14", many / few, 1.3)


def _cell(drawing: tuple[Estate, Standard], count: int, tries: int) -> float:
    """What one of so many cells costs, in seconds."""
    estate, standard = drawing
    return best(lambda: figures(Gauge().measure(estate, standard)), tries) / count


def comparing() -> Iterator[Target]:
    def document(shift: int) -> JsonDocument:
        entries = [
            {
                "program": f"p{n % 40}",
                "command": f"command-{n}",
                "platform": "windows",
                "shortcuts": [{"keys": f"Control+F{1 + (n + (shift if n % 10 == 0 else 0)) % 12}"}],
            }
            for n in range(ENTRIES)
        ]
        return {"format": "amberkey/profile@1", "id": "p", "name": "P", "entries": entries}  # type: ignore[dict-item]

    one, other = document(0), document(1)

    def one_pass() -> int:
        count = 0
        for value in (one, other):
            found = {}
            for entry in value["entries"]:  # type: ignore[union-attr]
                found[f"{entry['program']}/{entry['command']} on {entry['platform']}"] = entry  # type: ignore[index, call-overload]
            count += len(found)
        return count

    def both() -> list[object]:
        return list(compare(one, other))

    assert len(both()) == ENTRIES // 10
    took, floor = ratio(both, one_pass, 9)
    yield Target("comparing two documents of 5,000 entries, of a dict pass over both", took / floor, 5)


def measured() -> Iterator[Target]:
    yield from after_one_change()
    yield from per_cell()
    yield from comparing()


if __name__ == "__main__":
    sys.exit(told(measured()))
