"""Measures in one run what a person waits for, on a fresh clone of this checkout, and prints it.

    .venv/bin/python tools/measure.py        (after ./amberkey test once; about three minutes)

Cold start: `./amberkey demo` with nothing installed but Debian's packages. Second start: until the first page answers.
First screen: from opening the address, signed in, until the clashes can be used. Lens: from the choice until other
clashes are drawn. The last two are medians of nine.
"""

import pathlib
import re
import shutil
import statistics
import subprocess
import sys
import tempfile
import time
import urllib.request

from playwright.sync_api import Page, sync_playwright

from amberkey.demo.load import PASSWORD
from amberkey.launcher.state import free_port

ROOT = pathlib.Path(__file__).resolve().parent.parent
TRIES = 9
ARGUMENTS = ["--no-sandbox", "--disable-gpu", "--no-first-run", "--disable-background-networking", "--disable-sync"]
SEEK = """(() => {
  const seek = () => document.querySelector('[data-row]') ? (window.usableAt = performance.now()) : requestAnimationFrame(seek);
  requestAnimationFrame(seek);
})()"""
# Runs in the page: the time from a click to the frame that shows what it brought.
LENS = """async ([choice, awaited]) => {
  const open = document.querySelector('[aria-label^="Setup:"]');
  open.click();
  await new Promise(requestAnimationFrame);
  const item = [...document.querySelectorAll('[role=menuitem]')].find(i => i.textContent.startsWith(choice));
  const begun = performance.now();
  item.click();
  while (![...document.querySelectorAll('[data-row]')].some(r => r.textContent.includes(awaited)))
    await new Promise(requestAnimationFrame);
  return performance.now() - begun;
}"""


class Demo:
    """A demo of a clone, from its start to its end."""

    def __init__(self, clone: pathlib.Path) -> None:
        self.clone = clone
        self.port = free_port()
        self.begun = time.monotonic()
        command = [clone / "amberkey", "demo", "--port", str(self.port)]
        self.process = subprocess.Popen(command, cwd=clone, stdout=subprocess.PIPE, stderr=subprocess.STDOUT, text=True)
        self.address = f"http://127.0.0.1:{self.port}"
        self.machines = ""

    def ready(self) -> float:
        """Seconds from the start until the first page answers."""
        assert self.process.stdout is not None
        first = 0.0
        for line in self.process.stdout:
            if line.startswith("Ready"):
                with urllib.request.urlopen(self.address) as page:
                    page.read()
                first = time.monotonic() - self.begun
            if found := re.search(r"homes in (\S+)", line):
                self.machines = found[1]
            if line.startswith("Ctrl+C"):
                return first
        raise SystemExit("The demo did not start.")

    def stop(self) -> float:
        begun = time.monotonic()
        self.process.terminate()
        self.process.wait(60)
        return time.monotonic() - begun


def first_screen(page: Page, address: str) -> float:
    """Seconds from the navigation until the first row stands, by the page's own clock."""
    page.goto(address, wait_until="commit")
    page.locator("[data-row]").first.wait_for()
    return float(page.evaluate("window.usableAt")) / 1000


def look(address: str) -> tuple[float, float]:
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=ARGUMENTS)
        page = browser.new_page(viewport={"width": 1280, "height": 800}, reduced_motion="reduce")
        page.add_init_script(SEEK)
        page.goto(address)
        page.get_by_label("Name").fill("ines")
        page.get_by_label("Password").fill(PASSWORD)
        page.get_by_role("button", name="Sign in").click()
        page.locator("[data-row]").first.wait_for()
        screens = [first_screen(page, address) for _ in range(TRIES)]
        lenses = []
        for _ in range(TRIES):
            # Each choice is measured on a page that has not seen its answer yet.
            first_screen(page, address)
            lenses.append(page.evaluate(LENS, ["macOS, German keyboard", "Insert the date"]))
        browser.close()
    return statistics.median(screens), statistics.median(lenses)


def main() -> None:
    folder = pathlib.Path(tempfile.mkdtemp(prefix="amberkey-measure-"))
    clone = folder / "amberkey"
    subprocess.run(["git", "clone", "-q", str(ROOT), str(clone)], check=True)
    state = None
    try:
        demo = Demo(clone)
        print(f"cold start                 {demo.ready():8.1f} s   (under 300)")
        state = pathlib.Path(demo.machines).parent
        print(f"stop                       {demo.stop():8.1f} s")
        demo = Demo(clone)
        print(f"second start, first page   {demo.ready():8.1f} s   (under 8)")
        try:
            screen, lens = look(demo.address)
        finally:
            demo.stop()
        print(f"first screen usable        {screen:8.2f} s   (under 1)")
        print(f"lens to new clashes        {lens:8.0f} ms  (under 200)")
    finally:
        shutil.rmtree(folder)
        if state is not None:
            shutil.rmtree(state, ignore_errors=True)


if __name__ == "__main__":
    sys.exit(main())
