"""Through the sections of a profile by keyboard alone: each is filled, told before it is saved, and taken back."""

import json

import pytest
from playwright.sync_api import expect

from amberkey.core.compare.operations import operation
from amberkey.demo.load import DOCUMENTS, load_people
from amberkey.server.library.verbs.change import change


@pytest.fixture
def ines(home, sign_in):
    """Ines at the screen, where Quaysheet says what people can arrange in it."""
    offers = json.loads((DOCUMENTS / "program-quaysheet.json").read_text(encoding="utf-8"))["offers"]
    offers["menus"].append(
        {"id": "row", "name": "Row menu", "opened": {"windows": ["Shift+F10"]}, "takes_own": True, "groups": []}
    )
    change(load_people(), "Quaysheet says what it offers", {"program/quaysheet@7.2": [operation("", "offers", None, offers)]})
    person = sign_in()
    person.page.goto(f"{person.address}/profiles?profile=house")
    person.page.get_by_role("navigation", name="Where it lands").wait_for()
    return person


def section(person, says):
    """To a section of the profile: the sections are one stop for Tab, arrows lead on from there."""
    links = person.page.get_by_role("navigation", name="Where it lands")
    link = links.get_by_role("link", name=says)
    link.wait_for()
    person.tab_to(links.locator('a[tabindex="0"]'))
    down = person.page.evaluate(
        """says => {
          const names = [...document.querySelectorAll('nav[aria-label="Where it lands"] a')].map(a => a.textContent);
          const now = names.findIndex(n => n === document.activeElement.textContent);
          return names.findIndex(n => n === says) - now;
        }""",
        says,
    )
    for _ in range(abs(down)):
        person.page.keyboard.press("ArrowDown" if down > 0 else "ArrowUp")
    person.page.keyboard.press("Enter")
    expect(link).to_have_attribute("aria-current", "page")


def pick(person, field, option):
    """One of the choices of a field."""
    keyboard = person.page.keyboard
    person.tab_to(person.page.get_by_role("combobox", name=field))
    keyboard.press("Enter")
    wanted = person.page.get_by_role("option", name=option, exact=True)
    wanted.wait_for()
    for _ in range(40):
        if wanted.evaluate("e => e === document.activeElement"):
            break
        keyboard.press("ArrowDown")
    keyboard.press("Enter")
    expect(person.page.get_by_role("listbox")).to_have_count(0)


def add(person, name):
    """A command looked for by its words."""
    field = person.page.get_by_role("combobox", name="Add a command")
    person.tab_to(field)
    person.page.keyboard.type(name)
    person.page.get_by_role("option", name=name, exact=True).wait_for()
    person.page.keyboard.press("ArrowDown")
    person.page.keyboard.press("Enter")


def fill(person, label, text):
    person.tab_to(person.page.get_by_label(label, exact=True))
    person.page.keyboard.insert_text(text)


def press(person, name):
    button = person.page.get_by_role("button", name=name, exact=True)
    expect(button).to_be_enabled()
    person.tab_to(button)
    person.page.keyboard.press("Enter")


def save(person, says):
    press(person, "Save it")
    expect(person.page.get_by_role("status").filter(has_text=says).first).to_be_visible()


def test_a_shelf_is_filled_moved_and_taken_back(ines):
    page = ines.page
    section(ines, "no shelves")
    pick(ines, "Program", "Quaysheet")
    pick(ines, "Shelf", "Quick shelf")
    add(ines, "Save")
    add(ines, "Print")
    add(ines, "Undo")
    save(ines, "Added the shelf Quick shelf in Quaysheet of House")
    places = page.get_by_role("list", name="Places")
    expect(places.get_by_role("button")).to_have_count(3)
    assert ines.axe() == []
    ines.tab_to(places.get_by_role("button", name="Undo, place 3"))
    page.keyboard.press("Alt+ArrowLeft")
    page.keyboard.press("Alt+ArrowLeft")
    expect(page.get_by_text("It changes 3 keys.")).to_be_visible()
    expect(page.get_by_role("list", name="Changed keys").get_by_role("listitem")).to_have_count(4)
    assert ines.axe() == []
    press(ines, "Take this order")
    expect(page.get_by_text("It changes 2 keys.")).to_be_visible()
    save(ines, "Changed the shelf Quick shelf")
    expect(places.get_by_role("button").first).to_contain_text("Undo")
    press(ines, "Undo")
    expect(places.get_by_role("button").first).to_contain_text("Save")


def test_a_group_gets_letters_and_goes_to_the_front(ines):
    page = ines.page
    section(ines, "no menu groups")
    pick(ines, "In the menus of", "Quaysheet")
    fill(ines, "Name of the group", "Counter")
    add(ines, "Save")
    add(ines, "Select everything" if page.get_by_role("option", name="Select everything").count() else "Print")
    save(ines, "Added the menu group Counter of House")
    presses = page.get_by_role("list", name="Presses in turn")
    expect(presses).to_contain_text("Alt")
    press(ines, "Counter to the left")
    save(ines, "Changed the menu group Counter of House")
    press(ines, "Hide Looks")
    save(ines, "Added the menu group looks of House")
    expect(page.get_by_role("list", name="Groups in Menu bar")).to_contain_text("hidden")
    assert ines.axe() == []
    press(ines, "Put all menus back as the programs have them")
    expect(page.get_by_text("House arranges no menus yet.")).to_be_visible()


def test_a_program_s_own_groups_are_hidden_and_put_elsewhere_where_nothing_was_arranged(ines):
    page = ines.page
    section(ines, "no menu groups")
    pick(ines, "In the menus of", "Quaysheet")
    press(ines, "Hide Looks")
    save(ines, "Added the menu group looks of House")
    press(ines, "Change Rows")
    pick(ines, "Rows stands in", "Row menu")
    save(ines, "Added the menu group rows of House")
    expect(page.get_by_role("list", name="Groups in Row menu")).to_contain_text("Rows")
    assert ines.axe() == []
    press(ines, "Put back Rows")
    save(ines, "Took out the menu group rows of House")
    expect(page.get_by_role("list", name="Groups in Menu bar")).to_contain_text("Rows")


def test_an_abbreviation_that_is_a_word_is_told_and_stands_among_the_clashes(ines):
    page = ines.page
    section(ines, "no abbreviations")
    press(ines, "Add an abbreviation")
    fill(ines, "Short form", "und")
    fill(ines, "Becomes", "und so weiter {date}")
    expect(page.get_by_text("und: it is a word in German").first).to_be_visible()
    assert ines.axe() == []
    save(ines, "Added the abbreviation und of House")
    ines.go("Clashes")
    ines.seek("word in German")
    row = ines.clash("und")
    expect(row.first).to_be_visible()


def test_a_macro_waits_for_somebody_else_to_approve_it(ines):
    page = ines.page
    section(ines, "no macros")
    press(ines, "Add a macro")
    pick(ines, "Program", "Quaysheet")
    fill(ines, "Name", "Day_total")
    add(ines, "Save")
    fill(ines, "Or type a text", "Total")
    page.keyboard.press("Enter")
    expect(page.get_by_role("list", name="Steps").get_by_role("listitem")).to_have_count(2)
    save(ines, "Added the macro Day_total of House")
    expect(page.get_by_text("A releaser approves it before it reaches anybody.")).to_be_visible()
    expect(page.get_by_role("complementary", name="What travels")).to_contain_text("wait")
    assert ines.axe() == []


def test_keys_translations_launchers_and_preferences(ines):
    page = ines.page
    section(ines, "no changed keys")
    pick(ines, "The key", "Caps Lock")
    pick(ines, "acts as", "Control, left")
    expect(page.get_by_text("nothing makes CapsLock any more").first).to_be_visible()
    save(ines, "Added the remap of CapsLock of House")
    section(ines, "no translations")
    pick(ines, "In the window of", "Quaysheet")
    for name, key in (("This press", "F4"), ("becomes", "F5")):
        press(ines, name)
        page.keyboard.press(key)
    save(ines, "Added the translation F4 of House")
    section(ines, "no launchers")
    press(ines, "Add a launcher")
    fill(ines, "Name", "Tides")
    fill(ines, "Command line", "tides --now")
    save(ines, "Added the launcher Tides of House")
    section(ines, "no preferences")
    pick(ines, "Program", "Quaysheet")
    pick(ines, "Preference", "Text size")
    fill(ines, "Text size", "0")
    expect(page.get_by_role("alert")).to_contain_text("Text size is between 70 and 200")
    page.keyboard.press("Control+A")
    page.keyboard.insert_text("130")
    save(ines, "Added the preference Text size in Quaysheet of House")
    assert ines.axe() == []


def test_profiles_are_found_by_what_is_in_them_and_shortcuts_carried(ines):
    page = ines.page
    press(ines, "Find a profile")
    fill(ines, "Words", "paste-values")
    found = page.get_by_role("list", name="Profiles found").get_by_role("link")
    expect(found).to_have_count(1)
    ines.tab_to(found)
    page.keyboard.press("Enter")
    section(ines, "2 shortcuts")
    box = page.get_by_role("checkbox", name="Choose Paste values only on Windows")
    ines.tab_to(box)
    page.keyboard.press("Space")
    press(ines, "Move or copy them")
    pick(ines, "To the profile", "Training centre")
    expect(page.get_by_role("list", name="Who relearns what").get_by_role("listitem").first).to_be_visible()
    assert ines.axe() == []
    press(ines, "Move 1 shortcut")
    expect(page.get_by_role("status").filter(has_text="Moved 1 shortcut from House to Training centre").first).to_be_visible()
