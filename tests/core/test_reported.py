"""What a machine says of itself against the organisation's list."""

import pytest

from amberkey.core.organisation.model import Machine
from amberkey.core.organisation.reported import Reported, contradictions
from amberkey.core.programs.reference import system_tables

LAYOUTS = {"de": "de", "de-DE": "de", "us": "us", "en-US": "us", "pl": "pl"}


def machine(platform="linux", edition="GNOME", version="48", layouts=("us",)):
    return Machine(id="m", name="M", platform=platform, edition=edition, edition_version=version, layouts=layouts, body="ansi")


def told(one, edition="", layouts=()):
    found = contradictions(one, Reported(edition, tuple(layouts)), system_tables(), LAYOUTS.get)
    return [(c.part, c.listed, c.said, c.taken and (c.taken.edition, c.taken.edition_version, c.taken.layouts)) for c in found]


@pytest.mark.parametrize(
    "said", [{}, {"edition": "GNOME"}, {"edition": "GNOME 48"}, {"layouts": ["us"]}, {"layouts": ["en-US"]}]
)
def test_what_says_the_same_in_other_words_contradicts_nothing(said):
    assert told(machine(), **said) == []


def test_another_desktop_and_another_version_are_told_and_can_be_taken():
    assert told(machine(), "KDE") == [("edition", "GNOME 48", "KDE", ("KDE Plasma", "", ("us",)))]
    assert told(machine(), "GNOME 43") == [("edition", "GNOME 48", "GNOME 43", ("GNOME", "43", ("us",)))]
    assert told(machine(version=""), "GNOME 43") == [], "which version it is says nobody"


def test_an_edition_that_nobody_knows_is_told_and_not_taken():
    assert told(machine(), "Moonlight 3") == [("edition", "GNOME 48", "Moonlight 3", None)]


def test_layouts_keep_the_one_that_the_machine_starts_with():
    both = machine(layouts=("de", "us"))
    assert told(both, layouts=["us", "pl", "de"]) == [("layouts", "de, us", "us, pl, de", ("GNOME", "48", ("de", "us", "pl")))]
    assert told(both, layouts=["us"]) == [("layouts", "de, us", "us", ("GNOME", "48", ("us",)))]
    assert told(both, layouts=["us", "de"]) == []


def test_a_layout_that_nobody_knows_beside_those_of_the_list_says_nothing():
    assert told(machine(), layouts=["us", "emoji"]) == []
    assert told(machine(), layouts=["emoji"]) == [("layouts", "us", "emoji", None)]
