"""What-if drafts of the standard: beginning one, changing it, taking it over, dropping it and bringing it back."""

from typing import cast

from django.db import transaction

from amberkey.core.compare.merging import Chosen, Merged, merge
from amberkey.core.compare.operations import JsonDocument
from amberkey.core.documents.model import read_document
from amberkey.core.formats import FORMATS
from amberkey.core.standard.model import NO_STANDARD, Standard
from amberkey.server.estate import STANDARD
from amberkey.server.library.documents import newest_of
from amberkey.server.library.models import Body, ChangeSet, Document
from amberkey.server.people.acting import Actor
from amberkey.server.people.models import Role
from amberkey.server.problems import NotFound, Problem
from amberkey.server.standard.models import Draft
from amberkey.server.standard.verbs.set_lines import save_standard


def find_draft(draft_id: int, *, removed: bool = False) -> Draft:
    """Raises NotFound."""
    found = Draft.objects.select_related("base", "body", "owner").filter(id=draft_id).first()
    if found is None or (found.removed and not removed):
        raise NotFound("such draft")
    return found


def merged_with_now(draft: Draft) -> Merged:
    """A draft with what others have saved since it was begun."""
    now = cast(JsonDocument, _newest().json())
    return merge(cast(JsonDocument, draft.base.json()), cast(JsonDocument, draft.body.json()), now)


def _newest() -> Body:
    """The standard as it is saved; one that says nothing where there is none yet."""
    document = Document.objects.filter(key=STANDARD, deleted_at=None).first()
    return newest_of(document).body if document is not None else Body.keep(NO_STANDARD.to_bytes())


def standard_of(draft: Draft) -> Standard:
    """What the standard would be with a draft. Raises DocumentError where it contradicts what others saved."""
    value = read_document(merged_with_now(draft).document, FORMATS)
    assert isinstance(value, Standard)
    return value


@transaction.atomic
def keep_draft(
    actor: Actor, name: str, wanted: Standard, draft: Draft | None = None, *, made_from: Body | None = None
) -> Draft:
    """Begin a draft, or keep it as it is now, made from the newest standard, or from an older one that is named. Nothing of it
    counts before it is taken over."""
    actor.require(Role.EDITOR)
    name = name.strip()
    if not name:
        raise Problem(400, "A draft needs a name.", cure="Say in a few words what it tries.")
    base, body = made_from or _newest(), Body.keep(wanted.to_bytes())
    if draft is None:
        draft = Draft.objects.create(name=name[:200], owner=actor.user, base=base, body=body)
        actor.record("began", f"draft {draft.id}", name)
    else:
        draft.name, draft.base, draft.body = name[:200], base, body
        draft.save()
        actor.record("kept", f"draft {draft.id}", name)
    return draft


@transaction.atomic
def take_draft(actor: Actor, draft: Draft, chosen: Chosen) -> ChangeSet:
    """Save a draft as the standard. It is dropped then; undoing brings the standard back, and the draft can be brought back."""
    value = read_document(draft.body.json(), FORMATS)
    assert isinstance(value, Standard)
    done = save_standard(actor, value, draft.base_id, f"Took over the draft {draft.name}", chosen=chosen)
    draft.removed = True
    draft.save(update_fields=["removed"])
    return done


def remove_draft(actor: Actor, draft: Draft, removed: bool) -> Draft:
    """Drop a draft, or bring it back; it is never lost."""
    actor.require(Role.EDITOR)
    draft.removed = removed
    draft.save(update_fields=["removed"])
    actor.record("dropped" if removed else "brought back", f"draft {draft.id}", draft.name)
    return draft
