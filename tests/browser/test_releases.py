"""A release from its plan to its end and back: a pilot, a stop, on without it, drift taken into a profile, taken back."""

import re

import pytest
from playwright.sync_api import expect

from amberkey.demo import fleet
from amberkey.demo.load import load_fleet, load_machines, load_people
from amberkey.server.rollouts.models import Plan
from amberkey.server.rollouts.moving import move
from tests.browser.test_organisation import ferries  # noqa: F401


@pytest.fixture
def machines(ferries, settings, live_server, tmp_path):  # noqa: F811
    """The example's machines with their agents; gives what lets all of them have a round, and the plan move between."""
    settings.SIGNING_KEY = "11" * 32
    load_machines(load_people(), tmp_path)
    load_fleet(load_people(), tmp_path / "fleet")
    key, homes = fleet.read_list(tmp_path / "fleet")
    for placed in homes:
        fleet.enrol(tmp_path / "fleet", live_server.url, key, placed)
    done = iter(range(99))

    def rounds(times=1, of=homes):
        for _ in range(times):
            number = next(done)
            for placed in of:
                fleet.round_of(tmp_path / "fleet", placed, number)
            for plan in Plan.objects.all():
                move(plan.pk)

    def files():
        return {
            (p.name, program): (fleet.home_of(tmp_path / "fleet", p) / path).read_text()
            for p in homes
            for program, path in p.files.items()
        }

    rounds()
    late = [placed for placed in homes if placed.does == "slow"]
    return rounds, files, late


def pick(page, machine):
    field = page.get_by_label("Machines", exact=True)
    field.fill(machine)
    page.get_by_role("option", name=machine, exact=True).click()


def test_a_release_goes_out_in_waves_stops_goes_on_and_is_taken_back(ferries, machines):  # noqa: F811
    rounds, files, late = machines
    before = files()
    ines = ferries()
    page = ines.page

    # Planned: a pilot of two machines, then everybody else.
    ines.go("Machines")
    page.get_by_role("link", name="Releases").click()
    expect(page.get_by_text("Nothing has gone out in waves yet.")).to_be_visible()
    page.get_by_role("link", name="Plan a release").click()
    would = page.get_by_role("region", name="What it would do")
    expect(would).to_contain_text("Everything that is released reaches 16 machines")
    page.get_by_role("button", name=re.compile("Take the wave out.*A tenth")).click()
    first = page.get_by_role("group", name="Wave 1", exact=True)
    first.get_by_label("Who is in it").click()
    page.get_by_role("option", name="these machines").click()
    expect(would).to_contain_text("Say of each wave which machines are in it.")
    for machine in ("Training room, place 2", "Counter 6, Westquay"):
        pick(page, machine)
    page.get_by_label("Hours of quiet").fill("0")
    expect(would).to_contain_text("Everybody else: 14 machines")
    assert ines.axe() == []
    page.keyboard.press("Control+Enter")
    expect(page.get_by_role("heading", name="Everything that is released")).to_be_visible()

    # The pilot stops at a machine that can't be written, and nothing else goes out.
    move(Plan.objects.get().pk)
    rounds()
    waves = page.get_by_role("list", name="Waves")
    expect(waves).to_contain_text("Shut while more than 10 % of a wave is stopped: 1 of 2 is 50 %")
    stops = page.get_by_role("region", name="Where it stops")
    expect(stops).to_contain_text("read-only")
    assert {name for name, text in files().items() if text != before[name]} == {
        key for key in before if key[0] == "training-2.learner" and files()[key] != before[key]
    }
    assert ines.axe() == []
    stops.get_by_role("button", name=re.compile("Go on without it.*Counter 6")).click()
    expect(stops).not_to_contain_text("Counter 6")

    # Everybody else gets it; somebody changed a key meanwhile, which is taken into a profile.
    rounds(3)
    rounds(2, of=late)
    expect(waves.get_by_role("listitem", name="Everybody else")).to_contain_text(re.compile(r"1\d of 14"))
    stops.get_by_role("link", name=re.compile("Take it into a profile, or leave it.*Counter 5")).click()
    drift = page.get_by_role("listitem", name="New sale in Boardwright")
    expect(drift).to_contain_text("New sale in Boardwright is on F9; F2 is wanted.")
    assert ines.axe() == []
    drift.get_by_role("button", name="Take it into the profile").click()
    expect(page.get_by_text("Took 1 own change from machines")).to_be_visible()

    # Taken back everywhere: all is as it was, and what somebody changed meanwhile stays.
    page.get_by_role("link", name="Releases").click()
    page.get_by_role("link", name="Everything that is released").click()
    page.get_by_role("button", name="Take it back everywhere").click()
    page.get_by_role("dialog").get_by_role("button", name="Take it back").click()
    rounds(2)
    for _ in range(60):  # one of them misses most rounds
        if Plan.objects.get().state == Plan.State.TAKEN_BACK:
            break
        rounds(of=late)
    after = files()
    theirs = ("counter-5.bento", "boardwright")
    assert 'press="F9"' in after[theirs]
    assert {name for name, text in after.items() if text != before[name]} == {theirs}
    expect(page.get_by_text("taken back", exact=True).first).to_be_visible()
