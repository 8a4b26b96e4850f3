"""What-if drafts: beginning, changing, comparing, taking over, dropping."""

import datetime

from django.http import HttpRequest
from ninja import Router

from amberkey.server.estate import current_standard
from amberkey.server.library.contradicting import ChosenItemIn, chosen_items
from amberkey.server.library.history import ChangeOut
from amberkey.server.people.acting import By, actor_of
from amberkey.server.people.models import Role
from amberkey.server.schema import Name, Number, Schema
from amberkey.server.standard.models import Draft
from amberkey.server.standard.plans import LineIn, PlanOfStandardOut, planned, wanted_by
from amberkey.server.standard.verbs.drafts import (
    find_draft,
    keep_draft,
    merged_with_now,
    remove_draft,
    standard_of,
    take_draft,
)

router = Router(tags=["standard"])


class WhatIfIn(Schema):
    """`lines`: what the draft sets, over the standard or over what it is already."""

    name: Name
    lines: list[LineIn] = []
    family: bool = False


class RemoveDraftIn(Schema):
    removed: bool


class ContradictionOut(Schema):
    section: str
    key: str
    ours: dict[str, object] | None
    theirs: dict[str, object] | None


class WhatIfOut(Schema):
    id: int
    name: str
    by: str
    mine: bool
    at: datetime.datetime
    lines: int
    contradictions: list[ContradictionOut]


class TakeDraftIn(Schema):
    chosen: list[ChosenItemIn] = []


@router.get("/standard/drafts", response=list[WhatIfOut])
def drafts(request: HttpRequest) -> list[WhatIfOut]:
    """Everybody's drafts, the newest first."""
    return [draft_out(request, d) for d in Draft.objects.filter(removed=False).select_related("base", "body", "owner")]


def draft_out(request: HttpRequest, draft: Draft) -> WhatIfOut:
    merged = merged_with_now(draft)
    return WhatIfOut(
        id=draft.id,
        name=draft.name,
        by=draft.owner.display_name,
        mine=draft.owner_id == request.user.pk,
        at=draft.at,
        lines=sum(o.section == "lines" for o in merged.operations) + len(merged.contradictions),
        contradictions=[
            ContradictionOut.model_validate({"section": c.section, "key": c.key, "ours": c.ours, "theirs": c.theirs})
            for c in merged.contradictions
        ],
    )


@router.post("/standard/drafts", response=WhatIfOut, auth=By(Role.EDITOR))
def begin_draft(request: HttpRequest, given: WhatIfIn) -> WhatIfOut:
    """Begin a draft over the standard as it is."""
    return draft_out(
        request,
        keep_draft(actor_of(request), given.name, wanted_by(actor_of(request), given.lines, given.family, current_standard())),
    )


@router.post("/standard/drafts/{draft_id}", response=WhatIfOut, auth=By(Role.EDITOR))
def change_draft(request: HttpRequest, draft_id: Number, given: WhatIfIn) -> WhatIfOut:
    """Set lines in a draft, or name it otherwise."""
    draft = find_draft(draft_id)
    return draft_out(
        request,
        keep_draft(
            actor_of(request), given.name, wanted_by(actor_of(request), given.lines, given.family, standard_of(draft)), draft
        ),
    )


@router.get("/standard/drafts/{draft_id}/plan", response=PlanOfStandardOut)
def plan_draft(request: HttpRequest, draft_id: Number) -> PlanOfStandardOut:
    """A draft compared with the standard as it is."""
    return planned(current_standard(), standard_of(find_draft(draft_id)))


@router.post("/standard/drafts/{draft_id}/take", response=ChangeOut, auth=By(Role.EDITOR))
def take_over_draft(request: HttpRequest, draft_id: Number, given: TakeDraftIn) -> ChangeOut:
    done = take_draft(actor_of(request), find_draft(draft_id), chosen_items(given.chosen))
    return ChangeOut(id=done.id, title=done.title)


@router.post("/standard/drafts/{draft_id}/removal", response=WhatIfOut, auth=By(Role.EDITOR))
def drop_draft(request: HttpRequest, draft_id: Number, given: RemoveDraftIn) -> WhatIfOut:
    """Drop a draft, or bring it back."""
    return draft_out(request, remove_draft(actor_of(request), find_draft(draft_id, removed=True), given.removed))
