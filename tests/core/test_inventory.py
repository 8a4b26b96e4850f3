"""What inventories write of machines, in our words; what was guessed is told with its place."""

import pytest

from amberkey.core.exchange.lists.inventory import layout_of, newest_table, platform_of
from amberkey.core.programs.reference import system_tables
from tests.core.test_sheets import MACHINES, reading, sheet

TABLES = system_tables()


@pytest.mark.parametrize(
    ("text", "platform", "layout"),
    [
        ("de-DE", "windows", "de"),
        ("de_AT.UTF-8", "linux", "de"),
        ("de-CH", "windows", "ch"),
        ("fr-CH", "windows", "ch(fr)"),
        ("fr-FR", "linux", "fr(azerty)"),
        ("en-GB", "windows", "gb"),
        ("sv", "linux", "se"),
        ("de-DE", "macos", "de(mac)"),
        ("German (Switzerland)", "windows", "ch"),
        ("French (Switzerland)", "linux", "ch(fr)"),
        ("Englisch (Vereinigte Staaten)", "windows", "us"),
        ("English (United Kingdom)", "macos", "gb(mac)"),
        ("Swedish (Sweden)", "linux", "se"),
        ("German (Attica)", "windows", None),
        ("zz-ZZ", "windows", None),
        ("Klingon", "windows", None),
    ],
)
def test_a_layout_is_known_by_its_language_and_country(text, platform, layout):
    assert layout_of(text, platform) == layout


@pytest.mark.parametrize(
    ("text", "platform"),
    [
        ("Windows 11 Pro", "windows"),
        ("Windows 10 Enterprise 22H2", "windows"),
        ("Mac OS X 15.1", "macos"),
        ("Darwin 24", "macos"),
        ("Debian GNU/Linux 12 (bookworm)", "linux"),
        ("ubuntu:GNOME", "linux"),
        ("KDE", "linux"),
        ("X-Cinnamon", "linux"),
        ("15", None),
        ("Plan 9", None),
    ],
)
def test_a_system_is_known_by_its_name_or_its_desktop(text, platform):
    assert platform_of(text, TABLES) == platform


def test_a_new_machine_of_an_inventory_has_its_desktop_and_says_what_was_guessed():
    row = ("Q 1", "Windows 11 Pro 23H2", "", "de-CH", "iso", "")
    (found,) = reading("machines", sheet(row, heads=MACHINES))
    after = found.operations[0].after
    assert found.what == "adds"
    assert (after["platform"], after["edition"], after["layouts"]) == ("windows", "Windows 11 Pro 23H2", ["ch"])
    assert [p["id"] for p in after["programs"]] == ["windows"]
    assert [(g.place, g.says) for g in found.guessed] == [
        ("row 2, Platform", "Windows 11 Pro 23H2 is taken for Windows."),
        ("row 2, Edition", "Windows 11 Pro 23H2 is taken for the edition Pro."),
        ("row 2, Layouts", "de-CH is taken for the layout Swiss German."),
        ("row 2, Programs", "It is given Windows 11, the system table that there is."),
    ]


def test_what_is_said_in_our_words_is_no_guess_and_known_machines_keep_their_system():
    row = ("Q 1", "Linux", "ubuntu:GNOME", "de", "iso", "linux desktop")
    (found,) = reading("machines", sheet(row, heads=MACHINES))
    assert (found.what, found.guessed) == ("adds", ())
    assert newest_table("macos", TABLES).id == "macos"
    assert newest_table("macos", ()) is None
