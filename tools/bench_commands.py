"""What it costs to look through many commands: PYTHONPATH=src .venv/bin/python tools/bench_commands.py

20,000 commands of 60 programs. Each search, filter and order in milliseconds, once the sheet is put together; that is told too,
as is the index of all words.
"""

import sys
import time

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

PROGRAMS, COMMANDS = 60, 20_000
SEARCHES = ("save", "delet row", "pritn pag", "löschen", "command of the program", "a", "x" * 400, "ctrl shift k", "zzz qqq")
TRIES = 5


def main() -> int:
    documents = list(make(Size(machines=200, setups=20, programs=PROGRAMS, commands=COMMANDS)))
    programs = [d for d in documents if isinstance(d, Program)]
    derived = derive(next(d for d in documents if isinstance(d, Organisation)), {p.id: p.name for p in programs})
    estate = Estate(
        setups=derived.setups,
        programs={(p.id, p.version): p for p in programs},
        profiles={d.id: d for d in documents if isinstance(d, Profile)},
        tasks=next((d for d in documents if isinstance(d, Tasks)), NO_TASKS),
        census=derived.census,
    )
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
    found.append(Target("counting all choices", 1000 * best(lambda: counts(sheet.rows), TRIES), 100, "ms"))
    return told(found)


if __name__ == "__main__":
    sys.exit(main())
