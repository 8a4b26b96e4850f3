"""How long the settings of a person take, and what a shelf costs to renumber, in milliseconds of one run.

    python tools/bench_profiles.py

Effective settings of four layers with 5,000 entries in all, worked out with nothing at hand; a shelf of 100 whose first
command goes to the end, with every changed key. Beside them a loop of known cost, so that runs on other machines can be held
against it.
"""

import time
from collections.abc import Callable

from amberkey.core.documents.model import read_document
from amberkey.core.formats import FORMATS
from amberkey.core.keys.reading import read_shortcut
from amberkey.core.profiles.effective import effective_program
from amberkey.core.profiles.model import Profile
from amberkey.core.profiles.shelves import Shelf, changing_fewest, renumbered
from amberkey.core.programs.model import Program
from amberkey.core.programs.offers import ShelfPlaces

COMMANDS, LAYERS, ENTRIES, PLACES = 2_000, 4, 5_000, 100
RUNS = 9


def best(measured: Callable[[], object], prepare: Callable[[], None] = lambda: None) -> float:
    """The least of some runs, in milliseconds."""
    found = []
    for _ in range(RUNS):
        prepare()
        begun = time.perf_counter()
        measured()
        found.append((time.perf_counter() - begun) * 1000)
    return min(found)


def program() -> Program:
    """A program with many commands, each with a default."""
    commands = [
        {"id": f"do-{n}", "name": f"Do {n}", "scope": "window", "defaults": {"windows": [f"Control+code:F{n % 12 + 1}"]}}
        for n in range(COMMANDS)
    ]
    value = {
        "format": "amberkey/program@1",
        "id": "office",
        "name": "Office",
        "version": "1",
        "kind": "office",
        "platforms": ["windows"],
        "scopes": [{"id": "window", "name": "Window"}],
        "commands": commands,
    }
    found = read_document(value, FORMATS)
    assert isinstance(found, Program)
    return found


def layers() -> list[Profile]:
    """Profiles with entries for the same program."""
    each = ENTRIES // LAYERS
    found = []
    for layer in range(LAYERS):
        entries = [
            {
                "program": "office",
                "command": f"do-{(n * 7 + layer * 11) % COMMANDS}",
                "platform": "windows",
                "shortcuts": [{"keys": f"Control+Alt+code:F{n % 12 + 1}"}],
            }
            for n in range(each)
        ]
        unique = {str(e["command"]): e for e in entries}
        value = {
            "format": "amberkey/profile@1",
            "id": f"layer-{layer}",
            "name": f"Layer {layer}",
            "entries": list(unique.values()),
        }
        one = read_document(value, FORMATS)
        assert isinstance(one, Profile)
        found.append(one)
    return found


def main() -> None:
    office, profiles = program(), layers()
    entries = sum(len(p.entries) for p in profiles)

    def forget() -> None:
        office.plain.clear()
        for profile in profiles:
            for name in ("_said", "by_program", "sets_by_program", "arranged"):
                profile.__dict__.pop(name, None)
            for entry in profile.entries:
                entry.__dict__.pop("key", None)

    def settings() -> object:
        said = [p.said_of("office", "windows", "us") for p in profiles]
        return effective_program(office, "windows", "", said)

    row = ShelfPlaces.model_validate(
        {"id": "row", "name": "Row", "keys": {"windows": [["F9", "F9", f"F{n % 12 + 1}"] for n in range(PLACES)]}}
    )
    commands = tuple(f"do-{n}" for n in range(PLACES))
    before = Shelf(program="office", shelf="row", commands=commands, begin=read_shortcut("F8"))
    after = before.model_copy(update={"commands": (*commands[1:], commands[0])})

    def told() -> object:
        return renumbered(row, before, after, "windows"), changing_fewest(before.commands, after.commands, "do-0")

    floor = best(lambda: sum(n * n for n in range(200_000)))
    cold = best(settings, forget)
    shelf = best(told)
    print(f"a loop of 200,000 squares            {floor:7.1f} ms")
    print(f"{entries} entries in {LAYERS} layers, cold        {cold:7.1f} ms, {cold / floor:.1f} of the loop")
    print(f"a shelf of {PLACES} renumbered and told     {shelf:7.2f} ms, {shelf / floor:.2f} of the loop")


if __name__ == "__main__":
    main()
