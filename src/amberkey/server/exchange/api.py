"""Profiles out as bundles, and in with a preview."""

from typing import Literal

from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from ninja import File, Form, Router
from ninja.files import UploadedFile

from amberkey.core.compare.views import Does
from amberkey.core.documents.reading import read_json
from amberkey.core.exchange.bundle import write_bundle
from amberkey.core.exchange.errors import BundleError
from amberkey.core.exchange.preview import How, Preview, preview_import
from amberkey.core.exchange.telling import MEANINGS, Meaning
from amberkey.core.profiles.model import Profile
from amberkey.server.exchange.opening import open_bundle
from amberkey.server.exchange.origin import Origin, lineage_of, origin_of
from amberkey.server.exchange.verbs.take import take
from amberkey.server.library.documents import known_programs, load, own_layers
from amberkey.server.library.sight import sees_document
from amberkey.server.people.acting import By, actor_of
from amberkey.server.people.models import Role
from amberkey.server.people.sight import sees_personal
from amberkey.server.problems import NotFound, Problem
from amberkey.server.schema import Schema

TAKEN_OUT = "took out a bundle"
router = Router(tags=["exchange"])
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


class PreviewOut(Schema):
    """`how`: the way that was asked for, or else the usual one. `made_from`: the revision here that it was made from; 0 where
    that isn't known, and then it can't be merged.
    """

    how: How
    made_from: int
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


@router.get("/profiles/{profile_id}/bundle", response={200: bytes})
def export_bundle(request: HttpRequest, profile_id: str) -> HttpResponse:
    """The profile as a bundle file. What somebody has set for themselves doesn't travel."""
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
    today = timezone.localdate()
    actor = actor_of(request)
    actor.record(TAKEN_OUT, f"profile/{profile_id}")
    data = write_bundle(
        [profile],
        bundle_id=f"{profile.id}-{today:%Y-%m-%d}",
        name=f"{profile.name}, {today:%Y-%m-%d}",
        made_by=actor.name,
        made_at=timezone.now().isoformat(timespec="seconds"),
        lineages={profile.id: lineage_of(f"profile/{profile_id}")},
    )
    response = HttpResponse(data, content_type="application/zip")
    response["Content-Disposition"] = f'attachment; filename="{profile.id}-{today:%Y-%m-%d}.amberkey.zip"'
    return response


@router.post("/profiles/{profile_id}/import/preview", response=PreviewOut)
def preview(request: HttpRequest, profile_id: str, file: File[UploadedFile], how: Form[AskedHow] = "") -> PreviewOut:
    """What bringing a bundle's profile in would add, change and remove. The usual way is to merge where both were made from
    something that is known, and to add otherwise.
    """
    into = _into(profile_id)
    manifest, part, incoming = open_bundle(file)
    origin = origin_of(profile_id, part)
    way = how or ("merge" if origin else "add")
    found = _preview(into, incoming, way, origin)
    return PreviewOut(
        how=way,
        made_from=origin.number if origin else 0,
        bundle=manifest.name,
        made_by=manifest.made_by,
        made_at=manifest.made_at,
        profile=incoming.name,
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


@router.post("/profiles/{profile_id}/import", response=TakenOut, auth=By(Role.EDITOR))
def take_import(
    request: HttpRequest, profile_id: str, file: File[UploadedFile], chosen: Form[str], how: Form[How] = "add"
) -> TakenOut:
    """Take the chosen differences (a JSON list of their keys); the file is checked again from its first byte."""
    actor = actor_of(request)
    into = _into(profile_id)
    manifest, part, incoming = open_bundle(file)
    keys = read_json(chosen.encode())
    if not isinstance(keys, list) or not all(isinstance(k, str) for k in keys):
        raise BundleError("The choice is not a list of differences.")
    found = _preview(into, incoming, how, origin_of(profile_id, part))
    change_set = take(actor, profile_id, manifest.name, incoming, found, [str(k) for k in keys])
    return TakenOut(id=change_set.id, title=change_set.title)


def _into(profile_id: str) -> Profile:
    """The profile that something is brought into. A preview says what is in it, so it is for those who may see it."""
    if not sees_document(f"profile/{profile_id}"):
        raise NotFound(f"profile {profile_id[:80]}")
    return load(f"profile/{profile_id}", Profile)


def _preview(into: Profile, incoming: Profile, how: How, origin: Origin | None) -> Preview:
    if how == "merge" and origin is None:
        raise Problem(
            409,
            f"What the bundle and {into.name} were made from isn't known here.",
            "So what was done there can't be told from what was done here.",
            "Add, replace, or take only what is missing.",
        )
    return preview_import(into, incoming, known_programs(), how=how, base=origin.base if origin else None)
