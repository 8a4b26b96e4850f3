"""What a profile is worth to the people who have it."""

from dataclasses import replace

from django.http import HttpRequest
from ninja import Router

from amberkey.core.profiles.model import Profile
from amberkey.server.estate import current_estate
from amberkey.server.library.sight import sees_document
from amberkey.server.problems import NotFound
from amberkey.server.workbench.keeping import kept
from amberkey.server.workbench.worth import WorthOut, worth_of

router = Router(tags=["profiles"])


@router.get("/profiles/{profile_id}/worth", response=WorthOut)
@kept
def profile_worth(request: HttpRequest, profile_id: str) -> WorthOut:
    """What the keys of a profile save against what there would be without it, once it is in the fingers."""
    estate = current_estate()
    profile = estate.profiles.get(profile_id)
    if profile is None or not sees_document(f"profile/{profile_id}"):
        raise NotFound(f"profile {profile_id[:60]}")
    empty = Profile(id=profile.id, name=profile.name)
    return worth_of(replace(estate, profiles={**estate.profiles, profile_id: empty}), estate, habits=False)
