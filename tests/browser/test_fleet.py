"""From what people have to what their machines get: a key for many, a survey, one profile, a signed order, in step."""

import json
import re
import zipfile

from playwright.sync_api import expect

from amberkey.agent.files import backups_of
from amberkey.demo.load import load_machines, load_people
from amberkey.server.estate import current_organisation
from amberkey.server.fleet.models import Survey
from amberkey.server.fleet.surveying import do_read
from tests.browser.conftest import agent
from tests.browser.test_organisation import ferries  # noqa: F401

SHARED = 32  # some of them are given it by a layer already


def files_of_people(place):
    """A zip file in which many people at Windows machines calculate by F9, and one inserts by a key of their own."""
    known = current_organisation()
    at = {s.person: known.machines_by_id[s.machine] for s in reversed(known.seats)}
    people = [
        p
        for p, machine in at.items()
        if machine.platform == "windows" and any(q.id == "quaysheet" for q in known.programs_on(machine))
    ]
    assert len(people) > SHARED
    with zipfile.ZipFile(place, "w") as archive:
        for n, person in enumerate(people):
            own = [{"do": "recalculate", "on": ["f9"]}] if n < SHARED else []
            own += [{"do": "save-copy", "on": ["ctl-f12"]}] if n == 0 else []
            archive.writestr(f"{person}/Quaysheet/settings.json", json.dumps({"keyboard": {"own": own}}))
        archive.writestr("nobody/Quaysheet/settings.json", "{}")
    return place


def test_what_many_people_have_becomes_a_profile_and_reaches_a_machine(ferries, settings, live_server, tmp_path):  # noqa: F811
    settings.SIGNING_KEY = "11" * 32
    ines = ferries()
    page = ines.page
    load_machines(load_people(), tmp_path)
    home = tmp_path / "counter-3/home"

    # A machine enrols by a key for many.
    ines.go("Machines")
    page.get_by_role("link", name="Enrol many machines").click()
    page.get_by_label("What it is for").fill("Counters")
    page.get_by_role("button", name="Make the key").click()
    shown = page.get_by_role("form", name="A new key").get_by_role("status")
    key = shown.locator("code").first.inner_text()
    agent(home, "enrol", "--server", live_server.url, "--key", key, "--machine", "Counter 3, Westquay")
    agent(home, "run", "--once")

    # What people have is looked at, and taken.
    ines.go("Machines")
    page.get_by_role("link", name="What people have now").click()
    expect(page.get_by_text("Nobody has looked yet.")).to_be_visible()
    page.locator("input[type=file]").set_input_files(files_of_people(tmp_path / "people.zip"))
    expect(page.get_by_role("status").first).to_contain_text("being read")
    do_read(Survey.objects.get().id)
    rows = page.get_by_role("list", name="Own changes").get_by_role("listitem")
    expect(rows).to_have_count(2)
    expect(rows.first).to_contain_text(re.compile(r"3\d people of 40"))
    expect(rows.first).to_contain_text("Calculate again")
    expect(page.get_by_text("1 file says nothing that can be read")).to_be_visible()
    faults = ines.axe()
    assert faults == []
    page.get_by_role("button", name="as proposed").click()
    expect(page.get_by_text(re.compile("It reaches"))).to_be_visible()
    page.keyboard.press("Control+Enter")
    expect(page.get_by_text("Took 2 own changes that people had set")).to_be_visible()
    expect(page.get_by_text("Nobody has set anything of their own.")).to_be_visible()

    # Released, ordered, in step.
    ines.go("Profiles")
    page.get_by_role("combobox", name="Profile").click()
    page.get_by_role("option", name="House", exact=True).click()
    page.get_by_role("button", name=re.compile(r"^Release revision \d+$")).click()
    expect(page.get_by_text("The newest revision is the released one.")).to_be_visible()
    ines.go("Machines")
    counter = page.get_by_role("listitem", name="Counter 3, Westquay")
    expect(counter).to_contain_text("not applied yet")
    before = (home / "Quaysheet/settings.json").read_bytes()
    counter.get_by_role("button", name="Apply the profile").click()
    expect(counter).to_contain_text("waiting for the machine")
    agent(home, "run", "--once")
    expect(counter).to_contain_text("in step")
    assert '"f9"' in (home / "Quaysheet/settings.json").read_text()
    assert [data for _, data in backups_of(home, "Quaysheet/settings.json")] in ([before], [])
    page.get_by_role("button", name="in step 1").click()
    expect(page.get_by_role("list", name="Agents").get_by_role("listitem")).to_have_count(1)
    assert ines.axe() == []
