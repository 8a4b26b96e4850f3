"""What a machine says of itself, in its system's own words."""

import json
import plistlib

import pytest

from amberkey.agent import facts as module
from amberkey.agent import programs
from amberkey.agent.facts import facts
from amberkey.agent.programs import of_debian, versions


def test_layouts_and_their_variants_as_linux_has_them(tmp_path):
    file = tmp_path / "keyboard"
    file.write_text('# c\nXKBMODEL="pc105"\nXKBLAYOUT="de,us,pl"\nXKBVARIANT="nodeadkeys,"\nXKBOPTIONS=""\n')
    assert module._of_linux(file) == ["de(nodeadkeys)", "us", "pl"]
    file.write_text("XKBLAYOUT=se\n")
    assert module._of_linux(file) == ["se"]
    file.write_text("")
    assert module._of_linux(file) == []


@pytest.mark.parametrize(
    "given, found",
    [
        (
            {"edition": "GNOME 48", "layouts": ["us"], "programs": {"Folioform": "4.0.2", "Secret": "1"}},
            {"edition": "GNOME 48", "layouts": ["us"], "programs": {"Folioform": "4.0.2"}},
        ),
        ({"edition": None, "layouts": "us", "programs": [1]}, {"edition": "", "layouts": [], "programs": {}}),
        ([], {"edition": "", "layouts": [], "programs": {}}),
        (
            {"edition": "x" * 500, "layouts": ["y" * 500] * 99},
            {"edition": "x" * 120, "layouts": ["y" * 120] * 16, "programs": {}},
        ),
    ],
)
def test_a_simulated_machine_says_what_it_is_given_within_bounds(tmp_path, monkeypatch, given, found):
    file = tmp_path / "facts.json"
    file.write_text(json.dumps(given))
    monkeypatch.setenv("AMBERKEY_MACHINE_FACTS", str(file))
    assert facts(["Folioform"]) == found


def test_what_cannot_be_found_out_is_empty_and_no_error(monkeypatch, tmp_path):
    monkeypatch.setenv("AMBERKEY_MACHINE_FACTS", str(tmp_path / "missing"))
    assert set(facts()) == {"edition", "layouts", "programs"}


def test_of_installed_packages_only_those_that_are_asked_about_are_told(tmp_path):
    tool = tmp_path / "dpkg-query"
    cases = 'folio-form) printf "installed 1:4.0.2-3+b1";; gone) printf "config-files 2.0-1";; *) exit 1;;'
    tool.write_text(f'#!/bin/sh\ncase "$4" in {cases} esac\n')
    tool.chmod(0o755)
    asked = ("Folio Form", "Gone", "Nothing", "--admindir=/x", "")
    assert [of_debian(name, str(tool)) for name in asked] == ["4.0.2", "", "", "", ""]


def test_a_version_of_macos_is_the_applications_own(tmp_path):
    place = tmp_path / "Folioform.app/Contents/Info.plist"
    place.parent.mkdir(parents=True)
    place.write_bytes(plistlib.dumps({"CFBundleShortVersionString": "4.0.2"}))
    assert programs._of_macos("Folioform", tmp_path) == "4.0.2"
    assert programs._of_macos("../Folioform", tmp_path) == ""
    assert versions(["Nothing that is there"]) == {}
