"""The screens on which the engine is used, by keyboard alone: clashes, trying, the strip, the lens, own shortcuts."""

import csv
import io
import random
import re
from urllib.parse import urlencode

import pytest
from playwright.sync_api import expect

from amberkey.core.clashes.trace import Focus, trace
from amberkey.core.clashes.wording import STATION_WORDS
from amberkey.core.layouts.keyboard import ways_of
from amberkey.server.estate import current_estate

FOCUSED = "e => e === document.activeElement"


def press(person, *keys):
    for key in keys:
        person.page.keyboard.press(key)


def has_rows(person, number):
    """Holds that so many rows are listed, in sight or not."""
    first = person.page.locator("[data-index]").first
    if number == 0:
        expect(first).to_have_count(0)
    else:
        expect(first).to_have_attribute("aria-setsize", str(number))


def rows_of(person):
    return int(person.page.locator("[data-index]").first.get_attribute("aria-setsize"))


def rest(person):
    """Puts the focus where no text is typed, as clicking beside everything would."""
    person.page.evaluate("document.activeElement.blur()")


def test_several_clashes_are_settled_and_undone(sign_in):
    ines = sign_in()
    page = ines.page
    ines.to_rows()
    press(ines, "Shift+ArrowDown", "Shift+ArrowDown")
    expect(page.get_by_text("3 clashes are chosen")).to_be_visible()
    ines.tab_to(page.get_by_role("button", name="Settle them"), back=True)
    press(ines, "Enter")
    told = page.get_by_role("list", name="What would be done").get_by_role("listitem")
    expect(told).to_have_count(3)
    button = page.get_by_role("button", name=re.compile("^Settle th(is|ese)"))
    before = rows_of(ines)
    ines.tab_to(page.get_by_label("Why (kept with it)"))
    page.keyboard.type("One morning's work")
    ines.tab_to(button)
    press(ines, "Enter")
    expect(page.get_by_role("status").filter(has_text="Settled")).to_be_visible()
    assert rows_of(ines) < before
    rest(ines)
    press(ines, "Control+z")
    expect(page.get_by_role("status").filter(has_text="Undid: Settled")).to_be_visible()
    has_rows(ines, before)


def test_rows_are_looked_for_by_words_keys_and_what_they_are(sign_in):
    ines = sign_in()
    page = ines.page
    ines.to_rows()
    press(ines, "w")
    expect(page.get_by_label("Words")).to_be_focused()
    page.keyboard.type("fold")
    has_rows(ines, 1)
    press(ines, "w")  # while text is typed it is a letter
    expect(page.get_by_label("Words")).to_have_value("foldw")
    press(ines, "Control+a", "Delete")
    ines.to_rows()
    press(ines, "s")
    field = page.get_by_label("Press to look for")
    expect(field).to_be_focused()
    press(ines, "Control+Alt+KeyE")
    expect(field).to_have_value("Strg Alt E")
    has_rows(ines, 1)
    page.reload()
    has_rows(ines, 1)
    ines.tab_to(page.get_by_role("button", name="Ask for all"))
    press(ines, "Enter")
    ines.tab_to(page.get_by_role("combobox", name=re.compile("^Kind")), back=True)
    press(ines, "ArrowDown")
    # Typing at a menu is looked for as one word only as long as it is quick, which a busy machine isn't.
    wanted = page.get_by_role("option", name=re.compile("^the system keeps"))
    wanted.wait_for()
    for _ in range(40):
        if wanted.evaluate("e => e === document.activeElement"):
            break
        press(ines, "ArrowDown")
    press(ines, "Enter")
    has_rows(ines, 3)


def test_a_decision_is_found_with_its_reason_and_undone_later(sign_in):
    ines = sign_in()
    page = ines.page
    ines.to_rows()
    name = page.locator("[data-row]:focus b").inner_text()
    press(ines, "Enter")
    expect(page.get_by_role("group", name="Ways out")).to_be_visible()
    press(ines, "Escape")
    expect(page.get_by_role("group", name="Ways out")).to_have_count(0)
    expect(page.locator("[data-row]:focus b")).to_have_text(name)
    press(ines, "Enter")
    why = page.get_by_label("Why (kept with it)")
    expect(page.get_by_role("group", name="Ways out")).to_be_visible()
    ines.tab_to(why)
    page.keyboard.type("People asked for it")
    press(ines, "Enter")
    expect(ines.clash(name)).to_have_count(0)
    ines.toggle("Which clashes", re.compile("^Decided"))
    row = page.get_by_role("list", name="Decisions").get_by_role("listitem").first
    expect(row).to_contain_text("People asked for it")
    expect(row).to_contain_text("Ines")
    ines.tab_to(row.get_by_role("button"))
    press(ines, "Enter")
    expect(row).to_contain_text("undone")


def test_what_a_maker_meant_goes_out_of_sight_and_back(sign_in):
    ines = sign_in()
    page = ines.page
    ines.to_rows()
    mean = page.get_by_role("button", name="Meant by the maker: out of sight")
    for _ in range(rows_of(ines)):
        press(ines, "Enter")
        expect(page.get_by_role("button", name="Decide", exact=True)).to_be_visible()
        if mean.count():
            break
        press(ines, "Enter")
        expect(page.get_by_role("group", name="Ways out")).to_have_count(0)
        press(ines, "ArrowDown")
    name = page.locator("[data-row]:focus b").inner_text()
    ines.tab_to(mean)
    press(ines, "Enter")
    expect(ines.clash(name)).to_have_count(0)
    ines.toggle("Which clashes", re.compile("^Meant by the maker"))
    expect(ines.clash(name)).to_have_count(1)


def test_a_press_is_tried_in_several_places_tested_and_taken_along(sign_in):
    ines = sign_in()
    page = ines.page
    ines.to_rows()
    press(ines, "t")
    expect(page.get_by_role("heading", name="Try a press")).to_be_visible()
    ines.tab_to(page.get_by_role("button", name="Press it"))
    press(ines, "Enter", "Control+Alt+KeyE")
    expect(page.get_by_text("Quaysheet does Quote the fare.")).to_be_visible()
    ines.tab_to(page.get_by_role("button", name="Another place beside it"))
    press(ines, "Enter")
    lanes = page.get_by_role("region", name="Lanes").get_by_role("region")
    expect(lanes).to_have_count(2)
    ines.tab_to(lanes.nth(1).get_by_role("combobox", name=re.compile("^Seen by")), back=True)
    press(ines, "ArrowDown")
    page.keyboard.type("Harbour")
    press(ines, "Enter")
    expect(lanes.nth(1)).to_contain_text("Ctrl Alt E")  # the same keys, in the words of that keyboard
    page.reload()
    expect(lanes.nth(1)).to_contain_text("Ctrl Alt E")  # the same keys, in the words of that keyboard
    ines.tab_to(lanes.nth(1).get_by_role("button", name="something else happened"))
    press(ines, "Enter")
    page.keyboard.type("the sheet closed")
    press(ines, "Enter")
    expect(page.get_by_role("status").filter(has_text="Kept what was seen")).to_be_visible()
    ines.toggle("Trying and testing", re.compile("^Test records"))
    expect(page.get_by_role("list", name="Test records")).to_contain_text("Seen: the sheet closed.")
    ines.tab_to(page.get_by_role("link", name="Take them as CSV"))
    with page.expect_download() as download:
        press(ines, "Enter")
    rows = list(csv.reader(io.StringIO(download.value.path().read_text("utf-8-sig"))))
    assert rows[1][-2:] == ["the sheet closed", "no"]


def test_drafts_over_two_programs_are_tried_and_then_saved(sign_in):
    ines = sign_in()
    page = ines.page
    ines.go("Try")
    page.get_by_label("Press, click or type").fill("ctrl alt e")
    ines.tab_to(page.get_by_role("button", name="What if"))
    press(ines, "Enter")
    for command, keys in (("Quote the fare", "ctrl shift y"), ("Insert the date", "ctrl shift u")):
        ines.tab_to(page.get_by_role("combobox", name="What if this command"))
        page.keyboard.type(command)
        expect(page.get_by_role("option").first).to_be_visible()
        press(ines, "ArrowDown", "Enter")
        ines.tab_to(page.get_by_label("had", exact=True))
        page.keyboard.type(keys)
        expect(page.get_by_role("button", name="Try it so")).to_be_enabled()
        if command == "Insert the date":
            ines.tab_to(page.get_by_label("Keep the present one too"))
            press(ines, "Space")
        ines.tab_to(page.get_by_role("button", name="Try it so"))
        press(ines, "Enter")
        rest(ines)
    expect(page.get_by_role("list", name="Drafts").get_by_role("listitem")).to_have_count(2)
    expect(page.get_by_role("list", name="Drafts").get_by_role("listitem").nth(1)).to_contain_text(" and ")
    expect(page.get_by_text("Without the drafts: Quaysheet does Quote the fare.")).to_be_visible()
    keyboard = page.get_by_role("region", name="Keyboard")
    expect(keyboard).to_contain_text("with 2 drafts")
    expect(keyboard.get_by_role("button", name=re.compile("^E, .*Differs"))).to_be_visible()
    expect(page.get_by_role("region", name="Lanes").get_by_text("€", exact=True)).to_be_visible()
    ines.tab_to(page.get_by_role("button", name="Save these 2 drafts"))
    press(ines, "Enter")
    expect(page.get_by_role("status").filter(has_text="Kept 2 drafts")).to_be_visible()
    ines.toggle("Trying and testing", re.compile("^Untested 3"))  # one of them has two presses
    expect(page.get_by_role("list", name="Untested").get_by_role("listitem")).to_have_count(3)
    ines.tab_to(page.get_by_role("link", name=re.compile("^Try it")))
    press(ines, "Enter")
    expect(page.get_by_role("button", name=re.compile("^It did that"))).to_be_visible()


def test_the_strip_by_keyboard(sign_in):
    ines = sign_in()
    page = ines.page
    strip = page.get_by_role("region", name="Keyboard")
    ines.to_rows()
    ines.tab_to(strip.locator('[data-code][tabindex="0"]'))
    press(ines, "ArrowDown", "ArrowDown")
    expect(strip.locator('[data-code="AltLeft"]')).to_be_focused()
    press(ines, "Enter")
    expect(strip.locator('[data-code="AltLeft"]')).to_have_attribute("aria-pressed", "true")
    press(ines, "ArrowUp")
    code = page.evaluate("document.activeElement.dataset.code")
    press(ines, "Enter")  # clicking a key looks for what it has to do with
    page.wait_for_url(re.compile(r"f\.keys=Alt%2Bcode%3A" + code))
    ines.tab_to(page.get_by_role("button", name="let go"), back=True)
    press(ines, "Enter")
    rest(ines)
    press(ines, "r")
    expect(strip.get_by_role("button", name="take reach off")).to_be_visible()
    press(ines, "k")
    expect(strip).to_have_count(0)
    page.reload()
    expect(page.get_by_role("button", name="Show the keyboard")).to_be_visible()
    page.wait_for_load_state("networkidle")
    press(ines, "k")
    expect(strip).to_be_visible()


def test_a_sequence_goes_on_over_the_strip(sign_in):
    ines = sign_in()
    page = ines.page
    ines.lens("Focus", "Folioform, Page")
    strip = page.get_by_role("region", name="Keyboard")
    key = strip.locator('[data-code="F8"]')
    expect(key).to_contain_text("waits")
    ines.to_rows()
    ines.tab_to(strip.locator('[data-code][tabindex="0"]'))
    press(ines, "ArrowUp", "ArrowUp", "ArrowUp")
    for _ in range(12):
        if key.evaluate(FOCUSED):
            break
        press(ines, "ArrowRight")
    expect(key).to_be_focused()
    ines.tab_to(strip.get_by_role("button", name="and then?"))
    press(ines, "Enter")
    expect(strip).to_contain_text("may become F8")
    ines.tab_to(strip.get_by_role("button", name="begin anew"), back=True)
    press(ines, "Enter")
    expect(strip).not_to_contain_text("may become")


def test_two_lenses_are_held_against_each_other(sign_in):
    ines = sign_in()
    page = ines.page
    ines.to_rows()
    press(ines, "l")
    expect(page.get_by_role("menu")).to_be_visible()
    press(ines, "Escape")
    expect(page.get_by_role("menu")).to_have_count(0)
    press(ines, "h")
    expect(page.get_by_role("button", name=re.compile("^Against:"))).to_be_visible()
    whole = rows_of(ines)
    ines.tab_to(page.get_by_role("button", name="all of it"), back=True)
    press(ines, "Enter")
    expect(page.get_by_role("button", name="only what differs")).to_be_visible()
    rows = page.locator("[data-row]")
    expect(rows.first).to_contain_text("only")
    assert rows_of(ines) < whole
    page.reload()
    expect(page.get_by_role("button", name="only what differs")).to_be_visible()
    expect(page.locator("[data-code]").filter(has_text="Differs").first).to_be_attached()
    page.locator("[data-row]").first.wait_for()
    press(ines, "h")
    expect(page.get_by_role("button", name=re.compile("^Against:"))).to_have_count(0)
    press(ines, "a")
    expect(page.get_by_role("button", name="Setup: all 4 setups in use")).to_be_visible()


def test_own_shortcuts_are_listed_changed_and_checked(sign_in):
    ines = sign_in()
    page = ines.page
    ines.to_rows()
    press(ines, "?")
    own = page.get_by_role("list", name="Own shortcuts")
    row = own.get_by_role("listitem").filter(has=page.get_by_text("Go to Programs", exact=True))
    ines.tab_to(row.get_by_role("button", name="Change: Go to Programs"))
    press(ines, "Enter")
    page.keyboard.type("c")
    press(ines, "Enter")
    expect(row).to_contain_text("Go to Clashes")  # both have one press now
    ines.tab_to(row.get_by_role("button", name="Switch off: Go to Programs"))
    press(ines, "Enter")
    expect(row).to_contain_text("off")
    press(ines, "Escape")
    expect(page.get_by_role("dialog")).to_have_count(0)
    press(ines, "p")
    expect(page.get_by_role("heading", name="Where presses stop")).to_be_visible()
    press(ines, "n")
    expect(page.get_by_role("navigation", name="Parts of the organisation")).to_be_visible()


def drawn_cases(estate, number, lanes):
    """Presses with places to try them in: half of them are somebody's shortcut, half are drawn."""
    rnd = random.Random(5)
    setups = sorted(estate.setups)
    places = [
        (setup, part.program.id, scope.id)
        for setup in setups
        for part in estate.board(setup).parts.values()
        if part.program.kind not in ("system", "utility")
        for scope in part.program.scopes
    ]
    bound = sorted({str(b.shortcut) for s in setups for b in estate.board(s).bindings if b.live})
    for n in range(number):
        modifiers = rnd.sample(["Control", "Alt", "Shift", "Meta"], rnd.randrange(0, 3))
        key = rnd.choice([*"ABCEGKLSTZ789", "F7", "F8", "Home", "ArrowLeft", "Delete", "PrintScreen"])
        free = "+".join([*sorted(modifiers, key=["Control", "Alt", "Shift", "Meta"].index), key])
        yield rnd.choice(bound) if n % 2 else free, rnd.sample(places, lanes)


def traced(estate, text, place):
    """What the core says of a press in a place: every station's name and word, press by press."""
    from amberkey.core.keys.reading import read_shortcut

    setup, program, scope = place
    board = estate.board(setup)
    part = board.parts[program]
    shortcut = read_shortcut(text).resolve(board.ground.platform)
    ways, _ = ways_of(shortcut, board.ground.keyboard, part.reads, part.pad)
    found = trace(board, ways[0], Focus(program, scope)) if ways else []
    return [[(STATION_WORDS[s.station], s.says) for s in one.steps] for one in found]


def test_the_trace_on_screen_is_the_core_s(sign_in):
    """Fifty-one drawn cases, three side by side each time."""
    ines = sign_in()
    page = ines.page
    estate = current_estate()
    ines.go("Try")
    looked = 0
    for text, places in drawn_cases(estate, 17, 3):
        lanes = [("lane", "~".join(p)) for p in places]
        address = f"/try?{urlencode([('press', text), *lanes])}"
        with page.expect_response(lambda r: r.url.endswith("/api/try")):
            page.evaluate("a => { history.pushState(null, '', a); dispatchEvent(new PopStateEvent('popstate')); }", address)
        for n, place in enumerate(places):
            lane = page.get_by_role("region", name="Lanes").get_by_role("region").nth(n)
            wanted = traced(estate, text, place)
            ways = lane.get_by_role("list")
            expect(ways).to_have_count(len(wanted))
            for way, steps in zip(ways.all(), wanted, strict=True):
                expect(way.locator("li:has(> i)")).to_have_count(len(steps))
                for item, (station, says) in zip(way.locator("li:has(> i)").all(), steps, strict=True):
                    expect(item).to_contain_text(station)
                    expect(item).to_contain_text(says)
            looked += 1
    assert looked == 51


@pytest.mark.parametrize("size", [(1280, 800), (1920, 1080), (640, 400)])
def test_nothing_is_lost_at_any_size(sign_in, size):
    """640 by 400 is what is left of 1280 by 800 at twice the size."""
    ines = sign_in()
    page = ines.page
    page.set_viewport_size({"width": size[0], "height": size[1]})
    page.reload()
    ines.to_rows()
    press(ines, "Enter")
    ways = page.get_by_role("group", name="Ways out")
    expect(ways).to_be_visible()
    assert page.evaluate("document.scrollingElement.scrollWidth") <= size[0]
    ines.tab_to(page.get_by_role("button", name="Decide", exact=True))
    button = page.get_by_role("button", name="Decide", exact=True)
    expect(button).to_be_in_viewport()
    show = page.get_by_role("button", name="Show the keyboard")
    if show.count():
        ines.tab_to(show)
        press(ines, "Enter")
    key = page.locator('[data-code][tabindex="0"]')
    ines.tab_to(key)
    expect(key).to_be_in_viewport()
    press(ines, "ArrowRight")
    expect(page.locator("[data-code]:focus")).to_be_in_viewport()
    assert page.evaluate("document.scrollingElement.scrollWidth") <= size[0]
