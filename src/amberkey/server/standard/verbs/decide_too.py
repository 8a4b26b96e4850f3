"""Deciding a clash and saying in the standard what follows from it, as one change."""

import datetime
from collections.abc import Sequence
from typing import Literal, cast

from django.db import transaction
from django.utils import timezone

from amberkey.core.clashes.estate import Estate, Group
from amberkey.core.clashes.wording import say_shortcut
from amberkey.core.compare.operations import JsonDocument, compare
from amberkey.core.standard.asking import Asked, asked_by, exceptions_for, lines_for, with_exceptions
from amberkey.core.standard.model import Standard
from amberkey.core.standard.setting import with_lines
from amberkey.core.ways.several import with_operations
from amberkey.core.ways.wayout import WayOut
from amberkey.server.library.models import ChangeSet
from amberkey.server.people.acting import Actor
from amberkey.server.people.models import Role
from amberkey.server.problems import Problem
from amberkey.server.standard.state import current_coverage
from amberkey.server.standard.verbs.keep_point import keep_point
from amberkey.server.standard.verbs.set_lines import check_exception, locked_standard
from amberkey.server.workbench.estate import STANDARD, current_standard
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
) -> ChangeSet:
    """Do a way out, and make the standard say what it leads to (`line`) or let its programs off (`exception`).

    Raises Problem where there is nothing of that kind to say.
    """
    actor.require(Role.EDITOR)
    locked_standard(actor)
    now = current_standard()
    asked = asked_of(estate, group, way_of(estate, group, way_key, target), now)
    if says == "line":
        lines = lines_for(asked, reason.strip(), actor.name, timezone.localdate())
        if not lines:
            raise Problem(400, "There is no line of the standard to change.", cure="Decide without it.")
        wanted = with_lines(now, lines)
        board = estate.board(group.setups[0].id)
        set_to = {one.task.id: (one.task.name, one.gets) for one in asked}
        told = [f"{name} to {say_shortcut(gets, board)}" for name, gets in (set_to[v.task] for v in lines) if gets]
        title = f", and set {' and '.join(told)} in the standard"
    else:
        check_exception(reason, until)
        exceptions = exceptions_for(asked, reason.strip(), actor.name, until)
        if not exceptions:
            raise Problem(400, "There is nothing to be let off.", "The standard says nothing else of it.", "Decide without it.")
        wanted = with_exceptions(now, exceptions)
        title = f", and let {' and '.join(_let_off(asked))} off the standard"
    changed = compare(_json(now), _json(wanted))
    done = decide(actor, estate, group, way_key, None, target, reason, Beside({STANDARD: changed}, title))
    keep_point(current_coverage())
    return done


def asked_of(estate: Estate, group: Group, way: WayOut, standard: Standard) -> tuple[Asked, ...]:
    """What a way out asks of the standard, as the setup has it through which the clash is looked at.

    Nothing where nobody presses something else: an allowed clash, a translated press.
    """
    if not way.changes or way.kind == "translate":
        return ()
    return asked_by(estate, with_operations(estate, way.changes), group.setups[0].id, standard)


def _let_off(asked: Sequence[Asked]) -> list[str]:
    return [f"{a.task.name} in {a.program.name}" for a in asked if a.could_be_let_off]


def _json(standard: Standard) -> JsonDocument:
    return cast(JsonDocument, standard.to_json())
