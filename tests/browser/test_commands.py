"""Looking things up from anywhere, and an upgrade checked and taken, by keyboard."""

import re

import pytest
from playwright.sync_api import expect

from amberkey.core.documents.model import read_document
from amberkey.core.formats import FORMATS
from amberkey.core.programs.model import Program
from amberkey.demo.load import load_people
from amberkey.server.library.documents import load
from amberkey.server.library.models import Document
from amberkey.server.library.verbs.change import create


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
