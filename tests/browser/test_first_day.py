"""From an empty database by keyboard alone: every press and every text typed counts as one."""

import re

import pytest
from playwright.sync_api import expect

from amberkey.server.library.models import Document
from amberkey.server.organisation.models import ListImport
from amberkey.server.organisation.working import do_check, do_take
from amberkey.server.people.verbs.link import first_link
from tests.browser.conftest import Person

COMMANDS = (
    *("Save: Ctrl+S", "Print: Ctrl+P", "Open: Ctrl+O", "Find: Ctrl+F", "Stamp: Ctrl+P", "Undo: Ctrl+Z", "Redo: Ctrl+Y"),
    *("Copy: Ctrl+C", "Paste: Ctrl+V", "Lock the gate: Ctrl+L", "Next reading: F8", "Close the document: Ctrl+W"),
)
PASSWORD = "Tidal-Basin-42"


class Beginner(Person):
    """Somebody who begins on an empty database, and whose presses are counted."""

    def __init__(self, page, address):
        self.page, self.address, self.faults, self.count = page, address, [], 0
        self.listen()
        page.goto(f"{address}/link#{first_link()}")

    def press(self, *keys):
        for key in keys:
            self.count += 1
            self.page.keyboard.press(key)

    def type(self, text):
        self.count += 1
        self.page.keyboard.insert_text(text)

    def focused(self, target):
        expect(target.first).to_be_focused()

    def tab_to(self, target, back=False):
        """By Tab, each press counted; the skip link is taken where it comes first."""
        for _ in range(40):
            if target.count() and target.first.evaluate("e => e === document.activeElement"):
                return
            self.press("Tab")
            if self.page.evaluate("document.activeElement.hash") == "#screen":
                self.press("Enter")
        raise AssertionError("Tab does not lead there")

    def said(self, text):
        expect(self.page.get_by_role("status").filter(has_text=text).first).to_be_visible()
        if self.page.evaluate("document.activeElement.matches('input, textarea')"):
            self.page.evaluate("document.activeElement.blur()")  # as clicking beside it would


@pytest.fixture
def beginner(served, new_context):
    one = Beginner(new_context().new_page(), served)
    yield one
    assert one.faults == []


def test_the_first_day_takes_fewer_than_ninety_interactions(beginner):
    page, one = beginner.page, beginner
    one.focused(page.get_by_label("What you are called"))
    one.type("Merete")
    one.press("Tab")
    one.type("merete")
    one.press("Tab")
    one.type(PASSWORD)
    one.press("Enter")

    one.focused(page.get_by_label("What it is called"))
    assert one.axe() == []
    one.type("Northgate Water Board")
    one.press("Enter")
    one.focused(page.get_by_role("link", name="Bring in a list of commands"))
    one.tab_to(page.get_by_role("link", name="Take tasks from the list"))
    one.press("Enter")
    one.focused(page.get_by_role("button", name="Take 179 tasks"))
    one.press("Enter")
    one.said("Took 179 tasks")
    assert one.axe() == []

    one.press("d")
    one.focused(page.get_by_role("link", name="Bring in a list of commands"))
    one.tab_to(page.get_by_role("link", name="Add a program by hand"))
    one.press("Enter")
    one.focused(page.get_by_label("Name"))
    one.type("Weir Desk")
    one.press("Enter")
    one.focused(page.get_by_label("Add commands"))
    one.type("\n".join(COMMANDS))
    one.press("Enter")
    expect(page.get_by_label("Task of Print")).to_have_value("Print")
    one.press("Control+Enter")
    one.said("Edited Weir Desk 1.0")
    assert one.axe() == []

    one.press("d")
    one.focused(page.get_by_role("link", name="Machines", exact=True).last)
    one.press("Enter")
    one.focused(page.get_by_role("button", name="Add a machine"))
    one.press("Enter")
    one.focused(page.get_by_label("Name", exact=True))
    one.type("Weir 1")
    expect(page.get_by_role("button", name="Add this machine")).to_be_enabled()
    one.press("Control+Enter")
    one.said("Added Weir 1")
    one.press("n")
    for who in ("Odd", "Ylva"):
        one.focused(page.get_by_role("button", name="Add a person"))
        one.press("Enter")
        one.focused(page.get_by_label("Name", exact=True))
        one.type(who)
        one.tab_to(page.get_by_label("Sits at"))
        one.type("Weir")
        expect(page.get_by_role("option", name="Weir 1")).to_be_visible()
        one.press("ArrowDown", "Enter")
        expect(page.get_by_role("button", name="Add this person")).to_be_enabled()
        one.press("Control+Enter")
        one.said(f"Added {who}")

    one.press("c")
    row = page.locator("[data-row]").first
    expect(row).to_contain_text("Stamp")
    one.tab_to(row)
    one.press("Enter")
    page.get_by_role("button", name="Decide", exact=True).wait_for()
    one.tab_to(page.get_by_role("button", name="Decide", exact=True))
    one.press("Enter")
    one.said("Stamp")

    one.press("g")
    one.focused(page.get_by_role("button", name=re.compile("Begin so ?: From what most people press")))
    assert one.axe() == []
    one.press("Enter")
    one.said("Began the standard with what most people press")
    expect(page.get_by_role("heading", name=re.compile("standard", re.IGNORECASE)).first).to_be_visible()

    one.press("o")
    export = page.get_by_role("button", name="Export as a bundle")
    export.wait_for()
    one.tab_to(export)
    one.press("Enter")
    write = page.get_by_role("link", name="Write the bundle")
    write.wait_for()
    one.tab_to(write)
    with page.expect_download() as taken:
        one.press("Enter")
    assert taken.value.suggested_filename.startswith("house")
    assert one.count < 90, one.count
    assert Document.objects.filter(format="amberkey/standard@1").count() == 1

    one.page.goto(f"{one.address}/today")
    expect(page.get_by_role("heading", name="Today", exact=True)).to_be_visible()


TABLE = """Area\tAction\tKeys
File\tSave\tCtrl+S
\tPrint\tCtrl+P
\tStamp\tCtrl+P
Edit\tUndo\tCtrl+Z
\tFind\tas ever
\tSound the horn\tF9
"""
MACHINES = "Name,Platform,Edition,Layouts,Keyboard body,Programs\nWeir 1,Windows 11 Pro,Pro,de-DE,iso,weir-desk 1.0\n"
PEOPLE = "Name,Department,Machines\nOdd,Everybody,Weir 1\nYlva,Everybody,Weir 1\n"


def bring(one, tmp_path, name, text):
    """One list of people or machines: chosen, checked, taken, each with Enter."""
    sheet = tmp_path / f"{name}.csv"
    sheet.write_text(text, encoding="utf-8")
    page = one.page
    one.focused(page.get_by_role("button", name=re.compile("Add a (person|machine)")))
    one.tab_to(page.get_by_role("button", name="Lists in and out"))
    one.press("Enter")
    one.tab_to(page.get_by_role("button", name=f"Bring in {name}"))
    with page.expect_file_chooser() as chooser:
        one.press("Enter")
    chooser.value.set_files(sheet)
    one.focused(page.get_by_role("button", name="Check it"))
    one.press("Enter")
    page.get_by_text("Checking").wait_for()
    do_check(ListImport.objects.latest("at").id)
    one.focused(page.get_by_role("button", name="Take"))
    one.press("Enter")
    page.get_by_text("Taking it over").wait_for()
    do_take(ListImport.objects.latest("at").id)
    one.said(f"Taken from {name}.csv")


def test_lists_make_an_organisation_in_fewer_than_sixty_interactions(beginner, tmp_path):
    page, one = beginner.page, beginner
    for text, key in (("Merete", "Tab"), ("merete", "Tab"), (PASSWORD, "Enter"), ("Northgate Water Board", "Enter")):
        one.focused(page.locator("input[required]:focus, input:focus"))
        one.type(text)
        one.press(key)
        if key == "Enter" and text == PASSWORD:
            one.focused(page.get_by_label("What it is called"))
    one.focused(page.get_by_role("link", name="Bring in a list of commands"))
    one.tab_to(page.get_by_role("link", name="Take tasks from the list"))
    one.press("Enter")
    one.focused(page.get_by_role("button", name="Take 179 tasks"))
    one.press("Enter")
    one.said("Took 179 tasks")

    one.press("d")
    one.focused(page.get_by_role("link", name="Bring in a list of commands"))
    one.press("Enter")
    one.focused(page.get_by_label("Paste the table here"))
    assert one.axe() == []
    paste(one, TABLE)
    rows = page.get_by_role("group", name="Rows", exact=True)
    expect(rows).to_contain_text("No key is called as")
    assert one.axe() == []
    one.focused(page.get_by_label("Its name"))
    one.type("Weir Desk")
    one.press("Enter")
    one.focused(page.get_by_role("button", name="Take 5 commands"))
    one.press("Enter")
    one.focused(page.get_by_role("link", name="Find their tasks"))
    one.press("Enter")
    one.focused(page.get_by_role("button", name="Give 3 commands their tasks"))
    assert one.axe() == []
    one.press("Enter")
    one.said("Gave 3 commands of Weir Desk their tasks")

    one.press("d")
    one.focused(page.get_by_role("link", name="Machines", exact=True).last)
    one.press("Enter")
    bring(one, tmp_path, "machines", MACHINES)
    one.press("n")
    bring(one, tmp_path, "people", PEOPLE)

    one.press("c")
    row = page.locator("[data-row]").first
    expect(row).to_contain_text("Stamp")
    one.tab_to(row)
    one.press("Enter")
    page.get_by_role("button", name="Decide", exact=True).wait_for()
    one.tab_to(page.get_by_role("button", name="Decide", exact=True))
    one.press("Enter")
    one.said("Stamp")
    assert one.count < 60, one.count


def paste(one, text):
    """The clipboard's own key; headless, so what it has is given along."""
    one.count += 1
    one.page.evaluate(
        """text => {
          const data = new DataTransfer();
          data.setData("text/plain", text);
          const paste = {clipboardData: data, bubbles: true, cancelable: true};
          document.activeElement.dispatchEvent(new ClipboardEvent("paste", paste));
        }""",
        text,
    )


def test_a_used_link_says_why_and_every_screen_leads_on_while_nothing_is_there(beginner):
    page, one = beginner.page, beginner
    used = page.url
    page.get_by_label("Name to sign in with").fill("merete")
    page.get_by_label("Password").fill(PASSWORD)
    page.get_by_role("button", name="Begin").click()
    page.get_by_role("heading", name="Nothing is known yet").wait_for()
    leads = {
        "Standard": "take some from the list that ships",
        "Programs": "Add the ones that your people use",
        "Clashes": "There is nothing to look through yet",
        "Try": "There is nothing to look through yet",
        "Profiles": "House sets nothing yet",
        "Organisation": "No person is known yet",
        "Machines": "No machine has an agent yet",
    }
    for screen, says in leads.items():
        one.go(screen)
        expect(page.get_by_text(says).first).to_be_visible()
        expect(page.get_by_text("Loading")).to_have_count(0)
        assert one.axe() == [], screen
    page.goto("about:blank")
    page.goto(used)
    expect(page.get_by_role("alert")).to_contain_text("This link doesn't work")
    expect(page.get_by_role("alert")).to_contain_text("It was used on")


def test_accounts_are_handed_over_closed_and_listed(beginner, new_context):
    page, one = beginner.page, beginner
    landing, code = [], []  # gone elsewhere before it is known where one lands: that doesn't lead back
    page.route("**/api/beginning", lambda route: landing.append(route))
    page.route("**/AccountView-*.js", lambda route: code.append(route))
    page.reload()
    page.get_by_label("What you are called").fill("Merete")
    page.get_by_label("Name to sign in with").fill("merete")
    page.get_by_label("Password").fill(PASSWORD)
    page.get_by_role("button", name="Begin").click()
    page.get_by_text("Loading Amber Key").wait_for()
    page.get_by_role("link", name="Merete").click()
    with page.expect_response("**/api/beginning"):
        landing[0].continue_()
    page.unroute_all()  # the screen's code goes on its way
    page.get_by_label("What they are called").fill("Odd")
    page.get_by_label("Name to sign in with").fill("odd")
    page.get_by_role("button", name="Add", exact=True).click()
    link = page.get_by_role("region", name="Link for Odd").locator("code").inner_text()
    assert one.axe() == []
    other = new_context().new_page()
    other.goto(link)
    other.get_by_label("Password").fill("1234")
    other.get_by_role("button", name="Set it and sign in").click()
    expect(other.get_by_role("alert")).to_contain_text("too short")
    other.get_by_label("Password").fill("Harbour-Wall-7")
    other.get_by_role("button", name="Set it and sign in").click()
    other.get_by_role("heading", name="Nothing is known yet").wait_for()
    page.reload()
    page.get_by_role("button", name="Close account: Odd").click()
    expect(page.get_by_role("status").filter(has_text="Odd may not sign in any more")).to_be_visible()
    other.reload()
    expect(other.get_by_role("button", name="Sign in")).to_be_visible()
    page.get_by_role("button", name="Close account: Merete").click()
    expect(page.get_by_text("Merete is the last administrator.")).to_be_visible()
    page.get_by_role("button", name="Who did what").click()
    rows = page.get_by_role("list", name="What was done").get_by_role("listitem")
    expect(rows.filter(has_text="added an account account/odd")).to_have_count(1)
    page.get_by_label("Words").fill("account/merete")
    expect(rows.filter(has_text="odd")).to_have_count(0)
    assert one.axe() == []
