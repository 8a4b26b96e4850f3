"""What people have now: looked at before the first release, and taken into profiles."""

import datetime
from typing import Annotated, Literal
from uuid import UUID

from django.http import HttpRequest
from ninja import File, Router
from ninja.files import UploadedFile
from pydantic import Field

from amberkey.core.exchange.from_people import PEOPLES_FILES
from amberkey.core.keys.platform import Platform
from amberkey.core.keys.wording import words_of
from amberkey.core.organisation.surveying import OwnChange
from amberkey.server.estate import current_estate, current_organisation
from amberkey.server.fleet.models import Survey
from amberkey.server.fleet.surveying import changes_in, program_with
from amberkey.server.fleet.verbs.survey import begin, drop, planned, take
from amberkey.server.library.history import ChangeOut
from amberkey.server.people.acting import By, actor_of
from amberkey.server.people.models import Role
from amberkey.server.problems import NotFound, Problem
from amberkey.server.schema import Name, Schema
from amberkey.server.workbench.would import WouldOut, would_all

router = Router(tags=["fleet"], auth=By(Role.EDITOR))
_MOST = 2_000
_NAMES = 12


class LayerShareOut(Schema):
    """How many of those who have a profile, and whose files were seen, have an own change."""

    profile: str
    name: str
    having: int
    seen: int


class OwnChangeOut(Schema):
    """What some people have set. `default`: what the program ships. `people`: how many; `names`: at most 12 of them.
    `proposed`: the profile that it would be something for, "own" where it stays each one's own. `dropped`: it is to be
    nobody's."""

    id: str
    program: str
    program_name: str
    platform: Platform
    command: str
    command_name: str
    keys: list[str]
    default: list[str]
    people: int
    names: list[str]
    layers: list[LayerShareOut]
    proposed: str
    dropped: bool


class NotReadOut(Schema):
    path: str
    says: str


class SurveyOut(Schema):
    """`people`: how many people's files were read. `left`: how many files say nothing to us; `unread` are the first of them."""

    id: UUID
    of: str
    made_by: str
    at: datetime.datetime
    state: Literal["working", "ready", "failed"]
    says: str
    files: int
    people: int
    left: int
    unread: list[NotReadOut]
    changes: list[OwnChangeOut]
    profiles: list[LayerShareOut]


class NewestSurveyOut(Schema):
    """`survey`: the newest one, none where nobody ever looked."""

    survey: SurveyOut | None


class SurveyTakeIn(Schema):
    """`into`: for each own change, by its id, a profile's id, or "own"."""

    into: Annotated[dict[Annotated[str, Field(max_length=16)], Name], Field(min_length=1, max_length=_MOST)]


class SurveyDropIn(Schema):
    """`dropped`: they are to be nobody's, or are looked at again."""

    changes: Annotated[list[Annotated[str, Field(max_length=16)]], Field(max_length=_MOST)]
    dropped: bool


@router.get("/surveys/newest", response=NewestSurveyOut)
def newest_survey(request: HttpRequest) -> NewestSurveyOut:
    """The newest survey, told against what is set today."""
    survey = Survey.objects.select_related("made_by").first()
    return NewestSurveyOut(survey=_told(survey) if survey is not None else None)


@router.post("/surveys", response=SurveyOut)
def survey_agents(request: HttpRequest) -> SurveyOut:
    """Look at the files that agents have seen."""
    return _told(begin(actor_of(request), "what agents have seen"))


@router.post("/surveys/files", response=SurveyOut)
def survey_files(request: HttpRequest, file: File[UploadedFile]) -> SurveyOut:
    """Look at the files of a zip file, in which each lies in a folder that is called like a person."""
    if (file.size or 0) > PEOPLES_FILES.packed:
        raise Problem(413, "The zip file is too large.", f"{PEOPLES_FILES.packed // 1048576} MB is the most.", "Split it.")
    return _told(begin(actor_of(request), (file.name or "a zip file").rpartition("/")[2], file.read()))


@router.post("/surveys/{survey_id}/plan", response=WouldOut)
def plan_survey(request: HttpRequest, survey_id: UUID, given: SurveyTakeIn) -> WouldOut:
    """What taking some own changes would make of the organisation's clashes. Nothing is written."""
    plan = planned(changes_in(_survey(survey_id)), given.into)
    return would_all({key.partition("/")[2]: ops for key, ops in plan.operations.items() if key.startswith("profile/")})


@router.post("/surveys/{survey_id}/take", response=ChangeOut)
def take_survey(request: HttpRequest, survey_id: UUID, given: SurveyTakeIn) -> ChangeOut:
    """Take own changes into profiles, as one change that can be undone."""
    done = take(actor_of(request), _survey(survey_id), given.into)
    return ChangeOut(id=done.id, title=done.title)


@router.post("/surveys/{survey_id}/dropped", response=SurveyOut)
def drop_from_survey(request: HttpRequest, survey_id: UUID, given: SurveyDropIn) -> SurveyOut:
    """Say that own changes are to be nobody's, or look at them again."""
    return _told(drop(actor_of(request), _survey(survey_id), given.changes, dropped=given.dropped))


def _survey(survey_id: UUID) -> Survey:
    survey = Survey.objects.filter(pk=survey_id, state=Survey.State.READY).first()
    if survey is None:
        raise NotFound("such a survey, ready to be looked at")
    return survey


def _told(survey: Survey) -> SurveyOut:
    changes = changes_in(survey) if survey.state == Survey.State.READY else []
    names = {i: p.name for i, p in current_estate().profiles.items()}
    shares = {s.profile: s for c in changes for s in c.layers}
    return SurveyOut(
        id=survey.id,
        of=survey.of,
        made_by=survey.made_by.display_name,
        at=survey.at,
        state=survey.State(survey.state).value,
        says=survey.says,
        files=survey.files,
        people=len({one["person"] for one in survey.found.get("said", ())}),
        left=survey.found.get("left", 0),
        unread=[NotReadOut(**one) for one in survey.found.get("unread", ())],
        changes=[_change(c, names, c.id in survey.dropped) for c in changes[:_MOST]],
        profiles=[_share(s.profile, 0, s.seen, names) for s in sorted(shares.values(), key=lambda s: -s.seen)],
    )


def _share(profile: str, having: int, seen: int, names: dict[str, str]) -> LayerShareOut:
    return LayerShareOut(profile=profile, name=names.get(profile, profile), having=having, seen=seen)


def _change(one: OwnChange, names: dict[str, str], dropped: bool) -> OwnChangeOut:
    program = program_with(one)
    command = program.command(one.command) if program is not None else None
    people = current_organisation().people_by_id
    return OwnChangeOut(
        id=one.id,
        program=one.program,
        program_name=program.name if program is not None else one.program,
        platform=one.platform,
        command=one.command,
        command_name=command.name if command is not None else one.command,
        keys=[words_of(s, one.platform) for s in one.shortcuts],
        default=[words_of(s, one.platform) for s in command.defaults_on(one.platform)] if command is not None else [],
        people=len(one.people),
        names=[people[p].name for p in one.people[:_NAMES] if p in people],
        layers=[_share(s.profile, s.having, s.seen, names) for s in one.layers],
        proposed=one.proposed or "own",
        dropped=dropped,
    )
