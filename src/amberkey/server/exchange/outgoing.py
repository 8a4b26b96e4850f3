"""What goes out of a profile: a bundle, or a sheet."""

from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from ninja import Router

from amberkey.core.exchange.account import account_of, fares_of
from amberkey.core.exchange.as_sheets.profile import HEADS as PROFILE_HEADS
from amberkey.core.exchange.as_sheets.profile import profile_rows
from amberkey.core.exchange.bundle import path_of, write_bundle
from amberkey.core.exchange.rendering import Rendered
from amberkey.core.exchange.travelling import SECTION_WORDS, Travel, travel
from amberkey.core.profiles.model import Profile
from amberkey.server.estate import language_of
from amberkey.server.exchange.keys import signing
from amberkey.server.exchange.origin import lineage_of
from amberkey.server.library.approving import may_lie, may_run
from amberkey.server.library.documents import find, known_programs, load, newest_of, own_layers
from amberkey.server.library.sight import sees_document
from amberkey.server.people.acting import actor_of
from amberkey.server.people.sight import sees_personal
from amberkey.server.problems import NotFound, Problem
from amberkey.server.schema import Schema
from amberkey.server.sheets import sheet_response

TAKEN_OUT = "took out a bundle"
router = Router(tags=["exchange"])


class StayingOut(Schema):
    what: str
    why: str


class SectionOut(Schema):
    """One of a profile's sections: what people call its items, and how many there are."""

    id: str
    name: str
    count: int


class BundleFileOut(Schema):
    path: str
    program: str
    commands: int


class TravelOut(Schema):
    """What a bundle would hold: sections of the profile, settings files, what it needs where it arrives, what stays and why.
    `signed`: whose key signs it, empty where nothing does."""

    sections: list[SectionOut]
    files: list[BundleFileOut]
    needs: list[str]
    stays: list[StayingOut]
    signed: str


@router.get("/profiles/{profile_id}/bundle/contents", response=TravelOut)
def contents(request: HttpRequest, profile_id: str, sections: str = "") -> TravelOut:
    """What a bundle of the profile would hold. `sections`: which, with commas between; else all."""
    profile, found = _travel(profile_id, sections)
    signed = signing()
    return TravelOut(
        sections=[SectionOut(id=s, name=SECTION_WORDS[s], count=len(getattr(profile, s))) for s in profile.sections],
        files=[_file(path_of(profile_id, f), f) for f in found.files if f.data],
        needs=list(found.needs),
        stays=[StayingOut(what=s.what, why=s.why) for s in found.stays],
        signed=signed.name if signed else "",
    )


def _file(path: str, file: Rendered) -> BundleFileOut:
    return BundleFileOut(path=path, program=file.program.name, commands=len(file.commands))


@router.get("/profiles/{profile_id}/bundle", response={200: bytes})
def export_bundle(request: HttpRequest, profile_id: str, sections: str = "") -> HttpResponse:
    """The profile as a bundle file, signed. What somebody has set for themselves doesn't travel. `sections`: which, with commas
    between; else all."""
    profile, found = _travel(profile_id, sections)
    key = f"profile/{profile_id}"
    newest = newest_of(find(key))
    today = timezone.localdate()
    actor = actor_of(request)
    actor.record(TAKEN_OUT, key, ", ".join(found.sections or ()))
    # A part of a profile was made from the whole of it.
    lineage = (*([newest.digest] if found.sections or found.silent else []), *lineage_of(key))
    data = write_bundle(
        [found.profile],
        bundle_id=f"{profile.id}-{today:%Y-%m-%d}",
        name=f"{profile.name}, {today:%Y-%m-%d}",
        made_by=actor.name,
        made_at=timezone.now().isoformat(timespec="seconds"),
        needs=found.needs,
        stays=found.stays,
        fares=fares_of(
            profile_id,
            account_of(
                load(key, Profile), known_programs(), chosen=found.sections, may_run=may_run(profile_id), may_lie=may_lie()
            ),
        ),
        files={profile.id: found.files},
        lineages={profile.id: lineage},
        revisions={profile.id: newest.number},
        sections={profile.id: found.sections} if found.sections else {},
        silent={profile.id: found.silent},
        signing=signing(),
    )
    response = HttpResponse(data, content_type="application/zip")
    response["Content-Disposition"] = f'attachment; filename="{profile.id}-{today:%Y-%m-%d}.amberkey.zip"'
    return response


def _travel(profile_id: str, sections: str) -> tuple[Profile, Travel]:
    if profile_id in own_layers():
        raise (
            NotFound(f"profile {profile_id} that may travel")
            if not sees_personal()
            else Problem(
                409,
                "This layer is one person's own.",
                "It says something of that person, so it stays here.",
                "Take over what others need into another layer, and export that.",
            )
        )
    profile = load(f"profile/{profile_id}", Profile)
    return profile, travel(
        profile,
        known_programs(),
        sections.split(",") if sections else None,
        may_run=may_run(profile_id),
        may_lie=may_lie(),
    )


@router.get("/profiles/{profile_id}/sheet.{form}", response={200: None})
def profile_sheet(request: HttpRequest, profile_id: str, form: str, setup: str = "") -> HttpResponse:
    """The profile's shortcuts as CSV, ODS or XLSX; what is brought in again unchanged changes nothing. `setup`: in the words of
    its keyboard."""
    if not sees_document(f"profile/{profile_id}"):
        raise NotFound(f"profile {profile_id[:80]}")
    profile = load(f"profile/{profile_id}", Profile)
    rows = profile_rows(profile, known_programs(), language_of(setup))
    return sheet_response(form, f"profile-{profile.id}", PROFILE_HEADS, rows)
