"""Taking names out of what was kept before they were kept apart: once, when a database is brought up to this version."""

import re
import zlib
from collections.abc import Mapping
from typing import Any, cast

from amberkey.core.documents.canonical import Json, digest_of
from amberkey.core.documents.ids import id_from
from amberkey.core.documents.reading import read_json
from amberkey.core.documents.sections import seat_key
from amberkey.core.organisation.pseudonyms import new_pseudonym
from amberkey.server.library.names import SOMEBODY
from amberkey.server.library.rewriting import rewrite_bodies

_ORGANISATION = "amberkey/organisation@1"
_SHORTEST = 3  # letters of a word by which an id tells a name
_VERBS = ("Added", "Changed", "Retired", "Brought back", "Removed", "Moved")
Item = dict[str, Json]


def take_names_out(registry: Any) -> None:
    """Rows in the table of names for everybody, the newest name last; documents and changes without names; ids that were made
    of names become ones that say nothing. Sheets of people that were brought in are let go."""
    named: dict[str, dict[str, None]] = {}
    for revision in registry.get_model("library", "Revision").objects.order_by("pk").select_related("body", "document"):
        if revision.document.format == _ORGANISATION:
            for person in _people_in(revision.body):
                if person.get("name"):
                    names = named.setdefault(str(person["id"]), {})
                    names.pop(str(person["name"]), None)
                    names[str(person["name"])] = None
    if not named:
        return
    ids = {i: new_pseudonym() for i, names in named.items() if any(_tells(i, name) for name in names)}
    table = registry.get_model("library", "PersonName")
    table.objects.bulk_create(table(person=ids.get(i, i), name=name) for i, names in named.items() for name in names)
    _let_sheets_go(registry)
    rewrite_bodies(registry, lambda value: _without(value, ids))
    _retitle(registry, {name for names in named.values() for name in names})


def _people_in(body: Any) -> list[Item]:
    value: Any = read_json(zlib.decompress(body.packed))
    return cast(list[Item], value.get("people") or [])


def _tells(person_id: str, name: str) -> bool:
    """Whether an id has a word of the name in it."""
    words = {w for w in id_from(name).split("-") if len(w) >= _SHORTEST}
    return not words.isdisjoint(re.split(r"[-.]", person_id)) or person_id == id_from(name)


def _without(value: Json, ids: Mapping[str, str]) -> Json:
    """An organisation, or operations on one, without names and with other ids."""
    if isinstance(value, list):
        return [_operation(v, ids) if isinstance(v, dict) and {"section", "key"} <= v.keys() else v for v in value]
    if not isinstance(value, dict):
        return value
    if value.get("format") == _ORGANISATION:
        people = sorted((_person(p, ids) for p in cast(list[Item], value.get("people") or [])), key=lambda p: str(p["id"]))
        seats = sorted((_seat(s, ids) for s in cast(list[Item], value.get("seats") or [])), key=seat_key)
        return {
            **value,
            **({"people": cast(Json, people)} if people else {}),
            **({"seats": cast(Json, seats)} if seats else {}),
        }
    if isinstance(value.get("operations"), list):
        return {**value, "operations": _without(value["operations"], ids)}
    return value


def _operation(one: Item, ids: Mapping[str, str]) -> Json:
    parts = {"people": _person, "seats": _seat}
    change = parts.get(str(one["section"]))
    if change is None:
        return one
    then = {side: change(cast(Item, one[side]), ids) for side in ("before", "after") if one.get(side) is not None}
    given = next(iter(then.values()), {})
    key = str(given["id"]) if one["section"] == "people" else seat_key(given)
    return cast(Json, {"section": one["section"], "key": key, **then})


def _person(person: Item, ids: Mapping[str, str]) -> Item:
    return {**{k: v for k, v in person.items() if k != "name"}, "id": ids.get(str(person["id"]), person["id"])}


def _seat(seat: Item, ids: Mapping[str, str]) -> Item:
    return {**seat, "person": ids.get(str(seat["person"]), seat["person"])}


def _let_sheets_go(registry: Any) -> None:
    body = registry.get_model("library", "Body")
    lists = registry.get_model("organisation", "ListImport").objects.filter(kind="people")
    digests = set(lists.values_list("content", flat=True)) | set(lists.exclude(result=None).values_list("result", flat=True))
    if not lists.exists():
        return
    empty, _ = body.objects.get_or_create(digest=digest_of(b""), defaults={"packed": zlib.compress(b"")})
    lists.exclude(state="taken").update(state="failed", says="Its sheet was let go. Bring it in anew.")
    lists.update(content=empty, result=None, first=[])
    body.objects.filter(pk__in=digests).exclude(pk=empty.pk).delete()


def _retitle(registry: Any, names: set[str]) -> None:
    """Titles of the kind "Added Ada" say "Added a person"."""
    told = {f"{verb} {name}": f"{verb} {SOMEBODY}" for verb in _VERBS for name in names}
    for app, model, field in (
        ("library", "ChangeSet", "title"),
        ("library", "Revision", "note"),
        ("people", "AuditEntry", "detail"),
    ):
        rows = registry.get_model(app, model).objects.order_by()
        for text in set(rows.values_list(field, flat=True).distinct()):
            plain = text.removeprefix("Undid: ").removeprefix("Did again: ")
            if plain in told:
                rows.filter(**{field: text}).update(**{field: text.replace(plain, told[plain])})
