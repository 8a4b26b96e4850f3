"""The organisation on screen, with the example at full size: by role and label, and by keyboard alone."""

import re

import pytest
from playwright.sync_api import expect

from amberkey.demo.load import load_documents, load_people
from amberkey.server.organisation.models import ListImport
from amberkey.server.organisation.working import do_check, do_take
from tests.browser.conftest import Person
from tests.kept import put


@pytest.fixture
def ferries(served, new_context):
    """Merrow Strait Ferries at full size, and somebody signed in to it."""
    put("the ferries", lambda: load_documents(load_people()))
    people = []

    def come(name="ines", **context):
        person = Person(new_context(**context).new_page(), served, name)
        people.append(person)
        return person

    yield come
    assert [f for p in people for f in p.faults] == []


def part(person, name):
    person.go("Organisation")
    person.page.get_by_role("navigation", name="Parts of the organisation").get_by_role("link", name=name, exact=True).click()


def test_axe_finds_nothing_in_the_organisation(ferries):
    ines = ferries()
    page = ines.page
    found = {}
    part(ines, "People")
    page.get_by_role("row", name="Aline").click()
    expect(page.get_by_role("complementary", name="Aline")).to_be_visible()
    found["person"] = ines.axe()
    page.get_by_role("button", name="What is set for them").click()
    expect(page.get_by_role("list", name="Layers")).to_contain_text("Aline's own")
    found["effective"] = ines.axe()
    part(ines, "Machines")
    page.get_by_role("row", name="Gate 1").click()
    page.get_by_role("checkbox", name="Choose Gate 2").check()
    page.get_by_role("button", name="Lists in and out").click()
    found["machine"] = ines.axe()
    part(ines, "Departments, roles, kits")
    page.get_by_role("button", name="Office kit 5").or_(
        page.get_by_role("button", name=re.compile("^Office kit Windows"))
    ).click()
    found["kit"] = ines.axe()
    part(ines, "Setups in use")
    page.get_by_role("list", name="Setups in use").get_by_role("button").first.click()
    found["setups"] = ines.axe()
    ines.go("Programs")
    page.get_by_role("button", name="Program: all programs").click()
    page.get_by_role("menuitem", name=re.compile("^Quaysheet")).click()
    page.get_by_role("link", name="How it behaves").click()
    page.get_by_role("button", name="nobody knows").click()
    expect(page.get_by_role("region", name="Draft")).to_contain_text("clash")
    found["behaviour"] = ines.axe()
    assert [f"{screen}: {fault}" for screen, faults in found.items() for fault in faults] == []


def test_a_person_is_moved_by_keyboard_alone_and_back(ferries):
    ines = ferries()
    page = ines.page
    part(ines, "People")
    grid = page.get_by_role("grid", name="People")
    row = grid.get_by_role("row", name="Aline")
    row.focus()
    page.keyboard.press("ArrowDown")
    expect(grid.get_by_role("row", name="Alva")).to_be_focused()
    page.keyboard.press("Space")
    expect(page.get_by_role("status").filter(has_text="sign-ins")).to_have_text("58 sign-ins, 1 chosen")
    page.keyboard.press("Space")
    page.keyboard.press("End")
    expect(grid.get_by_role("row", name="Zora")).to_be_focused()
    page.keyboard.press("Home")
    expect(row).to_be_focused()
    page.keyboard.press("Enter")
    panel = page.get_by_role("complementary", name="Aline")
    panel.get_by_role("combobox", name="Department").focus()
    page.keyboard.press("Enter")
    page.get_by_role("option", name="Training centre").focus()
    page.keyboard.press("Enter")
    told = panel.get_by_role("status", name="What it would do")
    expect(told).to_contain_text("There will be 43 setups in use, as many as now.")
    expect(told).to_contain_text("clash")
    panel.get_by_role("button", name="Save").focus()
    page.keyboard.press("Enter")
    expect(row).to_contain_text("Training centre")
    page.get_by_role("button", name="Undo", exact=True).click()
    expect(row).to_contain_text("Timetable and tariffs")


def test_what_is_set_for_somebody_and_why(ferries):
    ines = ferries()
    page = ines.page
    part(ines, "People")
    page.get_by_label("Words").fill("counters at westquay")
    expect(page.get_by_role("status").filter(has_text="sign-ins")).to_have_text("3 sign-ins")
    page.get_by_role("row", name="Counters at Westquay", exact=False).first.click()
    page.get_by_role("button", name="What is set for them").click()
    layers = page.get_by_role("list", name="Layers").get_by_role("listitem")
    expect(layers.nth(0)).to_contain_text("applies to everybody")
    expect(layers.nth(1)).to_contain_text("applies to all of Ticket counters")
    mail = page.get_by_role("region", name="Wherrymail")
    expect(mail).to_contain_text("Ticket counters asks for Strg S in vain: House reserved Control+S")
    expect(mail).to_contain_text("House locked it")
    layers.nth(1).get_by_role("button", name="What if not?").click()
    expect(layers.nth(1)).to_contain_text("Open the till in Boardwright has Strg Alt T instead of Strg Umschalt O.")


def test_many_machines_are_changed_at_once_and_undone(ferries):
    ines = ferries()
    page = ines.page
    part(ines, "Machines")
    page.get_by_label("Words").fill("counter")
    expect(page.get_by_role("status").filter(has_text="machines")).to_have_text("16 machines")
    page.get_by_role("checkbox", name="Choose all 16").check()
    page.get_by_role("combobox", name="What shall change").click()
    page.get_by_role("option", name="A program's version, where it is").click()
    page.get_by_role("combobox", name="To", exact=True).click()
    page.get_by_role("option", name="Quaysheet 7.1").click()
    bulk = page.get_by_role("region", name="Change all that are chosen")
    expect(bulk.get_by_role("status", name="What it would do")).to_contain_text("setups in use")
    bulk.get_by_role("button", name="Change 9").click()
    expect(page.get_by_text("Changed 9 machines at once")).to_be_visible()
    page.get_by_role("button", name="Undo this").click()
    expect(page.get_by_text("Undid: Changed 9 machines at once")).to_be_visible()


def test_a_list_is_brought_in_with_its_faults_told(ferries, tmp_path):
    ines = ferries()
    page = ines.page
    part(ines, "People")
    sheet = tmp_path / "new-people.csv"
    sheet.write_text("Name;Abteilung;Sits at\nOttilie;Ticket counters;counter-1\nPaavo;Attic;counter-1\n", encoding="utf-8")
    page.get_by_role("button", name="Lists in and out").click()
    page.locator("input[type=file]").set_input_files(sheet)
    lists = page.get_by_role("region", name="Lists in and out")
    expect(lists.get_by_role("combobox", name="Department")).to_have_text("Abteilung")
    lists.get_by_role("button", name="Check it").click()
    expect(lists).to_contain_text("Checking")
    do_check(ListImport.objects.get().id)
    expect(lists.get_by_role("list", name="What it would do")).to_contain_text("Adds 1 person")
    expect(lists.get_by_role("list", name="Faults")).to_contain_text("row 3, Department There is no department Attic.")
    lists.get_by_role("button", name="Take the good row, leave 1").click()
    expect(lists).to_contain_text("Taking it over")
    do_take(ListImport.objects.get().id)
    expect(page.get_by_text("Taken from new-people.csv.")).to_be_visible()
    expect(page.get_by_role("status").filter(has_text="sign-ins")).to_have_text("59 sign-ins")
    page.get_by_label("Words").fill("ottilie")
    expect(page.get_by_role("row", name="Ottilie")).to_contain_text("Counter 1, Westquay")


def test_a_settings_file_is_dropped_corrected_tried_kept_and_undone(ferries, tmp_path):
    ines = ferries()
    page = ines.page
    ines.go("Programs")
    page.get_by_role("link", name="All programs").click()
    page.get_by_role("link", name="Hewer 12", exact=True).click()
    page.get_by_role("link", name="Where it keeps its keys").click()
    expect(page.get_by_role("heading", name="Where Hewer 12 keeps its keys")).to_be_visible()
    file = tmp_path / "keys.conf"
    file.write_text("# Hewer\nfont 12\nwindow: file.new = C-n\nwindow: save = C-s\neditor: undo = C-z\neditor: old = C-odd\n")
    page.locator("input[type=file]").set_input_files(file)
    read = page.get_by_role("region", name="Read from it")
    expect(read.get_by_label("What file.new is")).to_have_value("new-file")
    expect(read).to_contain_text("line 4, as by default")
    page.get_by_label("Path on Windows").fill("Hewer/keys.conf")
    page.get_by_label("Command", exact=True).select_option("new-file")
    page.get_by_label("Its keys").fill("Ctrl+Shift+F2")
    expect(page.get_by_role("region", name="Try writing")).to_contain_text("changes line 3")
    page.get_by_label("Its keys").press("Control+Enter")
    expect(page.get_by_text("Described where Hewer 12 keeps its keys")).to_be_visible()
    expect(page.get_by_role("button", name="Hewer/keys.conf")).to_be_visible()
    page.get_by_role("button", name="Undo this").click()
    expect(page.get_by_text("Undid: Described where Hewer 12 keeps its keys")).to_be_visible()
    expect(page.get_by_role("button", name="Hewer/keys.conf")).to_be_hidden()


def test_a_scope_and_a_habit_are_changed_with_their_trace(ferries):
    ines = ferries()
    page = ines.page
    ines.lens("Setup", "Windows, German keyboard, Timetable and tariffs, with own settings")
    ines.go("Programs")
    page.get_by_role("button", name="Program: all programs").click()
    page.get_by_role("menuitem", name=re.compile("^Quaysheet")).click()
    page.get_by_role("link", name="How it behaves").click()
    page.get_by_role("combobox", name="Program").click()
    page.get_by_role("option", name="Quaysheet 7.2").click()
    expect(page.get_by_role("heading", name="How Quaysheet behaves")).to_be_visible()
    tie = page.get_by_role("region", name="Two commands on one press")
    expect(tie).to_contain_text("Quaysheet does its first command of Whole window")
    tie.get_by_role("button", name="the last one").click()
    expect(tie).to_contain_text("Quaysheet does its second command of Whole window")
    scopes = page.get_by_role("region", name="Scopes")
    scopes.get_by_label("A scope more").fill("Tides panel")
    scopes.get_by_role("button", name="Add it").click()
    draft = page.get_by_role("region", name="Draft")
    expect(draft).to_contain_text("clash")
    draft.get_by_role("button", name="Save how it behaves").click()
    expect(page.get_by_text("Changed how Quaysheet 7.2 behaves")).to_be_visible()
    expect(tie).to_contain_text("Quaysheet does its second command of Whole window")
    page.get_by_role("button", name="Undo this").click()
    expect(tie).to_contain_text("Quaysheet does its first command of Whole window")


def test_all_setups_in_use_are_looked_through_at_once(ferries):
    ines = ferries()
    page = ines.page
    ines.lens("Setup", "All setups in use")
    expect(page.get_by_role("button", name="Setup: all 43 setups in use")).to_be_visible()
    status = page.get_by_role("status").filter(has_text="groups to decide")
    expect(status).to_contain_text("43 setups")
    page.reload()
    expect(status).to_contain_text("43 setups")
    part(ines, "Setups in use")
    page.get_by_role("button", name=re.compile("^Windows, German keyboard, no pad, Ticket counters")).click()
    page.get_by_role("button", name="Who has it").click()
    expect(page.get_by_role("row", name="Gate watch", exact=False).first).to_be_visible()
    expect(page.get_by_role("status").filter(has_text="sign-in")).to_have_text("1 sign-in")
