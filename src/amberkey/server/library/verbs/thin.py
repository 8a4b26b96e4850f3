"""Dropping old revisions: what a rule would drop, and doing it document by document."""

import datetime
from collections.abc import Iterable
from typing import cast

from django.db import transaction
from django.db.models import F, ProtectedError
from django.db.models.functions import Length

from amberkey.core.documents.thinning import Kept, Plan, Rule, thin
from amberkey.server.library.given import held
from amberkey.server.library.models import Body, Document, Given, Revision, Thinning
from amberkey.server.people.acting import Actor
from amberkey.server.people.models import Role


def kept() -> list[Kept]:
    """Every revision of every document, with why it has to stay."""
    machines = {str(d) for g in Given.objects.select_related("state") for d in cast(dict[str, str], g.state.json()).values()}
    releases = {digest for holder in held for state in holder() for digest in state.values()}
    sizes = dict(Body.objects.annotate(bytes=Length("packed")).values_list("digest", "bytes"))
    documents = {d.key: (d.newest_id, d.released_id) for d in Document.objects.all()}
    points = set(_points())
    found = []
    for row in Revision.objects.values_list("pk", "document_id", "number", "at", "body_id", "name"):
        pk, key, number, at, body, name = row
        newest, released = documents[key]
        stays = next(
            (
                why
                for why, holds in (
                    ("the newest", pk == newest),
                    ("the released one", pk == released),
                    ("a named one", bool(name)),
                    ("what a machine has", body in machines),
                    ("what a release brings", body in releases),
                    ("what coverage is told of", pk in points),
                )
                if holds
            ),
            "",
        )
        found.append(Kept(key, number, at, body, sizes[body], stays))
    return found


def _points() -> Iterable[int]:
    """Revisions that other tables tell of."""
    for relation in Revision._meta.related_objects:
        model = relation.related_model
        if model not in (Document, Revision) and not isinstance(model, str):
            yield from model._default_manager.values_list(f"{relation.field.name}_id", flat=True)


def plan_thinning(rule: Rule, now: datetime.datetime) -> Plan:
    """What would go, told before it is done."""
    return thin(kept(), rule, now)


def begin_thinning(actor: Actor, rule: Rule, now: datetime.datetime) -> Thinning:
    """Note that it is to be done; the job does it."""
    actor.require(Role.ADMINISTRATOR)
    value = {"all_days": rule.all_days, "daily_days": rule.daily_days, "weekly": rule.weekly, "budget": rule.budget}
    actor.record("thinned", "revisions", str(value))
    return Thinning.objects.create(rule=value, now=now, actor=actor.user)


def do_thin(thinning_id: str) -> None:
    """The job: each document in a transaction of its own, so it can be killed and begun again at any point. Done: nothing."""
    found = Thinning.objects.filter(id=thinning_id, state=Thinning.State.WAITING).first()
    if found is None:
        return
    plan = plan_thinning(Rule(**found.rule), found.now)
    by_document: dict[str, list[Kept]] = {}
    for one in plan.drop:
        by_document.setdefault(one.document, []).append(one)
    for key, going in by_document.items():
        with transaction.atomic():
            dropped = _drop(key, [g.number for g in going])
            Thinning.objects.filter(id=found.id).update(dropped=F("dropped") + dropped)
    freed = drop_bodies({g.body for g in plan.drop})
    Thinning.objects.filter(id=found.id).update(state=Thinning.State.DONE, freed=freed)


def _drop(key: str, numbers: list[int]) -> int:
    """Takes revisions of one document out; those after them stand on the nearest that is left."""
    document = Document.objects.select_for_update().filter(key=key).first()
    if document is None:
        return 0
    going = list(document.revisions.filter(number__in=numbers).exclude(name__gt="").order_by("number"))
    going = [r for r in going if r.pk not in (document.newest_id, document.released_id)]
    stands_on: dict[int, int | None] = {}
    for revision in going:  # the oldest first: what one stood on may have gone before it
        parent = revision.parent_id
        stands_on[revision.pk] = parent = stands_on.get(parent, parent) if parent is not None else None
        Revision.objects.filter(parent_id=revision.pk).update(parent_id=parent)
        Revision.objects.filter(pk=revision.pk).delete()
    return len(going)


def drop_bodies(digests: Iterable[str]) -> int:
    """Takes bodies out that nothing needs any more; returns how many bytes that frees."""
    freed = 0
    for body in Body.objects.filter(digest__in=list(digests)):
        size = len(body.packed)
        try:
            with transaction.atomic():
                body.delete()
        except ProtectedError:
            continue
        freed += size
    return freed
