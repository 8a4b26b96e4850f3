"""Looking things up from anywhere, and an upgrade checked and taken, by keyboard."""

import re

import pytest
from playwright.sync_api import expect

from amberkey.core.documents.model import read_document
from amberkey.core.formats import FORMATS
from amberkey.core.programs.model import Program
from amberkey.demo.load import load_people
from amberkey.server.library.documents import key_of, load
from amberkey.server.library.models import Document
from amberkey.server.library.verbs.change import create
from amberkey.server.library.verbs.save import save


@pytest.fixture
def newer(home):
    """A version of Quaysheet that nobody has yet: saving is called otherwise, filtering lies on another key."""
    old = load(Document.objects.filter(doc_id="quaysheet").order_by("key").last().key, Program)
    value = old.to_json() | {"version": "99.0"}
    commands = [dict(c) for c in value["commands"]]
    for command in commands:
        if command["id"] == "save":
            command |= {"id": "save-it", "name": "Save it"}
        if command["id"] == "filter":
            command["defaults"] = {"windows": ["F12"]}
    create(load_people(), read_document(value | {"commands": commands}, FORMATS))


def test_anything_is_looked_up_by_its_key_and_gone_to(sign_in):
    ines = sign_in("ines")
    page = ines.page
    page.get_by_role("heading", name="Where presses stop").click()
    page.keyboard.press("f")
    field = page.get_by_role("combobox", name="Look up")
    expect(field).to_be_focused()
    page.keyboard.type("filtr")
    first = page.get_by_role("option").first
    expect(first).to_contain_text("Filter")
    assert ines.axe() == []
    page.keyboard.press("Enter")
    expect(page.get_by_role("complementary", name="The life of a command").get_by_role("heading")).to_have_text("Filter")
    # Things to do are found too, in other words.
    page.get_by_role("heading", name="Commands", exact=True).click()
    page.keyboard.press("f")
    page.keyboard.type("roll out")
    option = page.get_by_role("option", name=re.compile("^Begin a release"))
    expect(option).to_be_visible()
    for _ in range(20):
        if option.get_attribute("aria-selected") == "true":
            break
        page.keyboard.press("ArrowDown")
    page.keyboard.press("Enter")
    expect(page).to_have_url(re.compile("/machines/releases/new"))


def test_an_upgrade_is_checked_and_its_renaming_taken(newer, sign_in):
    ines = sign_in("ines")
    page = ines.page
    ines.go("Programs")
    ines.tab_to(page.get_by_role("link", name="1 program has a newer version"))
    page.keyboard.press("Enter")
    surprises = page.get_by_role("region", name="Presses that mean something else")
    expect(surprises).to_contain_text("Save is Save it now")
    assert ines.axe() == []
    ines.tab_to(page.get_by_role("checkbox", name="Save is Save it now"))
    page.keyboard.press("Space")
    expect(surprises).not_to_contain_text("Save is Save it now")
    ines.tab_to(page.get_by_role("button", name="Take these 1"))
    page.keyboard.press("Enter")
    expect(page.get_by_role("region", name="Called otherwise")).to_contain_text("Save is Save it now")
    expect(page.get_by_role("checkbox", name="Save is Save it now")).to_have_count(0)


def test_the_guide_opens_beside_every_screen_by_its_key(sign_in):
    ines = sign_in("ines")
    page = ines.page
    page.get_by_role("heading", name="Where presses stop").click()
    page.keyboard.press("e")
    guide = page.get_by_role("complementary", name="Guide")
    expect(guide.get_by_role("heading", name="Where presses stop")).to_be_visible()
    expect(guide).to_be_focused()
    page.keyboard.press("Tab")
    ines.tab_to(guide.get_by_role("button", name="lens"))
    expect(page.get_by_role("tooltip")).to_contain_text("the setup and focus that a screen looks through")
    page.wait_for_function("document.getAnimations().every(a => a.playState === 'finished')")
    assert ines.axe() == []
    ines.go("Try")
    expect(guide.get_by_role("heading", name="Try a press")).to_be_visible()
    guide.focus()
    page.keyboard.press("Escape")
    expect(guide).to_have_count(0)
    # What it says is found from anywhere, and opens where one is.
    page.keyboard.press("f")
    page.keyboard.type("quiet hours wave")
    page.keyboard.press("Escape")
    page.keyboard.press("Escape")
    page.get_by_role("combobox", name="Look up").fill("plan a release")
    option = page.get_by_role("option", name=re.compile("^Plan a release.*Releases"))
    expect(option).to_be_visible()
    option.click()
    expect(guide.get_by_role("heading", name="Plan a release")).to_be_visible()
    expect(page).to_have_url(re.compile("/try.*guide=releases"))


def test_a_template_gets_a_key_for_a_value(home, sign_in):
    """By keyboard from the row to the key; what it can't take is told before anything is saved."""
    old = load(Document.objects.filter(doc_id="quaysheet").order_by("key").last().key, Program)
    value = old.to_json()
    step = {"id": "first-rows", "name": "Show the first [rows] rows", "scope": old.root.id}
    step["arguments"] = [{"name": "rows", "least": 1, "most": 50}]
    document = Document.objects.get(key=key_of(old))
    save(load_people(), document.key, read_document(value | {"commands": [*value["commands"], step]}, FORMATS), old.digest, "")
    ines = sign_in("ines")
    page = ines.page
    ines.go("Programs")
    ines.seek("show the first", "commands")
    row = page.get_by_role("button", name=re.compile(r"Show the first \[rows\] rows"))
    expect(row).to_be_visible()
    row.focus()
    page.keyboard.press("Enter")
    life = page.get_by_role("complementary", name="The life of a command")
    ines.tab_to(life.get_by_label("rows", exact=True))
    page.keyboard.type("60")
    ines.tab_to(life.get_by_role("button", name="Free keys"))
    page.keyboard.press("Enter")
    life.get_by_role("button", name=re.compile("^Pick ")).first.click()
    expect(life.get_by_role("alert")).to_contain_text("whole numbers from 1 to 50")
    life.get_by_label("rows", exact=True).fill("20")
    expect(life.get_by_text("Makes no clash.")).to_be_visible()
    ines.tab_to(life.get_by_role("button", name="Give it"))
    page.keyboard.press("Enter")
    expect(page.get_by_role("button", name=re.compile(r"Show the first \[20\] rows"))).to_be_visible()
