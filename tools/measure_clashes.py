"""Measures in the browser what a person waits for among clashes, and holds it against its targets.

    PYTHONPATH=src .venv/bin/python tools/measure_clashes.py http://127.0.0.1:8471      (a fresh `./amberkey demo --port 8471`)

Unfolding: from the press on a row until its ways out are drawn, with nothing asked for ahead. Deciding: from the press on
Decide until the rows of all setups in use are laid out anew; it is undone each time. Scrolling: 2,000 groups go by, made of
the demo's own by giving their copies other identities, in the page's answer alone.
"""

import json
import statistics
import sys
from collections.abc import Iterator
from pathlib import Path

from playwright.sync_api import Page, Route, sync_playwright
from targets import Target, told

from amberkey.demo.load import PASSWORD

ARGUMENTS = ["--no-sandbox", "--disable-gpu", "--no-first-run", "--disable-background-networking", "--disable-sync"]
UNFOLDED, DECIDED, CELLS, TASK = 150, 300, 600, 100
ROWS, DECISIONS, GROUPS = 20, 10, 2_000
# Nobody presses on before having read, in ms.
READING = 800
# Waits for a change of the page rather than looking at it at every frame: on a machine without a graphics card drawing frames
# takes the time that is to be measured. A click from a script points at nothing: nothing is asked for ahead.
UNTIL = """const until = (is) => new Promise((done) => {
    const watch = new MutationObserver(() => {
      if (!is()) return;
      watch.disconnect();
      document.body.getBoundingClientRect();
      const laidOut = performance.now();
      requestAnimationFrame(() => done([laidOut, performance.now()]));
    });
    watch.observe(document.body, { childList: true, subtree: true, characterData: true });
  });"""
UNFOLD = f"""async (row) => {{
  {UNTIL}
  const begun = performance.now();
  row.click();
  return (await until(() => document.querySelector('[aria-label="Ways out"] input'))).map((at) => at - begun);
}}"""
DECIDE = f"""async () => {{
  {UNTIL}
  const drawn = () => document.querySelector('[role="status"]').textContent;
  const before = drawn();
  const begun = performance.now();
  document.querySelector('form button[type=submit]').click();
  return (await until(() => drawn() !== before)).map((at) => at - begun);
}}"""
SCROLL = """async () => {
  const list = document.querySelector('[aria-label="Clashes"]');
  const box = list.parentElement;
  let cells = 0, longest = 0;
  const watch = new PerformanceObserver((seen) => {
    for (const task of seen.getEntries()) longest = Math.max(longest, task.duration);
  });
  watch.observe({ type: 'longtask' });
  const step = Math.max(120, box.scrollHeight / 500);
  for (let at = 0; at < box.scrollHeight; at += step) {
    box.scrollTop = at;
    await new Promise(requestAnimationFrame);
    cells = Math.max(cells, list.querySelectorAll('[data-row] > *, [data-choose]').length);
  }
  await new Promise((r) => setTimeout(r, 300));
  watch.disconnect();
  return { cells, longest, height: box.scrollHeight };
}"""


def sign_in(page: Page, address: str) -> None:
    page.goto(address)
    page.get_by_label("Name").fill("ines")
    page.get_by_label("Password").fill(PASSWORD)
    page.get_by_role("button", name="Sign in").click()
    page.locator("[data-row]").first.wait_for()


def unfoldings(page: Page, address: str) -> list[list[float]]:
    """Another row each time, so that none has its answer yet; the pointer stays away, so that none is asked for ahead."""
    times = []
    page.goto(f"{address}/clashes")
    page.locator("[data-row]").first.wait_for()
    page.mouse.move(2, 2)
    for n in range(ROWS):
        row = page.locator(f'[data-index="{n}"] [data-row]')
        times.append(page.evaluate(UNFOLD, row.element_handle()))
        page.wait_for_timeout(READING)
        row.evaluate("row => row.click()")
        page.wait_for_timeout(READING)
    return times


def decisions(page: Page, address: str) -> list[list[float]]:
    times = []
    page.goto(f"{address}/clashes?seen=all")
    for n in range(DECISIONS):
        row = page.locator("[data-row]").nth(n)
        row.click()
        # By the way that is proposed first, and by the second one in turn.
        page.get_by_role("group", name="Ways out").get_by_role("radio").nth(n % 2).check()
        page.get_by_role("button", name="Decide", exact=True).wait_for()
        page.wait_for_timeout(READING)
        times.append(page.evaluate(DECIDE))
        page.wait_for_timeout(READING)
        page.get_by_role("button", name="Undo", exact=True).click()
        page.get_by_text("Undid:").wait_for()
        page.wait_for_timeout(READING)
    return times


def laid_out(name: str, times: list[list[float]], at_most: float) -> Target:
    """Until the page is laid out. The frame after that is told beside it: without a graphics card a machine takes its time."""
    laid, frame = zip(*times, strict=True)
    print(f"     (the slowest {max(laid):.0f} ms; the next frame begins at {statistics.median(frame):.0f} ms, median)")
    return Target(name, statistics.median(laid), at_most, "ms")


def many(route: Route) -> None:
    """The demo's answer with its groups again and again, until there are enough."""
    answer = route.fetch()
    body = answer.json()
    groups = body["packed"]["groups"]
    length = len(groups["identity"])
    again = [n % length for n in range(GROUPS)]
    for name, column in groups.items():
        if name in ("new", "may_be_meant"):
            groups[name] = [n for n, place in enumerate(again) if place in column]
        elif isinstance(column, dict):
            groups[name] = {str(n): column[str(place)] for n, place in enumerate(again) if str(place) in column}
        else:
            groups[name] = [column[place] for place in again]
    groups["identity"] = [f"{n:04d}{identity[4:]}" for n, identity in enumerate(groups["identity"])]
    route.fulfill(status=200, content_type="application/json", body=json.dumps(body))


def measured(address: str) -> Iterator[Target]:
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=ARGUMENTS)
        page = browser.new_page(viewport={"width": 1280, "height": 800}, reduced_motion="reduce")
        sign_in(page, address)
        yield laid_out("unfolding a group with its ways out, median", unfoldings(page, address), UNFOLDED)
        yield laid_out("deciding, and all setups computed and told anew, median", decisions(page, address), DECIDED)
        page.route("**/api/clashes?*", many)
        page.goto(f"{address}/clashes?seen=all&f.severity=blocker,high,medium,low")
        page.locator("[data-row]").first.wait_for()
        seen = [page.evaluate(SCROLL) for _ in range(3)]
        yield Target(f"cells mounted at once while {GROUPS:,} groups go by", max(s["cells"] for s in seen), CELLS, "")
        yield Target("the longest task meanwhile, best of three", min(s["longest"] for s in seen), TASK, "ms")
        browser.close()


def taken_away() -> tuple[int, int]:
    """How long other tenants of this machine have had its processors since it began, and all time, in ticks (proc_stat(5))."""
    ticks = [int(t) for t in Path("/proc/stat").read_text().splitlines()[0].split()[1:9]]
    return ticks[7], sum(ticks)


if __name__ == "__main__":
    before = taken_away()
    code = told(measured(sys.argv[1]))
    stolen, every = (now - then for now, then in zip(taken_away(), before, strict=True))
    print(f"Of the processors' time {100 * stolen / max(1, every):.0f} % went to other tenants of this machine meanwhile.")
    sys.exit(code)
