"""The standard, by keyboard alone: walking the sheet, setting lines, drafts, releasing, two people at once."""

import csv
import io
import re

from playwright.sync_api import expect

from amberkey.server.estate import current_standard

FOCUSED = "e => e === document.activeElement"


def press(person, *keys):
    for key in keys:
        person.page.keyboard.press(key)


def open_standard(person):
    person.go("Standard")
    person.page.get_by_role("grid", name="Tasks by programs").wait_for()


def to_sheet(person):
    """Leads the focus to the cell of the sheet that is in the tab order."""
    person.tab_to(person.page.locator('[data-cell][tabindex="0"]'))


def at(person):
    return person.page.evaluate("document.activeElement.dataset.cell")


def walk_to(person, task):
    """Leads the focus down to a task's own cell by arrows."""
    to_sheet(person)
    press(person, "Control+Home")
    row = person.page.get_by_role("row").filter(has=person.page.get_by_role("rowheader", name=re.compile(f"^{task}")))
    for _ in range(40):
        if row.count() and row.locator("[data-cell]").first.evaluate(FOCUSED):
            return row
        press(person, "ArrowDown")
    raise AssertionError(f"no way to {task}")


def set_line(person, task, keys):
    """Sets a task's line to keys that are typed, by keyboard alone; returns when the plan is told."""
    page = person.page
    walk_to(person, task)
    press(person, "Enter")
    other = page.get_by_role("radio", name="Another key")
    other.wait_for()
    person.tab_to(page.get_by_role("radio").first)
    for _ in range(6):
        if other.is_checked():
            break
        press(person, "ArrowDown")
    field = page.get_by_label("The standard's key")
    field.wait_for()
    press(person, "Escape")  # typed, not pressed
    person.tab_to(field)
    page.keyboard.type(keys)
    page.get_by_role("status", name="What it would do").wait_for()


def saved(person, text):
    expect(person.page.get_by_role("status").filter(has_text=text)).to_be_visible()


def line_of(task, platform="windows"):
    return next((str(v.shortcut) for v in current_standard().lines if v.task == task and v.platform == platform), None)


def test_a_line_is_set_with_its_consequences_and_undone(sign_in):
    ines = sign_in()
    page = ines.page
    open_standard(ines)
    set_line(ines, "Save", "F9")
    told = page.get_by_role("status", name="What it would do")
    expect(told).to_contain_text("people press something new")
    expect(told).to_contain_text("agreement goes from")
    why = page.get_by_label("Why (kept with the line)")
    ines.tab_to(why)
    page.keyboard.type("One key everywhere")
    ines.tab_to(page.get_by_role("button", name="Save the line"))
    press(ines, "Enter")
    saved(ines, "Set Save on Windows to F9 in the standard")
    assert line_of("save") == "F9"
    expect(page.get_by_role("row").filter(has_text="Save").first).to_contain_text("F9")
    page.evaluate("document.activeElement.blur()")
    press(ines, "Control+z")
    saved(ines, "Undid: Set Save on Windows to F9 in the standard")
    assert line_of("save") is None


def test_the_sheet_is_walked_and_copied_as_a_sheet_is(sign_in):
    ines = sign_in()
    page = ines.page
    page.context.grant_permissions(["clipboard-read", "clipboard-write"])
    open_standard(ines)
    to_sheet(ines)
    press(ines, "Control+Home")
    top, left = map(int, at(ines).split("/"))
    press(ines, "ArrowRight", "ArrowDown")
    down = int(at(ines).split("/")[0])
    assert down > top
    assert at(ines).endswith(f"/{left + 1}")
    press(ines, "End")
    right = int(at(ines).split("/")[1])
    assert right == page.get_by_role("columnheader").count() - 2
    press(ines, "Home")
    assert at(ines) == f"{down}/0"
    press(ines, "Control+End")
    assert int(at(ines).split("/")[0]) > down
    press(ines, "Control+Home", "ArrowRight", "ArrowUp", "ArrowRight")
    assert page.evaluate("document.activeElement.dataset.head") == "2"
    press(ines, "ArrowDown")
    assert at(ines) == f"{top}/2"
    press(ines, "Control+Home", "ArrowRight", "Shift+ArrowDown", "Shift+ArrowRight", "Control+c")
    saved(ines, "Copied 4 cells as CSV")
    rows = list(csv.reader(io.StringIO(page.evaluate("navigator.clipboard.readText()"))))
    heads = [h.inner_text().split("\n")[0] for h in page.get_by_role("columnheader").all()]
    assert rows[0] == ["Task", "Standard", *heads[2:4]]
    assert len(rows) == 3
    press(ines, "Escape", "Enter")
    expect(page.get_by_role("list", name=re.compile("^Who has what for"))).to_be_visible()
    press(ines, "Escape")
    expect(page.get_by_role("list", name=re.compile("^Who has what for"))).to_have_count(0)


def test_a_key_clicked_on_the_keyboard_is_looked_for(sign_in):
    ines = sign_in()
    page = ines.page
    open_standard(ines)
    keyboard = page.get_by_role("region", name="Keyboard")
    keyboard.get_by_role("button", name="Strg", exact=True).first.click()
    keyboard.locator('[data-code="KeyC"]').click()
    expect(page.get_by_text("In sight: tasks that have Control+C")).to_be_visible()
    rows = page.get_by_role("grid").locator("[data-index]:not([data-group])")
    expect(rows).to_have_count(1)
    expect(rows).to_contain_text("Copy")


def test_a_draft_is_tried_compared_and_taken_over(sign_in):
    ines = sign_in()
    page = ines.page
    open_standard(ines)
    set_line(ines, "Save", "F9")
    ines.tab_to(page.get_by_role("button", name="Save the line"))
    press(ines, "Enter")
    saved(ines, "Set Save on Windows")
    set_line(ines, "Copy", "F8")
    ines.tab_to(page.get_by_role("button", name="Try it in a draft"))
    press(ines, "Enter")
    draft = page.get_by_role("region", name="Draft")
    expect(draft).to_contain_text("1 line differs from the standard as it is")
    assert line_of("copy") is None
    set_line(ines, "Cut", "F7")
    ines.tab_to(page.get_by_role("button", name=re.compile("^Keep it in What if")))
    press(ines, "Enter")
    expect(draft).to_contain_text("2 lines differ")
    ines.tab_to(page.get_by_role("button", name="Take it over"), back=True)
    press(ines, "Enter")
    saved(ines, "Took over the draft What if: Copy")
    assert [line_of(t) for t in ("save", "copy", "cut")] == ["F9", "F8", "F7"]


def test_two_people_edit_the_standard_at_once_and_nothing_is_lost(sign_in):
    ines, jorun = sign_in(), sign_in("jorun")
    for person in (ines, jorun):
        open_standard(person)
    set_line(ines, "Save", "F9")
    set_line(jorun, "Save", "F8")
    ines.page.get_by_role("button", name="Save the line").click()
    saved(ines, "Set Save on Windows to F9")
    jorun.page.get_by_role("button", name="Save the line").click()
    both = jorun.page.get_by_role("alert").filter(has_text="Ines changed the same while you looked at it.")
    expect(both).to_be_visible()
    expect(both).to_contain_text("Ines's: Adds the line save on windows: F9")
    assert line_of("save") == "F9"
    both.get_by_role("radio", name=re.compile("^Yours: .*F8")).check()
    both.get_by_role("button", name="Save with these").click()
    saved(jorun, "Set Save on Windows to F8")
    assert line_of("save") == "F8"
    # What they do beside each other stays, without anybody being asked.
    set_line(jorun, "Copy", "F10")
    set_line(ines, "Cut", "F11")
    jorun.page.get_by_role("button", name="Save the line").click()
    saved(jorun, "Set Copy on Windows")
    ines.page.get_by_role("button", name="Save the line").click()
    saved(ines, "Set Cut on Windows")
    assert [line_of(t) for t in ("save", "copy", "cut")] == ["F8", "F10", "F11"]


def test_a_program_is_let_off_and_the_standard_released(sign_in):
    ines = sign_in()
    page = ines.page
    open_standard(ines)
    set_line(ines, "Save", "F9")
    page.get_by_role("button", name="Save the line").click()
    saved(ines, "Set Save on Windows to F9")
    walk_to(ines, "Save")
    press(ines, "Enter")
    ines.tab_to(page.get_by_role("button", name="Let a program off"))
    press(ines, "Enter")
    ines.tab_to(page.get_by_label("Program", exact=True).last)
    press(ines, "Enter")
    page.get_by_role("option", name="Quaysheet").wait_for()
    for _ in range(12):
        if page.get_by_role("option", name="Quaysheet").evaluate(FOCUSED):
            break
        press(ines, "ArrowDown")
    press(ines, "Enter")
    ines.tab_to(page.get_by_label("Why it needn't follow"))
    page.keyboard.type("Learned there")
    ines.tab_to(page.get_by_role("button", name="Let it off"))
    press(ines, "Enter")
    saved(ines, "Let Quaysheet off the standard for Save")
    waiting = page.get_by_role("button", name=re.compile("to release$"))
    ines.tab_to(waiting, back=True)
    press(ines, "Enter")
    panel = page.get_by_role("region", name="Release the standard")
    expect(panel).to_contain_text("none is released")
    ines.tab_to(panel.get_by_role("button", name="Release it"))
    press(ines, "Enter")
    saved(ines, "Released the standard, revision 3")
    expect(waiting).to_have_count(0)


def test_the_standard_moves_with_a_decision_and_both_are_undone_as_one(sign_in):
    ines = sign_in()
    page = ines.page
    clash = "Quote the fare"
    ines.seek(clash)
    ines.to_rows()
    press(ines, "Enter")
    choice = page.get_by_role("group", name="The standard")
    expect(choice).to_contain_text("The standard says nothing of Quote the fare")
    ines.tab_to(choice.get_by_role("radio", name="Leave it at that"))
    press(ines, "ArrowDown")
    expect(choice.get_by_role("radio", name="Make it the standard")).to_be_checked()
    expect(choice.get_by_role("status", name="What it would do")).to_contain_text("Once released")
    assert ines.axe() == []
    keys = choice.locator("label .unseen").inner_text()
    press(ines, "Enter")
    saved(ines, f"and set Quote the fare to {keys} in the standard")
    assert line_of("quote-fare") is not None
    open_standard(ines)
    row = page.get_by_role("row").filter(has=page.get_by_role("rowheader", name=re.compile(f"^{clash}")))
    expect(row).to_contain_text(keys)
    press(ines, "Control+z")
    saved(ines, "Undid: Moved Quote the fare")
    assert line_of("quote-fare") is None


def test_figures_open_what_they_count(sign_in):
    ines = sign_in()
    page = ines.page
    open_standard(ines)
    rows = page.get_by_role("grid").locator("[data-index]:not([data-group])")
    before = rows.count()
    set_line(ines, "Save", "F9")
    page.get_by_role("button", name="Save the line").click()
    saved(ines, "Set Save on Windows to F9")
    departures = page.get_by_role("button", name=re.compile("^Departures"))
    ines.tab_to(departures, back=True)
    press(ines, "Enter")
    expect(rows).to_have_count(1)
    assert int(departures.locator("b").inner_text()) == page.locator('[data-state="differs"]').count()
    press(ines, "Enter")
    expect(rows).to_have_count(before)
    page.get_by_role("button", name="Ask for all").wait_for(state="detached")


def test_axe_finds_nothing_on_the_standard(sign_in):
    ines = sign_in()
    page = ines.page
    open_standard(ines)
    set_line(ines, "Save", "F9")
    assert ines.axe() == []
    page.get_by_role("button", name="Save the line").click()
    saved(ines, "Set Save on Windows to F9")
    page.get_by_role("button", name=re.compile("to release$")).click()
    page.get_by_role("region", name="Release the standard").get_by_role("status").wait_for()
    assert ines.axe() == []
    for part, sign in (("Worth a look", "section h2"), ("Carry over", "main"), ("Lend", "section h2")):
        page.get_by_role("group", name="Which part of the standard").get_by_role("button", name=part).click()
        page.locator(sign).first.wait_for()
        assert ines.axe() == []
