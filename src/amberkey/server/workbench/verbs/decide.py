"""Deciding a clash by one of its ways out."""

import datetime
from dataclasses import dataclass
from typing import cast

from django.utils import timezone

from amberkey.core.clashes.estate import Estate, Group
from amberkey.core.clashes.wayout import WayOut
from amberkey.core.clashes.ways import move_to, ways_out
from amberkey.core.clashes.wording import say_clash, say_shortcut
from amberkey.core.compare.operations import JsonDocument, set_item
from amberkey.core.keys.reading import read_shortcut
from amberkey.core.profiles.decisions import Allowance
from amberkey.server.library.documents import find, newest_of
from amberkey.server.library.models import ChangeSet
from amberkey.server.library.verbs.change import change
from amberkey.server.people.acting import Actor
from amberkey.server.people.models import Role
from amberkey.server.problems import Conflict, Problem
from amberkey.server.workbench.estate import DECISIONS, target_of


@dataclass(frozen=True)
class Allowing:
    reason: str
    until: datetime.date | None = None


def decide(
    actor: Actor, estate: Estate, group: Group, way_key: str, allowing: Allowing | None = None, target: str | None = None
) -> ChangeSet:
    """Do one way out of a clash as a change set. Raises Conflict where that way isn't one any more."""
    actor.require(Role.EDITOR)
    if way_key == "allow":
        return _allow(actor, estate, group, allowing)
    way = _find(estate, group, way_key, target_of(group.setups[0], target))
    changes = {f"profile/{profile}": operations for profile, operations in way.changes.items()}
    return change(actor, _title(estate, group, way), changes, clash=group.clash.identity)


def _find(estate: Estate, group: Group, way_key: str, target: str) -> WayOut:
    for way in ways_out(estate, group, target):
        if way.key == way_key:
            return way
    kind, _, text = way_key.partition(":")
    if kind == "move":
        return move_to(estate, group, read_shortcut(text).resolve(group.clash.platform), target)
    raise Conflict("This way out is not there any more.", "The clash was decided or changed in the meantime.")


def _title(estate: Estate, group: Group, way: WayOut) -> str:
    board = estate.board(group.setups[0].id)
    subject = way.subject
    name = f"{subject.command.name} in {subject.program.name}"
    if way.kind == "take_over":
        return f"Took {say_shortcut(subject.shortcut, board)} from {name}, for {group.clash.subject.command.name}"
    if way.kind == "narrow":
        where = " and ".join(subject.program.scope(s).name for s in way.scopes)
        return f"Narrowed {say_shortcut(subject.shortcut, board)} of {name} to {where}"
    if way.kind == "translate":
        return f"Translated {say_shortcut(subject.shortcut, board)} for {name}"
    if way.kind == "tidy":
        return f"Took out what {board.setup.setup.name} had no use for: {name}"
    assert way.shortcut is not None
    if way.kind == "move_family":
        return f"Moved the family of {name} to {say_shortcut(way.shortcut, board)}"
    return f"Moved {name} from {say_shortcut(subject.shortcut, board)} to {say_shortcut(way.shortcut, board)}"


def _allow(actor: Actor, estate: Estate, group: Group, allowing: Allowing | None) -> ChangeSet:
    reason = allowing.reason.strip() if allowing else ""
    if allowing is None or len(reason) < 3:
        raise Problem(400, "An allowed clash needs a reason.", cure="Write in a few words why it may stay.")
    if allowing.until is not None and allowing.until < timezone.localdate():
        raise Problem(400, "The end lies in the past.", cure="Choose a later day, or none.")
    board = estate.board(group.setups[0].id)
    allowance = Allowance(
        clash=group.clash.identity,
        says=say_clash(group.clash, board)[:600],
        reason=reason[:600],
        by=actor.name,
        until=allowing.until,
        severity=group.clash.severity,
        setups=tuple(sorted(s.id for s in group.setups)),
    )
    document = cast(JsonDocument, newest_of(find(DECISIONS)).body.json())
    operation = set_item(document, "allowances", allowance.clash, allowance.model_dump(mode="json", exclude_defaults=True))
    subject = group.clash.subject
    title = f"Allowed {say_shortcut(subject.shortcut, board)} for {subject.command.name} in {subject.program.name}: {reason}"
    return change(actor, title, {DECISIONS: (operation,) if operation else ()}, clash=group.clash.identity)
