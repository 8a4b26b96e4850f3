"""Who gets a stroke within a program: in one scope, and with the focus in one."""

from collections.abc import Iterable, Mapping, Sequence

from amberkey.core.clashes.binding import Binding
from amberkey.core.layouts.keyboard import Way
from amberkey.core.layouts.stroke import Stroke
from amberkey.core.programs.model import Program

Rivals = Mapping[Way, Mapping[str, list[Binding]]]
"""Bindings by their way and scope."""

Winners = Mapping[Way, Mapping[str, Binding]]


def by_way_of(stroke: Stroke, bucket: Sequence[Binding]) -> Rivals:
    """The bindings of a bucket by their way and scope."""
    found: dict[Way, dict[str, list[Binding]]] = {}
    for binding in bucket:
        for way in binding.ways:
            if way[0] == stroke:
                scopes = found.setdefault(way, {})
                if binding.scope in scopes:
                    scopes[binding.scope].append(binding)
                else:
                    scopes[binding.scope] = [binding]
    return found


def winners_of(rivals: Rivals) -> Winners:
    """For each way and scope, the one of its rivals that gets the press (see `winner_of`)."""
    return {way: {scope: winner_of(each) for scope, each in scopes.items()} for way, scopes in rivals.items()}


def winner_of(rivals: Sequence[Binding]) -> Binding:
    """Who gets the press when several commands have one stroke in one scope, by the program's `on_tie`.

    With `either` nobody can say; the first one stands for it.
    """
    if len(rivals) == 1:
        return rivals[0]
    return rivals[-1] if rivals[0].program.on_tie == "last" else rivals[0]


def all_of(winners: Winners) -> list[Binding]:
    """The winners of every way and scope, each once."""
    found = {id(b): b for scopes in winners.values() for b in scopes.values()}
    return list(found.values())


def getters(program: Program, scope: str, stroke: Stroke, winners: Winners) -> list[Binding]:
    """Who gets a stroke with the focus in a scope: the one that runs at once, or those that wait for the rest."""
    order = program.asked_order[scope]
    exact = winners.get((stroke,), {})
    at = min((s for s in exact if s in order), key=order.__getitem__, default=None)
    longer = [b for way, scopes in winners.items() if len(way) > 1 for s, b in scopes.items() if s in order]
    if at is not None and not waits(program, order, at, (b.scope for b in longer)):
        return [exact[at]]
    return longer


def waits(program: Program, order: Mapping[str, int], short: str, longer: Iterable[str]) -> bool:
    """Whether a program waits after a press that is a whole shortcut in one scope and begins longer ones in others, all of them
    asked with some focus: where the long one wins, and one of these is asked no later or the program waits across scopes.

    `order`: the turns of the scopes.
    """
    rule = program.on_prefix
    return rule.wins == "long" and any(rule.across_scopes or order[s] <= order[short] for s in longer)


def focus_of(binding: Binding) -> tuple[str, str]:
    """The program and scope in which a binding can be seen."""
    return binding.program.id, binding.scope
