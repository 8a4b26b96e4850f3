"""Looking at what people have set for themselves, and taking it: into a profile, as each one's own, or not at all."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import cast

from django.db import transaction

from amberkey.core.compare.operations import JsonDocument, Operation, compare
from amberkey.core.documents.model import Document as CoreDocument
from amberkey.core.organisation.model import Organisation
from amberkey.core.organisation.surveying import OwnChange, with_change
from amberkey.core.profiles.model import Profile
from amberkey.core.programs.model import Program
from amberkey.server.estate import ORGANISATION, current_organisation
from amberkey.server.fleet.models import Survey
from amberkey.server.fleet.surveying import changes_in, forget_old_ones, program_with
from amberkey.server.fleet.tasks import put_to_work
from amberkey.server.library.documents import load, newest_of, parsed
from amberkey.server.library.models import ChangeSet, Document
from amberkey.server.library.verbs.change import Making, change
from amberkey.server.people.acting import Actor
from amberkey.server.people.models import Role
from amberkey.server.problems import NotFound, Problem

OWN = "own"
"""Into what a change goes that stays each one's own."""


@transaction.atomic
def begin(actor: Actor, of: str, given: bytes | None = None) -> Survey:
    """A survey of what agents have seen, or of a zip file of files by person. It is read by a job."""
    actor.require(Role.EDITOR)
    forget_old_ones()
    survey = Survey.objects.create(of=of[:200], made_by=actor.user, given=given)
    actor.record("surveyed", f"survey {survey.pk}", of[:200])
    put_to_work(survey)
    return survey


@transaction.atomic
def drop(actor: Actor, survey: Survey, items: Sequence[str], *, dropped: bool) -> Survey:
    """Own changes that are to be nobody's, or are looked at again. No document is changed by it."""
    actor.require(Role.EDITOR)
    locked = Survey.objects.select_for_update().get(pk=survey.pk)
    known = {c.id for c in changes_in(locked)}
    strange = next((i for i in items if i not in known), None)
    if strange is not None:
        raise NotFound(f"own change {strange[:40]}")
    locked.dropped = sorted({*locked.dropped, *items}) if dropped else [i for i in locked.dropped if i not in items]
    locked.save(update_fields=["dropped"])
    actor.record("dropped own changes" if dropped else "took own changes up again", f"survey {survey.pk}", f"{len(items)}")
    return locked


@dataclass
class Planned:
    """What taking some own changes would write: operations by document, profiles that are made for people, and such
    as were deleted and come back, by their keys."""

    operations: dict[str, list[Operation]] = field(default_factory=dict)
    made: list[CoreDocument] = field(default_factory=list)
    revived: list[str] = field(default_factory=list)


def planned(changes: Sequence[OwnChange], into: Mapping[str, str]) -> Planned:
    """`into`: for each own change, by its id, a profile's id, or `own`. Raises Problem."""
    known = {c.id: c for c in changes}
    changed: dict[str, Profile] = {}
    before: dict[str, Profile] = {}
    taken: dict[tuple[str, str, str, str], OwnChange] = {}
    organisation = current_organisation()
    given: dict[str, str] = {}
    for item, target in into.items():
        one = known.get(item)
        if one is None:
            raise NotFound(f"own change {item[:40]}")
        for profile_id in _targets(one, target, organisation, given, before, changed):
            place = (profile_id, one.program, one.platform, one.command)
            if place in taken:
                raise _twice(taken[place], changed[profile_id])
            taken[place] = one
            changed[profile_id] = with_change(changed[profile_id], one, _program(one))
    plan = Planned()
    for profile_id, profile in changed.items():
        if profile_id in before:
            plan.operations[f"profile/{profile_id}"] = list(compare(_json(before[profile_id]), _json(profile)))
        else:
            plan.made.append(profile)
    plan.revived = [f"profile/{i}" for i in given.values() if i in before]
    if given:
        people = [
            p.model_copy(update={"profiles": (*p.profiles, given[p.id])}) if p.id in given else p for p in organisation.people
        ]
        after = organisation.model_copy(update={"people": tuple(people)})
        plan.operations[ORGANISATION] = list(compare(_json(organisation), _json(after)))
    return plan


def _targets(
    one: OwnChange,
    target: str,
    organisation: Organisation,
    given: dict[str, str],
    before: dict[str, Profile],
    changed: dict[str, Profile],
) -> list[str]:
    """The profiles that take a change; each stands in `changed` afterwards. Who has none of their own is given one."""
    if target != OWN:
        if target not in changed:
            changed[target] = before[target] = _of_hands(target)
        return [target]
    found = []
    for person_id in one.people:
        person = organisation.people_by_id[person_id]
        profile_id = given.get(person_id) or next((p for p in person.profiles if _is_of_one(organisation, p)), "")
        if not profile_id:
            profile_id = given[person_id] = f"own-{person_id}"[:80]
            changed[profile_id] = Profile(id=profile_id, name="Own settings")
            once = Document.objects.filter(key=f"profile/{profile_id}").select_related("newest__body").first()
            if once is not None and once.deleted_at is None:
                raise Problem(409, f"There is a profile {profile_id} already.", "", "Give it to its person, or rename it.")
            if once is not None and isinstance(was := parsed(newest_of(once).digest), Profile):
                before[profile_id] = was  # taken once and undone: it comes back with what is taken now
        elif profile_id not in changed:
            changed[profile_id] = before[profile_id] = _of_hands(profile_id)
        found.append(profile_id)
    return found


def _is_of_one(organisation: Organisation, profile_id: str) -> bool:
    """Whether a profile is given to one person and to nobody else."""
    given = [
        *organisation.profiles,
        *(p for d in organisation.departments for p in d.profiles),
        *(p for r in organisation.roles for p in r.profiles),
        *(p for m in organisation.machines for p in m.profiles),
    ]
    return profile_id not in given and sum(profile_id in p.profiles for p in organisation.people) == 1


def _of_hands(profile_id: str) -> Profile:
    """A profile that people write. Raises Problem for one that is compiled from the standard."""
    profile = load(f"profile/{profile_id}", Profile)
    if profile.generated is not None:
        raise Problem(
            409, f"{profile.name} is compiled from the standard.", "Nobody writes it by hand.", "Take it into another profile."
        )
    return profile


def _program(one: OwnChange) -> Program:
    """A version of the program that has the command. Raises NotFound."""
    found = program_with(one)
    if found is None:
        raise NotFound(f"command {one.command[:80]} of {one.program[:80]}")
    return found


def _twice(one: OwnChange, profile: Profile) -> Problem:
    command = _program(one).command(one.command)
    return Problem(
        400,
        f"{command.name if command else one.command} would get two sets of keys in {profile.name}.",
        "Two of the chosen changes are of the same command.",
        "Choose one of them for this profile.",
    )


def _json(value: CoreDocument) -> JsonDocument:
    return cast(JsonDocument, value.to_json())


def take(actor: Actor, survey: Survey, into: Mapping[str, str]) -> ChangeSet:
    """Write own changes into profiles as one change set."""
    actor.require(Role.EDITOR)
    plan = planned(changes_in(survey), into)
    many = f"{len(into)} own change{'' if len(into) == 1 else 's'}"
    return change(
        actor, f"Took {many} that people had set", plan.operations, making=Making(make=plan.made, revive=plan.revived)
    )
