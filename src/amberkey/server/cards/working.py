"""Making many cards at once, and telling how far it is."""

import zipfile
from collections.abc import Iterator
from io import BytesIO
from uuid import UUID

from amberkey.core.cards.wish import CardWish
from amberkey.core.documents.ids import id_from
from amberkey.server.cards.drawing import Drawn, drawn
from amberkey.server.cards.models import CardBatch
from amberkey.server.cards.pressing import FEW
from amberkey.server.cards.printing import FORMS, pdfs_of
from amberkey.server.problems import Problem


def make(batch_id: UUID) -> None:
    """Make the cards of a batch, from its beginning; one that nobody would get any more is left out, and said."""
    batch = CardBatch.objects.filter(pk=batch_id, state=CardBatch.State.WORKING).first()
    if batch is None:
        return
    packed, left_out, made = BytesIO(), 0, 0
    names: list[str] = []

    def cards() -> Iterator[Drawn]:
        nonlocal left_out
        for value in batch.wishes:
            wish = CardWish.model_validate(value)
            try:
                card = drawn(wish)
            except Problem as problem:
                if problem.status != 409:
                    raise
                left_out += 1
                continue
            names.append(f"{id_from(wish.who or 'everybody')}-{wish.platform}-{id_from(wish.layout)}.{batch.form}")
            yield card

    many = batch.form == "pdf" and len(batch.wishes) > FEW
    with zipfile.ZipFile(packed, "w", zipfile.ZIP_DEFLATED) as file:
        for data in pdfs_of(cards()) if many else map(FORMS[batch.form], cards()):
            file.writestr(names[made], data)
            made += 1
            CardBatch.objects.filter(pk=batch_id).update(done=made + left_out)
    says = f"{left_out} were left out: nobody would get them any more." if left_out else ""
    done = len(batch.wishes)
    CardBatch.objects.filter(pk=batch_id).update(state=CardBatch.State.DONE, file=packed.getvalue(), says=says, done=done)
