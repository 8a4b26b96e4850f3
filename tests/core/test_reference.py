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


def editions_of(table):
    """Every edition of a table in every version that it knows, and in the newest."""
    for edition in [e.name for e in table.editions]:
        for version in ["", *(r.name for r in table.releases if r.edition in (None, edition))]:
            yield edition, version


def entries_in(table, edition, version):
    return [c for c in table.commands if table.is_there(c, edition, ()) and not table.why_not_in(c, version)]


@pytest.mark.parametrize(
    ("platform", "edition", "least"),
    [
        *(("windows", "Pro", 110), ("macos", "macOS", 90)),
        *(("linux", e, 75) for e in ("GNOME", "KDE Plasma", "XFCE", "X-Cinnamon")),
    ],
)
def test_an_edition_has_its_presses_in_words(platform, edition, least):
    table = TABLES[platform]
    there = entries_in(table, edition, "")
    assert len({s for c in there for s in c.defaults_on(platform)}) >= least
    assert all(c.name and c.group for c in there)


@pytest.mark.parametrize("platform", sorted(BODIES))
def test_no_two_entries_of_an_edition_and_version_want_one_press(platform):
    table = TABLES[platform]
    for edition, version in editions_of(table):
        seen = {}
        for command in entries_in(table, edition, version):
            for shortcut in command.defaults_on(platform):
                first = seen.setdefault(shortcut, command)
                assert first is command or first.off != command.off, (edition, version, shortcut, first.id, command.id)


@pytest.mark.parametrize("platform", sorted(BODIES))
def test_every_press_of_a_table_can_be_made_where_the_board_has_the_key(platform):
    layout, body = BODIES[platform]
    keyboard = keyboard_of(load_layout(layout, platform), load_body(body), {})
    table = TABLES[platform]
    shortcuts = [s for c in table.commands for s in c.defaults_on(platform)] + [c.keys for c in table.caret]
    why = {s: found.unreachable for s in shortcuts if not (found := ways_of(s, keyboard, table.reads_on(platform))).ways}
    assert {s: w for s, w in why.items() if "body lacks the key" not in w} == {}
    assert len(why) < len(shortcuts) / 4


@pytest.mark.parametrize("platform", sorted(BODIES))
def test_every_fact_names_its_source_or_is_only_likely(platform):
    table = TABLES[platform]
    facts = [*table.commands, *table.caret]
    likely = [f.id for f in facts if f.cited is None]
    assert len(likely) < len(facts) / 20
    assert all(table.told_source(f.cited) == "likely" for f in facts if f.cited is None)
    used = {f.cited.source for f in facts if f.cited}
    assert used <= {s.id for s in table.sources}
    for source in table.sources:
        assert source.title
        assert any(c.isdigit() for c in source.version)
        assert bool(source.package) == bool(source.file)


@pytest.mark.parametrize("platform", sorted(BODIES))
def test_what_the_system_lets_go_is_said(platform):
    assert {c.grip for c in TABLES[platform].commands} >= {"fixed", "can be reassigned"}


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
