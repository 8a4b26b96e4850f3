"""Benchmarks of a large organisation, as ratios within one run.

    PYTHONPATH=src .venv/bin/python tools/bench_organisation.py [--quick] [--no-screen]

The core's part: answers for 10,000 machines against those for 200 with the same 200 setups, and recomputing after one personal
entry against a cold run. The screen's part starts a server, a worker and a browser on a database of its own: scrolling
through 10,000 machines, and bringing in a list of 5,000 rows. Exits with 1 where a target is missed.
"""

import argparse
import pathlib
import sys
import tempfile
import time
from collections.abc import Iterator
from dataclasses import replace

ROOT = pathlib.Path(__file__).resolve().parent.parent
sys.path.insert(0, str(ROOT / "src"))

from make_organisation import Size, make
from targets import Target, best, told

from amberkey.core.clashes.estate import Estate
from amberkey.core.documents.model import Document, read_document
from amberkey.core.formats import FORMATS, read_any
from amberkey.core.keys.reading import read_shortcut
from amberkey.core.organisation.deriving import derive
from amberkey.core.organisation.model import Organisation
from amberkey.core.profiles.model import Entry, Given, Profile
from amberkey.core.programs.model import Program

SMALL, LARGE = Size(machines=200), Size(machines=10_000)
CELLS, TASK_MS, ROWS = 600, 100, 5_000
# Counts what is mounted at every frame, and takes down every long task, while the table is scrolled from end to end.
SCROLL = """async () => {
  const grid = document.querySelector('[role=grid]').parentElement;
  let cells = 0, longest = 0, blank = 0;
  const watch = new PerformanceObserver(l => l.getEntries().forEach(e => { longest = Math.max(longest, e.duration); }));
  watch.observe({ type: 'longtask' });
  const frame = () => new Promise(requestAnimationFrame);
  const step = Math.max(200, grid.scrollHeight / 400);
  for (let at = 0; at < grid.scrollHeight; at += step) {
    grid.scrollTop = at;
    await frame();
    cells = Math.max(cells, document.querySelectorAll('[role=gridcell],[role=columnheader]').length);
  }
  const empty = () => [...document.querySelectorAll('[role=gridcell]')].filter(c => c.textContent === '…').length;
  for (let n = 0; n < 120 && empty(); n++) await frame();
  blank = empty();
  watch.disconnect();
  return { cells, longest, blank };
}"""


def answers(documents: list[Document], organisation: bytes) -> Estate:
    """Everything from the organisation's bytes to its groups of clashes."""
    read = read_any(organisation)
    assert isinstance(read, Organisation)
    derived = derive(read)
    estate = Estate(
        derived.setups,
        {(d.id, d.version): d for d in documents if isinstance(d, Program)},
        {d.id: d for d in documents if isinstance(d, Profile)},
        census=derived.census,
    )
    estate.groups()
    return estate


def core_targets(tries: int) -> Iterator[Target]:
    # Both have the same programs and profiles; only people and machines differ.
    documents = make(SMALL)
    sizes = {size: organisation_of(make(size)) for size in (SMALL, LARGE)}
    times = {size: [] for size in sizes}
    for _ in range(tries):
        for size, organisation in sizes.items():
            fresh = [read_document(d.to_json(), FORMATS) for d in documents]
            times[size].append(best(lambda fresh=fresh, organisation=organisation: answers(fresh, organisation), 1))
    few, many = min(times[SMALL]), min(times[LARGE])
    yield Target("answers for 10,000 machines against 200, with the same 200 setups", many / few, 1.3)
    yield Target("recomputing after one personal entry, against a cold run", personal(documents, sizes[SMALL]) / few, 1 / 20)


def organisation_of(documents: list[Document]) -> bytes:
    return next(d for d in documents if isinstance(d, Organisation)).to_bytes()


def personal(documents: list[Document], organisation: bytes) -> float:
    """Seconds from a new revision of one person's profile to all groups of clashes."""
    estate = answers(documents, organisation)
    setup_id, setup = next(iter(estate.setups.items()))
    setups = {**estate.setups, setup_id: setup.model_copy(update={"layers": (*setup.layers, "own")})}
    before = replace(estate, setups=setups)
    before.groups()
    program = estate.programs[setup.programs[3].id, "1.0"]
    times = []
    for n in range(5):
        own = estate.profiles["own"]
        entry = Entry(
            program=program.id,
            command=program.commands[5].id,
            platform=setup.platform,
            shortcuts=(Given(keys=read_shortcut(f"F{n + 2}").resolve(setup.platform)),),
        )
        others = tuple(e for e in own.entries if e.key != entry.key)
        saved = own.model_copy(update={"entries": (*others, entry)}).to_bytes()

        def run(saved: bytes = saved) -> None:
            changed = read_any(saved)
            assert isinstance(changed, Profile)
            after = replace(before, profiles={**before.profiles, "own": changed})
            after.groups()

        times.append(best(run, 1))
    return min(times)


def screen_targets() -> Iterator[Target]:
    from large_server import running

    with tempfile.TemporaryDirectory(prefix="amberkey-bench-") as folder, running(LARGE, pathlib.Path(folder)) as page:
        page.get_by_role("link", name="Organisation").click()
        page.get_by_role("navigation", name="Parts of the organisation").get_by_role("link", name="Machines").click()
        page.get_by_role("status").filter(has_text="10,000 machines").wait_for()
        page.get_by_role("button", name="hide the keyboard").click()
        # Once from end to end, then as often as it takes to see the machine at its own speed.
        seen = [page.evaluate(SCROLL) for _ in range(5)]
        print(f"     longest tasks of five times from end to end: {[round(s['longest']) for s in seen]} ms")
        yield Target("cells mounted at once while 10,000 machines go by", max(s["cells"] for s in seen), CELLS, "")
        yield Target("the longest task while they go by", min(s["longest"] for s in seen), TASK_MS, "ms")
        yield Target("rows still empty once it stands", max(s["blank"] for s in seen), 0, "")
        yield from list_targets(page, pathlib.Path(folder))


def list_targets(page: object, folder: pathlib.Path) -> Iterator[Target]:
    from playwright.sync_api import Page

    assert isinstance(page, Page)
    sheet = folder / "people.csv"
    lines = "".join(f"Newcomer {n},Department {n % 8},Role {n % 2},machine-{n}\n" for n in range(ROWS))
    sheet.write_text("Name,Department,Roles,Machines\n" + lines, encoding="utf-8")
    page.get_by_role("navigation", name="Parts of the organisation").get_by_role("link", name="People").click()
    page.get_by_role("button", name="Lists in and out").click()
    page.locator("input[type=file]").set_input_files(sheet)
    lists = page.get_by_role("region", name="Lists in and out")
    begun = time.perf_counter()
    lists.get_by_role("button", name="Check it").click()
    status = lists.get_by_role("status").filter(has_text="Checking")
    status.wait_for()
    answered = time.perf_counter() - begun
    seen = set()
    take = lists.get_by_role("button", name=f"Take {ROWS}")
    while not take.is_visible():
        if time.perf_counter() - begun > 120:
            raise SystemExit(f"The list was not checked: {lists.inner_text()}")
        seen.update(text.split("\n")[0] for text in status.all_inner_texts())
    checked = time.perf_counter() - begun
    take.click()
    page.get_by_text("Taken. One undo").wait_for(timeout=120_000)
    print(
        f"     {ROWS} rows checked after {checked:.1f} s, taken after {time.perf_counter() - begun:.1f} s; told: {sorted(seen)}"
    )
    yield Target("how soon the check answers, as a share of its whole time", answered / checked, 0.5)
    yield Target("one, by the notes of progress that were seen", 1 / max(1, len(seen)), 1 / 2)


def main() -> int:
    parser = argparse.ArgumentParser()
    parser.add_argument("--quick", action="store_true", help="fewer runs, for a first look")
    parser.add_argument("--no-screen", action="store_true", help="the core's part only")
    given = parser.parse_args()

    def found() -> Iterator[Target]:
        yield from core_targets(1 if given.quick else 3)
        if not given.no_screen:
            yield from screen_targets()

    return told(found())


if __name__ == "__main__":
    sys.exit(main())
