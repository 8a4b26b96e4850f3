"""Keys that move on a date: those of releases under way, on machines that aren't written to before a day to come."""

import datetime
from collections.abc import Mapping, Sequence

from django.utils import timezone

from amberkey.core.cards.content import moved
from amberkey.server.estate import current_derived, estate_of, given_before
from amberkey.server.library.given import state_of
from amberkey.server.rollouts.models import Plan


def moves_of(setups: Sequence[str]) -> Mapping[str, Mapping[str, datetime.date]]:
    """The commands, by their ids on cards, that get other keys by a release under way, with the first day on which it may write
    to machines of each of some setups. What a setup's machines were never given moves nothing."""
    today, derived = timezone.localdate(), current_derived()
    found: dict[str, dict[str, datetime.date]] = {}
    for plan in Plan.objects.filter(state__in=(Plan.State.RUNNING, Plan.State.PAUSED)).select_related("released"):
        first: dict[str, datetime.date] = {}
        for wave, machines in zip(plan.document.waves, plan.waves, strict=False):
            day = wave.window.not_before
            here = {setup for machine in machines for setup in derived.setups_of(machine=machine)}
            # Whoever is in an open wave, too, may have the keys at any time.
            first |= {setup: min(first.get(setup, day or today), day or today) for setup in here}
        later = {setup: first[setup] for setup in setups if first.get(setup, today) > today}
        for setup, commands in _moved(plan, list(later)).items():
            for command in commands:
                own = found.setdefault(command, {})
                own[setup] = min(own.get(setup, later[setup]), later[setup])
    return found


def _moved(plan: Plan, setups: Sequence[str]) -> Mapping[str, frozenset[str]]:
    """By setup, what a release makes of the keys that its machines were given last."""
    if not setups:
        return {}
    given, after = given_before(), estate_of(plan.documents)
    return {
        setup: frozenset(c for state in given.get(setup, ()) for c in moved(estate_of(state_of(state)), after, setup))
        for setup in setups
    }
