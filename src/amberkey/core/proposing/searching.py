"""The way to the best choice: among the cheapest keys of each line first, then among all that can still be better."""

import math
import time
from collections.abc import Callable, Iterable, Sequence, Set

from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.proposing.greedy import first_choice
from amberkey.core.proposing.instance import Instance, instance_of
from amberkey.core.proposing.joined import Joined, joined
from amberkey.core.proposing.nearest import among, nearest_first
from amberkey.core.proposing.options import Options
from amberkey.core.proposing.program import Program, Relaxed, Row, Search, Solved, Solver
from amberkey.core.proposing.question import CannotPropose, Question

_ROUGH = 0.002
"""How good the choice of a batch has to be."""
_LARGE = 50_000
"""So many variables over a few keys of each line: the best among all keys isn't looked for."""
_HUGE = 100_000
"""So many: they are chosen batch by batch."""
_FLOORED = 120_000
"""So many keys of all lines: what no choice over all of them can cost less than isn't looked for either."""
_PRICING = 20.0
"""Seconds in which prices are found, those of lines with most people first."""
_BATCH = 160
"""So many lines are chosen anew at once where there are too many for one go."""
_BATCH_SECONDS = 20.0
_BOUND_SECONDS = 60.0
"""So long what no choice can cost less than is looked for there."""
_FIRST_SECONDS = 300.0
"""So long may the first choice take there."""

Told = Callable[[str, float | None, float], None]
"""Told how far it is: what is being done, the points of the best so far, the bound."""
Found = tuple[Joined, tuple[int, ...]]
"""A program, and what was chosen in it."""


class Searcher:
    """Looks for the best choice over the options of one or several platforms; what was found last is where it begins next."""

    def __init__(
        self, question: Question, options: Sequence[Options], solver: Solver, stopped: Callable[[], bool], told: Told
    ) -> None:
        self.question, self.options, self.solver, self.stopped, self.told = question, options, solver, stopped, told
        self.forbidden: set[tuple[int, Shortcut]] = set()
        self.last: Found | None = None
        self._instances: dict[tuple[int, int | None], Instance] = {}
        self._joined: dict[int | None, Joined] = {}
        self._relaxed: dict[int | None, Relaxed] = {}

    def joined(self, few: int | None) -> Joined:
        """The program over a few of the keys of each line, or all."""
        found = self._joined.get(few)
        if found is None:
            found = self._joined[few] = joined([self._instance(n, few) for n in range(len(self.options))])
        return found

    def _instance(self, nth: int, few: int | None) -> Instance:
        found = self._instances.get((nth, few))
        if found is None:
            found = self._instances[nth, few] = instance_of(self.options[nth], few, self.forbidden)
        return found

    def forbid(self, objected: Set[tuple[int, Shortcut]]) -> None:
        """Leave keys of posts out from now on."""
        self.forbidden |= objected
        for n, options in enumerate(self.options):
            own = {id(p) for p in options.ground.posts}
            if any(post in own for post, _ in objected):
                self._instances = {k: v for k, v in self._instances.items() if k[0] != n}
        self._joined.clear()
        self._relaxed.clear()

    def among_few(self, budget: int | None) -> tuple[Joined, Solved]:
        """The best choice among the cheapest keys of each line, with so many relearned at most. Raises CannotPropose where none
        has so few."""
        few = self.joined(self.question.few)
        self.told(f"Choosing among the {self.question.few} cheapest keys of each task", None, -math.inf)
        start = self._begun(few, budget)
        program = few.within(budget)
        if self.is_large:
            return few, self._best_of_many(few, program, start)
        relaxed = self.solver.relaxed(program, Search(self.question.seconds, stopped=self.stopped))
        return few, self._best(program, start, relaxed)

    def among_all(self, budget: int | None, along: Sequence[int] = ()) -> tuple[Joined, Solved]:
        """The best choice over every key, where there aren't too many for that; `along`: budgets that are asked for after this
        one, and quicker together. Raises CannotPropose where none has so few."""
        if self.is_large:
            return self.among_few(budget)
        whole = self.joined(None)
        program = whole.within(budget)
        start = self._kept(whole, program)
        if not start:
            few, first = self.among_few(budget)
            if self.stopped() or not first.chosen:
                return few, first
            start = self._kept(whole, program, (few, first.chosen))
        return whole, self._best(program, start, self._relaxation(whole, budget, along))

    @property
    def is_large(self) -> bool:
        """Whether even the cheapest keys are too many to be looked at as a whole."""
        return len(self.joined(self.question.few).program.costs) > _LARGE

    def floor(self, stopped: Callable[[], bool]) -> float:
        """What no choice over every key can cost less than, where there are too many for the best; minus infinity where that
        isn't known. It may be asked in another thread."""
        if sum(len(w.candidates) for own in self.options for w in own.lines) > _FLOORED:
            return -math.inf
        # Built here, of all keys: a floor under them is one under those that are left by then, and nothing is shared.
        whole = joined([instance_of(own) for own in self.options])
        return self.solver.floor(whole.program, Search(_BOUND_SECONDS, stopped=stopped))

    def is_whole(self, over: Joined) -> bool:
        """Whether a program is the one over every key."""
        return over is self._joined.get(None)

    def _best_of_many(self, over: Joined, program: Program, start: tuple[int, ...]) -> Solved:
        """The best choice among a few keys of very many lines, or a good one where that takes too long."""
        start = start or self._kept(over, program)
        if not start:
            self.told("A first choice, line by line", None, -math.inf)
            latest = time.monotonic() + max(_FIRST_SECONDS, self.question.seconds)
            start = first_choice(program, over.lines, lambda: self.stopped() or time.monotonic() > latest)
        if len(program.costs) <= _HUGE and not self.stopped():
            self.told("Choosing among them", program.cost_of(start) if start else None, -math.inf)
            relaxed = self.solver.relaxed(program, Search(_BOUND_SECONDS, stopped=self.stopped))
            if relaxed is not None:
                return self._best(program, start, relaxed)
        return self._by_batches(over, program, start)

    def _by_batches(self, over: Joined, program: Program, start: tuple[int, ...]) -> Solved:
        """A good choice where there is too much for the best: the lines of most people are chosen anew together, the others
        left as they are, then the next ones, and so on, as long as that makes it better and time is left."""
        lines = over.lines
        rest = set(range(len(program.costs))) - _variables(lines)
        until = time.monotonic() + self.question.seconds
        best = Solved("feasible", start, program.cost_of(start), -math.inf)
        if not start:
            search = self._search(program, max(_FIRST_SECONDS, self.question.seconds), gap=_ROUGH)
            best = among(self.solver, program, rest | self._known_lines(over), search)
        before = math.inf
        while best.chosen and before - best.cost > _ROUGH * best.cost:
            before = best.cost
            for n in range(0, len(lines), _BATCH):
                left = until - time.monotonic()
                if self.stopped() or left <= 0:
                    break
                search = self._search(program, min(left, _BATCH_SECONDS), best.chosen, _ROUGH)
                found = among(self.solver, program, rest | _variables(lines[n : n + _BATCH]), search)
                best = found if found.chosen and found.cost <= best.cost else best
        if not best.chosen:
            return best
        self.told("Finding out how good it is", best.cost, -math.inf)
        bound = self.solver.floor(program, Search(_BOUND_SECONDS, stopped=self.stopped))
        return best._replace(status="optimal" if best.cost - bound < 1 else "feasible", bound=bound)

    def _kept(self, over: Joined, program: Program, found: Found | None = None) -> tuple[int, ...]:
        """What was found, last if it isn't given, where that may be chosen here too."""
        found = found or self.last
        carried = found[0].carried(found[1], over) if found is not None else ()
        return carried if carried and program.allows(carried) else ()

    def _known_lines(self, over: Joined) -> set[int]:
        """The keys that lines had last, or the cheapest of each."""
        last = set(self.last[0].carried(self.last[1], over)) if self.last is not None else set()
        return {next((v for v in line if v in last), line[0]) for line in over.lines}

    def _best(self, program: Program, start: tuple[int, ...], relaxed: Relaxed | None) -> Solved:
        search = self._search(program, self.question.seconds, start)
        if relaxed is None:
            return self.solver.solve(program, search)
        return nearest_first(self.solver, program, relaxed, search)

    def _relaxation(self, whole: Joined, budget: int | None, along: Sequence[int]) -> Relaxed | None:
        """The relaxation over every key, at once with those that are asked for after it."""
        self.told("Choosing among all keys", None, -math.inf)
        if budget not in self._relaxed:
            search = Search(self.question.seconds, likely=self._likely(whole), stopped=self.stopped)
            if budget is None:
                found = [self.solver.relaxed(whole.program, search)]
            else:
                variables, times = whole.relearning
                row = Row(tuple(variables), tuple(times), None, math.inf)
                found = self.solver.relaxations(whole.program, search, row, [budget, *along])
            self._relaxed |= {b: one for b, one in zip([budget, *along], found, strict=False) if one is not None}
        return self._relaxed.get(budget)

    def _likely(self, whole: Joined) -> tuple[int, ...]:
        return self.joined(self.question.few).variables_in(whole)

    def _search(self, program: Program, seconds: float, start: tuple[int, ...] = (), gap: float = 0.0) -> Search:
        """How a program is looked through: as long as nobody stops it, telling how far it is."""

        def progress(chosen: tuple[int, ...], bound: float) -> None:
            self.told("", program.cost_of(chosen) if chosen else None, bound)

        return Search(seconds, gap, start, stopped=self.stopped, progress=progress)

    def _begun(self, over: Joined, budget: int | None) -> tuple[int, ...]:
        """A choice to begin with where there is a budget: the last one where that keeps within it, else one with as little
        relearning as can be. Raises CannotPropose where even that is more than the budget."""
        if budget is None:
            return ()
        last = self._kept(over, over.within(budget))
        if last:
            return last
        found = self._with_least(over)
        if found.chosen and found.bound > budget:
            raise CannotPropose(
                f"{math.ceil(found.bound):,} keys have to be relearned at least, and {budget:,} are allowed.",
                "Allow more, or pin less.",
            )
        return found.chosen if found.cost <= budget else ()

    def _with_least(self, over: Joined) -> Solved:
        return self.solver.solve(over.least, Search(self.question.seconds, stopped=self.stopped))

    def least_relearned(self) -> int | None:
        """How many keys have to be relearned at least, over all people, among the cheapest keys of each task; None where that
        wasn't found."""
        found = self._with_least(self.joined(self.question.few))
        return round(found.cost) if found.chosen else None

    def pricing(
        self, budget: int | None, without: Sequence[tuple[int, int, Shortcut]], stopped: Callable[[], bool]
    ) -> Callable[[], list[float | None]]:
        """What tells what doing without keys would cost, each by its platform, line and first key: from the relaxation, near
        the exact price and found in a moment. None where that isn't known. It may be asked in another thread."""
        found = self.last[0] if self.last is not None else self.joined(self.question.few)
        of = [found.instances[nth].of_line.get((line, key)) for nth, line, key in without]
        asked = [v + found.shifts[nth] if v is not None else None for v, (nth, _, _) in zip(of, without, strict=True)]
        program, search = found.within(budget), Search(min(_PRICING, self.question.seconds), stopped=stopped)
        if self.is_whole(found) and self.last is not None:
            # The cheapest keys tell the price; looking at all would take many times as long.
            out = set(range(len(program.costs))).difference(self._likely(found), self.last[1])
            program, left = program.without(out)
            new = {v: n for n, v in enumerate(left)}
            asked = [new[v] if v is not None else None for v in asked]

        def priced() -> list[float | None]:
            found = self.solver.relaxed(program, search, [v for v in asked if v is not None])
            prices = found.prices if found is not None else {}
            return [prices.get(v) if v is not None else None for v in asked]

        return priced


def _variables(lines: Iterable[Iterable[int]]) -> set[int]:
    return {v for line in lines for v in line}
