"""A first standard for an organisation that has none: from what people press today, or from the usual keys of the tasks.

Either way no two tasks of a platform get the same press, so that the standard can hold in every program at once.
"""

from collections.abc import Iterable, Iterator, Mapping

from amberkey.core.clashes.estate import Estate
from amberkey.core.keys.platform import PLATFORMS, Platform
from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.profiles.setup import Setup
from amberkey.core.standard.model import NO_STANDARD, Line, Standard

_Offer = tuple[int, int, Shortcut]
"""How many people have a shortcut for a task, in how many programs, and the shortcut."""


def from_presses(estate: Estate) -> Standard:
    """For each task and platform the press that most people have for it today; of two with as many, that of more programs.

    Tasks of more people choose first: a press that one of them took is given to no other task, which then gets its next one, or
    no line.
    """
    lines: list[Line] = []
    for platform in platforms_of(estate):
        had = _had(estate, platform)
        most = sorted(had, key=lambda t: (-had[t][0][0], -had[t][0][1], t))
        lines += _without_doubles(platform, ((task, [s for _, _, s in had[task]]) for task in most))
    return NO_STANDARD.model_copy(update={"lines": tuple(lines)})


def from_usual(estate: Estate) -> Standard:
    """For each task its first usual key on each platform in use; tasks that nothing may take keys from choose first."""
    lines: list[Line] = []
    tasks = sorted(estate.tasks.tasks, key=lambda t: not t.protected)
    for platform in platforms_of(estate):
        lines += _without_doubles(platform, ((t.id, list(t.usual_on(platform))) for t in tasks))
    return NO_STANDARD.model_copy(update={"lines": tuple(lines)})


def platforms_of(estate: Estate) -> tuple[Platform, ...]:
    """The platforms that people work on; where nobody works yet, those that there are programs for."""
    used = {s.works_on for s in estate.setups.values()}
    used = used or {p for v in estate.programs.values() if v.kind != "system" for p in v.platforms}
    return tuple(p for p in PLATFORMS if p in used)


def _without_doubles(platform: Platform, wishes: Iterable[tuple[str, list[Shortcut]]]) -> Iterator[Line]:
    taken: set[Shortcut] = set()
    for task, shortcuts in wishes:
        chosen = next((s for s in shortcuts if s not in taken), None)
        if chosen is not None:
            taken.add(chosen)
            yield Line(task=task, platform=platform, keys=chosen)


def _had(estate: Estate, platform: Platform) -> Mapping[str, list[_Offer]]:
    """By task, the shortcuts that people have for it now, the most pressed first."""
    setups: dict[str, dict[Shortcut, dict[str, Setup]]] = {}
    programs: dict[tuple[str, Shortcut], set[str]] = {}
    for setup_id, setup in estate.setups.items():
        if setup.works_on != platform:
            continue
        for program_id, part in estate.board(setup_id).parts.items():
            if part.program.kind == "system":
                continue
            for task, effective in part.effective.by_task.items():
                for shortcut, _ in effective.now.shortcuts:
                    setups.setdefault(task, {}).setdefault(shortcut, {})[setup_id] = setup
                    programs.setdefault((task, shortcut), set()).add(program_id)
    return {
        task: sorted(
            ((estate.people_of(own.values()), len(programs[task, shortcut]), shortcut) for shortcut, own in had.items()),
            key=lambda o: (-o[0], -o[1], str(o[2])),
        )
        for task, had in setups.items()
    }
