"""What of a profile travels in a bundle, what settings files say of it, what has to be done first: for every item."""

from django.http import HttpRequest
from ninja import Router

from amberkey.core.exchange.account import account_of
from amberkey.core.exchange.bundle import Goes, Lives
from amberkey.core.profiles.model import Profile
from amberkey.server.library.approving import may_lie, may_run
from amberkey.server.library.documents import known_programs, load, own_layers
from amberkey.server.library.sight import sees_document
from amberkey.server.problems import NotFound
from amberkey.server.schema import Schema

router = Router(tags=["profiles"])


class TravelLineOut(Schema):
    """Some items of one section that fare alike. `lives`: where they are when people have them; `goes`: whether a bundle takes
    them; `in_files`: how many of them a settings file says; `why`: what keeps them; `needs`: what has to be there first."""

    section: str
    says: str
    count: int
    lives: Lives
    goes: Goes
    in_files: int
    why: str
    needs: str
    items: list[str]


class TravelsOut(Schema):
    """`stays_whole`: the profile is one person's own, so nothing of it leaves."""

    stays_whole: bool
    lines: list[TravelLineOut]


@router.get("/profiles/{profile_id}/travels", response=TravelsOut)
def travels(request: HttpRequest, profile_id: str) -> TravelsOut:
    """Of every item of a profile whether and how it reaches others."""
    if not sees_document(f"profile/{profile_id}"):
        raise NotFound(f"profile {profile_id[:60]}")
    profile = load(f"profile/{profile_id}", Profile)
    lines = account_of(profile, known_programs(), may_run=may_run(profile_id), may_lie=may_lie())
    return TravelsOut(
        stays_whole=profile_id in own_layers(),
        lines=[
            TravelLineOut(
                section=line.section,
                says=line.says,
                count=len(line.items),
                lives=line.lives,
                goes=line.goes,
                in_files=line.in_files,
                why=line.why,
                needs=line.needs,
                items=[i.name for i in line.items[:6]],
            )
            for line in lines
        ],
    )
