"""The base of every document, and the one way from bytes to a checked document."""

import re
from collections.abc import Iterable, Iterator, Mapping
from functools import cached_property
from operator import attrgetter
from typing import Annotated, Any, Self, TypeVar

from pydantic import BaseModel, ConfigDict, Strict, ValidationError, model_validator

from amberkey.core.documents.canonical import Json, canonical_bytes, digest_of
from amberkey.core.documents.errors import DocumentError, Fault, Faults, NewerFormat, UnknownFormat
from amberkey.core.documents.saying import UNION_MEMBERS, say_fault
from amberkey.core.documents.sections import NO_SECTIONS, SECTIONS, Section

Flag = Annotated[bool, Strict()]
"""True or false, and nothing that could be read as such: as the published schemas say."""

Whole = Annotated[int, Strict()]
"""A whole number, likewise."""


class Value(BaseModel):
    """A part of a document: frozen, and an unknown field is refused by name."""

    # Built when first used: a program that reads one kind of document needn't wait for all.
    model_config = ConfigDict(extra="forbid", frozen=True, str_max_length=4000, defer_build=True)

    def model_copy(self, *, update: Mapping[str, Any] | None = None, deep: bool = False) -> Self:
        """A copy with some fields changed; what was worked out from the fields is worked out anew."""
        copied = super().model_copy(update=update, deep=deep)
        for kind in type(self).__mro__:  # a copy with other fields works out anew what was worked out from them
            for name, attribute in vars(kind).items():
                if isinstance(attribute, cached_property):
                    copied.__dict__.pop(name, None)
        return copied


def as_set(values: Iterable[str]) -> tuple[str, ...]:
    """Values whose order means nothing in the one order in which documents keep them, each once."""
    return tuple(sorted(set(values)))


class Document(Value):
    """A whole document. Subclasses fix `format`, give `id` and `name`, and keep their lists in one order."""

    format: str
    id: str
    name: str

    @property
    def sections(self) -> Mapping[str, Section]:
        """The document's lists of items, by name; none for a format without any."""
        return SECTIONS.get(self.format, NO_SECTIONS)

    def normal(self) -> Self:
        """The same document with the items of its sections in the order of their keys, where their order means nothing."""
        update = {
            name: tuple(sorted(getattr(self, name), key=attrgetter(section.by)))
            for name, section in self.sections.items()
            if not section.ordered
        }
        return self.model_copy(update=update) if update else self

    def doubled(self) -> Iterator[Fault]:
        """The items that have the key of an earlier one of their section."""
        for name, section in self.sections.items():
            keys = [getattr(item, section.by) for item in getattr(self, name)]
            if len(set(keys)) == len(keys):
                continue
            first: dict[str, int] = {}
            for n, key in enumerate(keys):
                if key in first:
                    says = f"{key} stands twice: it stands at {name}[{first[key]}] already."
                    yield Fault(f"{name}[{n}]", says, "Keep one of them.")
                first.setdefault(key, n)

    def unsound(self) -> Iterator[Fault]:
        """What doesn't fit together within the document, beside doubled items. For subclasses."""
        return iter(())

    @model_validator(mode="after")
    def _sound(self) -> Self:
        faults = [*self.doubled(), *self.unsound()]
        if faults:
            raise Faults(faults)
        return self

    def to_json(self) -> Json:
        """The JSON value: fields at their default are left out, so a short document stays short."""
        value: dict[str, Json] = self.normal().model_dump(mode="json", exclude_defaults=True)
        value["format"] = self.format
        return value

    def to_bytes(self) -> bytes:
        """The canonical bytes (RFC 8785): equal documents have equal ones."""
        return canonical_bytes(self.to_json())

    @property
    def digest(self) -> str:
        """SHA-256 of the canonical bytes, as 64 hexadecimal digits."""
        return digest_of(self.to_bytes())


def no_doubles(where: str, keys: Iterable[str]) -> None:
    """For validators: raises ValueError naming the place of the first key that stands twice."""
    seen: set[str] = set()
    for n, key in enumerate(keys):
        if key in seen:
            raise ValueError(f"{where}[{n}]: {key} stands twice")
        seen.add(key)


D = TypeVar("D", bound=Document)

_FORMAT = re.compile(r"^amberkey/(?P<kind>[a-z]+)@(?P<version>[1-9]\d{0,3})$")


def read_document(value: Json, kinds: Mapping[str, type[D]]) -> D:
    """Check a JSON value as one of `kinds` (format name to model). Every fault is collected, each with its place.

    Raises UnknownFormat, NewerFormat or DocumentError.
    """
    if not isinstance(value, dict):
        raise UnknownFormat([Fault("", "A document is a JSON object.", "Put it in { and }.")])
    given = value.get("format")
    known = ", ".join(sorted(kinds))
    if not isinstance(given, str):
        raise UnknownFormat([Fault("format", "The document doesn't say its format.", f"Add a `format` field: one of {known}.")])
    model = kinds.get(given)
    if model is None:
        raise _refusal(given, kinds)
    try:
        return model.model_validate(value).normal()
    except ValidationError as error:
        faults = (fault for e in error.errors() for fault in _faults(e))
        raise DocumentError(list({(f.place, f.says): f for f in faults}.values())) from error


def _refusal(given: str, kinds: Mapping[str, type[D]]) -> DocumentError:
    match = _FORMAT.match(given)
    if match:
        ours = [f for f in kinds if f.startswith(f"amberkey/{match['kind']}@")]
        if ours and int(match["version"]) > max(int(f.rpartition("@")[2]) for f in ours):
            return NewerFormat(
                [
                    Fault(
                        "format",
                        f"This document was made by a newer Amber Key: it is {given}, and this one reads up to {max(ours)}.",
                        "Update Amber Key, or save the document for the older format there.",
                    )
                ]
            )
    return UnknownFormat(
        [Fault("format", f"{given[:80]!r} is not a format that can be read here.", f"Use {', '.join(sorted(kinds))}.")]
    )


def _faults(error: Any) -> list[Fault]:
    place = ""
    for part in error["loc"]:
        if part in UNION_MEMBERS:
            continue
        place += f"[{part}]" if isinstance(part, int) else f"{'.' if place else ''}{part}"
    cause = error.get("ctx", {}).get("error")
    if isinstance(cause, Faults):
        return [Fault(f"{place}.{f.place}" if place else f.place, f.says, f.cure) for f in cause.faults]
    return [Fault(place.removesuffix(".[key]"), *say_fault(error))]
