"""Where lines of a card lie: the rooms of keys are wide enough on real paper, and columns keep every line in its order."""

from itertools import cycle, islice

import pytest
from hypothesis import given
from hypothesis import strategies as st

from amberkey.core.cards.content import card_of, setups_for
from amberkey.core.cards.model import Card, CardLine, CardPart, Key
from amberkey.core.cards.wish import PAPERS, CardWish
from amberkey.core.documents.field import LANGUAGES
from amberkey.core.keys.names import NAMED_KEYS
from amberkey.core.keys.platform import PLATFORMS
from amberkey.core.keys.shortcut import Press, Shortcut
from amberkey.core.keys.wording import caps_of_press, words_of
from amberkey.core.organisation.deriving import NOBODY
from amberkey.server.cards.drawing import Drawn
from amberkey.server.cards.laying import ROOMS, SHEETS, columns_of, room_of
from amberkey.server.cards.pressing import laid
from amberkey.server.cards.printing import _faces, laid_out, page_of
from tests.core.seen import whole_example

MM = 25.4 / 96
"""Millimetres in a pixel."""


def key_of(shortcut, platform, language):
    caps = tuple(tuple(caps_of_press(p, platform, language)) for p in shortcut.presses)
    return Key(str(shortcut), words_of(shortcut, platform, language), caps)


def card_with(lines, wish):
    return Drawn(Card((CardPart("Keys", tuple(lines)),), (), {}, (), 5), wish, "Everybody", "Northgate", None)


def widths(drawn):
    """Of every line with a room: the room, and the width that its keys take on paper, in millimetres."""
    document = laid(page_of(drawn), _faces())
    for page in document.pages:
        for box in page._page_box.descendants():
            if box.element is not None and box.element.get("class") == "keys" and box.margin_right < 0:
                (line,) = box.children
                yield round(-box.margin_right * MM), line.width * MM


@pytest.mark.parametrize("language", LANGUAGES)
@pytest.mark.parametrize("platform", PLATFORMS)
def test_keys_have_the_room_that_they_need(language, platform):
    held = cycle([("Control",), ("Control", "Shift"), (), ("Alt",), ("Meta", "Shift"), ("Control", "Alt"), ("Shift",)])
    named = [*NAMED_KEYS, *"AWMI1+@Ä-"]
    lines = []
    for n, (name, modifiers) in enumerate(zip(named, held, strict=False)):
        presses = [Press.of(modifiers, name), *([Press.of((), "K")] if n % 5 == 0 else [])]
        keys = [key_of(Shortcut(tuple(presses)), platform, language)]
        keys += [key_of(Shortcut((Press.of((), f"F{n % 12 + 1}"),)), platform, language)] if n % 7 == 0 else []
        old = (key_of(Shortcut((Press.of(("Control",), "S"),)), platform, language),) if n % 11 == 0 else ()
        lines.append(CardLine(f"one/c{n}", "Do it", tuple(keys), ("One",), (), old))
    found = list(widths(card_with(lines, CardWish(platform=platform, layout="us", paper="A4", language=language))))
    known = [room for line in lines if (room := room_of(line, language)) is not None]
    assert len(known) > len(lines) / 3
    assert sorted(room for room, _ in found) == sorted(known)
    assert all(wide <= room for room, wide in found), [(r, w) for r, w in found if w > r]


@pytest.mark.parametrize("paper", PAPERS)
@pytest.mark.parametrize("flows", [False, True])
def test_long_words_stay_in_their_column_and_beside_their_keys(paper, flows):
    keys = (key_of(Shortcut((Press.of(("Control",), "S"),)), "windows", "en"),)
    lines = [CardLine("a", "W" * 300, keys, ("Q" * 60,), ("n" * 200,)), CardLine("b", "\u05e9" * 90, keys, ("One",))]
    lines += [CardLine(f"c{n}", "Do it", keys) for n in range(200 if flows else 3)]
    wish = CardWish(platform="windows", layout="us", paper=paper)
    drawn = card_with(lines, wish)
    assert (columns_of(drawn.card.parts, SHEETS[paper], "en") is None) == flows
    for page in laid(page_of(drawn), _faces()).pages:
        for item in (box for box in page._page_box.descendants() if box.element_tag == "li" and box.element is not None):
            right = item.position_x + item.margin_width() + 0.5
            texts = [box for box in item.descendants() if type(box).__name__ == "TextBox" and box.text.strip()]
            assert all(box.position_x + box.width <= right for box in texts), [box.text[:20] for box in texts]
            caps = [box for box in texts if box.element_tag == "kbd"]
            names = [box for box in texts if box.element.get("class") == "what"]
            for cap in caps:
                beside = [box for box in names if abs(box.position_y - cap.position_y) < cap.height / 2]
                assert all(box.position_x + box.width <= cap.position_x for box in beside)


LINES = st.lists(
    st.builds(
        CardLine,
        id=st.uuids().map(str),
        name=st.text("abcW ä", min_size=1, max_size=60),
        keys=st.lists(st.sampled_from("SABF"), min_size=1, max_size=3).map(
            lambda keys: tuple(key_of(Shortcut((Press.of(("Control",), k),)), "windows", "en") for k in keys)
        ),
        programs=st.just(("Quaysheet",)),
        notes=st.lists(st.text("ab ", min_size=1, max_size=90), max_size=2).map(tuple),
    ),
    min_size=1,
    max_size=30,
)
PARTS = st.lists(st.builds(CardPart, title=st.just("Part"), lines=LINES.map(tuple)), max_size=4)


@given(PARTS, st.sampled_from(PAPERS))
def test_columns_keep_every_line_in_its_order_and_a_title_for_each_part(parts, paper):
    sheet = SHEETS[paper]
    columns = columns_of(parts, sheet, "en")
    if columns is None:
        return
    assert len(columns) <= sheet.columns
    assert [line.id for column in columns for part in column for line in part.lines] == [v.id for p in parts for v in p.lines]
    begun = [part.lines[0].id for column in columns for part in column if part.title]
    assert begun == [p.lines[0].id for p in parts]


def test_columns_are_even_and_few_lines_are_parted_too():
    lines = [CardLine(f"l{n}", "Do it", (key_of(Shortcut((Press.of((), "F5"),)), "windows", "en"),)) for n in range(12)]
    columns = columns_of([CardPart("All", tuple(lines))], SHEETS["A4 across"], "en")
    # The title is higher than a line, so the first column has fewer of them.
    assert [[len(p.lines) for p in column] for column in columns] == [[3], [5], [4]]
    assert [[p.title for p in column] for column in columns] == [["All"], [""], [""]]


@pytest.mark.parametrize("paper", PAPERS)
def test_what_is_parted_beforehand_stands_on_one_page(paper):
    keys = [key_of(Shortcut((Press.of(m, k),)), "windows", "de") for m in (("Control",), ("Control", "Shift")) for k in "SAF"]
    names = islice(cycle(["Save", "Take the whole consignment off the list again", "Weigh with the lid on"]), 90)
    lines = [
        CardLine(f"l{n}", name, (keys[n % 6],), ("Quaysheet", "Folioform"), ("Shift F9 at Ticket counters",) * (n % 2))
        for n, name in enumerate(names)
    ]
    wish = CardWish(platform="windows", layout="de", paper=paper, language="de")
    parted = [n for n in range(1, 90) if columns_of([CardPart("Keys", tuple(lines[:n]))], SHEETS[paper], "de") is not None]
    assert parted == list(range(1, len(parted) + 1))
    assert 10 < len(parted) < 89
    assert laid_out(card_with(lines[: len(parted)], wish)).pages == 1
    assert laid_out(card_with(lines, wish)).pages > 1
    assert set(ROOMS) >= {room_of(line, "de") for line in lines}


def test_every_card_of_the_example_fits_or_says_what_does_not():
    """Each role on each keyboard that its people have; papers, languages and lengths take turns."""
    estate = whole_example()
    keyboards = sorted({(s.works_on, s.reads_by) for s in estate.setups.values()})
    papers, languages, lengths = cycle(PAPERS), cycle(LANGUAGES), cycle((8, 12, 44))
    fits = longer = 0
    for role in sorted(estate.census.roles):
        for platform, layout in keyboards:
            asked = {"of": "role", "who": role, "platform": platform, "layout": layout}
            setups = setups_for(estate, CardWish(**asked), NOBODY)
            if not setups:
                continue
            wish = CardWish(**asked, paper=next(papers), language=next(languages), most=next(lengths))
            card = card_of(estate, wish, setups)
            drawn = Drawn(card, wish, role, "Merrow Strait Ferries", None)
            found = laid_out(drawn)
            ids = {line.id for part in card.parts for line in part.lines}
            fits += found.pages <= SHEETS[wish.paper].pages
            longer += found.pages > SHEETS[wish.paper].pages
            assert (found.pages > SHEETS[wish.paper].pages) == bool(found.beyond), (role, wish)
            assert set(found.beyond) <= ids
            columns = columns_of(card.parts, SHEETS[wish.paper], wish.language)
            assert columns is None or found.pages == 1
    assert fits > 20
    assert longer > 0
