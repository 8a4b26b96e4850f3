"""What a machine says of itself against the organisation's list."""

import pytest

from amberkey.core.organisation.model import Machine
from amberkey.core.organisation.reported import Installed, Reported, contradictions
from amberkey.core.profiles.setup import ProgramUsed
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


INSTALLED = [
    Installed("Quaysheet", ProgramUsed(id="quaysheet", version="7.2", add_ons=("lines",)), ("7.1", "7.2", "8")),
    Installed("Folioform", ProgramUsed(id="folioform", version="4.0"), ("4.0",)),
]


def programs(**said):
    own = machine().model_copy(update={"programs": (INSTALLED[1].used,)})
    found = contradictions(own, Reported(programs=said), system_tables(), LAYOUTS.get, INSTALLED)
    return [(c.listed, c.said, c.taken and [(p.id, p.version, p.add_ons) for p in c.taken.programs]) for c in found]


def test_a_version_that_begins_with_the_listed_one_is_the_listed_one():
    assert programs(Quaysheet="7.2.14", Folioform="4.0") == []
    assert programs(Other="9") == []


def test_another_version_is_taken_as_the_nearest_that_is_known_with_all_else_as_it_was():
    kept = ("folioform", "4.0", ())
    assert programs(Quaysheet="8.1.3") == [("Quaysheet 7.2", "Quaysheet 8.1.3", [kept, ("quaysheet", "8", ("lines",))])]
    assert programs(Quaysheet="7.1.9") == [("Quaysheet 7.2", "Quaysheet 7.1.9", [kept, ("quaysheet", "7.1", ("lines",))])]


def test_a_version_that_nobody_knows_is_told_and_not_taken():
    assert programs(Quaysheet="9") == [("Quaysheet 7.2", "Quaysheet 9", None)]
    assert programs(Quaysheet="8", Folioform="5") == [("Quaysheet 7.2, Folioform 4.0", "Quaysheet 8, Folioform 5", None)]
