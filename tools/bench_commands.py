"""What it costs to look through many commands: PYTHONPATH=src .venv/bin/python tools/bench_commands.py

20,000 commands of 60 programs. Each search, filter and order in milliseconds, once the sheet and its orders are put together;
that is told too, as is the index of all words. And what a new version of a program of 1,000 commands means in 20 setups, with a
tenth of them called otherwise, a tenth on other keys, some gone and some new: in seconds.
"""

import sys
import time
from collections import Counter

from make_organisation import Size, make
from targets import Target, best, told

from amberkey.core.clashes.estate import Estate
from amberkey.core.inventory.choosing import Asked, chosen, counts
from amberkey.core.inventory.rows import sheet_of
from amberkey.core.organisation.deriving import derive
from amberkey.core.organisation.model import Organisation
from amberkey.core.profiles.model import Profile
from amberkey.core.programs.model import Program
from amberkey.core.tasks.model import NO_TASKS, Tasks
from amberkey.core.upgrading.changes import version_changes
from amberkey.core.upgrading.meaning import accepted, meaning_of

PROGRAMS, COMMANDS = 60, 20_000
SEARCHES = ("save", "delet row", "pritn pag", "löschen", "command of the program", "a", "x" * 400, "ctrl shift k", "zzz qqq")
TRIES = 5


def estate_of(size: Size) -> Estate:
    """The setups of an organisation of that size, with everything that they stand on."""
    documents = list(make(size))
    programs = [d for d in documents if isinstance(d, Program)]
    derived = derive(next(d for d in documents if isinstance(d, Organisation)), {p.id: p.name for p in programs})
    return Estate(
        setups=derived.setups,
        programs={(p.id, p.version): p for p in programs},
        profiles={d.id: d for d in documents if isinstance(d, Profile)},
        tasks=next((d for d in documents if isinstance(d, Tasks)), NO_TASKS),
        census=derived.census,
    )


def upgraded() -> float:
    """Seconds until the meaning of an upgrade is known, where what stands today has been worked out."""
    estate = estate_of(Size(machines=200, setups=20, programs=20, commands=20_000))
    estate.groups()
    used = Counter((u.id, u.version) for s in estate.setups.values() for u in s.programs)
    old = max((p for p in estate.programs.values() if p.kind != "system"), key=lambda p: used[p.id, p.version])
    commands = []
    for n, one in enumerate(old.commands):
        called = one.model_copy(update={"id": f"{one.id}-anew"}) if n % 10 == 1 else one
        defaults = old.commands[n - 1].defaults if n % 10 == 2 else called.defaults
        if n % 20 != 3:
            commands.append(called.model_copy(update={"defaults": defaults}))
    commands += [old.commands[0].model_copy(update={"id": f"new-{n}", "name": f"New {n}", "defaults": {}}) for n in range(50)]
    new = old.model_copy(update={"version": "999", "commands": tuple(commands)})
    begun = time.perf_counter()
    changes = version_changes(old, new)
    meaning = meaning_of(estate, changes, accepted(changes))
    took = time.perf_counter() - begun
    print(
        f"{len(old.commands)} commands, {len(changes.renamed)} renamed, {len(meaning.setups)} setups, {meaning.people} people"
    )
    return took


def main() -> int:
    estate = estate_of(Size(machines=200, setups=20, programs=PROGRAMS, commands=COMMANDS))
    begun = time.perf_counter()
    sheet = sheet_of(estate, estate.setups)
    made = time.perf_counter()
    sheet.sought.find("x")
    print(f"{len(sheet.rows)} rows put together in {made - begun:.1f} s, their words in {time.perf_counter() - made:.2f} s")
    found = [
        Target(f"looking for {words[:30]!r}", 1000 * best(lambda w=words: chosen(sheet, Asked(words=w)), TRIES), 100, "ms")
        for words in SEARCHES
    ]
    for order in ("keys, as they lie", "name", "task", "people", "set by"):
        asked = Asked(order=order)  # type: ignore[arg-type]
        found.append(Target(f"ordered by {order}", 1000 * best(lambda a=asked: chosen(sheet, a), TRIES), 100, "ms"))
    for asked in (Asked(state="clashing"), Asked(state="no key", by_groups=True), Asked(scope="Text", kind="built-in")):
        found.append(
            Target(
                f"rows that are {asked.state or asked.scope}", 1000 * best(lambda a=asked: chosen(sheet, a), TRIES), 100, "ms"
            )
        )
    found.append(Target("an upgrade of 1,000 commands", min(upgraded() for _ in range(2)), 1.0, "s"))
    found.append(Target("counting all choices", 1000 * best(lambda: counts(sheet.rows), TRIES), 100, "ms"))
    return told(found)


if __name__ == "__main__":
    sys.exit(main())
