"""Measures in the browser what a person waits for on the standard, and holds it against its targets.

    PYTHONPATH=src .venv/bin/python tools/measure_standard.py http://127.0.0.1:8471      (a fresh `./amberkey demo --port 8471`)

Scrolling: 1,000 tasks by 60 programs go by, made of the demo's own by giving their copies other ids, in the page's answer
alone.
"""

import itertools
import json
import sys
from collections.abc import Iterator

from measure_clashes import ARGUMENTS, CELLS, TASK, sign_in
from playwright.sync_api import Route, sync_playwright
from targets import Target, told

TASKS, PROGRAMS = 1_000, 60
SCROLL = """async () => {
  const grid = document.querySelector('[role="grid"]');
  const box = grid.parentElement;
  let cells = 0, longest = 0;
  const watch = new PerformanceObserver((seen) => {
    for (const task of seen.getEntries()) longest = Math.max(longest, task.duration);
  });
  watch.observe({ type: 'longtask' });
  const across = box.scrollWidth - box.clientWidth;
  const step = Math.max(90, box.scrollHeight / 400);
  for (let at = 0; at < box.scrollHeight; at += step) {
    box.scrollTop = at;
    box.scrollLeft = across * Math.abs(Math.sin(at / 3000));
    await new Promise(requestAnimationFrame);
    cells = Math.max(cells, grid.querySelectorAll('[role="gridcell"], [role="rowheader"], [role="columnheader"]').length);
  }
  await new Promise((r) => setTimeout(r, 300));
  watch.disconnect();
  return { cells, longest };
}"""


def many(route: Route) -> None:
    """The demo's answer with its tasks and programs again and again, until there are enough."""
    answer = route.fetch()
    body = answer.json()
    programs, tasks = body["programs"], body["tasks"]
    copies = -(-PROGRAMS // len(programs))
    body["programs"] = [{**p, "id": f"{p['id']}-{n}"} for n in range(copies) for p in programs][:PROGRAMS]
    shown = {p["id"] for p in body["programs"]}
    wide = [
        {
            **t,
            "cells": [
                {**c, "program": f"{c['program']}-{n}"}
                for n in range(copies)
                for c in t["cells"]
                if f"{c['program']}-{n}" in shown
            ],
        }
        for t in tasks
    ]
    found = itertools.islice(itertools.cycle(wide), TASKS)
    body["tasks"] = [{**t, "id": f"{t['id']}-{n}"} for n, t in enumerate(found)]
    route.fulfill(status=200, content_type="application/json", body=json.dumps(body))


def measured(address: str) -> Iterator[Target]:
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=ARGUMENTS)
        page = browser.new_page(viewport={"width": 1280, "height": 800}, reduced_motion="reduce")
        sign_in(page, address)
        page.route("**/api/standard?*", many)
        page.goto(f"{address}/standard?seen=all")
        page.locator('[role="gridcell"]').first.wait_for()
        seen = [page.evaluate(SCROLL) for _ in range(3)]
        large = f"{TASKS:,} tasks by {PROGRAMS} programs"
        yield Target(f"cells mounted at once while {large} go by", max(s["cells"] for s in seen), CELLS, "")
        yield Target("the longest task meanwhile, best of three", min(s["longest"] for s in seen), TASK, "ms")
        browser.close()


if __name__ == "__main__":
    sys.exit(told(measured(sys.argv[1])))
