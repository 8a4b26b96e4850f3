"""Deciding a clash and saying in the standard what follows from it, as one change."""

import datetime
from collections.abc import Sequence
from typing import Literal, cast

from django.db import transaction
from django.utils import timezone

from amberkey.core.clashes.board import Board
from amberkey.core.clashes.estate import Estate, Group
from amberkey.core.clashes.wording import say_shortcut
from amberkey.core.compare.merging import merge
from amberkey.core.compare.operations import JsonDocument
from amberkey.core.documents.model import read_document
from amberkey.core.formats import FORMATS
from amberkey.core.standard.asking import Asked, asked_by, exceptions_for, lines_for, with_exceptions
from amberkey.core.standard.model import Standard
from amberkey.core.standard.setting import with_lines
from amberkey.core.ways.several import with_operations
from amberkey.core.ways.wayout import WayOut
from amberkey.server.estate import STANDARD
from amberkey.server.library.models import ChangeSet
from amberkey.server.people.acting import Actor
from amberkey.server.people.models import Role
from amberkey.server.problems import Conflict, Problem
from amberkey.server.standard.state import current_coverage
from amberkey.server.standard.verbs.keep_point import keep_point
from amberkey.server.standard.verbs.set_lines import check_exception, locked_standard, seen_of
from amberkey.server.workbench.verbs.decide import Beside, decide, way_of

Says = Literal["line", "exception"]


@transaction.atomic
def decide_too(
    actor: Actor,
    estate: Estate,
    group: Group,
    way_key: str,
    says: Says,
    *,
    target: str | None = None,
    reason: str = "",
    until: datetime.date | None = None,
    seen: str | None = None,
) -> ChangeSet:
    """Do a way out, and make the standard say what it leads to (`line`) or let its programs off (`exception`).

    `seen`: the digest of the standard that somebody saw (see `seen_of`). Raises Problem where there is nothing of that kind to
    say, Conflict where others said something else of the same meanwhile.
    """
    actor.require(Role.EDITOR)
    document = locked_standard(actor)
    base = seen_of(document, seen)
    now = read_document(base, FORMATS)
    assert isinstance(now, Standard)
    asked = asked_of(estate, group, way_of(estate, group, way_key, target), now)
    if says == "line":
        wanted, title = _with_lines(now, asked, estate.board(group.setups[0].id), actor, reason.strip())
    else:
        check_exception(reason, until)
        wanted, title = _let_off(now, asked, actor, reason.strip(), until)
    newest = document.newest
    assert newest is not None
    merged = merge(base, cast(JsonDocument, wanted.to_json()), cast(JsonDocument, newest.body.json()))
    if merged.contradictions:
        name = newest.author.display_name
        raise Conflict(f"{name} changed the same in the standard.", f"Their last change: {newest.note or 'no note'}.", by=name)
    done = decide(actor, estate, group, way_key, None, target, reason, Beside({STANDARD: merged.operations}, title))
    keep_point(current_coverage())
    return done


def asked_of(estate: Estate, group: Group, way: WayOut, standard: Standard) -> tuple[Asked, ...]:
    """What a way out asks of the standard, as the setup has it through which the clash is looked at.

    Nothing where nobody presses something else: an allowed clash, a translated press.
    """
    if not way.changes or way.kind == "translate":
        return ()
    return asked_by(estate, with_operations(estate, way.changes), group.setups[0].id, standard)


def _with_lines(now: Standard, asked: Sequence[Asked], board: Board, actor: Actor, reason: str) -> tuple[Standard, str]:
    """The standard with what a way out leads to, and how the decision's title goes on."""
    lines = lines_for(asked, reason, actor.name, timezone.localdate())
    if not lines:
        raise Problem(400, "There is no line of the standard to change.", cure="Decide without it.")
    set_to = {one.task.id: (one.task.name, one.gets) for one in asked}
    told = [f"{name} to {say_shortcut(gets, board)}" for name, gets in (set_to[v.task] for v in lines) if gets]
    return with_lines(now, lines), f", and set {' and '.join(told)} in the standard"


def _let_off(
    now: Standard, asked: Sequence[Asked], actor: Actor, reason: str, until: datetime.date | None
) -> tuple[Standard, str]:
    """The standard with the programs let off that no longer follow it, and how the decision's title goes on."""
    exceptions = exceptions_for(asked, reason, actor.name, until)
    if not exceptions:
        raise Problem(400, "There is nothing to be let off.", "The standard says nothing else of it.", "Decide without it.")
    told = [f"{a.task.name} in {a.program.name}" for a in asked if a.could_be_let_off]
    return with_exceptions(now, exceptions), f", and let {' and '.join(told)} off the standard"
