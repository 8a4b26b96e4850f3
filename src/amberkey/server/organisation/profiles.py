"""Profiles made by hand: new or like another, named and described, given to people and taken from them."""

from typing import Annotated, Literal, cast

from django.http import HttpRequest
from ninja import Router
from pydantic import Field

from amberkey.core.compare.operations import JsonDocument, Operation, operation
from amberkey.core.documents.canonical import Json
from amberkey.core.documents.errors import DocumentError, Fault
from amberkey.core.documents.ids import id_from
from amberkey.core.organisation.model import Department, Machine, Organisation, Person
from amberkey.core.organisation.model import Role as OrganisationRole
from amberkey.core.profiles.model import Profile
from amberkey.server.estate import current_organisation
from amberkey.server.library.documents import find, load, newest_of
from amberkey.server.library.history import ChangeOut
from amberkey.server.library.models import ChangeSet, Document
from amberkey.server.library.sight import sees_document
from amberkey.server.library.verbs.change import Making, change
from amberkey.server.organisation.verbs.edit import edit
from amberkey.server.people.acting import By, actor_of
from amberkey.server.people.models import Role
from amberkey.server.people.sight import sees_personal
from amberkey.server.problems import NotFound, Problem
from amberkey.server.schema import Name, Schema

router = Router(tags=["organisation"])
Whom = Literal["everybody", "departments", "roles", "people", "machines"]
_Describe = Annotated[str, Field(max_length=4000)]


class ProfileMakeIn(Schema):
    """`like`: id of a profile whose entries it begins with."""

    name: Name
    description: _Describe = ""
    like: str | None = None


class MadeProfileOut(ChangeOut):
    profile: str


class AboutIn(Schema):
    name: Name
    description: _Describe = ""


class ProfileHolderOut(Schema):
    """Whom a profile is given to: everybody (then without id), a department, a role, a person or a machine."""

    whom: Whom
    id: str
    name: str


class GiveIn(Schema):
    """`given`: give it, or take it away again."""

    whom: Whom
    id: str = ""
    given: bool = True


@router.post("/profiles/new", response=MadeProfileOut, auth=By(Role.EDITOR))
def make_profile(request: HttpRequest, given: ProfileMakeIn) -> MadeProfileOut:
    """A new profile, empty or with the entries of another one."""
    name = given.name.strip()
    made = id_from(name)
    there = Document.objects.filter(key=f"profile/{made}", deleted_at=None).first()
    if there is not None:
        says = f"{name} would be called {made} in files, and {there.name} is called so."
        raise DocumentError([Fault("name", says, "Choose another name.")])
    if given.like:
        base = load(f"profile/{given.like}", Profile) if sees_document(f"profile/{given.like}") else None
        if base is None:
            raise NotFound(f"profile {given.like[:60]}")
        profile = base.model_copy(
            update={"id": made, "name": name, "description": given.description or base.description, "generated": None}
        )
        title = f"Made the profile {name}, like {base.name}"
    else:
        profile = Profile(id=made, name=name, description=given.description)
        title = f"Made the profile {name}"
    done = change(actor_of(request), title, {}, making=Making(make=[profile]))
    return MadeProfileOut(id=done.id, title=done.title, profile=made)


@router.put("/profiles/{profile_id}/about", response=ChangeOut, auth=By(Role.EDITOR))
def describe_profile(request: HttpRequest, profile_id: str, given: AboutIn) -> ChangeOut:
    """Another name or description."""
    key = f"profile/{profile_id}"
    now = load(key, Profile)
    before = cast(JsonDocument, newest_of(find(key)).body.json())
    wanted: dict[str, Json] = {"name": given.name.strip(), "description": given.description.strip() or None}
    operations = [operation("", f, before.get(f), value) for f, value in wanted.items() if before.get(f) != value]
    title = f"Called {now.name} {given.name.strip()}" if now.name != given.name.strip() else f"Described {now.name}"
    return _told(change(actor_of(request), title, {key: operations}))


@router.get("/profiles/{profile_id}/holders", response=list[ProfileHolderOut])
def holders(request: HttpRequest, profile_id: str) -> list[ProfileHolderOut]:
    """Whom a profile is given to, the widest first."""
    if not sees_document(f"profile/{profile_id}"):
        raise NotFound(f"profile {profile_id[:60]}")
    load(f"profile/{profile_id}", Profile)
    organisation = current_organisation()
    found = [ProfileHolderOut(whom="everybody", id="", name="everybody")] if profile_id in organisation.profiles else []
    for whom in _groups():
        having = (g for g in _items(organisation, whom) if profile_id in g.profiles)
        found += [ProfileHolderOut(whom=whom, id=g.id, name=g.name) for g in having]
    return found


@router.post("/profiles/{profile_id}/holders", response=ChangeOut, auth=By(Role.EDITOR))
def give_profile(request: HttpRequest, profile_id: str, given: GiveIn) -> ChangeOut:
    """Give a profile to somebody, as their nearest layer, or take it away."""
    profile = load(f"profile/{profile_id}", Profile)
    organisation = current_organisation()
    if given.whom == "everybody":
        now, to = organisation.profiles, "everybody"
    else:
        item = next((g for g in _items(organisation, given.whom) if g.id == given.id), None)
        if item is None:
            raise NotFound(f"{given.whom} {given.id[:60]}")
        now, to = item.profiles, item.name
    if (profile_id in now) == given.given:
        says = f"{profile.name} is given to {to} already." if given.given else f"{profile.name} isn't given to {to}."
        raise Problem(409, says)
    after = (*now, profile_id) if given.given else tuple(p for p in now if p != profile_id)
    title = f"Gave {profile.name} to {to}" if given.given else f"Took {profile.name} from {to}"
    return _told(edit(actor_of(request), title, [_operation(organisation, given, now, after)]))


def _operation(organisation: Organisation, given: GiveIn, now: tuple[str, ...], after: tuple[str, ...]) -> Operation:
    if given.whom == "everybody":
        return operation("", "profiles", list(now) or None, list(after) or None)
    item = next(g for g in _items(organisation, given.whom) if g.id == given.id)
    before = cast(dict[str, Json], item.model_dump(mode="json", exclude_defaults=True))
    then = {k: v for k, v in before.items() if k != "profiles"} | ({"profiles": list(after)} if after else {})
    return operation(given.whom, given.id, before, then)


def _groups() -> tuple[Whom, ...]:
    """Of whom whoever asks may see what they have."""
    return ("departments", "roles", "people", "machines") if sees_personal() else ("departments", "roles")


def _items(organisation: Organisation, whom: Whom) -> tuple[Department | OrganisationRole | Person | Machine, ...]:
    found: tuple[Department | OrganisationRole | Person | Machine, ...] = getattr(organisation, whom)
    return found


def _told(done: ChangeSet) -> ChangeOut:
    return ChangeOut(id=done.id, title=done.title)
