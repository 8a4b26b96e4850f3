import re

from playwright.sync_api import expect


def test_axe_finds_nothing_on_any_screen(sign_in):
    ines = sign_in("ines")
    page = ines.page
    found = {}
    ines.clash("Fold all groups").click()
    expect(page.get_by_role("group", name="Ways out")).to_be_visible()
    page.get_by_label("Move to a shortcut of your own").check()
    page.get_by_label("New shortcut").fill("ctrl+bakspace")
    expect(page.get_by_role("alert")).to_be_visible()
    found["clashes"] = ines.axe()
    page.get_by_role("button", name="Decide", exact=True).wait_for()
    page.get_by_role("radio", name=re.compile("^Move to")).first.check()
    page.get_by_role("button", name="Decide", exact=True).click()
    # The rows below move up when the decided one is gone.
    expect(page.get_by_role("status").filter(has_text="Moved Fold all groups")).to_be_visible()
    page.get_by_role("checkbox", name="Choose Quote the fare").check()
    page.get_by_role("button", name="Settle them").click()
    expect(page.get_by_role("list", name="What would be done")).to_be_visible()
    page.get_by_role("button", name="By keys").click()
    found["several clashes"] = ines.axe()
    page.get_by_role("button", name=re.compile("^Decided")).click()
    expect(page.get_by_role("list", name="Decisions")).to_be_visible()
    found["decided"] = ines.axe()
    page.get_by_role("button", name="Meant by the maker").click()
    found["meant by the maker"] = ines.axe()
    ines.go("Try")
    page.get_by_role("button", name="What if").click()
    page.get_by_label("Press, click or type").fill("F8")
    expect(page.get_by_role("list", name="The way of F8")).to_be_visible()
    page.get_by_role("button", name="Another place beside it").click()
    page.get_by_role("button", name=re.compile("^It did that")).first.click()
    found["try"] = ines.axe()
    page.get_by_role("button", name=re.compile("^Test records")).click()
    expect(page.get_by_role("list", name="Test records")).to_be_visible()
    found["test records"] = ines.axe()
    page.get_by_role("button", name=re.compile("^Untested")).click()
    expect(page.get_by_role("list", name="Untested")).to_be_visible()
    found["untested"] = ines.axe()
    page.get_by_role("button", name=re.compile("^Try")).click()
    page.get_by_role("heading", name="Try a press").click()
    page.keyboard.press("?")
    expect(page.get_by_role("dialog")).to_be_visible()
    page.get_by_role("button", name="Change: Go to Try").click()
    found["own shortcuts"] = ines.axe()
    page.keyboard.press("Escape")
    page.get_by_role("button", name="hold against").click()
    page.get_by_role("button", name="lay reach over").click()
    expect(page.get_by_role("button", name="let go")).to_be_visible()
    found["held against another lens"] = ines.axe()
    ines.go("Programs")
    ines.seek("save a copy", "commands")
    page.get_by_role("button", name="Save a copy").click()
    expect(page.get_by_role("list", name="Where its keys come from")).to_be_visible()
    page.get_by_role("button", name="By keys").click()
    found["commands"] = ines.axe()
    page.get_by_role("checkbox", name="Choose Save a copy").check()
    expect(page.get_by_role("complementary", name="What is done with those chosen")).to_be_visible()
    found["chosen commands"] = ines.axe()
    ines.go("Profiles")
    expect(page.get_by_role("complementary", name="What travels")).to_contain_text("shortcuts")
    found["profiles"] = ines.axe()
    ines.shortcuts()
    expect(page.get_by_role("row", name="Paste values only")).to_be_visible()
    found["shortcuts of a profile"] = ines.axe()
    ines.go("Machines")
    expect(page.get_by_role("listitem", name="Harbour desk 2")).to_be_visible()
    found["agents"] = ines.axe()
    page.get_by_role("button", name="Setup:").click()
    found["a choice of the lens"] = ines.axe()
    page.keyboard.press("Escape")
    page.get_by_role("button", name="Sign out").click()
    expect(page.get_by_label("Password")).to_be_visible()
    found["sign in"] = ines.axe()
    assert [f"{screen}: {fault}" for screen, faults in found.items() for fault in faults] == []


def test_a_clash_is_decided_by_keyboard_alone(sign_in):
    ines = sign_in("ines")
    page = ines.page
    ines.to_rows()
    page.keyboard.press("ArrowDown")
    page.keyboard.press("ArrowDown")
    focused = page.locator("[data-row]:focus")
    name = focused.locator("b").inner_text()
    page.keyboard.press("Enter")
    expect(page.get_by_role("group", name="Ways out")).to_be_visible()
    page.keyboard.press("Tab")
    page.keyboard.press("2")
    expect(page.get_by_role("radio").nth(1)).to_be_checked()
    page.keyboard.press("Enter")
    expect(ines.clash(name)).to_have_count(0)
    expect(page.locator("[data-row]:focus")).to_have_count(1)


def test_a_press_is_recorded_clicked_and_typed(sign_in):
    ines = sign_in("ines")
    page = ines.page
    ines.go("Programs")
    ines.seek("save a copy", "commands")
    page.get_by_role("button", name="Save a copy").click()
    panel = page.get_by_role("complementary", name="The life of a command")
    field = panel.get_by_label("Another key")
    panel.get_by_role("button", name="Press it").click()
    page.keyboard.press("Control+Alt+Digit8")
    expect(field).to_have_value("Strg Alt 8")
    expect(panel).to_contain_text("It types [ on this keyboard.")
    keys = page.get_by_role("group", name="Keys")
    keys.get_by_role("button", name="Strg", exact=True).first.click()
    keys.get_by_role("button", name=re.compile("^Ö,")).click()
    expect(field).to_have_value("Strg Ö")
    expect(panel).to_contain_text("Free here.")
    page.keyboard.press("Escape")
    panel.get_by_role("button", name="Stop listening").click()
    field.fill("ctrl shift f")
    expect(panel).to_contain_text("Freeze the head")
    expect(panel).to_contain_text("Makes:")
    field.fill("ctrl+bakspace")
    expect(panel.locator("mark")).to_have_text("bakspace")
    panel.get_by_role("button", name="Take Control+Backspace").click()
    expect(panel).to_contain_text("Where people type, it erases a word to the left.")
    expect(panel).to_contain_text("takes a caret press")
    field.fill("ctrl shift j")
    expect(panel).to_contain_text("Makes no clash.")
    panel.get_by_role("button", name="Give it").click()
    row = page.get_by_role("list", name="Commands").get_by_role("button", name="Save a copy")
    expect(row).to_contain_text("Strg Umschalt J")
    expect(row).to_contain_text("House")


def test_who_holds_a_press(sign_in):
    ines = sign_in("ines")
    page = ines.page
    ines.go("Programs")
    page.get_by_role("search", name="Choose commands").get_by_role("button", name="By keys").click()
    expect(page.get_by_label("Press to look for")).to_be_focused()
    page.keyboard.press("Control+Shift+Digit7")
    expect(page.get_by_role("status").filter(has_text="found")).to_have_text("2 found")
    expect(page.get_by_role("button", name="Comment the line")).to_be_visible()


def test_all_commands_are_looked_through_by_keyboard_alone(sign_in):
    ines = sign_in("ines")
    page = ines.page
    ines.go("Programs")
    ines.tab_to(page.get_by_role("search", name="Choose commands").get_by_label("Words"))
    page.keyboard.type("sav a cpoy")
    rows = page.get_by_role("list", name="Commands")
    expect(rows.locator("[data-row]").first).to_contain_text("Save a copy")
    expect(rows.locator("[data-row] u").first).to_have_text("Save")
    ines.tab_to(rows.locator("[data-row]").first)
    page.keyboard.press("Enter")
    life = page.get_by_role("complementary", name="The life of a command")
    expect(life.get_by_role("heading")).to_have_text("Save a copy")
    page.keyboard.press("Escape")
    expect(life).to_be_hidden()
    expect(rows.locator("[data-row]").first).to_be_focused()
    # Another key, told first; then all of it back, in one step that can be undone.
    page.keyboard.press("Enter")
    ines.tab_to(life.get_by_label("Another key"))
    page.keyboard.type("ctrl shift j")
    expect(life).to_contain_text("Makes no clash.")
    ines.tab_to(life.get_by_role("button", name="Give it"))
    page.keyboard.press("Enter")
    row = rows.locator("[data-row]").first
    expect(row).to_contain_text("House")
    ines.tab_to(life.get_by_role("button", name="Back to the default"))
    page.keyboard.press("Enter")
    expect(life.get_by_role("list", name="What returns")).to_contain_text("Save a copy in Quaysheet")
    ines.tab_to(life.get_by_role("button", name="Reset Save a copy"))
    page.keyboard.press("Enter")
    expect(row).not_to_contain_text("House")
    expect(page.get_by_text("Reset Save a copy in Quaysheet to the default")).to_be_visible()
    page.get_by_role("button", name="Undo", exact=True).first.click()
    expect(row).to_contain_text("House")
    # The address holds the view.
    page.reload()
    expect(life.get_by_role("heading")).to_have_text("Save a copy")
    expect(page.get_by_label("Words")).to_have_value("sav a cpoy")
    # However far down it is, an open row is in sight when somebody comes with its address.
    page.goto(re.sub(r"words=[^&]*", "order=name", page.url))
    expect(rows.get_by_role("button", name="Save a copy")).to_be_in_viewport()


def test_several_commands_get_a_task_and_are_taken_as_a_list(sign_in):
    ines = sign_in("ines")
    page = ines.page
    ines.go("Programs")
    page.get_by_role("button", name="State: in any state").click()
    page.get_by_role("menuitem", name=re.compile("^without a task")).click()
    first = page.get_by_role("list", name="Commands").locator("[data-row]").first
    name = first.locator("b").inner_text()
    first.focus()
    page.keyboard.press("Shift+ArrowDown")
    panel = page.get_by_role("complementary", name="What is done with those chosen")
    expect(panel.get_by_role("heading")).to_have_text("2 commands chosen")
    with page.expect_download() as download:
        panel.get_by_role("button", name="As CSV").click()
    assert name in download.value.path().read_text("utf-8-sig")
    panel.get_by_role("combobox", name="Task", exact=True).click()
    page.get_by_role("option", name="Save", exact=True).click()
    panel.get_by_role("button", name="Give them this task").click()
    expect(first.locator("b")).not_to_have_text(name)
    page.get_by_role("button", name="Undo", exact=True).click()
    expect(first.locator("b")).to_have_text(name)


def test_the_strip_names_who_takes_each_key(sign_in):
    ines = sign_in("ines")
    page = ines.page
    strip = page.get_by_role("region", name="Keyboard")
    keys = strip.get_by_role("group", name="Keys")
    page.get_by_role("heading", name="Where presses stop").click()
    page.keyboard.down("Control")
    page.keyboard.down("Alt")
    expect(keys.get_by_role("button", name="E, Quaysheet, Sheet: Quote the fare")).to_be_visible()
    page.keyboard.up("Alt")
    page.keyboard.up("Control")
    expect(strip).to_contain_text("nothing")
    keys.get_by_role("button", name="Win", exact=True).first.click()
    expect(keys.get_by_role("button", name="L, Windows: locks the screen")).to_be_visible()
    keys.get_by_role("button", name=re.compile("^F,")).focus()
    page.keyboard.press("ArrowRight")
    expect(strip).to_contain_text("G with Win")


def test_the_address_holds_the_view(sign_in):
    ines = sign_in("ines")
    ines.lens("Setup", "Web and data team")
    ines.clash("Stamp the berth").click()
    expect(ines.page.get_by_role("group", name="Ways out")).to_be_visible()
    ines.page.reload()
    expect(ines.page.get_by_role("group", name="Ways out")).to_be_visible()
    expect(ines.page.get_by_role("button", name="Setup: Web and data team")).to_be_visible()


def test_a_reader_looks_and_is_told_who_may(sign_in):
    tove = sign_in("tove")
    page = tove.page
    tove.clash("Quote the fare").click()
    expect(page.get_by_text("Readers look; an editor decides.")).to_be_visible()
    expect(page.get_by_role("button", name="Decide", exact=True)).to_have_count(0)
    expect(page.get_by_role("button", name="Undo", exact=True)).to_have_count(0)


def test_two_people_deciding_the_same_clash(sign_in):
    ines, jorun = sign_in("ines"), sign_in("jorun")
    for person in (ines, jorun):
        person.clash("Quote the fare").click()
        expect(person.page.get_by_role("button", name="Decide", exact=True)).to_be_enabled()
    ines.page.get_by_role("button", name="Decide", exact=True).click()
    expect(ines.clash("Quote the fare")).to_be_hidden()
    jorun.page.get_by_role("button", name="Decide", exact=True).click()
    told = jorun.page.get_by_role("alert")
    expect(told).to_contain_text("Ines decided this clash already.")
    expect(told).to_contain_text("Moved Quote the fare in Quaysheet from Strg Alt E to Strg E")
    expect(told).to_contain_text("Nothing of yours was saved and nothing of theirs was lost.")
    expect(jorun.clash("Quote the fare")).to_be_hidden()


def test_a_damaged_bundle_is_refused_on_screen(sign_in, tmp_path):
    ines = sign_in("ines")
    ines.go("Profiles")
    bad = tmp_path / "bad.zip"
    bad.write_bytes(b"no bundle")
    ines.page.locator("input[type=file]").set_input_files(bad)
    expect(ines.page.get_by_role("alert")).to_contain_text("can't be opened as a zip file")
    expect(ines.page.get_by_role("alert")).to_contain_text("Nothing was changed.")


def test_wrong_sign_ins_are_told(sign_in):
    ines = sign_in("ines")
    page = ines.page
    page.get_by_role("button", name="Sign out").click()
    page.get_by_label("Name").fill("ines")
    page.get_by_label("Password").fill("guess")
    page.get_by_role("button", name="Sign in").click()
    expect(page.get_by_role("alert")).to_contain_text("Name and password don't belong together.")
