"""Making many cards at once, and telling how far it is."""

import zipfile
from collections.abc import Iterator
from io import BytesIO
from uuid import UUID

from amberkey.core.cards.wish import CardWish
from amberkey.core.documents.ids import id_from
from amberkey.server.cards.drawing import Drawn, drawn
from amberkey.server.cards.models import PRINT, CardBatch
from amberkey.server.cards.pressing import FEW
from amberkey.server.cards.printing import FORMS, pdf_as_one, pdfs_of
from amberkey.server.estate import current_organisation
from amberkey.server.problems import Problem


def make(batch_id: UUID) -> None:
    """Make the cards of a batch, from its beginning; one that nobody would get any more is left out, and said."""
    batch = CardBatch.objects.filter(pk=batch_id, state=CardBatch.State.WORKING).first()
    if batch is None:
        return
    packing = _Packing(batch)
    data = packing.as_one() if batch.form == PRINT else packing.as_zip()
    left_out = packing.left_out
    says = f"{left_out} were left out: nobody would get them any more." if left_out else ""
    done = len(batch.wishes)
    CardBatch.objects.filter(pk=batch_id).update(state=CardBatch.State.DONE, file=data, says=says, done=done)


class _Packing:
    """`names` of the cards drawn so far, as files."""

    def __init__(self, batch: CardBatch) -> None:
        self.batch, self.left_out, self.made = batch, 0, 0
        self.names: list[str] = []

    def cards(self) -> Iterator[Drawn]:
        for value in self.batch.wishes:
            wish = CardWish.model_validate(value)
            try:
                card = drawn(wish)
            except Problem as problem:
                if problem.status != 409:
                    raise
                self.left_out += 1
                continue
            whose = f"{id_from(wish.who or 'everybody')}-{wish.platform}-{id_from(wish.layout)}"
            self.names.append(f"{whose}-{wish.language}.{self.batch.form}")
            yield card

    def as_zip(self) -> bytes:
        packed, form = BytesIO(), self.batch.form
        many = form == "pdf" and len(self.batch.wishes) > FEW
        with zipfile.ZipFile(packed, "w", zipfile.ZIP_DEFLATED) as file:
            for data in pdfs_of(self.cards()) if many else map(FORMS[form], self.cards()):
                file.writestr(self.names[self.made], data)
                self._tell()
        return packed.getvalue()

    def as_one(self) -> bytes:
        def counted() -> Iterator[Drawn]:
            for card in self.cards():
                yield card
                self._tell()

        return pdf_as_one(counted(), current_organisation().name)

    def _tell(self) -> None:
        self.made += 1
        CardBatch.objects.filter(pk=self.batch.pk).update(done=self.made + self.left_out)
