"""The programs of several platforms as one: what draws a task to one shape everywhere stands between them."""

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, field
from functools import cached_property
from typing import NamedTuple

from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.proposing.costs import people_of_both, shape_of
from amberkey.core.proposing.instance import Instance, Terms
from amberkey.core.proposing.options import Options, Wanted
from amberkey.core.proposing.program import Program, Row
from amberkey.core.standard.model import Standard
from amberkey.core.tasks.model import Task


@dataclass(eq=False)
class Joined:
    """`instances`: the platforms' instances; `program`: all of them, the variables of each behind those of the one before.
    `relearned`: by variable, the people who relearn. `alike`: by variable, the keys of one platform and those of another that
    give a task one shape; it may be yes where both are chosen, and saves what different shapes would cost."""

    instances: tuple[Instance, ...]
    program: Program
    shifts: tuple[int, ...]
    relearned: dict[int, int]
    alike: dict[int, tuple[Terms, Terms]] = field(default_factory=dict)

    def of_platform(self, nth: int, chosen: Iterable[int]) -> tuple[int, ...]:
        """What is chosen of one platform, as its own instance numbers it."""
        first, end = self.shifts[nth], self.shifts[nth] + len(self.instances[nth].program.costs)
        return tuple(v - first for v in chosen if first <= v < end)

    def as_one(self, chosen: Sequence[Iterable[int]]) -> tuple[int, ...]:
        """What is chosen of each platform as one choice, with the shapes that are one."""
        yes = {v + shift for own, shift in zip(chosen, self.shifts, strict=True) for v in own}
        yes |= {v for v, (one, other) in self.alike.items() if not yes.isdisjoint(one) and not yes.isdisjoint(other)}
        return tuple(sorted(yes))

    def relearned_by(self, chosen: Iterable[int]) -> int:
        """How many keys are relearned, over all people."""
        return sum(self.relearned.get(v, 0) for v in chosen)

    def carried(self, chosen: Sequence[int], other: "Joined") -> tuple[int, ...]:
        """A choice as another one over the same options says it, as far as it can be said there."""
        return other.as_one(
            [_carried(p, self.of_platform(n, chosen), other.instances[n]) for n, p in enumerate(self.instances)]
        )

    def variables_in(self, other: "Joined") -> tuple[int, ...]:
        """Its variables as another one over the same options, with more keys, numbers them."""
        found: set[int] = set()
        for here, there, shift in zip(self.instances, other.instances, other.shifts, strict=True):
            found |= {v + shift for known, v in there.of_line.items() if known in here.of_line}
            found |= {v + shift for known, v in there.of.items() if known in here.of}
            found |= {v + shift for v in there.both}
            found |= {v + shift for _, paying in there.meanings for v in paying}
        found |= {v for v, (one, two) in other.alike.items() if not found.isdisjoint(one) and not found.isdisjoint(two)}
        return tuple(sorted(found))

    def within(self, budget: int | None) -> Program:
        """The program with the most keys relearned, if there is such a limit."""
        if budget is None:
            return self.program
        found = Program(self.program.costs, list(self.program.rows), self.program.offset)
        found.at_most(budget, *self.relearning)
        return found

    @cached_property
    def relearning(self) -> tuple[list[int], list[float]]:
        """The variables by which people relearn, and how many people."""
        ordered = sorted(self.relearned.items())
        return [v for v, _ in ordered], [float(n) for _, n in ordered]

    @cached_property
    def lines(self) -> list[list[int]]:
        """The variables of each line, the cheapest keys first; lines of most people before the others."""
        found: dict[int, tuple[int, list[int]]] = {}
        for instance, shift in zip(self.instances, self.shifts, strict=True):
            for variable, (wanted, _) in instance.lines.items():
                if id(wanted) not in found:
                    found[id(wanted)] = sum(place.people for post in wanted.followers for place in post.free), []
                found[id(wanted)][1].append(variable + shift)
        return [own for _, own in sorted(found.values(), key=lambda line: (-line[0], line[1]))]

    @cached_property
    def least(self) -> Program:
        """The program in which nothing counts but relearning."""
        return Program([float(self.relearned.get(v, 0)) for v in range(len(self.program.costs))], self.program.rows)


class Pair(NamedTuple):
    """A task for which two platforms choose a key each, and the people that a difference counts for."""

    task: Task
    one: Wanted
    other: Wanted
    people: int


def pairs(one: Options, other: Options) -> Iterator[Pair]:
    """The tasks that two platforms have both, in the order of the first one's lines."""
    there = {(t.id, w.layouts): w for w in other.lines for t in w.tasks}
    for wanted in one.lines:
        for task in wanted.tasks:
            known = there.get((task.id, wanted.layouts))
            people = people_of_both(one.ground, other.question.platform, task.id) if known is not None else 0
            if known is not None and people:
                yield Pair(task, wanted, known, people)


def shapes_apart(options: Sequence[Options], standard: Standard) -> int:
    """What a standard costs in points for tasks with different shapes on platforms that are chosen together; nothing where one
    of the two has no line."""
    found = 0
    for n, one in enumerate(options):
        for other in options[n + 1 :]:
            for pair in pairs(one, other):
                shapes = [_shapes(o, standard, pair.task, pair.one.layouts) for o in (one, other)]
                if all(shapes) and shapes[0].isdisjoint(shapes[1]):
                    found += one.question.weights.unlike * pair.people
    return found


def _shapes(options: Options, standard: Standard, task: Task, layouts: tuple[str, ...]) -> set[Shortcut]:
    platform = options.question.platform
    return {shape_of(v.shortcut, platform) for v in standard.lines_of(task.id, platform) if v.layouts == layouts}


def joined(instances: Sequence[Instance]) -> Joined:
    """Instances of several platforms in one, or the only one as it is."""
    if len(instances) == 1:
        return Joined((instances[0],), instances[0].program, (0,), instances[0].relearned)
    program, shifts, relearned = Program(), [], {}
    for instance in instances:
        shift = len(program.costs)
        shifts.append(shift)
        program.costs += instance.program.costs
        program.offset += instance.program.offset
        program.rows += [Row(tuple(v + shift for v in r.variables), *r[1:]) for r in instance.program.rows]
        relearned.update({v + shift: n for v, n in instance.relearned.items()})
    found = Joined(tuple(instances), program, tuple(shifts), relearned)
    for n in range(len(instances)):
        for m in range(n + 1, len(instances)):
            _draw_together(found, n, m)
    return found


def _draw_together(found: Joined, n: int, m: int) -> None:
    """Between two platforms, what a task with one shape saves of what two shapes cost."""
    one, other = found.instances[n], found.instances[m]
    here, there = _lines(one, found.shifts[n]), _lines(other, found.shifts[m])
    for pair in pairs(one.options, other.options):
        points = float(one.options.question.weights.unlike * pair.people)
        found.program.offset += points
        ways = here[id(pair.one), pair.task.id], there[id(pair.other), pair.task.id]
        for shape, own in ways[0].items():
            if shape in ways[1]:
                both = found.program.variable(-points)
                found.alike[both] = tuple(own), tuple(ways[1][shape])
                for side in found.alike[both]:
                    found.program.at_most(0, [both, *side], [1.0, *[-1.0] * len(side)])


def _lines(instance: Instance, shift: int) -> dict[tuple[int, str], dict[Shortcut, list[int]]]:
    """By line and task the variables of each shape that it could have."""
    platform = instance.options.question.platform
    found: dict[tuple[int, str], dict[Shortcut, list[int]]] = {}
    for variable, (wanted, candidate) in instance.lines.items():
        for task, key in candidate.keys.items():
            found.setdefault((id(wanted), task), {}).setdefault(shape_of(key, platform), []).append(variable + shift)
    return found


def _carried(one: Instance, chosen: Iterable[int], other: Instance) -> tuple[int, ...]:
    lines, choices = one.meaning(chosen)
    found = {other.of_line[id(w), c.shortcut] for w, c in lines if (id(w), c.shortcut) in other.of_line}
    found |= {other.of[id(c.post), c.does, c.shortcut] for c in choices if (id(c.post), c.does, c.shortcut) in other.of}
    # A further key that only the other one speaks of stays.
    found |= {v for known, v in other.of.items() if known[1] == "further" and known not in one.of}
    return other.with_both(found)
