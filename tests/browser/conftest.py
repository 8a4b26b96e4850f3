"""The real server with the example, and Debian's Chromium as a person at it."""

import os
import pathlib
import re
import shutil
import subprocess
import sys
import threading
import urllib.request

import pytest
from playwright.sync_api import expect

from amberkey.core.standard.model import NO_STANDARD
from amberkey.demo.load import PASSWORD, load_people
from amberkey.server.library.verbs.change import create
from amberkey.server.workbench import ahead
from tests import example as small
from tests.kept import put

# Playwright's own event loop runs in this thread; Django's database calls between its steps are plain ones.
os.environ["DJANGO_ALLOW_ASYNC_UNSAFE"] = "true"
# How long a busy machine may take says nothing about the application.
expect.set_options(timeout=30_000)
ROOT = pathlib.Path(__file__).parents[2]
AXE = ROOT / "web/node_modules/axe-core/axe.min.js"


@pytest.fixture(scope="session")
def browser_type_launch_args(browser_type_launch_args):
    return {
        **browser_type_launch_args,
        "executable_path": "/usr/bin/chromium",
        "args": [
            *("--no-sandbox", "--disable-gpu", "--no-first-run", "--disable-background-networking"),
            *("--disable-component-update", "--disable-sync"),
        ],
    }


@pytest.fixture(scope="session")
def browser_context_args(browser_context_args):
    return {**browser_context_args, "viewport": {"width": 1280, "height": 800}, "locale": "en-GB", "reduced_motion": "reduce"}


@pytest.fixture(scope="session")
def homes(tmp_path_factory):
    """The homes of the example's machines, as they are before any agent runs."""
    return tmp_path_factory.mktemp("homes")


@pytest.fixture
def served(transactional_db, settings, live_server):
    """The address of the server on an empty database, which stays until nothing is under way there any more."""
    settings.PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]
    yield live_server.url
    come_to_rest(live_server.url)


@pytest.fixture
def home(served, settings, tmp_path, homes):
    """The example in the database, and one machine's home with its agent enrolled."""
    settings.SIGNING_KEY = "11" * 32

    def load():
        small.load(load_people())
        create(load_people(), NO_STANDARD, "Begun empty")
        small.load_machines(load_people(), homes)

    put("the example", load)
    shutil.copytree(homes, tmp_path, dirs_exist_ok=True)
    place = tmp_path / "counter-3"
    agent(place / "home", "enrol", "--server", served, "--code", (place / "enrol-code").read_text())
    return place / "home"


def come_to_rest(address):
    """Waits for what pages had asked for when they were closed, and for what is worked out ahead: the database is emptied next.

    Looking what the database does would say too little: a request that reckons does nothing there, and asks again afterwards.
    """
    # Connections are taken in the order in which they come: once this one is answered, those before it have their threads.
    urllib.request.urlopen(f"{address}/health", timeout=60).close()
    for thread in threading.enumerate():
        if "process_request_thread" in thread.name:
            thread.join(60)
            assert not thread.is_alive(), "a request is under way that nobody waits for"
    ahead.worker.submit(int).result(60)


def agent(home, *words):
    """One run of the real agent, as its own process."""
    subprocess.run(
        [sys.executable, "-m", "amberkey.agent", *words, "--home", home],
        env={**os.environ, "PYTHONPATH": str(ROOT / "src"), "AMBERKEY_MACHINE_FACTS": str(home.parent / "facts.json")},
        check=True,
        capture_output=True,
    )


FOCUSED = """part => {
  const { activeElement } = document;
  return [part !== null && part === activeElement, part?.isConnected, activeElement.outerHTML.slice(0, 60)];
}"""
"""Whether the focus is on a part, whether that part is still on the page, and how what has the focus begins."""


class Person:
    """Somebody at a browser."""

    def __init__(self, page, address, name):
        self.page = page
        self.address = address
        self.faults = []
        self.listen()
        page.goto(address)
        page.get_by_label("Name").fill(name)
        page.get_by_label("Password").fill(PASSWORD)
        page.get_by_role("button", name="Sign in").click()
        page.get_by_role("heading", name="Where presses stop").wait_for()

    def listen(self):
        """Keeps what goes wrong on the page, and holds file choosers for whoever waits for one."""
        self.page.on("pageerror", lambda error: self.faults.append(str(error)))
        self.page.on("console", lambda m: self.faults.append(m.text) if "Content Security Policy" in m.text else None)
        # Asked for only when a test waits, the browser can take the press before it knows that somebody listens.
        self.page.on("filechooser", lambda chooser: None)

    def go(self, screen):
        self.page.get_by_role("navigation", name="Screens").get_by_role("link", name=screen).click()

    def shortcuts(self):
        """From a profile to the page of its shortcuts."""
        frames = self.page.get_by_role("navigation", name="Where it lands")
        frames.get_by_role("link", name=re.compile(r"^\d+ shortcuts?$")).click()

    def lens(self, part, choice):
        self.page.get_by_role("button", name=f"{part}:").click()
        self.page.get_by_role("menuitem", name=choice).click()

    def clash(self, name):
        """The row of a clash. Only rows in sight are on the page: the list is scrolled until it is one of them."""
        self.page.locator("[data-row], main h2").first.wait_for()
        rows = self.page.get_by_role("list", name="Clashes")
        found = rows.get_by_role("button", name=name)
        if rows.count() == 0:
            return found
        # Where it ends, scrolling further changes nothing. The list may go while it is looked through.
        scroll = """to => {
          const box = document.querySelector('[aria-label="Clashes"]')?.parentElement;
          if (box) box.scrollTop = to;
          return box ? box.scrollTop : -1;
        }"""
        wanted, at = 0, -1
        while found.count() == 0 and at < wanted:
            at, before = self.page.evaluate(scroll, wanted), at
            if at == before:
                break
            wanted = at + 300
            self.page.evaluate("new Promise(requestAnimationFrame)")
        return found

    def seek(self, words, what="clashes"):
        """Looks for clashes or commands by words: then those that are found stand in sight, however many there are."""
        self.page.get_by_role("search", name=f"Choose {what}").get_by_label("Words").fill(words)

    def look(self, name):
        """Paper, ink or contrast: whatever it takes to get there."""
        button = self.page.get_by_role("button", name="another look")
        for _ in range(3):
            if button.inner_text().startswith(name):
                return
            button.click()
        raise AssertionError(f"no look {name}")

    def tab_to(self, target, back=False):
        """Leads the focus to a part of the page by Tab alone."""
        way, part = [], None
        for _ in range(120):
            there, drawn, over = self.page.evaluate(FOCUSED, part)
            if there:
                return
            way.append(over)
            # Looked up again only where it was drawn anew: finding a part by its role costs more than the press.
            if not drawn and target.count():
                part = target.first.element_handle()
                if part.evaluate("e => e === document.activeElement"):
                    return
            self.page.keyboard.press("Shift+Tab" if back else "Tab")
        raise AssertionError("Tab does not lead there, but over\n" + "\n".join(way[:40]))

    def toggle(self, group, name):
        """Presses one button of a group that is one stop for Tab; arrows lead on from there."""
        buttons = self.page.get_by_role("group", name=group)
        wanted = buttons.get_by_role("button", name=name)
        self.tab_to(buttons.locator('[tabindex="0"]'), back=True)
        for _ in range(6):
            if wanted.evaluate("e => e === document.activeElement"):
                break
            self.page.keyboard.press("ArrowRight")
        self.page.keyboard.press("Enter")

    def to_rows(self):
        """Leads the focus to the row of the list of clashes that is in the tab order."""
        self.page.locator("[data-row]").first.wait_for()
        self.tab_to(self.page.locator('[data-row][tabindex="0"]'))

    def axe(self):
        """Violations that axe finds on the page as it is: all rules in its own look, those of colours in the others too."""
        # A strict CSP lets no script tag in; evaluating does not go through it.
        self.page.evaluate(AXE.read_text(encoding="utf-8"))
        found = [f"{v['id']}: {v['nodes'][0]['html'][:160]} {v['nodes'][0]['failureSummary'][:200]}" for v in self._run({})]
        colours = {"runOnly": {"type": "rule", "values": ["color-contrast"]}}
        own = self.page.evaluate("document.documentElement.dataset.theme")
        for look in ("light", "dark", "contrast"):
            if look != own:
                self.page.evaluate("look => { document.documentElement.dataset.theme = look; }", look)
                found += [f"{look}: {v['nodes'][0]['html'][:160]}" for v in self._run(colours)]
        self.page.evaluate("look => { document.documentElement.dataset.theme = look; }", own)
        return found

    def _run(self, options):
        asked = {"resultTypes": ["violations"], "preload": False, **options}
        return self.page.evaluate("options => axe.run(document, options)", asked)["violations"]


@pytest.fixture
def sign_in(home, served, new_context):
    people = []

    def come(name="ines", **context):
        person = Person(new_context(**context).new_page(), served, name)
        people.append(person)
        return person

    yield come
    assert [f for p in people for f in p.faults] == []
