"""Editions of systems by the names of inventories, and the versions from which entries hold."""

import json

import pytest
from hypothesis import given
from hypothesis import strategies as st

from amberkey.core.formats import read_any
from amberkey.core.programs.editions import Edition, Release, figures_of, read_edition
from amberkey.core.programs.reference import system_tables

TABLES = {t.id: t for t in system_tables()}


@pytest.mark.parametrize(
    ("table", "named", "version", "edition", "read"),
    [
        ("windows", "11 Pro", "", "Pro", "11"),
        ("windows", "Windows 11 Enterprise 24H2", "", "Enterprise", "11 24H2"),
        ("windows", "Microsoft Windows 11 Pro", "10.0.22631.4460", "Pro", "11 23H2"),
        ("windows", "Microsoft Windows 10 Professional", "", "Pro", "10"),
        ("windows", "11", "", "", "11"),
        ("macos", "15", "", "macOS", "15"),
        ("macos", "macOS Sequoia", "", "macOS", "15"),
        ("macos", "Sonoma 14.5", "", "macOS", "14.5"),
        ("linux", "GNOME 48", "", "GNOME", "48"),
        ("linux", "ubuntu:GNOME", "46", "GNOME", "46"),
        ("linux", "GNOME", "", "GNOME", ""),
        ("linux", "KDE", "5.27", "KDE Plasma", "5.27"),
        ("linux", "kde plasma 6.3", "", "KDE Plasma", "6.3"),
        ("linux", "Xfce 4.18", "", "XFCE", "4.18"),
        ("linux", "Cinnamon 6.4", "", "X-Cinnamon", "6.4"),
        ("linux", "any", "", "", ""),
    ],
)
def test_an_edition_is_known_by_the_names_of_inventories(table, named, version, edition, read):
    assert TABLES[table].read_edition(named, version) == (edition, read, True)


@pytest.mark.parametrize(
    ("table", "named"), [("linux", "MATE"), ("windows", "Tidal"), ("windows", "11 Tidal"), ("macos", "Tidal 15")]
)
def test_an_edition_that_no_data_knows_stays_what_it_is_and_is_told(table, named):
    found = TABLES[table].read_edition(named)
    assert not found.known
    assert found.name == named


def entry(**said):
    command = {"id": "e", "name": "e", "scope": "s", "defaults": {"linux": ["F9"]}, **said}
    document = {"format": "amberkey/program@1", "id": "t", "name": "T", "version": "1", "kind": "system"}
    document |= {"platforms": ["linux"], "scopes": [{"id": "s", "name": "S"}], "commands": [command]}
    table = read_any(json.dumps(document).encode())
    return table, table.commands[0]


@pytest.mark.parametrize(
    ("since", "until", "version", "there"),
    [
        *(("11 22H2", "", "11 21H2", False), ("11 22H2", "", "11 22H2", True), ("11 22H2", "", "11", True)),
        *(("11", "", "10 22H2", False), ("11", "", "", True), ("", "48", "43", True), ("", "48", "48.1", False)),
        *(("", "48", "", False), ("43", "48", "44", True), ("43", "48", "42", False), ("", "", "1", True)),
        *(("6.3", "", "6", True), ("", "6.3", "6", False), ("", "6.3", "5.27", True)),
    ],
)
def test_an_entry_holds_from_a_version_on_until_it_is_gone(since, until, version, there):
    table, command = entry(from_version=since, gone_from=until)
    why = table.why_not_in(command, version)
    assert (not why) is there
    assert why == "" or (since or until) in why


@given(st.lists(st.integers(0, 60), min_size=1, max_size=3), st.lists(st.integers(0, 60), min_size=1, max_size=3))
def test_where_one_entry_ends_its_successor_begins(border, version):
    """In every version one of the two holds, and never both."""
    said, at = ".".join(map(str, border)), ".".join(map(str, version))
    table, old = entry(gone_from=said)
    new = entry(from_version=said)[1]
    assert (not table.why_not_in(old, at)) != (not table.why_not_in(new, at))


def test_a_longer_name_goes_before_a_shorter_one_in_it():
    editions = [Edition(name="Pro"), Edition(name="Pro Education")]
    assert read_edition(editions, (), "11 Pro Education") == ("Pro Education", "11", True)


def test_a_build_stands_for_its_release():
    releases = [Release(name="11 23H2", also=("10.0.22631",))]
    assert read_edition((), releases, "", "10.0.22631.1").version == "11 23H2"
    assert read_edition((), releases, "", "10.0.2263").version == "10.0.2263"
    # A release by one number would stand for every version that begins with it.
    assert read_edition((), [Release(name="11", also=("10",))], "", "10.0.2263").version == "10.0.2263"
    assert figures_of("11 23H2") == (11, 23, 2)


def test_an_entry_may_not_cite_a_source_that_is_not_there():
    with pytest.raises(Exception, match="names the source nowhere, which isn't there"):
        entry(cited={"source": "nowhere", "at": "p. 3"})
