"""Deciding a clash by one of its ways out."""

import datetime
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import cast

from django.utils import timezone

from amberkey.core.clashes.estate import Estate, Group
from amberkey.core.clashes.wording import say_clash, say_shortcut
from amberkey.core.compare.operations import JsonDocument, Operation, set_item
from amberkey.core.profiles.decisions import Allowance
from amberkey.core.ways.wayout import WayOut
from amberkey.server.estate import DECISIONS, target_of
from amberkey.server.library.documents import find, newest_of
from amberkey.server.library.models import ChangeSet
from amberkey.server.library.verbs.change import Changes, change
from amberkey.server.people.acting import Actor
from amberkey.server.people.models import Role
from amberkey.server.problems import Conflict, Problem
from amberkey.server.workbench.clashes.ways import find_way


@dataclass(frozen=True)
class Allowing:
    reason: str
    until: datetime.date | None = None


@dataclass(frozen=True)
class Beside:
    """What else is changed with a decision, by document, and how its title goes on."""

    changes: Changes
    title: str


def decide(
    actor: Actor,
    estate: Estate,
    group: Group,
    way_key: str,
    allowing: Allowing | None = None,
    target: str | None = None,
    reason: str = "",
    beside: Beside | None = None,
) -> ChangeSet:
    """Do one way out of a clash as a change set. Raises Conflict where that way isn't one any more."""
    actor.require(Role.EDITOR)
    if way_key == "allow":
        return allow(actor, estate, [group], allowing)
    way = way_of(estate, group, way_key, target)
    changes: dict[str, Iterable[Operation]] = {f"profile/{profile}": operations for profile, operations in way.changes.items()}
    title = title_of(estate, group, way)
    if beside is not None:
        changes |= beside.changes
        title += beside.title
    return change(actor, title, changes, clashes=[group.clash.identity], reason=reason.strip())


def way_of(estate: Estate, group: Group, way_key: str, target: str | None) -> WayOut:
    """A way out of a clash by its key. Raises Conflict where it isn't one any more, or Problem for a key that is none."""
    way = find_way(estate, group, way_key, target_of(group.setups[0], target))
    if way is None:
        raise Conflict("This way out is not there any more.", "The clash was decided or changed in the meantime.")
    return way


def _of_placed(way: WayOut) -> str:
    called = way.subject.called
    if way.kind == "begin":
        return f"Began the shelf of {way.subject.program.name} with another press, for {called}"
    return f"Set {called} off on a key" if way.kind == "on_key" else f"Took {called} out"


def title_of(estate: Estate, group: Group, way: WayOut) -> str:
    """What was decided, in a sentence for the history."""
    board = estate.board(group.setups[0].id)
    subject = way.subject
    name = f"{subject.command.name} in {subject.program.name}"
    if way.kind == "take_over":
        instead = f", which has {say_shortcut(way.shortcut, board)} now" if way.shortcut else ""
        took = say_shortcut(subject.shortcut, board)
        return f"Took {took} from {name}{instead}, for {group.clash.subject.command.name}"
    if way.kind == "narrow":
        where = " and ".join(subject.program.scope(s).name for s in way.scopes)
        return f"Narrowed {say_shortcut(subject.shortcut, board)} of {name} to {where}"
    if way.kind == "translate":
        return f"Translated {say_shortcut(subject.shortcut, board)} for {name}"
    if way.kind == "tidy":
        return f"Took out what {board.setup.setup.name} had no use for: {name}"
    if way.kind in ("begin", "on_key", "take_off"):
        return _of_placed(way)
    assert way.shortcut is not None
    if way.kind == "move_task":
        return f"Moved {name} and its task in every program to {say_shortcut(way.shortcut, board)}"
    if way.kind == "move_family":
        return f"Moved the family of {name} to {say_shortcut(way.shortcut, board)}"
    return f"Moved {name} from {say_shortcut(subject.shortcut, board)} to {say_shortcut(way.shortcut, board)}"


def allow(actor: Actor, estate: Estate, groups: Sequence[Group], allowing: Allowing | None) -> ChangeSet:
    """Accept clashes as they are now, with a reason and perhaps an end."""
    actor.require(Role.EDITOR)
    reason = allowing.reason.strip() if allowing else ""
    if allowing is None or len(reason) < 3:
        raise Problem(400, "An allowed clash needs a reason.", cure="Write in a few words why it may stay.")
    if allowing.until is not None and allowing.until < timezone.localdate():
        raise Problem(400, "The end lies in the past.", cure="Choose a later day, or none.")
    document = cast(JsonDocument, newest_of(find(DECISIONS)).body.json())
    operations = []
    for group in groups:
        allowance = Allowance(
            clash=group.clash.identity,
            says=say_clash(group.clash, estate.board(group.setups[0].id))[:600],
            reason=reason[:600],
            by=actor.name,
            until=allowing.until,
            severity=group.clash.severity,
            setups=tuple(sorted(s.id for s in group.setups)),
        )
        value = allowance.model_dump(mode="json", exclude_defaults=True)
        operations.append(set_item(document, "allowances", allowance.clash, value))
    subject = groups[0].clash.subject
    pressed = say_shortcut(subject.shortcut, estate.board(groups[0].setups[0].id))
    named = f"{subject.called} in {subject.program.name}"
    title = f"Allowed {pressed} for {named}" if pressed else f"Allowed {named} as it is"
    if len(groups) > 1:
        title = f"Allowed {len(groups)} clashes, {pressed} for {subject.command.name} among them"
    return change(
        *(actor, title, {DECISIONS: [o for o in operations if o is not None]}),
        clashes=[g.clash.identity for g in groups],
        reason=reason,
    )
