"""The own key and the keys of others: what they are, whom to trust, and a new one after the old."""

import datetime

from django.http import HttpRequest, HttpResponse
from ninja import File, Form, Router
from ninja.files import UploadedFile

from amberkey.core.documents.errors import DocumentError
from amberkey.core.documents.model import read_document
from amberkey.core.documents.reading import read_json
from amberkey.core.exchange.signing import KeyCard, fingerprint
from amberkey.server.exchange.keys import Kept, handovers, own_key, own_name, signing
from amberkey.server.exchange.models import TrustedKey
from amberkey.server.exchange.verbs.trust import follow, trust, withdraw
from amberkey.server.people.acting import By, actor_of
from amberkey.server.people.models import Role
from amberkey.server.problems import NotFound, Problem
from amberkey.server.schema import Schema, Words

router = Router(tags=["exchange"])
_LARGEST_CARD = 64 * 1024


class OwnKeyOut(Schema):
    """The key that bundles from here are signed with. `kept`: in a file beside the data, or given by the environment; empty
    where there is none. `older`: how many keys came before it."""

    name: str
    fingerprint: str
    kept: Kept
    older: int


class TrustedKeyOut(Schema):
    key: str
    name: str
    fingerprint: str
    at: datetime.datetime
    by: str
    withdrawn: bool


class KeysOut(Schema):
    own: OwnKeyOut
    trusted: list[TrustedKeyOut]


class WithdrawIn(Schema):
    key: Words
    withdrawn: bool


@router.get("/keys", response=KeysOut)
def keys(request: HttpRequest) -> KeysOut:
    """The own key, and whose keys are trusted or were."""
    own = own_key()
    rows = TrustedKey.objects.select_related("by")
    return KeysOut(
        own=OwnKeyOut(
            name=own_name(),
            fingerprint=fingerprint(own.key.public) if own else "",
            kept=own.kept if own else "",
            older=len({h.old for h in handovers()}) if own else 0,
        ),
        trusted=[
            TrustedKeyOut(
                key=t.key,
                name=t.name,
                fingerprint=fingerprint(t.key),
                at=t.at,
                by=t.by.display_name,
                withdrawn=t.withdrawn_at is not None,
            )
            for t in rows
        ],
    )


@router.get("/keys/card", response={200: bytes})
def card(request: HttpRequest) -> HttpResponse:
    """The own public key as a file, to give to others."""
    own = signing()
    if own is None:
        raise NotFound("signing key")
    response = HttpResponse(own.key.card(own.name, own.handovers).to_bytes(), content_type="application/json")
    response["Content-Disposition"] = 'attachment; filename="amberkey-public-key.json"'
    return response


@router.post("/keys", response=KeysOut, auth=By(Role.ADMINISTRATOR))
def trust_key(request: HttpRequest, file: File[UploadedFile], name: Form[str] = "") -> KeysOut:
    """Trust the organisation whose public key is in a file, under a name (else its own)."""
    if (file.size or 0) > _LARGEST_CARD:
        raise Problem(413, "This is no public key.", "It is far too large.", "Ask for the file that their Amber Key gives out.")
    try:
        found = read_document(read_json(file.read()), {"amberkey/key@1": KeyCard})
    except DocumentError as error:
        raise Problem(400, "This is no public key.", str(error), "Ask for the file that their Amber Key gives out.") from error
    trust(actor_of(request), found, name.strip()[:200] or found.name)
    return keys(request)


@router.post("/keys/withdrawn", response=KeysOut, auth=By(Role.ADMINISTRATOR))
def withdraw_key(request: HttpRequest, given: WithdrawIn) -> KeysOut:
    """Trust a key no longer, or again."""
    withdraw(actor_of(request), given.key, withdrawn=given.withdrawn)
    return keys(request)


@router.post("/keys/next", response=KeysOut, auth=By(Role.ADMINISTRATOR))
def next_key(request: HttpRequest) -> KeysOut:
    """Make a new signing key, which the present one hands over to."""
    follow(actor_of(request))
    return keys(request)
