"""The way of one decision, as a specialist walks it: seen, decided, undone, exported, brought in, on a machine, drifted."""

import re

from playwright.sync_api import expect

from tests.browser.conftest import agent


def test_from_a_clash_to_the_machine(home, sign_in, tmp_path):
    ines = sign_in("ines")
    page = ines.page

    # Programs through three lenses: what must really be pressed.
    ines.go("Programs")
    ines.seek("coment line", "commands")
    row = page.get_by_role("button", name="Comment the line")
    expect(row).to_contain_text("Strg /")
    ines.lens("Setup", "Harbour control")
    expect(row).to_contain_text("Ctrl /")
    ines.lens("Setup", "Web and data team")
    expect(row).to_contain_text("Cmd /")

    # The list of clashes follows the lens.
    ines.go("Clashes")
    ines.seek("insert the date")
    expect(ines.clash("Insert the date")).to_be_visible()
    ines.lens("Setup", "Ticket counters")
    expect(ines.clash("Insert the date")).to_be_hidden()
    ines.seek("")

    # Consequences first, then the decision; gone after recomputation; undone, and done again.
    ines.clash("Quote the fare").click()
    ways = page.get_by_role("group", name="Ways out")
    expect(ways).to_contain_text("solves 1 clash, makes none")
    expect(page.get_by_text("people can no longer type €")).to_be_visible()
    before = int(page.get_by_role("button", name=re.compile(r"^To decide")).inner_text().split()[-1])
    page.get_by_role("button", name="Decide", exact=True).click()
    expect(ines.clash("Quote the fare")).to_be_hidden()
    expect(page.get_by_role("button", name=f"To decide {before - 1}")).to_be_visible()
    page.get_by_role("button", name="Undo", exact=True).click()
    expect(ines.clash("Quote the fare")).to_be_visible()
    page.get_by_role("button", name="Redo", exact=True).click()
    expect(ines.clash("Quote the fare")).to_be_hidden()

    # Take over a changeable hotkey; allow another clash with a reason.
    ines.clash("Print the manifest").click()
    page.get_by_label("Take it from").check()
    page.get_by_role("button", name="Decide", exact=True).click()
    expect(ines.clash("Print the manifest")).to_be_hidden()
    ines.clash("Show the outline").click()
    page.get_by_label("Allow", exact=False).check()
    page.get_by_label("Why it may stay").fill("The outline is shown all day")
    page.get_by_role("button", name="Allow it").click()
    expect(ines.clash("Show the outline")).to_be_hidden()
    page.get_by_role("button", name="Allowed 1").click()
    expect(ines.clash("Show the outline")).to_be_visible()

    # Out as a bundle, into the empty profile of the training centre.
    ines.go("Profiles")
    page.get_by_role("button", name="Export as a bundle").click()
    with page.expect_download() as downloading:
        page.get_by_role("link", name="Write the bundle").click()
    bundle = tmp_path / downloading.value.suggested_filename
    downloading.value.save_as(bundle)
    page.get_by_role("combobox", name="Profile").click()
    page.get_by_role("option", name="Training centre").click()
    expect(page.get_by_text("Training centre sets nothing yet.")).to_be_visible()
    page.locator("input[type=file]").set_input_files(bundle)
    expect(page.get_by_text("adds 4, changes 0, removes 0")).to_be_visible()
    expect(page.get_by_text("Quote the fare, in Quaysheet, gets Ctrl E instead of Ctrl Alt E.")).to_be_visible()
    page.get_by_label("Count words").uncheck()
    page.get_by_role("button", name="Bring in 3 of 4").click()
    expect(page.get_by_role("link", name="3 shortcuts", exact=True)).to_be_visible()
    ines.shortcuts()
    expect(page.get_by_role("row", name="Quote the fare")).to_be_visible()
    ines.lens("Setup", "Training centre")
    ines.go("Clashes")
    page.get_by_role("button", name=re.compile(r"^To decide")).click()
    expect(ines.clash("Fold all groups")).to_be_visible()
    expect(ines.clash("Quote the fare")).to_be_hidden()

    # Released, applied, in step.
    ines.go("Profiles")
    page.get_by_role("combobox", name="Profile").click()
    page.get_by_role("option", name="House", exact=True).click()
    page.get_by_role("button", name=re.compile(r"^Release revision \d+$")).click()
    expect(page.get_by_text("The newest revision is the released one.")).to_be_visible()
    agent(home, "run", "--once")
    ines.go("Machines")
    counter = page.get_by_role("listitem", name="Counter 3, Westquay")
    expect(counter).to_contain_text("not applied yet")
    settings = home / "Quaysheet/settings.json"
    before_bytes = settings.read_text()
    counter.get_by_role("button", name="Apply the profile").click()
    expect(counter).to_contain_text("waiting for the machine")
    agent(home, "run", "--once")
    expect(counter).to_contain_text("in step")
    after = settings.read_text()
    assert (
        after.replace(',\n      {"do": "paste-values", "on": ["ctl-alt-v"]},\n      {"do": "quote-fare", "on": ["ctl-e"]}', "")
        == before_bytes
    )
    backups = [p for p in (home / ".amberkey/backups").rglob("*") if p.is_file()]
    assert [p.read_text() for p in backups] == [before_bytes]

    # Changed by hand: drifted, and not overwritten without a word.
    settings.write_text(after.replace('"ctl-e"', '"ctl-j"'))
    agent(home, "run", "--once")
    expect(counter).to_contain_text("drifted")
    expect(counter).to_contain_text("Quote the fare has Strg J on the machine; Strg E is wanted.")
    counter.get_by_role("button", name="Put it right").click()
    dialog = page.get_by_role("dialog")
    expect(dialog).to_contain_text("Strg J")
    dialog.get_by_role("button", name="Overwrite it").click()
    agent(home, "run", "--once")
    expect(counter).to_contain_text("in step")
    assert settings.read_text() == after
