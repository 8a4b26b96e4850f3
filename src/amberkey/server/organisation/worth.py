"""What is assumed where minutes are counted: seen, and changed by the organisation."""

from typing import cast

from django.http import HttpRequest
from ninja import Router

from amberkey.core.compare.operations import operation
from amberkey.core.documents.canonical import Json
from amberkey.core.worth.assumptions import ASSUMED, Assumptions
from amberkey.server.estate import current_organisation
from amberkey.server.library.history import ChangeOut
from amberkey.server.organisation.verbs.edit import edit
from amberkey.server.people.acting import By, actor_of
from amberkey.server.people.models import Role
from amberkey.server.problems import Problem
from amberkey.server.schema import NamedOut, Schema

router = Router(tags=["organisation"])


class AssumedOut(Schema):
    """`assumed`: what holds; `usual`: what does where the organisation says nothing; `roles`: whose shares can be said."""

    assumed: Assumptions
    usual: Assumptions
    roles: list[NamedOut]


@router.get("/organisation/worth", response=AssumedOut)
def assumed(request: HttpRequest) -> AssumedOut:
    """The seconds of the operators, and what is assumed of people."""
    organisation = current_organisation()
    roles = [NamedOut(id=r.id, name=r.name) for r in organisation.roles]
    return AssumedOut(assumed=organisation.worth, usual=ASSUMED, roles=roles)


@router.put("/organisation/worth", response=ChangeOut, auth=By(Role.EDITOR))
def assume(request: HttpRequest, given: Assumptions) -> ChangeOut:
    """Assume something else; what is as usual isn't kept in the document."""
    actor, organisation = actor_of(request), current_organisation()
    strange = next((r for r in given.shares if r not in organisation.roles_by_id), None)
    if strange is not None:
        raise Problem(400, f"There is no role {strange}.", "A share is said of a role.", "Choose one that there is.")
    before, after = (cast(Json, a.model_dump(mode="json", exclude_defaults=True)) or None for a in (organisation.worth, given))
    if before == after:
        raise Problem(409, "That is assumed already.", "Nothing is different.")
    done = edit(actor, "Changed what is assumed where minutes are counted", [operation("", "worth", before, after)])
    return ChangeOut(id=done.id, title=done.title)
