"""Takes the pictures in docs/screenshots from a running demo: `python tools/screenshots.py http://127.0.0.1:8470`.

Run it on a demo that was just set up, so that the pictures show the example as it comes.
"""

import pathlib
import re
import sys

from playwright.sync_api import Page, sync_playwright

from amberkey.demo.load import PASSWORD

TARGET = pathlib.Path(__file__).resolve().parent.parent / "docs/screenshots"
ARGUMENTS = ["--no-sandbox", "--disable-gpu", "--no-first-run", "--disable-background-networking", "--disable-sync"]


def sign_in(page: Page, address: str) -> None:
    page.goto(address)
    page.get_by_label("Name").fill("ines")
    page.get_by_label("Password").fill(PASSWORD)
    page.get_by_role("button", name="Sign in").click()
    page.get_by_role("list", name="Clashes").wait_for()


def shoot(page: Page, name: str) -> None:
    page.wait_for_load_state("networkidle")
    page.screenshot(path=TARGET / f"{name}.png", animations="disabled")
    print(f"{name}.png")


LIST = """Area\tAction\tWindows\tMac\tNotes
Berths\tNew berth\tCtrl+N\t⌘N\tAn empty one at the end of the quay
\tSave the plan\tCtrl+S or F12\t⌘S\t
\tFind a berth\tCtrl+F / F3\t⌘F\t
\tNext berth\tCtrl+K, N\t⌃N\tAlong the quay
\tBerth before\tCtrl+K, P\t⌃P\t
Pilots\tCall the pilot\tas ever\t⌥⌘P\t
\tAnswer\tCrtl+R\t⌘R\tThe last call
\tSound the horn\tCtrl+click\t—\tOnly in port
"""


def choose(page: Page, part: str, choice: str) -> None:
    page.get_by_role("button", name=f"{part}:").click()
    page.get_by_role("menuitem", name=choice).click()


def walk(page: Page) -> None:
    page.get_by_role("link", name="Today").click()
    page.get_by_role("heading", name="Today", exact=True).wait_for()
    shoot(page, "today")
    page.get_by_role("link", name="Cards").click()
    choose(page, "For whom", "Counter clerk")
    choose(page, "Language", "German")
    page.get_by_role("article", name="The card").get_by_text("Wenn etwas klemmt").wait_for()
    shoot(page, "cards")
    page.get_by_role("link", name="Clashes").click()
    page.get_by_role("list", name="Clashes").wait_for()
    shoot(page, "clashes")
    choose(page, "Focus", "Quaysheet, Sheet")
    page.get_by_label("Words").fill("quote the fare")
    page.get_by_role("list", name="Clashes").get_by_role("button", name="Quote the fare").click()
    page.get_by_role("group", name="Ways out").wait_for()
    page.get_by_role("button", name="E, Quaysheet, Sheet: Quote the fare").wait_for()
    shoot(page, "clash-open")
    page.get_by_role("link", name="Try the press").click()
    page.get_by_role("button", name="Another place beside it").click()
    place = page.get_by_role("region", name="Place 2")
    place.get_by_role("combobox", name="Seen by").click()
    page.get_by_role("option", name="Windows, US keyboard").first.click()
    page.get_by_role("button", name="What if").click()
    page.get_by_role("combobox", name="What if this command").fill("Quote the fare")
    page.get_by_role("option", name=re.compile(r"^Quote the fare \(Strg Alt E")).click()
    page.get_by_label("had", exact=True).fill("ctrl shift y")
    page.get_by_role("button", name="Try it so").click()
    page.get_by_text("Without the drafts").first.wait_for()
    shoot(page, "try")
    page.get_by_role("button", name="Drop all").click()
    page.get_by_role("link", name="Clashes").click()
    page.get_by_role("link", name="Programs").click()
    page.get_by_role("search", name="Choose commands").get_by_label("Words").fill("sav copi")
    page.get_by_role("list", name="Commands").get_by_role("button", name="Save a copy").first.click()
    page.get_by_role("complementary", name="The life of a command").get_by_label("Another key").fill("ctrl shift f")
    page.get_by_text("Makes:").wait_for()
    shoot(page, "programs")
    page.get_by_role("button", name="Program: all programs").click()
    page.get_by_role("menuitem", name="Quaysheet").click()
    page.get_by_role("link", name="Its sheet").click()
    page.get_by_label("Choose Save a copy").check()
    page.get_by_label("Keys of Save a copy on Windows").fill("Ctrl+Shift+F")
    page.get_by_role("region", name="What it would do").get_by_text("difference").wait_for()
    shoot(page, "program-sheet")
    page.go_back()
    page.get_by_role("link", name="How it behaves").click()
    page.get_by_role("button", name="the last one").click()
    page.get_by_role("region", name="Draft").get_by_text("clash").first.wait_for()
    shoot(page, "behaviour")
    page.get_by_role("link", name="Profiles").click()
    page.get_by_role("combobox", name="Profile").click()
    page.get_by_role("option", name="Ticket counters", exact=True).click()
    page.get_by_role("link", name="1 shelf").click()
    last = page.get_by_role("list", name="Places").get_by_role("button").last
    last.focus()
    for _ in range(2):
        page.keyboard.press("Alt+ArrowLeft")
    page.get_by_text("It changes 3 keys.").wait_for()
    shoot(page, "profiles")
    page.get_by_role("combobox", name="Profile").click()
    page.get_by_role("option", name="House", exact=True).click()
    page.get_by_role("link", name="Release and bundles").click()
    page.get_by_role("link", name="Hold it against another").click()
    page.get_by_role("combobox", name="Held against").click()
    page.get_by_role("option", name="Ticket counters as it is now").click()
    page.get_by_role("group", name="Differences").wait_for()
    page.get_by_text("Solves").first.wait_for()
    shoot(page, "comparing")
    page.get_by_role("navigation", name="Screens").get_by_role("link", name="Profiles").click()
    page.get_by_role("link", name="Organisation").click()
    page.get_by_label("Words", exact=True).fill("counters at west")
    page.get_by_text("3 sign-ins").wait_for()
    page.get_by_role("row", name="Counters at Westquay").first.click()
    page.get_by_role("button", name="What is set for them").click()
    page.get_by_role("list", name="Layers").wait_for()
    page.get_by_role("button", name="hide the keyboard").click()
    shoot(page, "people")
    page.get_by_role("button", name="Close").click()
    page.get_by_role("navigation", name="Screens").get_by_role("link", name="Machines").click()
    page.get_by_role("listitem", name="Counter 3, Westquay").wait_for()
    shoot(page, "machines")


def revisions(page: Page, address: str) -> None:
    """A line of revisions wants some: the house profile is changed and put back through the screen."""
    page.goto(f"{address}/profiles?profile=house&section=entries")
    lock = page.get_by_role("switch", name="Nearer layers can't change Paste values only")
    for says in ("Locked Paste values only", "Let go of Paste values only"):
        lock.click()
        page.get_by_role("status").filter(has_text=says).first.wait_for()
    page.goto(f"{address}/profiles?profile=house")
    page.get_by_role("link", name="All its revisions").click()
    page.get_by_role("list", name="Revisions").wait_for()
    page.reload()
    page.get_by_role("button", name="What came of it").first.click()
    page.get_by_text("clash").first.wait_for()
    shoot(page, "revisions")


def lists(page: Page, address: str) -> None:
    """A list of commands as it was understood."""
    page.goto(f"{address}/programs/list")
    page.get_by_label("Paste the table here").fill(LIST)
    page.get_by_role("button", name="Read it").click()
    page.get_by_role("group", name="Rows", exact=True).get_by_text("not read").wait_for()
    shoot(page, "list")


def release(page: Page, address: str) -> None:
    """The release of the example, stopped half way; its machines need about a minute for that."""
    page.goto(f"{address}/machines/releases")
    page.get_by_role("list", name="Releases").get_by_role("link").first.click()
    page.get_by_text("Shut while more than").wait_for(timeout=180_000)
    page.get_by_text("Counter 5, Westquay").first.wait_for(timeout=60_000)
    shoot(page, "release")


SETTINGS = """; written by Hewer 12, do not edit while it runs
[window]
width=1180

[keys/main]
file.new=ctl~n;F4
save=ctl~s
save.everything=none
file.close=ctl~w

[keys/text]
undo=ctl~z
redo=ctl~pad-entr
old.fold=ctl~alt~left

[recent]
file0=tariffs.hw
"""


def description(page: Page, address: str) -> None:
    """Where a program keeps its keys, as a dropped file tells."""
    page.goto(f"{address}/programs/file?program=hewer&version=12")
    file = {"name": "settings.ini", "mimeType": "text/plain", "buffer": SETTINGS.encode()}
    page.locator("input[type=file]").set_input_files(file)
    page.get_by_label("Path on Windows").fill("Hewer/settings.ini")
    page.get_by_label("Command", exact=True).select_option("undo")
    page.get_by_label("Its keys").fill("Alt+Z")
    page.get_by_text("changes line").wait_for()
    if page.get_by_role("button", name="hide the keyboard").count():  # it stays as it was on an earlier picture
        page.get_by_role("button", name="hide the keyboard").click()
    page.get_by_label("Kind of file").scroll_into_view_if_needed()
    shoot(page, "description")


def standard(page: Page, address: str) -> None:
    page.goto(f"{address}/standard?seen=all")
    page.get_by_role("grid", name="Tasks by programs").wait_for()
    shoot(page, "standard")
    page.goto(f"{address}/standard?seen=all&task=close&at=ebbchart&s.words=close")
    page.get_by_role("radio").first.check()
    page.get_by_role("status", name="What it would do").wait_for()
    page.get_by_text("agreement goes from").wait_for()
    shoot(page, "standard-line")


def proposal(page: Page, address: str) -> None:
    """Keys for all tasks at once: asked for, worked out by the demo's worker, walked to a point of the curve."""
    page.goto(f"{address}/standard/propose?seen=all")
    page.get_by_role("button", name="Find the best keys").click()
    page.get_by_role("button", name="Stop with the best so far").wait_for()
    page.get_by_role("slider").wait_for(timeout=300_000)
    page.get_by_role("button", name="Stop with the best so far").wait_for(state="detached", timeout=600_000)
    page.get_by_role("slider").focus()
    page.keyboard.press("Home")
    for _ in range(3):
        page.keyboard.press("ArrowRight")
    page.locator("[role=slider][aria-valuetext*=agree]").wait_for()
    if page.get_by_role("button", name="hide the keyboard").count():
        page.get_by_role("button", name="hide the keyboard").click()
    shoot(page, "proposing")


def main() -> None:
    TARGET.mkdir(parents=True, exist_ok=True)
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=ARGUMENTS)
        size = {"width": 1280, "height": 800}
        page = browser.new_page(viewport=size, color_scheme="light", locale="en-GB", reduced_motion="reduce")
        sign_in(page, sys.argv[1])
        walk(page)
        standard(page, sys.argv[1])
        revisions(page, sys.argv[1])
        lists(page, sys.argv[1])
        description(page, sys.argv[1])
        release(page, sys.argv[1])
        proposal(page, sys.argv[1])
        browser.close()


if __name__ == "__main__":
    main()
