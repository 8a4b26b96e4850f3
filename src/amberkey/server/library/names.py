"""What people are called: kept apart from documents, in which they stand by ids that say nothing of who they are.

Whatever is saved is taken apart on its way in (`Apart`), and put together again for whoever may read names.
"""

import datetime
import re
from collections.abc import Iterable, Mapping
from functools import lru_cache
from typing import NamedTuple, cast

from django.contrib.postgres.aggregates import ArrayAgg
from django.db.models import Count, Max, Q

from amberkey.core.compare.errors import PreconditionFailed
from amberkey.core.compare.operations import Operation, operation
from amberkey.core.documents.canonical import Json
from amberkey.core.documents.model import Document as CoreDocument
from amberkey.core.organisation.model import Organisation
from amberkey.server.library.documents import parsed
from amberkey.server.library.models import ChangeSet, PersonName
from amberkey.server.once import once

_SECTION = "people"
Stamp = tuple[int | None, datetime.datetime | None, int, tuple[int, ...]]
SOMEBODY = "a person"


class Called(NamedTuple):
    """What a person is called here, and the id that other lists have for them; either may be empty."""

    name: str = ""
    known_as: str = ""


NOBODY = Called()


def names_of_people() -> Mapping[str, Called]:
    """What people are called, by their ids: of each the newest row whose change isn't undone."""
    return _names(names_stamp())


@once
def names_stamp() -> Stamp:
    """Another value whenever somebody may be called something else: it says which row is the newest, how many there are, and
    which of them are undone."""
    undone = ArrayAgg("pk", filter=Q(change_set__undone=True), order_by="pk", default=[])
    found = PersonName.objects.aggregate(newest=Max("pk"), at=Max("at"), rows=Count("pk"), undone=undone)
    return found["newest"], found["at"], found["rows"], tuple(found["undone"])


@lru_cache(maxsize=2)
def _names(stamp: Stamp) -> Mapping[str, Called]:
    rows = PersonName.objects.exclude(change_set__undone=True).order_by("pk").values_list("person", "name", "known_as")
    return {person: Called(name, known_as) for person, name, known_as in rows}


@lru_cache(maxsize=4)
def organisation_named(digest: str, stamp: Stamp) -> Organisation:
    """The organisation with a digest, with what its people are called; who has no name is called by the id."""
    organisation = parsed(digest)
    assert isinstance(organisation, Organisation)
    names = _names(stamp)
    people = (
        p.model_copy(update={"name": (c := names.get(p.id, NOBODY)).name or p.name or p.id, "known_as": c.known_as})
        for p in organisation.people
    )
    return organisation.model_copy(update={"people": tuple(people)})


def with_names(operations: Iterable[Operation]) -> list[Operation]:
    """Operations on an organisation as they are told: people with what they are called now."""
    names = names_of_people()

    def told(value: Json) -> Json:
        called = names.get(str(cast(dict[str, Json], value)["id"]), NOBODY) if value is not None else NOBODY
        return {**cast(dict[str, Json], value), "name": called.name} if called.name else value

    return [operation(o.section, o.key, told(o.before), told(o.after)) if o.section == _SECTION else o for o in operations]


class Renamed(NamedTuple):
    """Somebody whom a change calls something else: by id, what they were called and what they are called since."""

    person: str
    before: str
    after: str

    @property
    def id(self) -> str:
        """What names it among the differences of its change."""
        return f"name:{self.person}"

    @property
    def says(self) -> str:
        return f"Calls {self.before} {self.after}." if self.after else f"Takes the name {self.before} away."

    @property
    def inverse(self) -> Operation:
        """What calls them again what they were called."""
        one, other = ({"id": self.person, "name": name} for name in (self.after, self.before))
        return operation(_SECTION, self.person, cast(Json, one), cast(Json, other))


def renamed_by(change_set: ChangeSet) -> list[Renamed]:
    """Those whom a change calls something else; not those who came with it."""
    found = []
    for row in change_set.names.order_by("pk"):
        earlier = PersonName.objects.filter(person=row.person, pk__lt=row.pk).exclude(change_set__undone=True)
        before = earlier.order_by("pk").last()
        if before is not None and before.name and before.name != row.name:
            found.append(Renamed(row.person, before.name, row.name))
    return found


class Apart:
    """Takes names out of what is to be saved, and keeps them for the table."""

    def __init__(self) -> None:
        self.called: dict[str, Called] = {}
        """What people are called from now on, where that is something else than before."""
        self._now = names_of_people()
        self._elsewhere = {c.known_as: person for person, c in self._now.items() if c.known_as}
        self._said: set[str] = set()

    def operations(self, operations: Iterable[Operation]) -> tuple[Operation, ...]:
        """The same operations without names; one that changes nothing else goes. Raises PreconditionFailed where somebody was
        called something else since."""
        found = []
        for one in operations:
            if one.section != _SECTION:
                found.append(one)
                continue
            before, after = self._without(one.before), self._without(one.after)
            self._compared(one)
            if before != after:
                found.append(operation(one.section, one.key, before, after))
        return tuple(found)

    def document(self, value: CoreDocument) -> CoreDocument:
        """The same document without names."""
        if not isinstance(value, Organisation) or not any(p.name or p.known_as for p in value.people):
            return value
        for person in value.people:
            self._note(person.id, person.name, person.known_as)
        people = (p.model_copy(update={"name": "", "known_as": ""}) for p in value.people)
        return value.model_copy(update={"people": tuple(people)})

    def title(self, title: str) -> str:
        """A title that doesn't say who was changed."""
        for name in sorted(self._said, key=len, reverse=True):
            title = re.sub(rf"(?<!\w){re.escape(name)}(?!\w)", SOMEBODY, title)
        return title

    def keep(self, change_set: ChangeSet | None) -> None:
        """Write what was noted into the table."""
        PersonName.objects.bulk_create(
            PersonName(person=person, name=c.name, known_as=c.known_as, change_set=change_set)
            for person, c in self.called.items()
        )

    def _without(self, value: Json) -> Json:
        if not isinstance(value, dict):
            return value
        self._said.update(filter(None, (str(value.get("name") or ""), str(value.get("known_as") or ""))))
        return {k: v for k, v in value.items() if k not in Called._fields}

    def _compared(self, one: Operation) -> None:
        """A name is another one where an operation says so of what it was."""
        after = one.after
        if not isinstance(after, dict):
            return
        before = one.before if isinstance(one.before, dict) else {}
        now = self._now.get(one.key, NOBODY)
        for field in Called._fields:
            was, stands = before.get(field), getattr(now, field)
            if was and was not in (stands, one.key):
                raise PreconditionFailed(_SECTION, one.key, one.before, {**before, field: stands})
        other = self._elsewhere.get(str(after.get("known_as") or ""), one.key)
        if other != one.key:
            raise PreconditionFailed(_SECTION, one.key, one.before, {"id": other, "known_as": after.get("known_as")})
        self._note(
            one.key,
            str(after.get("name") or ""),
            str(after.get("known_as") or ""),
            emptied=bool(before.get("known_as")) and not after.get("known_as"),
        )

    def _note(self, person: str, name: str, known_as: str, *, emptied: bool = False) -> None:
        """What isn't said stays as it was; who is called by the id has no name."""
        now = self.called.get(person) or self._now.get(person, NOBODY)
        then = Called(now.name if name in ("", person) else name, "" if emptied else known_as or now.known_as)
        self._said.update(filter(None, (*now, name)))
        if then != now:
            self.called[person] = then
