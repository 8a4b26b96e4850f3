"""What a machine says of itself, in its system's own words."""

import json

import pytest

from amberkey.agent import facts as module
from amberkey.agent.facts import facts


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
        ({"edition": "GNOME 48", "layouts": ["us"]}, {"edition": "GNOME 48", "layouts": ["us"]}),
        ({"edition": None, "layouts": "us"}, {"edition": "", "layouts": []}),
        ([], {"edition": "", "layouts": []}),
        ({"edition": "x" * 500, "layouts": ["y" * 500] * 99}, {"edition": "x" * 120, "layouts": ["y" * 120] * 16}),
    ],
)
def test_a_simulated_machine_says_what_it_is_given_within_bounds(tmp_path, monkeypatch, given, found):
    file = tmp_path / "facts.json"
    file.write_text(json.dumps(given))
    monkeypatch.setenv("AMBERKEY_MACHINE_FACTS", str(file))
    assert facts() == found


def test_what_cannot_be_found_out_is_empty_and_no_error(monkeypatch, tmp_path):
    monkeypatch.setenv("AMBERKEY_MACHINE_FACTS", str(tmp_path / "missing"))
    assert set(facts()) == {"edition", "layouts"}
