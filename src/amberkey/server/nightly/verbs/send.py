"""Receiving a list: kept at once, worked on by a job, one after the other for each sender."""

from django.db import transaction

from amberkey.core.documents.canonical import digest_of
from amberkey.core.exchange.sheets import DEFAULT_SHEET_LIMITS, too_large
from amberkey.server.catalogue.models import CommandList
from amberkey.server.library.lists import ListState
from amberkey.server.library.models import Body
from amberkey.server.nightly.models import Sender, SentKind, SentList
from amberkey.server.nightly.tasks import put_to_work
from amberkey.server.organisation.models import ListImport
from amberkey.server.problems import Problem, TryLater

State = SentList.State
NEW = ListState.NEW  # no job of its own is at it
_AGAIN_AFTER = 300  # seconds
MOST_AT_ONCE = 5
"""Lists of one sender that may be in work at the same time."""


@transaction.atomic
def receive(sender: Sender, kind: str, name: str, data: bytes) -> SentList:
    """Keep what was sent, and have it worked on. The same bytes sent again while they are in work are one list.

    Raises Problem where the token is for another kind, or the list is empty or too large.
    """
    if sender.kind != kind:
        raise Problem(
            403,
            f"This token is for a list of {sender.kind}, not of {kind}.",
            cure="Ask an administrator for a token of its own.",
        )
    if not data:
        raise Problem(400, "The list is empty.", cure="Look whether the file was written before it was sent.")
    if len(data) > DEFAULT_SHEET_LIMITS.packed:
        fault = too_large(len(data))
        raise Problem(413, "The list is too large.", fault.says, fault.cure)
    sender = Sender.objects.select_for_update().select_related("made_by").get(pk=sender.pk)
    in_work = sender.sent.filter(state=State.WORKING)
    digest = digest_of(data)
    same = in_work.filter(digest=digest).first()
    if same is not None:
        return same
    if in_work.count() >= MOST_AT_ONCE:
        told = f"{MOST_AT_ONCE} lists of {sender.name} are in work."
        raise TryLater(429, told, "Nothing was taken of this one.", "Send it again in some minutes.", _AGAIN_AFTER)
    sent = SentList(sender=sender, name=name[:200] or f"{kind} of {sender.name}", digest=digest)
    content = Body.keep(data)
    if kind == SentKind.COMMANDS:
        sent.commands = CommandList.objects.create(name=sent.name, content=content, state=NEW, actor=sender.made_by)
    else:
        sent.people_or_machines = ListImport.objects.create(
            kind=kind, name=sent.name, content=content, state=NEW, actor=sender.made_by
        )
    sent.save()
    put_to_work(sent)
    return sent
