"""A proposal for the standard, by keyboard alone: asked for, walked, asked why, pinned, made a draft and taken."""

from playwright.sync_api import expect

from amberkey.core.proposing.highs import Highs
from amberkey.server.proposals.models import Proposal
from amberkey.server.proposals.working import work
from tests.browser.test_standard import saved, set_line


def work_out():
    """What a worker would do."""
    work(Proposal.objects.filter(state="working").get().pk, Highs())


def test_a_proposal_is_pinned_planned_walked_and_taken(sign_in):
    ines = sign_in()
    page = ines.page
    ines.go("Standard")
    set_line(ines, "Save", "Ctrl+S")
    page.get_by_role("button", name="Save the line").press("Enter")
    saved(ines, "Set Save on Windows to Ctrl S in the standard")
    page.get_by_role("link", name="Propose").press("Enter")
    page.get_by_label("Keys to ban").fill("F9")
    page.get_by_role("button", name="Ban").press("Enter")
    page.get_by_role("button", name="Find the best keys").press("Enter")
    page.get_by_role("button", name="Stop with the best so far").wait_for()
    work_out()
    curve = page.get_by_role("slider")
    curve.wait_for()
    most = int(curve.get_attribute("aria-valuenow"))
    curve.focus()
    page.keyboard.press("Home")
    least = int(curve.get_attribute("aria-valuenow"))
    assert least <= most
    page.keyboard.press("End")
    expect(page.get_by_text("Proven: none for so much relearning is better.")).to_be_visible()
    page.get_by_role("button", name="All tasks").press("Enter")
    rows = page.get_by_role("list", name="Tasks").get_by_role("listitem")
    expect(rows.nth(3)).to_be_visible()
    expect(rows.filter(has_text="Save").first).to_contain_text("Ctrl S")
    assert ines.axe() == []
    # While a point is fetched, the rows of the one before can't be acted on.
    expect(page.locator("[inert]")).to_have_count(0)
    first = rows.first.get_by_role("button", name="Pin ")
    first.press("Enter")
    page.get_by_role("button", name="Unpin").first.wait_for()
    page.get_by_role("button", name="Find the best keys").press("Enter")
    page.get_by_role("button", name="Stop with the best so far").wait_for()
    work_out()
    page.get_by_text("pinned").first.wait_for()
    page.get_by_role("button", name="Make it a draft of the standard").press("Enter")
    draft = page.get_by_role("region", name="Draft")
    draft.wait_for()
    draft.get_by_role("button", name="Take it over").press("Enter")
    draft.wait_for(state="detached")
    # One more command makes room, told first, and gets its own key back.
    page.get_by_role("button", name="Making room").press("Enter")
    page.get_by_role("button", name="Have a command make room").press("Enter")
    page.get_by_role("combobox", name="Program").press("Enter")
    page.get_by_role("option", name="Quaysheet").press("Enter")
    commands = page.get_by_role("combobox", name="Command")
    expect(commands).to_be_enabled()
    commands.press("Enter")
    option = page.get_by_role("listbox", name="Command").get_by_role("option").first
    name = option.inner_text().split(",")[0]
    option.press("Enter")
    page.get_by_label("Why (kept with it)").fill("Too near to Find")
    expect(page.get_by_text("Once released")).to_be_visible()
    assert ines.axe() == []
    page.get_by_role("button", name="Save it").press("Enter")
    row = page.get_by_role("list", name="Commands that make room").get_by_role("listitem").filter(has_text="Too near to Find")
    row.get_by_role("button", name=f"Change {name}").press("Enter")
    page.get_by_label("Its own keys again").check()
    expect(page.get_by_text("Once released")).to_be_visible()
    page.get_by_role("button", name="Save it").press("Enter")
    expect(row).to_have_count(0)


def test_what_cant_be_proposed_is_said(sign_in, live_server):
    ines = sign_in()
    page = ines.page
    page.goto(f"{live_server.url}/standard/propose")
    page.get_by_label("Keys to ban").fill("no such key")
    page.get_by_role("button", name="Ban").press("Enter")
    page.get_by_role("button", name="Find the best keys").press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("No key is called no")
