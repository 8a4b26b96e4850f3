"""The tables of the three systems, and the made-up browser's."""

import pytest

from amberkey.core.formats import read_any
from amberkey.core.layouts.bodies import load_body
from amberkey.core.layouts.keyboard import keyboard_of, ways_of
from amberkey.core.layouts.layout import load_layout
from amberkey.core.programs.reference import system_tables
from tests.example import DOCUMENTS

TABLES = {t.platforms[0]: t for t in system_tables()}
BODIES = {"windows": ("us", "iso"), "linux": ("us", "iso"), "macos": ("us(mac)", "mac-iso")}
GRIPS = {"fixed", "can be switched off", "can be reassigned"}


@pytest.mark.parametrize("platform", sorted(BODIES))
def test_a_table_has_sixty_presses_in_words_with_what_the_system_lets_go(platform):
    table = TABLES[platform]
    presses = {s for c in table.commands for s in c.defaults_on(platform)}
    assert len(presses) >= 60
    assert {c.grip for c in table.commands} >= GRIPS
    assert all(c.name and c.group for c in table.commands)
    assert any(c.editions or c.note for c in table.commands)


@pytest.mark.parametrize("platform", sorted(BODIES))
def test_no_two_entries_of_an_edition_want_one_press(platform):
    table = TABLES[platform]
    editions = {e for c in table.commands for e in c.editions} or {""}
    for edition in editions:
        seen = {}
        for command in table.commands:
            if command.editions and edition not in command.editions:
                continue
            for shortcut in command.defaults_on(platform):
                assert seen.setdefault(shortcut, command.id) == command.id


@pytest.mark.parametrize("platform", sorted(BODIES))
def test_every_press_of_a_table_can_be_made(platform):
    layout, body = BODIES[platform]
    keyboard = keyboard_of(load_layout(layout, platform), load_body(body), {})
    table = TABLES[platform]
    shortcuts = [s for c in table.commands for s in c.defaults_on(platform)] + [c.keys for c in table.caret]
    elsewhere = {"AudioVolumeMute", "AudioVolumeDown", "AudioVolumeUp"}
    wanting = [s for s in shortcuts if not ways_of(s, keyboard, "key").ways and s.presses[0].key not in elsewhere]
    assert wanting == []


@pytest.mark.parametrize("platform", sorted(BODIES))
def test_a_table_knows_how_the_caret_moves_and_erases(platform):
    caret = TABLES[platform].caret
    assert {c.does for c in caret} == {"moves", "selects", "erases", "copies", "undoes", "enters"}
    assert {"character", "word", "line", "page"} <= {c.unit for c in caret}
    assert len({c.keys for c in caret}) == len(caret)
    assert 5 < sum(c.basic for c in caret) < len(caret)


def test_the_browser_keeps_some_presses_and_lets_pages_take_others_first():
    browser = read_any((DOCUMENTS / "program-gullwake.json").read_bytes())
    kept = [c for c in browser.commands if c.keeps]
    assert 5 < len(kept) < len(browser.commands) - 10
    assert {"new-tab", "close-tab", "new-window"} <= {c.id for c in kept}
