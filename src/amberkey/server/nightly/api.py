"""Nightly lists: tokens for administrators, what came for everybody who brings lists in, and sending itself."""

import datetime
from typing import Annotated, Any, Literal, cast
from uuid import UUID

from django.http import HttpRequest
from ninja import Router
from ninja.security import HttpBearer
from pydantic import Field

from amberkey.core.keys.platform import Platform
from amberkey.server.fleet.verbs.enrol import hashed
from amberkey.server.library.documents import known_programs
from amberkey.server.nightly.models import Sender, SentList
from amberkey.server.nightly.verbs.answer import say_no, say_yes
from amberkey.server.nightly.verbs.send import receive
from amberkey.server.nightly.verbs.senders import make_sender, revoke_sender
from amberkey.server.nightly.working import settle
from amberkey.server.people.acting import By, actor_of
from amberkey.server.people.models import Role
from amberkey.server.problems import NotFound
from amberkey.server.schema import Name, Schema

router = Router(tags=["nightly"])
Kind = Literal["people", "machines", "commands"]
StateName = Literal["working", "taken", "same", "waiting", "refused", "replaced", "failed"]
PAGE = 30
_NIGHTS = 14


class SentOut(Schema):
    """A list that was sent. `says`: why it waits or failed; `told`: what taking it does or did.

    `list`: the list as it was read, to be looked at closely while it waits.
    """

    id: str
    sender: str
    kind: Kind
    at: datetime.datetime
    name: str
    state: StateName
    says: str
    told: list[str]
    list: str
    rows: int
    bad: int
    change: int | None
    decided_by: str


class SenderOut(Schema):
    """`headings`: what each column is, by its heading; empty until a list was said yes to. `newest`: the last that it sent;
    `states`: what became of the last ones, the newest last."""

    id: str
    name: str
    kind: Kind
    program: str
    program_name: str
    made_by: str
    at: datetime.datetime
    revoked_at: datetime.datetime | None
    headings: dict[str, str]
    waiting: int
    newest: SentOut | None
    states: list[StateName]


class SenderIn(Schema):
    """`program` by id, for commands; `platforms`: where their keys count of which nothing says where."""

    name: Name
    kind: Kind
    program: Annotated[str, Field(max_length=80)] = ""
    platforms: Annotated[list[Platform], Field(max_length=3)] = []


class SenderMadeOut(Schema):
    """`token` is told this once."""

    sender: SenderOut
    token: str


class SentPageOut(Schema):
    total: int
    rows: list[SentOut]


@router.get("/nightly", response=list[SenderOut], auth=By(Role.EDITOR))
def senders(request: HttpRequest) -> list[SenderOut]:
    """Everything that may send lists or might once, with the newest list of each."""
    found = Sender.objects.select_related("made_by")
    for sender in found:
        settle(sender)
    return [_sender(s) for s in found]


class WaitingListsOut(Schema):
    """How many lists wait for a yes."""

    waiting: int


@router.get("/nightly/waiting", response=WaitingListsOut)
def waiting_lists(request: HttpRequest) -> WaitingListsOut:
    """Asked again and again by every page."""
    return WaitingListsOut(waiting=SentList.objects.filter(state=SentList.State.WAITING).count())


@router.post("/nightly", response=SenderMadeOut, auth=By(Role.ADMINISTRATOR))
def make_token(request: HttpRequest, given: SenderIn) -> SenderMadeOut:
    """A token with which one kind of list may be sent."""
    sender, token = make_sender(actor_of(request), given.name, given.kind, given.program, given.platforms)
    return SenderMadeOut(sender=_sender(sender), token=token)


@router.post("/nightly/{sender_id}/revoke", response=SenderOut, auth=By(Role.ADMINISTRATOR))
def revoke_token(request: HttpRequest, sender_id: UUID) -> SenderOut:
    """The token works no more."""
    return _sender(revoke_sender(actor_of(request), _found(sender_id)))


@router.get("/nightly/{sender_id}/sent", response=SentPageOut, auth=By(Role.EDITOR))
def sent_lists(request: HttpRequest, sender_id: UUID, start: Annotated[int, Field(ge=0, le=10**6)] = 0) -> SentPageOut:
    """What one sender sent, the newest first; some from `start` on."""
    sender = _found(sender_id)
    settle(sender)
    rows = sender.sent.select_related("sender", "people_or_machines__result", "commands__result", "decided_by")
    return SentPageOut(total=rows.count(), rows=[_sent(r) for r in rows[start : start + PAGE]])


@router.post("/nightly/lists/{sent_id}/yes", response=SentOut, auth=By(Role.EDITOR))
def yes(request: HttpRequest, sent_id: UUID) -> SentOut:
    """Have the good rows of a list taken that waits."""
    return _sent(say_yes(actor_of(request), sent_id))


@router.post("/nightly/lists/{sent_id}/no", response=SentOut, auth=By(Role.EDITOR))
def no(request: HttpRequest, sent_id: UUID) -> SentOut:
    """Take nothing of a list that waits."""
    return _sent(say_no(actor_of(request), sent_id))


class SenderAuth(HttpBearer):
    """A sender's token: it sends its own kind of list and does nothing else."""

    def authenticate(self, request: HttpRequest, token: str) -> Any:
        return Sender.objects.filter(token_hash=hashed(token), revoked_at=None).select_related("made_by").first()


inbox = Router(tags=["nightly"], auth=SenderAuth())


class ReceivedOut(Schema):
    """How it stands with a list that was sent."""

    id: str
    state: StateName
    says: str
    told: list[str]


@inbox.post("/{kind}", response=ReceivedOut)
def send(request: HttpRequest, kind: str, name: Annotated[str, Field(max_length=200)] = "") -> ReceivedOut:
    """Send a list: the file is the body of the request."""
    return _received(receive(_by(request), kind, name, request.body))


@inbox.get("/lists/{sent_id}", response=ReceivedOut)
def look(request: HttpRequest, sent_id: UUID) -> ReceivedOut:
    """What became of a list that was sent with the same token."""
    sent = _by(request).sent.filter(id=sent_id).first()
    if sent is None:
        raise NotFound("such list")
    return _received(sent)


def _by(request: HttpRequest) -> Sender:
    sender = request.auth  # type: ignore[attr-defined]
    assert isinstance(sender, Sender)
    return sender


def _found(sender_id: UUID) -> Sender:
    found = Sender.objects.select_related("made_by").filter(id=sender_id).first()
    if found is None:
        raise NotFound("such token")
    return found


def _received(sent: SentList) -> ReceivedOut:
    out = _sent(sent)
    return ReceivedOut(id=out.id, state=out.state, says=out.says, told=out.told)


def _sender(sender: Sender) -> SenderOut:
    newest = sender.sent.select_related("sender", "people_or_machines__result", "commands__result", "decided_by").first()
    program = known_programs().get(sender.program)
    return SenderOut(
        id=str(sender.id),
        name=sender.name,
        kind=cast(Kind, sender.kind),
        program=sender.program,
        program_name=program.name if program else sender.program,
        made_by=sender.made_by.display_name,
        at=sender.at,
        revoked_at=sender.revoked_at,
        headings=sender.matching,
        waiting=sender.sent.filter(state=SentList.State.WAITING).count(),
        newest=_sent(newest) if newest else None,
        states=[cast(StateName, s) for s in reversed(sender.sent.values_list("state", flat=True)[:_NIGHTS])],
    )


def _sent(sent: SentList) -> SentOut:
    found = sent.list
    result = cast(dict[str, Any], found.result.json()) if found and found.result else {}
    counts = result.get("counts", {})
    return SentOut(
        id=str(sent.id),
        sender=sent.sender.name,
        kind=cast(Kind, sent.sender.kind),
        at=sent.at,
        name=sent.name,
        state=cast(StateName, sent.state),
        says=sent.says,
        told=result.get("told", []),
        list=str(found.id) if found and sent.state == SentList.State.WAITING else "",
        rows=found.total if found else 0,
        bad=result.get("bad", 0) + counts.get("unread", 0) + counts.get("contradicts", 0),
        change=found.change_set_id if found else None,
        decided_by=sent.decided_by.display_name if sent.decided_by else "",
    )
