"""The morning: what needs somebody, a card for the desk, by keyboard."""

import re

from playwright.sync_api import expect

from tests.browser.test_organisation import ferries  # noqa: F401


def test_today_is_opened_by_its_key_and_what_is_put_aside_comes_back(sign_in):
    ines = sign_in("ines")
    page = ines.page
    page.get_by_role("heading", name="Where presses stop").click()
    page.keyboard.press("d")
    # The small example has no organisation yet, so that is what Today tells first.
    expect(page.get_by_role("list", name="The line of the work")).to_be_visible()
    assert ines.axe() == []


def test_a_card_is_chosen_drawn_and_handed_out_by_keyboard(sign_in):
    ines = sign_in("ines")
    page = ines.page
    page.get_by_role("heading", name="Where presses stop").click()
    page.keyboard.press("b")
    sheet = page.get_by_role("article", name="The card")
    expect(sheet.get_by_role("heading", name="For everybody")).to_be_visible()
    assert ines.axe() == []
    ines.tab_to(page.get_by_role("button", name="Language: English"))
    page.keyboard.press("Enter")
    page.get_by_role("menuitem", name="German").wait_for()
    page.keyboard.press("ArrowDown")
    page.keyboard.press("Enter")
    expect(sheet.get_by_role("heading", name="Für alle")).to_be_visible()
    expect(page).to_have_url(re.compile("language=de"))
    first = sheet.get_by_role("listitem").first
    told = first.inner_text()
    leave = page.get_by_role("link", name=re.compile("^leave it out")).first
    ines.tab_to(leave)
    page.keyboard.press("Enter")
    expect(page.get_by_text("left out on purpose")).to_be_visible()
    assert sheet.get_by_role("listitem").first.inner_text() != told
    ines.tab_to(page.get_by_role("button", name="Hand it out"), back=True)
    page.keyboard.press("Enter")
    expect(page.get_by_role("status").filter(has_text="Card 1 is handed out")).to_be_visible()
    expect(page.get_by_text(re.compile("card 1 went out on"))).to_be_visible()
    pdf = page.get_by_role("link", name="PDF")
    with page.expect_download() as taken:
        pdf.click()
    assert taken.value.suggested_filename == "card-fur-alle.pdf"


def test_a_card_for_one_person_is_reached_from_them_and_from_the_sentence(ferries):  # noqa: F811
    ines = ferries()
    page = ines.page
    page.goto(f"{ines.address}/organisation/people?words=Aline")
    page.get_by_role("row", name="Aline").click()
    page.get_by_role("link", name="Their card").click()
    sheet = page.get_by_role("article", name="The card")
    expect(sheet.get_by_role("heading", name="Aline")).to_be_visible()
    expect(page.get_by_text(re.compile("^1 person gets this one"))).to_be_visible()
    assert ines.axe() == []
    which = page.get_by_role("combobox", name="Which person")
    ines.tab_to(which)
    page.keyboard.press("Control+A")
    page.keyboard.insert_text("Malo")
    expect(page.get_by_role("option")).to_have_text(["Malo"])
    page.keyboard.press("ArrowDown")
    page.keyboard.press("Enter")
    expect(sheet.get_by_role("heading", name="Malo")).to_be_visible()
    expect(which).to_be_focused()


def test_staff_find_keys_on_a_card_and_test_themselves_without_signing_in(sign_in, new_context, live_server):
    ines = sign_in("ines")
    page = ines.page
    page.get_by_role("heading", name="Where presses stop").click()
    page.keyboard.press("b")
    page.get_by_role("button", name="Hand it out").click()
    page.get_by_role("button", name=re.compile("^open a page")).click()
    address = page.locator("code").filter(has_text="/c/").inner_text()
    address = live_server.url + address[address.index("/c/") :]
    visitor = new_context().new_page()
    faults = []
    visitor.on("pageerror", lambda error: faults.append(str(error)))
    visitor.on("console", lambda m: faults.append(m.text) if "Content Security Policy" in m.text else None)
    visitor.goto(address)
    key = visitor.locator("[data-key='Control+Z']").first
    expect(key).to_be_visible()
    visitor.keyboard.press("Control+z")
    here = visitor.locator("li.here")
    expect(here).to_have_count(1)
    expect(visitor.locator("#found")).to_have_text(called(here))
    visitor.keyboard.press("Control+Alt+Shift+Insert")
    expect(visitor.locator("#found")).to_have_text("That key isn't on this card.")
    visitor.get_by_role("button", name="Test yourself").click()
    expect(visitor.locator("#asked")).to_contain_text("Which key:")
    expect(key).to_be_hidden()
    visitor.keyboard.press("Control+Alt+Shift+Insert")
    expect(visitor.locator("#found")).to_contain_text("Not that one.")
    expect(visitor.locator("li.here .keys")).to_be_visible()
    missed = {called(visitor.locator("li.here"))}
    answered = 0
    while key_asked_for(visitor) is not None:
        if len(missed) < 4 and answered > len(missed):
            visitor.keyboard.press("Control+Alt+Shift+Insert")
            missed.add(called(visitor.locator("li.here")))
        for press in key_asked_for(visitor).split(" then "):
            visitor.keyboard.press(press)
        answered += 1
    assert answered > 2
    expect(visitor.locator("#asked")).to_contain_text(f"{answered - 4} of {answered} at once.")
    # Three this week, in the order of the card, and the one that is left in the next.
    own = [name for name in (called(line) for line in visitor.locator("[data-line]").all()) if name in missed]
    assert len(own) == 4
    expect(visitor.locator("#next")).to_have_text(f"Next for you: {', '.join(own[:3])}.")
    expect(visitor.locator("#weeks li")).to_have_text([f"Week 2 {own[3]}"])
    # Weeks are counted from the first test, and what sits stays with whoever it is.
    visitor.evaluate("localStorage.setItem('amber-key-begun', String(Date.now() - 15 * 24 * 3600 * 1000))")
    visitor.reload()
    expect(visitor.locator("#weeks li")).to_have_text([f"Week 4 {own[3]}"])
    expect(visitor.locator("li.next")).to_have_count(3)
    expect(visitor.locator("li.sits")).to_have_count(answered - 4)
    assert visitor.context.cookies() == []
    assert faults == []


CALLED = """line => {
  const what = line.querySelector(".what"), small = what.querySelector("small");
  return small ? `${what.firstChild.textContent.trim()} (${small.textContent.trim()})` : what.textContent.trim();
}"""


def called(line):
    """What stands on a line of a card, its programs in brackets."""
    return line.evaluate(CALLED)


def key_asked_for(page):
    """The key of the line that the self-test asks for; None where it asks for none."""
    return page.evaluate(
        """called => {
            const asked = document.getElementById("asked").textContent;
            const lines = [...document.querySelectorAll("[data-line]")];
            const line = lines.find((l) => asked === `Which key: ${eval(called)(l)}?`);
            return line ? line.querySelector("[data-key]").dataset.key : null;
        }""",
        CALLED,
    )
