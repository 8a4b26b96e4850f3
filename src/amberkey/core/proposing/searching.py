"""The way to the best choice: among the cheapest keys of each line first, then among all that can still be better."""

import math
import time
from collections.abc import Callable, Iterable, Sequence, Set
from dataclasses import replace

from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.proposing.flooring import floor_of
from amberkey.core.proposing.greedy import first_choice
from amberkey.core.proposing.instance import Instance, instance_of
from amberkey.core.proposing.joined import Joined, joined
from amberkey.core.proposing.options import Options
from amberkey.core.proposing.program import Program, Relaxed, Row, Search, Solved, Solver
from amberkey.core.proposing.question import CannotPropose, Question

_ROUGH = 0.002
"""How good a choice among few keys has to be that is only begun with."""
_NEAR = 30_000
"""Of so many variables that can still be better than the best so far, those nearest to it are looked at by themselves."""
_MANY = 60_000
"""So many are looked at as a whole: nothing is left out then, and the best is proven."""
_LARGE = 50_000
"""So many, over a few keys of each line, are chosen batch by batch."""
_PRICING = 20.0
"""Seconds in which prices are found, those of lines with most people first."""
_BATCH = 160
"""So many lines are chosen anew at once where there are too many for one go."""
_BATCH_SECONDS = 20.0
_BOUND_SECONDS = 60.0
"""So long what halves would cost is looked for there; where it isn't found by then, prices on rows say less, and soon."""
_FIRST_SECONDS = 300.0
"""So long may the first choice take there."""

Told = Callable[[str, float | None, float], None]
"""Told how far it is: what is being done, the points of the best so far, the bound."""


class Searcher:
    """Looks for the best choice over the options of one or several platforms; what was found last is where it begins next."""

    def __init__(
        self, question: Question, options: Sequence[Options], solver: Solver, stopped: Callable[[], bool], told: Told
    ) -> None:
        self.question, self.options, self.solver, self.stopped, self.told = question, options, solver, stopped, told
        self.forbidden: set[tuple[int, Shortcut]] = set()
        self.last: tuple[Joined, tuple[int, ...]] | None = None
        self._instances: dict[tuple[int, int | None], Instance] = {}
        self._joined: dict[int | None, Joined] = {}

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

    def among_few(self, budget: int | None, *, rough: bool = False) -> tuple[Joined, Solved]:
        """The best choice among the cheapest keys of each line, with so many relearned at most; `rough`: or one that is nearly
        as good. Raises CannotPropose where none has so few."""
        few = self.joined(self.question.few)
        self.told(f"Choosing among the {self.question.few} cheapest keys of each task", None, -math.inf)
        start = self._begun(few, budget)
        if self.is_large:
            return few, self._by_batches(few, few.within(budget), start)
        return few, self._run(few.within(budget), Search(self.question.seconds, gap=_ROUGH if rough else 0.0, start=start))

    def among_all(self, budget: int | None) -> tuple[Joined, Solved]:
        """The best choice over every key, where there aren't too many for that. Raises CannotPropose where none has so few."""
        if self.is_large:
            return self.among_few(budget)
        whole = self.joined(None)
        start = self.last[0].carried(self.last[1], whole) if self.last is not None else ()
        if self.last is None or not whole.within(budget).allows(start):
            few, first = self.among_few(budget, rough=True)
            if self.stopped() or not first.chosen:
                return few, first
            start = few.carried(first.chosen, whole)
        return whole, self._over_all(whole, budget, start)

    @property
    def is_large(self) -> bool:
        """Whether even the cheapest keys are too many to be looked at as a whole."""
        return len(self.joined(self.question.few).program.costs) > _LARGE

    def is_whole(self, over: Joined) -> bool:
        """Whether a program is the one over every key."""
        return over is self._joined.get(None)

    def _by_batches(self, over: Joined, program: Program, start: tuple[int, ...]) -> Solved:
        """A good choice where there is too much for the best: the lines of most people are chosen anew together, the others
        left as they are, then the next ones, and so on, as long as that makes it better and time is left."""
        lines = over.lines
        rest = set(range(len(program.costs))) - _variables(lines)
        start = start or self._kept(over, program)
        if not start:
            self.told("A first choice, line by line", None, -math.inf)
            latest = time.monotonic() + max(_FIRST_SECONDS, self.question.seconds)
            start = first_choice(program, lines, lambda: self.stopped() or time.monotonic() > latest)
        until = time.monotonic() + self.question.seconds
        best = Solved("feasible", start, program.cost_of(start), -math.inf)
        if not start:
            search = Search(max(_FIRST_SECONDS, self.question.seconds), gap=_ROUGH, stopped=self.stopped)
            best = self._among(program, rest | self._known_lines(over), Solved("none", (), math.inf, -math.inf), search)
        before = math.inf
        while best.chosen and before - best.cost > _ROUGH * best.cost:
            before = best.cost
            for n in range(0, len(lines), _BATCH):
                left = until - time.monotonic()
                if self.stopped() or left <= 0:
                    break
                search = Search(min(left, _BATCH_SECONDS), gap=_ROUGH, stopped=self.stopped)
                found = self._among(program, rest | _variables(lines[n : n + _BATCH]), best, search)
                best = found if found.chosen and found.cost <= best.cost else best
        if not best.chosen:
            return best
        self.told("Finding out how good it is", best.cost, -math.inf)
        relaxed = self.solver.relaxed(program, Search(_BOUND_SECONDS, stopped=self.stopped))
        bound = relaxed.cost if relaxed is not None else floor_of(program, best.cost)
        return best._replace(status="optimal" if best.cost - bound < 1 else "feasible", bound=bound)

    def _kept(self, over: Joined, program: Program) -> tuple[int, ...]:
        """What was found last, where that may still be chosen."""
        last = self.last[0].carried(self.last[1], over) if self.last is not None else ()
        return last if last and program.allows(last) else ()

    def _known_lines(self, over: Joined) -> set[int]:
        """The keys that lines had last, or the cheapest of each."""
        last = set(self.last[0].carried(self.last[1], over)) if self.last is not None else set()
        return {next((v for v in line if v in last), line[0]) for line in over.lines}

    def _over_all(self, whole: Joined, budget: int | None, start: tuple[int, ...]) -> Solved:
        """What the relaxation shows to be dearer than what there is already is left out first."""
        program = whole.within(budget)
        known = program.cost_of(start) if program.allows(start) else math.inf
        self.told("Choosing among all keys", known if known < math.inf else None, -math.inf)
        search = Search(self.question.seconds, start=start if known < math.inf else (), stopped=self.stopped)
        likely = self._likely(whole)
        relaxed = self.solver.relaxed(program, replace(search, likely=likely))
        if relaxed is None or known == math.inf:
            return self._run(program, search)
        best = Solved("feasible", start, known, relaxed.cost)
        left = _can_be_better(relaxed, best)
        if len(left) > _MANY:
            left.sort(key=lambda v: (relaxed.reduced[v], v))
            found = self._among(program, {*left[:_NEAR], *likely}, best, search)
            best = best if found.cost > best.cost else found._replace(status="feasible", bound=relaxed.cost)
            left = _can_be_better(relaxed, best)
        if best.cost - relaxed.cost < 1:  # points are whole
            return best._replace(status="optimal")
        if len(left) > _MANY or self.stopped():
            return best
        found = self._among(program, left, best, search)
        return found._replace(bound=min(max(found.bound, relaxed.cost), found.cost))

    def _among(self, program: Program, some: Iterable[int], best: Solved, search: Search) -> Solved:
        """The best among some variables and those of the best so far."""
        yes = set(best.chosen)
        left, of = program.without(set(range(len(program.costs))) - set(some) - yes)
        found = self._run(left, replace(search, start=tuple(n for n, v in enumerate(of) if v in yes)))
        return found._replace(chosen=tuple(of[n] for n in found.chosen))

    def _likely(self, whole: Joined) -> tuple[int, ...]:
        return self.joined(self.question.few).variables_in(whole)

    def bounds(self, budgets: Sequence[int]) -> list[float]:
        """What no choice over all keys can be below, for each of some budgets; minus infinity where that isn't known."""
        if self.is_large:
            return [-math.inf] * len(budgets)
        whole = self.joined(None)
        variables, times = whole.relearning
        row = Row(tuple(variables), tuple(times), None, math.inf)
        search = Search(self.question.seconds, likely=self._likely(whole), stopped=self.stopped)
        return self.solver.bounds(whole.program, search, row, budgets)

    def _run(self, program: Program, search: Search) -> Solved:
        def progress(chosen: tuple[int, ...], bound: float) -> None:
            self.told("", program.cost_of(chosen) if chosen else None, bound)

        return self.solver.solve(program, replace(search, stopped=self.stopped, progress=progress))

    def _begun(self, over: Joined, budget: int | None) -> tuple[int, ...]:
        """A choice to begin with where there is a budget: the last one where that keeps within it, else one with as little
        relearning as can be. Raises CannotPropose where even that is more than the budget."""
        if budget is None:
            return ()
        last = self.last[0].carried(self.last[1], over) if self.last is not None else ()
        if last and over.within(budget).allows(last):
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
        few = self.joined(self.question.few)
        of = [few.instances[nth].of_line.get((line, key)) for nth, line, key in without]
        asked = [v + few.shifts[nth] if v is not None else None for v, (nth, _, _) in zip(of, without, strict=True)]
        program, search = few.within(budget), Search(min(_PRICING, self.question.seconds), stopped=stopped)

        def priced() -> list[float | None]:
            found = self.solver.relaxed(program, search, [v for v in asked if v is not None])
            prices = found.prices if found is not None else {}
            return [prices.get(v) if v is not None else None for v in asked]

        return priced


def _variables(lines: Iterable[Iterable[int]]) -> set[int]:
    return {v for line in lines for v in line}


def _can_be_better(relaxed: Relaxed, best: Solved) -> list[int]:
    """The variables with which a choice may cost less than the best so far."""
    return [v for v, more in enumerate(relaxed.reduced) if relaxed.cost + more <= best.cost]
