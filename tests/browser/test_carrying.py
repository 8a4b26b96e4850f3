"""Profiles out and in on screen: chosen sections, who signed, a part of a bundle taken and undone, files, sheets, by hand."""

import re
import zipfile

import pytest
from playwright.sync_api import expect

from amberkey.core.exchange.bundle import Signing, read_bundle, write_bundle
from amberkey.core.exchange.signing import SigningKey
from tests.server.conftest import Api

HARBOUR = SigningKey(bytes([7]) * 32)


@pytest.fixture
def signing(settings, tmp_path):
    """This organisation's own key, and another one's that nobody knows yet."""
    file = tmp_path / "signing-key"
    file.write_text("11" * 32)
    settings.SIGNING_KEY_FILE = str(file)


def profile(person, name):
    person.go("Profiles")
    person.page.get_by_role("combobox", name="Profile").click()
    person.page.get_by_role("option", name=name, exact=True).click()
    person.page.get_by_role("heading", name=name, exact=True).wait_for()


def bring(person, file):
    person.page.locator("input[type=file]").set_input_files(file)


def test_a_part_of_a_bundle_from_elsewhere_is_taken_and_undone(home, sign_in, signing, tmp_path):
    ines = sign_in("ines")
    page = ines.page
    profile(ines, "House")
    page.get_by_role("button", name="Export as a bundle").click()
    region = page.get_by_role("region", name="Export as a bundle")
    expect(region.get_by_text("Signed by The organisation.")).to_be_visible()
    expect(region.get_by_text("With it one settings file, as its program reads it")).to_be_visible()
    assert ines.axe() == []
    with page.expect_download() as downloading:
        region.get_by_role("link", name="Write the bundle").click()
    own = tmp_path / "own.zip"
    downloading.value.save_as(own)
    found = read_bundle(own.read_bytes())
    theirs = tmp_path / "theirs.zip"
    signed = Signing(HARBOUR, "Harbour Office")
    theirs.write_bytes(write_bundle(found.documents, bundle_id="t", name="Theirs", signing=signed))

    profile(ines, "Training centre")
    bring(ines, theirs)
    expect(page.get_by_text("Signed with a key that nobody here knows. It calls itself Harbour Office")).to_be_visible()
    expect(page.get_by_text("adds 2, changes 0, removes 0")).to_be_visible()
    expect(page.get_by_role("status").filter(has_text=re.compile(r"^Solves (no|\d+) clash"))).to_be_visible()
    page.get_by_label("Count words").uncheck()
    page.get_by_role("button", name="Bring in 1 of 2").click()
    expect(page.get_by_role("link", name="1 shortcut", exact=True)).to_be_visible()
    page.get_by_role("button", name="Undo this").click()
    expect(page.get_by_text("Training centre sets nothing yet.")).to_be_visible()

    # Once an administrator trusts their key, it is told as theirs.
    card = tmp_path / "card.json"
    card.write_bytes(HARBOUR.card("Harbour Office").to_bytes())
    arvid = sign_in("arvid")
    arvid.go("Organisation")
    arvid.page.get_by_role("link", name="Who signs").click()
    arvid.page.get_by_role("heading", name="Who signs").wait_for()
    arvid.page.locator("input[type=file]").set_input_files(card)
    known = arvid.page.get_by_role("region", name="Known organisations").get_by_role("listitem")
    expect(known.filter(has_text="Harbour Office")).to_be_visible()
    assert arvid.axe() == []
    bring(ines, theirs)
    expect(page.get_by_text("Signed by Harbour Office.")).to_be_visible()


def test_a_persons_settings_file_comes_in_and_a_setups_files_go_out(home, sign_in, tmp_path):
    ines = sign_in("ines")
    page = ines.page
    profile(ines, "House")
    mine = tmp_path / "settings.json"
    mine.write_text('{"keyboard": {"own": [{"do": "recalculate", "on": ["f4"]}, {"do": "fly", "on": ["f2"]}]}, "zoom": 2}')
    bring(ines, mine)
    expect(page.get_by_text("read as the file of Quaysheet 7.2 on Windows")).to_be_visible()
    expect(page.get_by_text("Calculate again, in Quaysheet, gets F4 instead of F11.")).to_be_visible()
    page.get_by_role("button", name="Bring in 1 of 1").click()
    expect(page.get_by_role("link", name="3 shortcuts", exact=True)).to_be_visible()
    ines.shortcuts()
    expect(page.get_by_role("row", name="Calculate again")).to_be_visible()

    page.goto(f"{ines.address}/organisation/setups/files?setup=ticket-counters")
    row = page.get_by_role("listitem").filter(has_text="Quaysheet/settings.json")
    row.get_by_role("button", name=re.compile("^Look at it")).click()
    expect(row.get_by_text('"recalculate"')).to_be_visible()
    assert ines.axe() == []
    with page.expect_download() as downloading:
        page.get_by_role("link", name=re.compile("with (its|their) folder")).click()
    together = tmp_path / "files.zip"
    downloading.value.save_as(together)
    with zipfile.ZipFile(together) as archive:
        assert b"recalculate" in archive.read("Quaysheet/settings.json")
    with page.expect_download() as downloading:
        row.locator("input[type=file]").set_input_files(mine)
    written = tmp_path / "written.json"
    downloading.value.save_as(written)
    text = written.read_text()
    assert text.startswith('{"keyboard": {"own": [{"do": "recalculate", "on": ["f4"]}, {"do": "fly", "on": ["f2"]}')
    assert '"paste-values"' in text
    assert text.endswith('"zoom": 2}')


def test_a_sheet_that_was_edited_comes_back(home, sign_in, tmp_path):
    ines = sign_in("ines")
    page = ines.page
    profile(ines, "House")
    page.get_by_role("button", name="As a sheet").click()
    with page.expect_download() as downloading:
        page.get_by_role("menuitem", name=re.compile("^CSV")).click()
    sheet = tmp_path / "house.csv"
    downloading.value.save_as(sheet)
    sheet.write_text(sheet.read_text("utf-8").replace("Control+Alt+V", "Control+Alt+B"), "utf-8")
    bring(ines, sheet)
    expect(page.get_by_text("Paste values only, in Quaysheet, moves from Ctrl Alt V to Ctrl Alt B.")).to_be_visible()
    page.get_by_role("button", name="Bring in 1 of 1").click()
    expect(page.get_by_role("status").filter(has_text="Brought").first).to_be_visible()
    ines.shortcuts()
    expect(page.get_by_role("row", name="Paste values only")).to_contain_text("Ctrl Alt B")


def test_what_runs_something_waits_for_somebody_elses_yes(home, sign_in):
    jorun = Api("jorun")
    answer = jorun.client.get("/api/documents/profile/house")
    launcher = {"id": "log", "name": "Open the log", "runs": "kept-log --open", "shortcuts": {"windows": ["Control+Alt+F9"]}}
    jorun.put("/documents/profile/house", {**answer.json(), "launchers": [launcher]}, **{"If-Match": answer["ETag"]})
    ines = sign_in("ines")
    page = ines.page
    profile(ines, "House")
    waiting = page.get_by_role("region", name="Waiting for a yes")
    expect(waiting.get_by_text("kept-log --open", exact=True)).to_be_visible()
    expect(waiting.get_by_text(re.compile("Jorun wrote it"))).to_be_visible()
    assert ines.axe() == []
    waiting.get_by_role("button", name=re.compile("^Say yes")).click()
    expect(page.get_by_text("Approved: it may go out now.")).to_be_visible()
    page.get_by_role("button", name="Undo this").click()
    expect(waiting.get_by_role("button", name=re.compile("^Say yes"))).to_be_visible()
