"""Profiles out as bundles, and in with a preview."""

from typing import Literal

from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from ninja import File, Form, Router
from ninja.files import UploadedFile

from amberkey.core.compare.views import Does
from amberkey.core.documents.reading import read_json
from amberkey.core.exchange.bundle import path_of, write_bundle
from amberkey.core.exchange.errors import BundleError
from amberkey.core.exchange.preview import How, Preview, preview_import
from amberkey.core.exchange.rendering import Rendered
from amberkey.core.exchange.signing import Signer
from amberkey.core.exchange.telling import MEANINGS, Meaning
from amberkey.core.exchange.travelling import SECTION_WORDS, Travel, travel
from amberkey.core.profiles.model import Profile
from amberkey.server.exchange import trusting
from amberkey.server.exchange.keys import own_keys, signing
from amberkey.server.exchange.opening import Opened, open_bundle
from amberkey.server.exchange.origin import Origin, lineage_of, origin_of
from amberkey.server.exchange.verbs.take import chosen_of, take
from amberkey.server.library.documents import find, known_programs, load, newest_of, own_layers
from amberkey.server.library.sight import sees_document
from amberkey.server.people.acting import By, actor_of
from amberkey.server.people.models import Role
from amberkey.server.people.sight import sees_personal
from amberkey.server.problems import NotFound, Problem
from amberkey.server.schema import Schema
from amberkey.server.workbench.would import WouldOut, would

TAKEN_OUT = "took out a bundle"
router = Router(tags=["exchange"])
router.add_router("", trusting.router)
AskedHow = Literal["", "add", "replace", "missing", "merge"]


class DifferenceOut(Schema):
    key: str
    does: Does
    says: str
    refused: str
    means: Meaning
    title: str
    """What that means, in words."""
    nothing: str
    against: str
    """What was done here with the same since both were the same: taking the difference gives that up."""


class SignerOut(Schema):
    """Who signed, in a sentence; `fingerprint` to compare by telephone, empty where nobody did."""

    state: Literal["unsigned", "known", "unknown"]
    says: str
    fingerprint: str


class NamedOut(Schema):
    id: str
    name: str


class StaysOut(Schema):
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
    stays: list[StaysOut]
    signed: str


class PreviewOut(Schema):
    """`how`: the way that was asked for, or else the usual one. `made_from`: the revision here that it was made from; 0 where
    that isn't known, and then it can't be merged. `profiles`: those in the bundle, of which `part` is looked at. `sections`: in
    words, where not all of the profile travelled.
    """

    how: How
    made_from: int
    signer: SignerOut
    part: str
    profiles: list[NamedOut]
    sections: list[str]
    needs: list[str]
    stays: list[StaysOut]
    files: int
    bundle: str
    made_by: str
    made_at: str
    profile: str
    into: str
    differences: list[DifferenceOut]
    unchanged: int


class TakenOut(Schema):
    id: int
    title: str


@router.get("/profiles/{profile_id}/bundle/contents", response=TravelOut)
def contents(request: HttpRequest, profile_id: str, sections: str = "") -> TravelOut:
    """What a bundle of the profile would hold. `sections`: which, with commas between; else all."""
    profile, found = _travel(profile_id, sections)
    signed = signing()
    return TravelOut(
        sections=[SectionOut(id=s, name=SECTION_WORDS[s], count=len(getattr(profile, s))) for s in profile.sections],
        files=[_file(path_of(profile_id, f), f) for f in found.files if f.data],
        needs=list(found.needs),
        stays=[StaysOut(what=s.what, why=s.why) for s in found.stays],
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
    lineage = (*([newest.digest] if found.sections else []), *lineage_of(key))
    data = write_bundle(
        [found.profile],
        bundle_id=f"{profile.id}-{today:%Y-%m-%d}",
        name=f"{profile.name}, {today:%Y-%m-%d}",
        made_by=actor.name,
        made_at=timezone.now().isoformat(timespec="seconds"),
        needs=found.needs,
        stays=found.stays,
        files={profile.id: found.files},
        lineages={profile.id: lineage},
        revisions={profile.id: newest.number},
        sections={profile.id: found.sections} if found.sections else {},
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
    return profile, travel(profile, known_programs(), sections.split(",") if sections else None)


@router.post("/profiles/{profile_id}/import/preview", response=PreviewOut)
def preview(
    request: HttpRequest, profile_id: str, file: File[UploadedFile], how: Form[AskedHow] = "", part: Form[str] = ""
) -> PreviewOut:
    """What bringing a bundle's profile in would add, change and remove. The usual way is to merge where both were made from
    something that is known, and to add otherwise. `part`: which of its profiles, by id; else the first.
    """
    into = _into(profile_id)
    opened = open_bundle(file, part)
    origin = origin_of(profile_id, opened.part)
    way = how or ("merge" if origin else "add")
    found = _preview(into, opened, way, origin)
    manifest = opened.bundle.manifest
    return PreviewOut(
        how=way,
        made_from=origin.number if origin else 0,
        signer=_signer(opened.signer),
        part=opened.profile.id,
        profiles=[NamedOut(id=p.id, name=p.name) for p in opened.profiles],
        sections=[SECTION_WORDS.get(s, s) for s in opened.part.sections or ()],
        needs=list(manifest.needs),
        stays=[StaysOut(what=s.what, why=s.why) for s in manifest.stays],
        files=len(manifest.files),
        bundle=manifest.name,
        made_by=manifest.made_by,
        made_at=manifest.made_at,
        profile=opened.profile.name,
        into=into.name,
        differences=[
            DifferenceOut(
                key=d.key,
                does=d.does,
                says=d.says,
                refused=d.refused,
                means=d.means,
                title=MEANINGS[d.means],
                nothing=d.nothing,
                against=found.against.get(d.key, ""),
            )
            for d in found.differences
        ],
        unchanged=found.unchanged,
    )


@router.post("/profiles/{profile_id}/import/plan", response=WouldOut)
def plan_import(
    request: HttpRequest,
    profile_id: str,
    file: File[UploadedFile],
    chosen: Form[str],
    how: Form[How] = "add",
    part: Form[str] = "",
) -> WouldOut:
    """Which clashes the chosen differences (a JSON list of their keys) would solve and make. Nothing is written."""
    into, opened = _into(profile_id), open_bundle(file, part)
    found = _preview(into, opened, how, origin_of(profile_id, opened.part))
    return would(profile_id, chosen_of(found, _choice(chosen)))


@router.post("/profiles/{profile_id}/import", response=TakenOut, auth=By(Role.EDITOR))
def take_import(
    request: HttpRequest,
    profile_id: str,
    file: File[UploadedFile],
    chosen: Form[str],
    how: Form[How] = "add",
    part: Form[str] = "",
) -> TakenOut:
    """Take the chosen differences (a JSON list of their keys); the file is checked again from its first byte."""
    actor = actor_of(request)
    into, opened = _into(profile_id), open_bundle(file, part)
    found = _preview(into, opened, how, origin_of(profile_id, opened.part))
    change_set = take(actor, profile_id, opened.bundle.manifest.name, opened.profile, found, _choice(chosen))
    return TakenOut(id=change_set.id, title=change_set.title)


def _choice(chosen: str) -> list[str]:
    keys = read_json(chosen.encode())
    if not isinstance(keys, list) or not all(isinstance(k, str) for k in keys):
        raise BundleError("The choice is not a list of differences.")
    return [str(k) for k in keys]


def _signer(signer: Signer) -> SignerOut:
    after = ", with a key that followed the one that is known" if signer.handed_over else ""
    says = {
        "unsigned": "Nobody signed it: whether it is what was sent can't be told.",
        "known": f"Signed by {signer.name}{after}.",
        "unknown": f"Signed with a key that nobody here knows. It calls itself {signer.name}, which proves nothing.",
    }[signer.state]
    if signer.key in own_keys():
        says = "Signed here, by your own organisation."
    return SignerOut(state=signer.state, says=says, fingerprint=signer.fingerprint)


def _into(profile_id: str) -> Profile:
    """The profile that something is brought into. A preview says what is in it, so it is for those who may see it."""
    if not sees_document(f"profile/{profile_id}"):
        raise NotFound(f"profile {profile_id[:80]}")
    return load(f"profile/{profile_id}", Profile)


def _preview(into: Profile, opened: Opened, how: How, origin: Origin | None) -> Preview:
    if how == "merge" and origin is None:
        raise Problem(
            409,
            f"What the bundle and {into.name} were made from isn't known here.",
            "So what was done there can't be told from what was done here.",
            "Add, replace, or take only what is missing.",
        )
    base = origin.base if origin else None
    return preview_import(into, opened.profile, known_programs(), how=how, base=base, speaks_of=opened.speaks_of)
