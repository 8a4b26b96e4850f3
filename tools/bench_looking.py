"""What looking costs on screen: PYTHONPATH=src .venv/bin/python tools/bench_looking.py

10,000 machines, 200 setups, 60 programs with 20,000 commands: from a letter typed into the look-up, or a choice in the sheet of
commands, until the page has drawn what it brings; and how long the server takes for Today. Milliseconds, medians of nine; the
first of each, in which things are put together, is told apart.
"""

import pathlib
import statistics
import sys
import tempfile
import time

from large_server import running
from make_organisation import Size
from playwright.sync_api import Page
from targets import Target, told

TRIES = 9
# From now until an answer of the server is drawn: two frames after the last one that was asked for has come.
DRAWN = """url => new Promise(done => {
  const begun = performance.now();
  const look = () => {
    const all = performance.getEntriesByType('resource');
    const own = all.filter(r => r.name.includes(url) && r.startTime >= begun && r.responseEnd);
    if (own.length === 0) return setTimeout(look, 4);
    const last = own.at(-1);
    requestAnimationFrame(() => requestAnimationFrame(() => done([last.duration, performance.now() - last.startTime])));
  };
  look();
})"""


def looked_up(page: Page) -> list[tuple[float, float]]:
    """By letter, the milliseconds until the server has answered, and until that is drawn."""
    field = page.get_by_role("combobox", name="Look up")
    found = []
    for n in range(TRIES + 1):
        field.fill("")
        # Each time another question: an answer that is there already is not asked for again.
        field.type(("quote the fare", "save a copy", "filter rows", "close window", "print page")[n % 5])
        page.wait_for_timeout(400)
        page.evaluate("performance.clearResourceTimings()")
        page.evaluate(f"void (window.drawn = ({DRAWN})('/api/lookup'))")
        field.type("abcdefghij"[n])
        found.append(tuple(page.evaluate("window.drawn")))
    return found


def chosen(page: Page) -> list[tuple[float, float]]:
    """The same for words in the sheet of commands."""
    page.goto(page.url.split("/organisation")[0] + "/programs?seen=all")
    field = page.get_by_role("search", name="Choose commands").get_by_label("Words")
    page.get_by_role("list", name="Commands").wait_for()
    found = []
    for n in range(TRIES + 1):
        page.evaluate("performance.clearResourceTimings()")
        page.evaluate(f"void (window.drawn = ({DRAWN})('/api/commands?'))")
        field.fill(("quote", "save", "filter", "close", "print")[n % 5] + f" {n}")
        found.append(tuple(page.evaluate("window.drawn")))
    return found


# One choice in the sheet after another, as the address has them: another one each time.
CHOICES = (
    "state=clashing",
    "order=name",
    "state=no+key&order=task",
    "order=people",
    "keys=Control%2BS",
    "kind=built-in&order=keys,+as+they+lie",
    "state=several+keys&order=set+by",
    "folded=true",
    "order=task&state=own+key",
    "keys=Alt&order=people",
)


def narrowed(page: Page) -> list[tuple[float, float]]:
    """The same for choices of states, keys and kinds, and for orders."""
    found = []
    for choice in CHOICES:
        page.evaluate("performance.clearResourceTimings()")
        page.evaluate(f"void (window.drawn = ({DRAWN})('/api/commands?'))")
        page.evaluate(
            "to => { history.pushState(null, '', to); dispatchEvent(new PopStateEvent('popstate')); }",
            f"/programs?seen=all&{choice}",
        )
        found.append(tuple(page.evaluate("window.drawn")))
    return found


def today(page: Page) -> list[float]:
    """Milliseconds of the server for Today."""
    found = []
    for _ in range(TRIES + 1):
        begun = time.perf_counter()
        assert page.request.get(page.url.split("/", 3)[0] + "//" + page.url.split("/")[2] + "/api/today").ok
        found.append(1000 * (time.perf_counter() - begun))
    return found


def main() -> int:
    size = Size()
    with tempfile.TemporaryDirectory() as folder, running(size, pathlib.Path(folder)) as page:
        first_today, *todays = today(page)
        first, *letters = looked_up(page)
        first_sheet, *sheets = chosen(page)
        choices = narrowed(page)
    print(f"at first: look-up {first[1]:.0f} ms, sheet {first_sheet[1]:.0f} ms, Today {first_today:.0f} ms")
    return told(
        [
            Target("a letter in the look-up, answered", statistics.median(v[0] for v in letters), 80, "ms"),
            Target("a letter in the look-up, drawn", statistics.median(v[1] for v in letters), 200, "ms"),
            Target("words in the sheet of commands, answered", statistics.median(v[0] for v in sheets), 100, "ms"),
            Target("words in the sheet of commands, drawn", statistics.median(v[1] for v in sheets), 200, "ms"),
            Target("a filter or an order of the sheet, answered", max(v[0] for v in choices), 100, "ms, the slowest"),
            Target("a filter or an order of the sheet, drawn", max(v[1] for v in choices), 200, "ms, the slowest"),
            Target("Today for 10,000 machines", statistics.median(todays), 400, "ms"),
        ]
    )


if __name__ == "__main__":
    sys.exit(main())
