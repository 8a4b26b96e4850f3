"""Making many cards at once, and telling how far it is."""

import zipfile
from io import BytesIO
from uuid import UUID

from amberkey.core.cards.wish import CardWish
from amberkey.core.documents.ids import id_from
from amberkey.server.cards.drawing import drawn
from amberkey.server.cards.models import CardBatch
from amberkey.server.cards.printing import FORMS
from amberkey.server.problems import Problem


def make(batch_id: UUID) -> None:
    """Make the cards of a batch, from its beginning; one that nobody would get any more is left out, and said."""
    batch = CardBatch.objects.filter(pk=batch_id, state=CardBatch.State.WORKING).first()
    if batch is None:
        return
    packed, left_out = BytesIO(), 0
    with zipfile.ZipFile(packed, "w", zipfile.ZIP_DEFLATED) as file:
        for n, value in enumerate(batch.wishes, 1):
            wish = CardWish.model_validate(value)
            name = f"{id_from(wish.who or 'everybody')}-{wish.platform}-{id_from(wish.layout)}.{batch.form}"
            try:
                file.writestr(name, FORMS[batch.form](drawn(wish)))
            except Problem as problem:
                if problem.status != 409:  # what can't be printed here at all ends it
                    raise
                left_out += 1
            CardBatch.objects.filter(pk=batch_id).update(done=n)
    says = f"{left_out} were left out: nobody would get them any more." if left_out else ""
    CardBatch.objects.filter(pk=batch_id).update(state=CardBatch.State.DONE, file=packed.getvalue(), says=says)
