"""Forgetting a person: their name goes out of everything that is kept, once and for good."""

import io
import re
import zipfile
from collections.abc import Collection
from dataclasses import dataclass

from django.apps import apps
from django.core.cache import caches
from django.db import transaction
from django.db.models import Q

from amberkey.core.documents.ids import id_from
from amberkey.core.exchange.sheets import is_packed
from amberkey.core.organisation.pseudonyms import is_pseudonym, new_pseudonym
from amberkey.server.library.approving import name_anew
from amberkey.server.library.lists import ListState
from amberkey.server.library.models import PersonName
from amberkey.server.library.names import SOMEBODY
from amberkey.server.library.rewriting import in_texts, rewrite_bodies, rewrite_columns
from amberkey.server.organisation.models import ListImport
from amberkey.server.people.models import AuditEntry, User
from amberkey.server.problems import NotFound, Problem

# Within a text: what is made of several parts as ids are. A word by itself is none, but for a text that is nothing else.
_ID_LIKE = re.compile(r"\A[a-z0-9]+\Z|(?<![^\s\"'(\[{,;=])[a-z0-9]+(?:[-./@~:_][a-z0-9]+)+(?![^\s\"')\]},;=?!:.])")
_CODINGS = ("utf-8", "utf-16", "cp1252")
_LARGEST_PART = 64 * 1024 * 1024  # bytes of a part of a packed sheet that is looked through; a larger one is let go unseen


@dataclass(frozen=True)
class Forgotten:
    """`person`: the id under which documents have them from now on; `bodies` and `texts`: how many held the name."""

    person: str
    names: int
    bodies: int
    texts: int


@transaction.atomic
def forget(said: str) -> Forgotten:
    """Take a person's names out of the database: out of the table of names, documents and their history, changes, lists that
    were brought in, what was done, and ids made of them. Can't be undone. Done again, it finds nobody.

    `said`: the id of the person, a name, or the id that other lists have for them. Raises NotFound; Problem where several
    people are called so, and where somebody with that name still signs in.
    """
    person, names = _found(said)
    signs_in = User.objects.filter(is_active=True).filter(_called_any(names)).order_by("username").first()
    if signs_in is not None:
        raise Problem(
            409,
            f"{signs_in.display_name} still signs in as {signs_in.username}.",
            "Nothing was forgotten.",
            "Deactivate that account under Accounts first; then its name goes too.",
        )
    cleaning = Cleaning(person, names)
    ListImport.objects.filter(kind="people").exclude(state=ListState.TAKEN).update(
        state=ListState.FAILED, says="Its sheet was let go when somebody was forgotten. Bring it in anew."
    )
    PersonName.objects.filter(person=person).delete()
    bodies = rewrite_bodies(apps, lambda value: in_texts(value, cleaning.text), cleaning.file)
    # Somebody else may be called the same.
    texts = rewrite_columns(cleaning.text, cleaning.pattern, but=[PersonName._meta.db_table])
    name_anew()
    caches["answers"].clear()
    AuditEntry.objects.create(machine="the command line", action="forgot a person", subject=f"person/{cleaning.known_by}")
    return Forgotten(cleaning.known_by, len(names), bodies, texts)


def _called_any(names: Collection[str]) -> Q:
    """Accounts that are called one of some names."""
    found = Q()
    for name in names:
        found |= Q(first_name__iexact=name) | Q(username__iexact=name) | Q(username=id_from(name))
    return found


def _found(said: str) -> tuple[str, tuple[str, ...]]:
    """The id of a person and everything that they were ever called. Raises NotFound, Problem."""
    said = said.strip()
    called = Q(person=said) | Q(name__iexact=said) | Q(known_as__iexact=said)
    ids = sorted(set(PersonName.objects.filter(called).values_list("person", flat=True)))
    if not said or not ids:
        raise NotFound(f"person {said[:80]}".strip())
    if len(ids) > 1:
        raise Problem(
            409, f"{len(ids)} people are or were called {said[:80]}.", f"They are {', '.join(ids)}.", "Say which by its id."
        )
    rows = PersonName.objects.filter(person=ids[0]).values_list("name", "known_as")
    return ids[0], tuple(sorted({text for row in rows for text in row if text}, key=lambda t: (-len(t), t)))


class Cleaning:
    """Takes some names out of texts.

    A name of one word goes where it is written just so, one of several in any letter case. Ids that were made of a name get the
    person's id in its place, and an id of theirs that tells the name becomes another one.
    """

    def __init__(self, person: str, names: Collection[str]) -> None:
        self.known_by = person if is_pseudonym(person) else new_pseudonym()
        slugs = sorted({id_from(name) for name in names} | ({person} - {self.known_by}), key=len, reverse=True)
        self._names = [re.compile(rf"(?<!\w){re.escape(n)}(?!\w)", re.IGNORECASE if " " in n.strip() else 0) for n in names]
        self._slugs = re.compile(rf"(?<![a-z0-9])(?:{'|'.join(map(re.escape, slugs))})(?![a-z0-9])")
        self.pattern = "|".join(sorted({re.escape(text).replace("\\ ", " ") for text in (*names, *slugs)}))

    def text(self, text: str) -> str:
        for name in self._names:
            text = name.sub(SOMEBODY, text)
        return _ID_LIKE.sub(lambda token: self._slugs.sub(self.known_by, token[0]), text)

    def file(self, data: bytes) -> bytes:
        """A file as it came: a text is cleaned like all others, a packed sheet in which a name stands is let go."""
        if is_packed(data):
            return b"" if self._stands_in(data) else data
        for coding in _CODINGS:
            try:
                text = data.decode(coding)
            except UnicodeDecodeError:
                continue
            then = self.text(text)
            return data if then == text else then.encode(coding)
        return data

    def _stands_in(self, data: bytes) -> bool:
        try:
            with zipfile.ZipFile(io.BytesIO(data)) as archive:
                for info in archive.infolist():
                    if info.file_size > _LARGEST_PART:
                        return True
                    text = archive.read(info).decode("utf-8", "replace")
                    if self.text(text) != text:
                        return True
        except (zipfile.BadZipFile, NotImplementedError, RuntimeError):
            return True
        return False
