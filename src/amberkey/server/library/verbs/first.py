"""What every organisation needs before anything else can be done: made once, by whoever comes first."""

from django.db import transaction

from amberkey.core.documents.model import Document as CoreDocument
from amberkey.core.organisation.model import Organisation
from amberkey.core.profiles.decisions import Decisions
from amberkey.core.programs.reference import system_tables
from amberkey.server.library.documents import key_of, newest_of
from amberkey.server.library.house import HOUSE
from amberkey.server.library.models import Document
from amberkey.server.library.verbs.change import create
from amberkey.server.library.verbs.release import release
from amberkey.server.library.verbs.take_facts import note_taken
from amberkey.server.people.acting import Actor

UNNAMED = "The organisation"
_FIRST: tuple[CoreDocument, ...] = (
    HOUSE,
    Organisation(id="organisation", name=UNNAMED, profiles=(HOUSE.id,)),
    Decisions(id="decisions", name="Allowed clashes"),
)


@transaction.atomic
def first_documents(actor: Actor) -> None:
    """The tables of the systems as shipped and released, an organisation without anybody, the house profile that everybody has,
    and room for what is allowed. What there is, or was once, stays as it is."""
    there = set(Document.objects.values_list("key", flat=True))
    for table in system_tables():
        if key_of(table) not in there:
            document = create(actor, table, "As shipped")
            note_taken(document, table)
            release(actor, document.key, newest_of(document).number)
    if any(key.startswith("organisation/") for key in there):  # one that began before there was a house profile of its own
        there.add(key_of(HOUSE))
    for value in _FIRST:
        if key_of(value) not in there:
            create(actor, value, "To begin with")
