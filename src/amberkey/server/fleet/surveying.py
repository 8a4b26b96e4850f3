"""Surveys: what people have set for themselves, read from their files, and told as it stands against what is set today."""

import datetime
from collections.abc import Iterable, Mapping, Sequence
from typing import Any, cast
from uuid import UUID

from django.utils import timezone

from amberkey.core.containers.errors import SettingsFileError
from amberkey.core.exchange.errors import BundleError
from amberkey.core.exchange.from_people import from_people
from amberkey.core.keys.platform import Platform
from amberkey.core.keys.reading import read_document_shortcut
from amberkey.core.organisation.surveying import FromFile, OwnChange, not_default, own_changes
from amberkey.core.profiles.resolving import ResolvedSetup
from amberkey.core.programs.editions import figures_of
from amberkey.core.programs.model import Program
from amberkey.core.programs.settings_files import read_settings
from amberkey.server.estate import current_derived, current_estate, current_organisation
from amberkey.server.fleet.models import FileBytes, Machine, MachineFile, Order, Survey
from amberkey.server.fleet.setups import setup_of_agent
from amberkey.server.fleet.verbs.watch import described_by

LIVES = datetime.timedelta(days=30)
MOST_UNREAD = 200


def do_read(survey_id: UUID) -> None:
    """Read what a survey is of. May be begun again at any time."""
    survey = Survey.objects.filter(pk=survey_id, state=Survey.State.WORKING).first()
    if survey is None:
        return
    if survey.given is None:
        said, unread, files = _of_agents()
    else:
        people = [p.id for p in current_organisation().people]
        programs = {p: _programs_of(setups) for p, setups in setups_of(people).items()}
        try:
            said, left = from_people(bytes(survey.given), current_organisation(), programs)
        except BundleError as error:
            Survey.fail(survey_id, str(error))
            return
        unread, files = [{"path": one.path[:300], "says": one.says[:300]} for one in left], len(said) + len(left)
    found = {"said": [_kept(one) for one in said], "unread": unread[:MOST_UNREAD], "left": len(unread)}
    Survey.objects.filter(pk=survey_id).update(found=found, files=files, given=None, state=Survey.State.READY)


def _of_agents() -> tuple[list[FromFile], list[dict[str, str]], int]:
    """What the agents' files say: of the person whose home it is; where nobody knows, of everybody who sits at the machine."""
    estate = current_estate()
    people: dict[str, list[str]] = {}
    for seat in current_organisation().seats:
        people.setdefault(seat.machine, []).append(seat.person)
    said: list[FromFile] = []
    unread: list[dict[str, str]] = []
    files = 0
    for machine in Machine.objects.order_by("id").prefetch_related("files__content", "files__agent"):
        there = dict.fromkeys(people.get(machine.id, ()))
        for file in machine.files.all():
            file.agent.machine = machine
            setup_id = setup_of_agent(file.agent)
            if setup_id not in estate.setups:
                continue
            setup = estate.board(setup_id).setup
            platform = setup.setup.works_on
            program = setup.program(file.program)
            described = described_by(file, program, platform) if program is not None else None
            seen = file.seen
            if seen is None or program is None or described is None:
                continue
            files += 1
            try:
                entries = read_settings(seen, program, described[1], platform).entries
            except SettingsFileError as error:
                unread.append({"path": f"{file.path} on {machine.name}", "says": error.says[:300]})
                continue
            own = not_default(program, platform, entries)
            said += [
                FromFile(person, program.id, platform, own)
                for person in ([file.agent.person] if file.agent.person in there else there)
            ]
    return said, unread, files


def setups_of(people: Iterable[str]) -> dict[str, list[ResolvedSetup]]:
    """What holds for people on each of their setups."""
    estate, derived = current_estate(), current_derived()
    by_person: dict[str, dict[str, None]] = {}
    for seated in derived.seated:
        by_person.setdefault(seated.person, {})[seated.setup] = None
    return {p: [estate.board(s).setup for s in by_person.get(p, ())] for p in people}


def _programs_of(setups: Sequence[ResolvedSetup]) -> list[tuple[Program, Platform]]:
    return list({(p.id, s.setup.works_on): (p, s.setup.works_on) for s in setups for p in s.programs}.values())


def _kept(one: FromFile) -> dict[str, Any]:
    said = {command: [s.to_document() for s in shortcuts] for command, shortcuts in one.said.items()}
    return {"person": one.person, "program": one.program, "platform": one.platform, "said": said}


def changes_in(survey: Survey) -> list[OwnChange]:
    """The own changes that a survey found, as they stand today: what a layer gives meanwhile is nobody's own any more."""
    seen = [_read(one) for one in survey.found.get("said", ())]
    return own_changes(seen, setups_of({one.person for one in seen}), current_organisation())


def _read(one: Mapping[str, Any]) -> FromFile:
    said = {command: tuple(read_document_shortcut(s) for s in shortcuts) for command, shortcuts in one["said"].items()}
    return FromFile(one["person"], one["program"], cast(Platform, one["platform"]), said)


def program_with(one: OwnChange) -> Program | None:
    """The newest version of a change's program that has its command."""
    found = [p for (i, _), p in current_estate().programs.items() if i == one.program and p.command(one.command) is not None]
    return max(found, key=lambda p: figures_of(p.version), default=None)


def forget_old_ones() -> int:
    """What people had set for themselves, and what else stands in their files, is kept no longer than it is of use: surveys and
    files' bytes go after 30 days, but for those that are to be written. Returns how many went."""
    before = timezone.now() - LIVES
    surveys, _ = Survey.objects.filter(at__lt=before).delete()
    waiting = Order.objects.filter(state=Order.State.WAITING, content__isnull=False).values("content")
    old = FileBytes.objects.filter(kept_at__lt=before).exclude(pk__in=waiting)
    MachineFile.objects.filter(content__in=old).update(stands_on="")
    gone, _ = old.delete()
    return surveys + gone
