"""Saving lines, exceptions and meanings of the standard, together with whatever others have saved meanwhile."""

import datetime
from typing import cast

from django.db import transaction
from django.utils import timezone

from amberkey.core.compare.merging import NOTHING_CHOSEN, Chosen, merge
from amberkey.core.compare.operations import JsonDocument
from amberkey.core.standard.model import NO_STANDARD, Standard
from amberkey.server.estate import STANDARD, current_standard
from amberkey.server.library.contradicting import contradiction
from amberkey.server.library.documents import parsed
from amberkey.server.library.models import Body, ChangeSet, Document
from amberkey.server.library.verbs.change import change, create
from amberkey.server.people.acting import Actor
from amberkey.server.people.models import Role
from amberkey.server.problems import Problem
from amberkey.server.standard.state import current_coverage
from amberkey.server.standard.verbs.keep_point import keep_point


@transaction.atomic
def save_standard(
    actor: Actor, wanted: Standard, seen: str | None, title: str, reason: str = "", chosen: Chosen = NOTHING_CHOSEN
) -> ChangeSet:
    """Save a standard that was made from the revision with the digest `seen` (see `seen_of`). What others changed stays.

    Raises Problem with `contradictions` where others made something else of the same item; `chosen` decides those.
    """
    actor.require(Role.EDITOR)
    document = locked_standard(actor)
    assert document.newest is not None
    newest = document.newest
    base = seen_of(document, seen)
    merged = merge(base, cast(JsonDocument, wanted.to_json()), cast(JsonDocument, newest.body.json()), chosen)
    if merged.contradictions:
        raise contradiction(merged.contradictions, newest.author.display_name)
    done = change(actor, title, {STANDARD: merged.operations}, reason=reason.strip())
    keep_point(current_coverage())
    return done


def locked_standard(actor: Actor) -> Document:
    """The standard's document until this transaction ends; the first one, which says nothing, where there was none."""
    return Document.objects.select_for_update().filter(key=STANDARD, deleted_at=None).first() or create(
        actor, NO_STANDARD, "The first standard"
    )


def seen_of(document: Document, seen: str | None) -> JsonDocument:
    """The revision that somebody saw, "" for none at all. Where they don't say, what they make is made from the newest."""
    assert document.newest is not None
    if seen == "":
        return cast(JsonDocument, NO_STANDARD.to_json())
    if seen and document.revisions.filter(body_id=seen).exists():
        return cast(JsonDocument, Body.objects.get(digest=seen).json())
    if seen:
        raise Problem(409, "The standard that you saw isn't there.", "Its revision is none of those here.", "Load it again.")
    return cast(JsonDocument, document.newest.body.json())


def standard_at(digest: str) -> Standard:
    value = parsed(digest)
    return value if isinstance(value, Standard) else NO_STANDARD


def seen_standard(seen: str | None) -> Standard:
    """The revision that somebody saw, where it is one: what they ask for is asked of that one."""
    if seen == "":
        return NO_STANDARD
    known = seen and Document.objects.filter(key=STANDARD, revisions__body_id=seen).exists()
    return standard_at(seen) if seen and known else current_standard()


def check_exception(reason: str, until: datetime.date | None) -> None:
    """Raises Problem for an exception that says not why, or that has run out before it begins."""
    if len(reason.strip()) < 3:
        raise Problem(400, "An exception needs a reason.", cure="Write in a few words why the program needn't follow.")
    if until is not None and until < timezone.localdate():
        raise Problem(400, "The end lies in the past.", cure="Choose a later day, or none.")
