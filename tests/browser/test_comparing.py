"""The line of revisions and comparing on screen, by role and label, the keyboard alone where people may use it."""

import re
from typing import cast

from playwright.sync_api import expect

from amberkey.core.compare.operations import JsonDocument
from amberkey.core.documents.model import read_document
from amberkey.core.formats import FORMATS
from amberkey.demo.load import load_people
from amberkey.server.library.documents import find, newest_of
from amberkey.server.library.verbs.save import save
from amberkey.server.people.acting import Actor
from amberkey.server.people.models import User
from tests.browser.conftest import agent

HOUSE = "profile/house"


def saved(name, note, key=HOUSE, **shortcuts):
    """Somebody saves the house profile with other shortcuts of some commands; none takes the entry out."""
    load_people()
    newest = newest_of(find(key))
    value = cast(JsonDocument, newest.body.json())
    entries = [
        {**e, "shortcuts": [{"keys": shortcuts[command]}]} if (command := e["command"].replace("-", "_")) in shortcuts else e
        for e in value["entries"]
        if shortcuts.get(e["command"].replace("-", "_"), "") is not None
    ]
    actor = Actor(User.objects.get(username=name))
    save(actor, key, read_document({**value, "entries": entries}, FORMATS), newest.digest, note)


def keys_of(command):
    entries = cast(JsonDocument, newest_of(find(HOUSE)).body.json())["entries"]
    return next((e["shortcuts"] for e in entries if e["command"] == command), None)


def to_revisions(person):
    person.go("Profiles")
    person.page.get_by_role("combobox", name="Profile").click()
    person.page.get_by_role("option", name="House").click()
    person.page.get_by_role("link", name="All its revisions").click()
    expect(person.page.get_by_role("heading", name="House")).to_be_visible()


def test_half_of_an_older_revision_is_copied_back_by_keyboard_and_undone(sign_in):
    ines = sign_in("ines")
    saved("jorun", "Two things", paste_values="F9", word_count=None)
    page = ines.page
    to_revisions(ines)
    line = page.get_by_role("list", name="Revisions")
    expect(line.get_by_role("listitem").first).to_contain_text("Jorun")
    expect(line.get_by_role("listitem").first).to_contain_text("moves from")
    link = page.get_by_role("link", name="Hold it against now").first
    link.focus()
    page.keyboard.press("Enter")
    rows = page.get_by_role("group", name="Differences").get_by_role("switch", name=re.compile("in (Quaysheet|Folioform)"))
    expect(rows).to_have_count(2)
    chosen = page.get_by_role("switch", name=re.compile("^Count|Word count|Count words"))
    other = page.get_by_role("switch", name=re.compile("Paste values"))
    other.focus()
    page.keyboard.press("Space")
    expect(other).not_to_be_checked()
    expect(chosen).to_be_checked()
    take = page.get_by_role("button", name="Take 1 of 2 over into House as it is now")
    take.focus()
    page.keyboard.press("Enter")
    expect(page.get_by_role("status").filter(has_text="Took 1 difference over")).to_be_visible()
    assert keys_of("word-count") == []
    assert keys_of("paste-values") == [{"keys": "F9"}]
    page.get_by_role("button", name="Undo", exact=True).first.click()
    expect(page.get_by_role("status").filter(has_text="Undid")).to_be_visible()
    assert keys_of("word-count") is None


def test_one_difference_alone_of_an_old_change_is_undone(sign_in):
    ines = sign_in("ines")
    saved("jorun", "Two things", paste_values="F9", word_count=None)
    page = ines.page
    to_revisions(ines)
    page.get_by_role("button", name="What came of it").first.press("Enter")
    came = page.get_by_role("region", name=re.compile("What came of revision"))
    came.get_by_role("switch", name=re.compile("Paste values")).check()
    came.get_by_role("button", name="Undo 1 of these alone").click()
    expect(page.get_by_role("status").filter(has_text="Undid 1 of: Two things")).to_be_visible()
    assert keys_of("paste-values") == [{"keys": "Control+Alt+V"}]
    assert keys_of("word-count") is None


def test_a_revision_is_named_and_gone_back_to(sign_in):
    ines = sign_in("ines")
    saved("jorun", "Moved", paste_values="F9")
    page = ines.page
    to_revisions(ines)
    oldest = page.get_by_role("list", name="Revisions").locator("> li").last
    oldest.get_by_role("button", name="What came of it").press("Enter")
    oldest.get_by_label("Its name").fill("Before the summer")
    page.keyboard.press("Enter")
    expect(oldest).to_contain_text("Before the summer")
    oldest.get_by_role("button", name="Back to this one").click()
    expect(page.get_by_role("status").filter(has_text="Back to revision 1 (Before the summer)")).to_be_visible()
    assert keys_of("paste-values") == [{"keys": "Control+Alt+V"}]


def test_a_deleted_profile_is_brought_back(sign_in):
    ines = sign_in("ines")
    page = ines.page
    ines.go("Profiles")
    page.get_by_role("combobox", name="Profile").click()
    page.get_by_role("option", name="Training centre").click()
    page.get_by_role("button", name="Delete Training centre").click()
    expect(page.get_by_role("status").filter(has_text="Deleted Training centre")).to_be_visible()
    page.get_by_role("button", name="Bring it back").click()
    expect(page.get_by_role("status").filter(has_text="Training centre is there again")).to_be_visible()
    page.get_by_role("combobox", name="Profile").click()
    expect(page.get_by_role("option", name="Training centre")).to_be_visible()


def test_axe_finds_nothing_on_revisions_and_comparisons(sign_in):
    ines = sign_in("ines")
    saved("jorun", "Two things", paste_values="F9", word_count=None)
    page = ines.page
    to_revisions(ines)
    page.get_by_role("button", name="What came of it").first.press("Enter")
    expect(page.get_by_role("region", name=re.compile("What came of revision"))).to_contain_text("clash")
    found = {"revisions": ines.axe()}
    page.get_by_role("link", name="Hold it against now").first.click()
    expect(page.get_by_role("group", name="Differences")).to_be_visible()
    found["comparison"] = ines.axe()
    assert found == {"revisions": [], "comparison": []}


def test_a_bundle_and_what_a_machine_shows_are_held_against_a_profile(home, sign_in, tmp_path):
    ines = sign_in("ines")
    page = ines.page
    ines.go("Profiles")
    page.get_by_role("combobox", name="Profile").click()
    page.get_by_role("option", name="House").click()
    page.get_by_role("button", name="Export as a bundle").click()
    with page.expect_download() as downloading:
        page.get_by_role("link", name="Write the bundle").click()
    bundle = tmp_path / "house.zip"
    downloading.value.save_as(bundle)
    saved("jorun", "Moved since", paste_values="F9")
    page.get_by_role("link", name="Hold it against another").click()
    page.get_by_role("heading", name="Held against each other").wait_for()
    with page.expect_file_chooser() as choosing:
        page.get_by_role("button", name="Against a bundle").click()
    choosing.value.set_files(bundle)
    rows = page.get_by_role("group", name="Differences").get_by_role("switch", name=re.compile("in Quaysheet"))
    expect(rows).to_have_count(1)
    expect(page.get_by_role("combobox", name="Held against")).to_contain_text("The bundle House")
    page.get_by_role("button", name=re.compile("^Take")).click()
    expect(page.get_by_role("status").filter(has_text="over from The bundle House")).to_be_visible()
    assert keys_of("paste-values") != [{"keys": "F9"}]
    agent(home, "run", "--once")
    ines.go("Machines")
    page.get_by_role("link", name=re.compile("Hold")).first.click()
    expect(page.get_by_role("combobox", name="Held against").or_(page.get_by_text("What the files of")).first).to_be_visible()
    expect(page.get_by_text("What the files of").first).to_be_visible()
    assert ines.axe() == []
