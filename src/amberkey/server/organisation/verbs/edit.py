"""Changing items of the organisation: planned with its consequences first, then saved as one change set."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import cast

from django.db import transaction

from amberkey.core.clashes.estate import Estate, Group
from amberkey.core.compare.operations import JsonDocument, Operation, apply, operation
from amberkey.core.documents.canonical import Json
from amberkey.core.documents.errors import DocumentError
from amberkey.core.documents.model import read_document
from amberkey.core.documents.sections import SECTIONS
from amberkey.core.formats import FORMATS
from amberkey.core.organisation.checks import faults_in
from amberkey.core.organisation.model import Organisation
from amberkey.core.organisation.pseudonyms import new_pseudonym
from amberkey.server.estate import ORGANISATION, current_estate, current_organisation, estate_with
from amberkey.server.library.documents import find, newest_of
from amberkey.server.library.models import ChangeSet
from amberkey.server.library.verbs.change import change
from amberkey.server.library.verbs.first import first_documents
from amberkey.server.people.acting import Actor
from amberkey.server.people.models import Role
from amberkey.server.problems import NotFound, Problem

EVERYBODY = "everybody"
_SECTIONS = SECTIONS["amberkey/organisation@1"]


@dataclass(frozen=True)
class Item:
    """An item of a section that was `before` and shall be `after`; None: it isn't there."""

    section: str
    before: Mapping[str, Json] | None
    after: Mapping[str, Json] | None


@dataclass(frozen=True)
class Plan:
    """What a change of the organisation would make of the setups in use and of their clashes."""

    changed: int
    setups_before: int
    setups_after: int
    people_before: int
    people_after: int
    solves: tuple[Group, ...]
    makes: tuple[Group, ...]
    estate: Estate
    """As it would be, for wording what it makes."""


def with_ids(items: Iterable[Item]) -> list[Item]:
    """The same items, with an id for a person who is new and has none; seats of nobody are theirs."""
    given, drawn = list(items), new_pseudonym()

    def own(item: Item) -> Item:
        after = item.after
        if after is None or item.before is not None:
            return item
        if item.section == "people" and not after.get("id"):
            return Item(item.section, None, {**after, "id": drawn})
        if item.section == "seats" and not after.get("person"):
            return Item(item.section, None, {**after, "person": drawn})
        return item

    return [own(item) for item in given]


def operations_of(items: Iterable[Item]) -> list[Operation]:
    """Raises Problem for a section that isn't there, or an item without its key."""
    found = []
    for item in items:
        if item.section == EVERYBODY:
            found.append(_everybody(item))
            continue
        section = _SECTIONS.get(item.section)
        if section is None:
            raise Problem(400, f"The organisation has no {item.section[:40]}.", f"It has {', '.join(_SECTIONS)}.")
        given = item.after if item.after is not None else item.before
        try:
            keys = {section.key_of(v) for v in (item.before, item.after) if v is not None}
        except KeyError as missing:
            raise Problem(400, f"One of the {item.section} has no {missing.args[0]}.", cure="Fill it in.") from missing
        if given is None or len(keys) != 1:
            raise Problem(400, f"One of the {item.section} can't become another one.", cure="Remove it and add the other one.")
        before, after = (None if v is None else dict(v) for v in (item.before, item.after))
        if before != after:
            found.append(operation(item.section, keys.pop(), before, after))
    return found


def _everybody(item: Item) -> Operation:
    """The profiles of everybody are a field of the organisation itself."""
    before, after = ((v or {}).get("profiles") or None for v in (item.before, item.after))
    if before == after:
        raise Problem(409, "Everybody has these profiles already.")
    return operation("", "profiles", before, after)


def with_what_hangs_on(operations: Sequence[Operation], organisation: Organisation) -> list[Operation]:
    """The same operations, with the seats of people and machines that are removed for good."""
    gone = {(o.section, o.key) for o in operations if o.after is None}
    named = {(o.section, o.key) for o in operations}
    seats = [
        operation("seats", s.key, cast(Json, s.model_dump(mode="json", exclude_defaults=True)), None)
        for s in organisation.seats
        if (("people", s.person) in gone or ("machines", s.machine) in gone) and ("seats", s.key) not in named
    ]
    return [*operations, *seats]


def plan(operations: Sequence[Operation]) -> Plan:
    """Raises DocumentError where the organisation would not be sound any more; saves nothing."""
    estate = current_estate()
    before = current_organisation()
    after = read_document(apply(cast(JsonDocument, before.to_json()), operations), FORMATS)
    assert isinstance(after, Organisation)
    faults = faults_in(after, estate.programs, estate.profiles)
    standing = {(f.place, f.says) for f in faults_in(before, estate.programs, estate.profiles)}
    new = [f for f in faults if (f.place, f.says) not in standing]
    if new:
        raise DocumentError(new)
    then = estate_with(estate, after)
    now_groups = {g.clash.identity: g for g in estate.groups()}
    then_groups = {g.clash.identity: g for g in then.groups()}
    return Plan(
        changed=len(operations),
        setups_before=len(estate.setups),
        setups_after=len(then.setups),
        people_before=estate.people_of(estate.setups.values()),
        people_after=then.people_of(then.setups.values()),
        solves=tuple(g for i, g in now_groups.items() if i not in then_groups),
        makes=tuple(g for i, g in then_groups.items() if i not in now_groups),
        estate=then,
    )


@transaction.atomic
def edit(actor: Actor, title: str, operations: Sequence[Operation]) -> ChangeSet:
    """Save operations on the organisation; one that isn't there yet is made first."""
    actor.require(Role.EDITOR)
    try:
        newest_of(find(ORGANISATION))
    except NotFound:
        first_documents(actor)
    return change(actor, title, {ORGANISATION: operations})
