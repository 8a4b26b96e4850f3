"""Saying of clashes within a program's own defaults whether its maker meant them."""

from collections.abc import Sequence
from typing import cast

from django.utils import timezone

from amberkey.core.clashes.estate import Estate, Group
from amberkey.core.clashes.wording import say_clash
from amberkey.core.compare.operations import JsonDocument, set_item
from amberkey.core.profiles.decisions import Meaning
from amberkey.server.estate import DECISIONS
from amberkey.server.library.documents import find, newest_of
from amberkey.server.library.models import ChangeSet
from amberkey.server.library.verbs.change import change
from amberkey.server.people.acting import Actor
from amberkey.server.people.models import Role
from amberkey.server.problems import Problem


def mean(actor: Actor, estate: Estate, groups: Sequence[Group], meant: bool) -> ChangeSet:
    """Keep it in the decisions. What Amber Key takes for granted anyway isn't written down."""
    actor.require(Role.EDITOR)
    document = cast(JsonDocument, newest_of(find(DECISIONS)).body.json())
    operations = []
    for group in groups:
        clash = group.clash
        if not clash.may_be_meant:
            raise Problem(
                409,
                f"{clash.subject.command.name} is no matter of its maker.",
                "Somebody set one of the keys in it, or the system or another program is in it.",
                "Decide it, or allow it with a reason.",
            )
        said = Meaning(
            clash=clash.identity,
            says=say_clash(clash, estate.board(group.setups[0].id))[:600],
            meant=meant,
            by=actor.name,
            since=timezone.localdate(),
        )
        value = None if clash.meant == meant else said.model_dump(mode="json", exclude_defaults=True)
        operations.append(set_item(document, "meant", clash.identity, value))
    subject = groups[0].clash.subject
    name = f"{subject.command.name} in {subject.program.name}"
    if len(groups) > 1:
        name = f"{len(groups)} clashes, {name} among them"
    title = f"Marked as meant by the maker: {name}" if meant else f"Marked as not meant by the maker: {name}"
    return change(
        *(actor, title, {DECISIONS: [o for o in operations if o is not None]}),
        clashes=[g.clash.identity for g in groups],
    )
