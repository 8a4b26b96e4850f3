"""From a question to a proposal: solved over the cheapest keys of each line, then over all, judged by the engine, and again
without what the engine doesn't like."""

import math
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, field, replace

from amberkey.core.clashes.estate import Estate, Group
from amberkey.core.clashes.model import Clash
from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.proposing.explaining import Explainer, Held
from amberkey.core.proposing.ground import Ground, Post, ground_of
from amberkey.core.proposing.instance import Choice, Instance, instance_of
from amberkey.core.proposing.options import Candidate, Options, Wanted, options_of, taken_by
from amberkey.core.proposing.program import Program, Search, Solved, Solver, Status
from amberkey.core.proposing.proposal import Judged, estate_under, judge, standard_of
from amberkey.core.proposing.question import CannotPropose, Question
from amberkey.core.standard.compiling import LAYER, Compiler
from amberkey.core.standard.model import Standard
from amberkey.core.tasks.model import Family

_ROUNDS = 5
"""How often the engine may object before its word stands as a clash that the proposal names."""
_ROUGH = 0.002
"""How good a choice among few keys has to be that is only begun with."""
_BAD = ("blocker", "high")


@dataclass(frozen=True, slots=True)
class ProposedLine:
    """A line as it is proposed: `tasks` of more than one keep one shape. `before`: the present key of each task, if any;
    `relearned` over all people, who are `people`; `better`: keys that others hold; `second`: points that doing without this
    key would cost, about; None where that isn't known."""

    wanted: Wanted
    candidate: Candidate
    before: Mapping[str, Shortcut]
    people: int
    relearned: int
    follow: tuple[str, ...]
    keep: tuple[str, ...]
    better: tuple[Held, ...]
    second: float | None


@dataclass(frozen=True)
class Proposal:
    """`cost`: the points of the program that was solved, `bound`: what no proposal can be below there; `judged` and `today` are
    the engine's figures under the proposal and as things stand. `makes`: clashes that there weren't. `over_all`: whether every
    key was looked at, or the cheapest of each line only."""

    question: Question
    status: Status
    standard: Standard
    lines: tuple[ProposedLine, ...]
    changes: tuple[tuple[Choice, str], ...]
    """Commands that keep their own key against a line, or make room, each with why."""
    cost: float
    bound: float
    relearned: int
    judged: Judged
    today: Judged
    makes: tuple[Group, ...]
    split: tuple[Family, ...]
    over_all: bool
    before: Estate = field(repr=False)
    after: Estate = field(repr=False)

    @property
    def gap(self) -> float:
        """How much cheaper any other proposal could be, as a share of this one's cost."""
        return 0.0 if self.cost <= 0 else max(0.0, (self.cost - self.bound) / self.cost)


Told = Callable[[str, float | None, float], None]
"""Told how far it is: what is being done, the points of the best so far, the bound."""


def _untold(doing: str, cost: float | None, bound: float) -> None:
    """Nobody asks."""


class Proposer:
    """Answers questions about one estate and standard: what they share is worked out once."""

    def __init__(
        self,
        question: Question,
        estate: Estate,
        standard: Standard,
        solver: Solver,
        *,
        compiler: Compiler | None = None,
        stopped: Callable[[], bool] = lambda: False,
        told: Told = _untold,
    ) -> None:
        """Raises CannotPropose where nothing can be proposed at all."""
        self.question, self.solver, self.stopped, self.told = question, solver, stopped, told
        self.compiler = compiler or Compiler()
        told("Reading who has what", None, -math.inf)
        self.ground: Ground = ground_of(question, estate, standard, self.compiler)
        _check(self.ground)
        told("Finding the keys that each task could have", None, -math.inf)
        self.options: Options = options_of(self.ground)
        _check_pins(self.options)
        self.today = judge(self.options, standard, self.ground.now)
        self.forbidden: set[tuple[int, Shortcut]] = set()
        self._instances: dict[int | None, Instance] = {}
        self._last: tuple[Instance, tuple[int, ...]] | None = None

    def instance(self, few: int | None) -> Instance:
        """The program over a few of the keys of each line, or all."""
        found = self._instances.get(few)
        if found is None:
            found = self._instances[few] = instance_of(self.options, few, self.forbidden)
        return found

    def propose(self, budget: int | None = None, *, over_all: bool = True) -> Proposal:
        """The best proposal for a budget: the most keys relearned, over all people; None: any number. Raises CannotPropose
        where none keeps within it."""
        for n in range(_ROUNDS):
            instance, solved = self._solved(budget, over_all=over_all)
            if not solved.chosen:
                raise CannotPropose("No proposal was found in time.", "Give it longer, or pin less.")
            self._last = instance, solved.chosen
            made, objected = self._made(instance, solved)
            if not objected or n == _ROUNDS - 1 or self.stopped():
                break
            self.forbidden |= objected
            self._instances.clear()
        return made if self.stopped() else self._with_prices(made, budget)

    def _solved(self, budget: int | None, *, over_all: bool) -> tuple[Instance, Solved]:
        if over_all and self._last is not None:
            whole = self.instance(None)
            start = _carried(*self._last, whole)
            if _within(whole, budget).allows(start):
                return whole, self._over_all(whole, budget, start)
        few = self.instance(self.question.few)
        self.told(f"Choosing among the {self.question.few} cheapest keys of each task", None, -math.inf)
        start = self._begun(few, budget)
        first = self._run(few, budget, Search(self.question.seconds, gap=_ROUGH if over_all else 0.0, start=start))
        if not over_all or self.stopped() or not first.chosen:
            return few, first
        whole = self.instance(None)
        return whole, self._over_all(whole, budget, _carried(few, first.chosen, whole))

    def _over_all(self, whole: Instance, budget: int | None, start: tuple[int, ...]) -> Solved:
        """The best over every key: what the relaxation shows to be dearer than what there is already is left out first."""
        program = _within(whole, budget)
        known = program.cost_of(start) if program.allows(start) else math.inf
        self.told("Choosing among all keys", known if known < math.inf else None, -math.inf)
        search = Search(self.question.seconds, start=start if known < math.inf else (), stopped=self.stopped)
        relaxed = self.solver.relaxed(program, search)
        if relaxed is not None and known < math.inf:
            yes = set(start)
            dear = (v for v, r in enumerate(relaxed.reduced) if relaxed.cost + r > known and v not in yes)
            search = replace(search, fixed=tuple((v, False) for v in dear))
        found = self._run(whole, budget, search)
        bound = max(found.bound, relaxed.cost) if relaxed is not None else found.bound
        return found._replace(bound=min(bound, found.cost))

    def _run(self, instance: Instance, budget: int | None, search: Search) -> Solved:
        program = _within(instance, budget)

        def progress(chosen: tuple[int, ...], bound: float) -> None:
            self.told("", program.cost_of(chosen) if chosen else None, bound)

        return self.solver.solve(program, replace(search, stopped=self.stopped, progress=progress))

    def _begun(self, instance: Instance, budget: int | None) -> tuple[int, ...]:
        """A choice to begin with where there is a budget: the last one where that keeps within it, else one with as little
        relearning as can be. Raises CannotPropose where even that is more than the budget."""
        if budget is None:
            return ()
        last = _carried(*self._last, instance) if self._last is not None else ()
        if last and _within(instance, budget).allows(last):
            return last
        found = self._with_least(instance)
        if found.chosen and found.bound > budget:
            raise CannotPropose(
                f"{math.ceil(found.bound):,} keys have to be relearned at least, and {budget:,} are allowed.",
                "Allow more, or pin less.",
            )
        return found.chosen if found.cost <= budget else ()

    def _with_least(self, instance: Instance) -> Solved:
        relearned = [float(instance.relearned.get(v, 0)) for v in range(len(instance.program.costs))]
        search = Search(self.question.seconds, stopped=self.stopped)
        return self.solver.solve(Program(relearned, instance.program.rows), search)

    def least_relearned(self) -> int | None:
        """How many keys have to be relearned at least, over all people, among the cheapest keys of each task; None where that
        wasn't found."""
        found = self._with_least(self.instance(self.question.few))
        return round(found.cost) if found.chosen else None

    def _made(self, instance: Instance, solved: Solved) -> tuple[Proposal, set[tuple[int, Shortcut]]]:
        """The proposal of a choice, judged; and what the engine objects to: keys that clash after all."""
        self.told("Judging it", solved.cost, solved.bound)
        explainer = Explainer(instance, solved.chosen)
        lines, choices = instance.meaning(solved.chosen)
        changes = [(c, explainer.why(c)) for c in choices if _is_told(c)]
        reasons = {c.post.name: why for c, why in changes}
        standard = standard_of(self.options, lines, choices, reasons)
        after = estate_under(self.ground, standard, self.compiler)
        setups = sorted({s.id for p in self.ground.places for s in p.setups})
        makes = tuple(self.ground.now.new_in(after, setups))
        told = tuple(self._line(explainer, wanted, candidate, choices) for wanted, candidate in lines)
        made = Proposal(
            question=self.question,
            status=solved.status,
            standard=standard,
            lines=tuple(sorted(told, key=lambda v: (-v.people, v.wanted.name))),
            changes=tuple(changes),
            cost=solved.cost,
            bound=min(solved.bound, solved.cost),
            relearned=instance.relearned_by(solved.chosen),
            judged=judge(self.options, standard, after),
            today=self.today,
            makes=makes,
            split=self.options.split,
            over_all=instance is self._instances.get(None),
            before=self.ground.now,
            after=after,
        )
        bad = [g.clash for g in makes if g.clash.severity in _BAD]
        return made, {pair for clash in bad for pair in _objected(clash, choices)} - self.forbidden

    def _line(self, explainer: Explainer, wanted: Wanted, candidate: Candidate, choices: Iterable[Choice]) -> ProposedLine:
        own = {id(p) for p in wanted.followers}
        here = [c for c in choices if id(c.post) in own]
        setups = {s.id: s for p in wanted.followers for place in p.places for s in place.setups}
        platform = self.question.platform
        before = {
            t.id: v.shortcut
            for t in wanted.tasks
            for v in self.ground.standard.lines_of(t.id, platform)
            if v.layouts == wanted.layouts
        }
        relearned = sum(_relearned(explainer.instance, c) for c in here)
        names = {id(p): p.places[0].program.name for p in wanted.followers}
        follow = tuple(dict.fromkeys(names[id(c.post)] for c in here if c.does == "follows"))
        keep = tuple(dict.fromkeys(names[id(c.post)] for c in here if c.does == "keeps"))
        better = tuple(explainer.better(wanted, candidate))
        people = self.ground.base.people_of(setups.values())
        return ProposedLine(wanted, candidate, before, people, relearned, follow, keep, better, None)

    def _with_prices(self, made: Proposal, budget: int | None) -> Proposal:
        """What doing without each line's key would cost, from the relaxation: near the exact price, found in a moment."""
        few = self.instance(self.question.few)
        lines = [few.of_line.get((v.wanted.name, v.candidate.shortcut)) for v in made.lines]
        search = Search(self.question.seconds, stopped=self.stopped)
        found = self.solver.relaxed(_within(few, budget), search, [v for v in lines if v is not None])
        prices = found.prices if found is not None else {}
        told = (
            replace(line, second=prices.get(v) if v is not None else None) for line, v in zip(made.lines, lines, strict=True)
        )
        return replace(made, lines=tuple(told))


def _is_told(choice: Choice) -> bool:
    """Whether a word on a command is worth telling: it doesn't just follow, or have what it had."""
    return choice.does in ("moves", "loses", "clears") or (choice.does == "keeps" and choice.post.task is not None)


def _relearned(instance: Instance, choice: Choice) -> int:
    variable = instance.of.get((id(choice.post), choice.does, choice.shortcut))
    return instance.relearned.get(variable, 0) if variable is not None else 0


def _within(instance: Instance, budget: int | None) -> Program:
    """The program with a budget of relearning, if there is one."""
    program = instance.program
    if budget is None:
        return program
    found = sorted(instance.relearned.items())
    within = Program(program.costs, list(program.rows), program.offset)
    within.at_most(budget, [v for v, _ in found], [float(n) for _, n in found])
    return within


def _carried(one: Instance, chosen: Iterable[int], other: Instance) -> tuple[int, ...]:
    """A choice of one instance as another one of the same options says it, as far as it can be said there."""
    lines, choices = one.meaning(chosen)
    found = {other.of_line[w.name, c.shortcut] for w, c in lines if (w.name, c.shortcut) in other.of_line}
    found |= {other.of[id(c.post), c.does, c.shortcut] for c in choices if (id(c.post), c.does, c.shortcut) in other.of}
    found |= {v for (_, does, _), v in other.of.items() if does == "further" and v not in found}
    return other.with_both(found)


def _objected(clash: Clash, choices: Iterable[Choice]) -> Iterable[tuple[int, Shortcut]]:
    """The new keys that are in a clash."""
    for binding in clash.parties:
        if binding.layer == LAYER:
            for choice in choices:
                same = choice.post.program == binding.program.id and binding.command.id in _ids(choice.post)
                if same and choice.does in ("follows", "moves"):
                    yield id(choice.post), choice.shortcut


def _ids(post: Post) -> set[str]:
    return {post.in_place(p).id for p in post.places}


def _check(ground: Ground) -> None:
    question = ground.question
    if not ground.places:
        raise CannotPropose(
            f"Nobody works on {question.platform}, so there is nothing to choose keys for.",
            "Choose a platform that machines have.",
        )
    if not any(p.task is not None for p in ground.posts):
        raise CannotPropose("No command of a program in use has a task.", "Give commands their tasks first.")


def _check_pins(options: Options) -> None:
    """Raises CannotPropose where pins contradict each other, a ban, or what nobody can move."""
    question = options.question
    pinned: dict[Shortcut, str] = {}
    names = {t.id: t.name for t in options.ground.estate.tasks.tasks}
    by_task = {t.id: w for w in options.lines for t in w.tasks}
    for task, key in sorted(question.pins.items()):
        if task not in names:
            raise CannotPropose(f"There is no task {task}.", "Pin a task that there is.")
        if key in question.bans:
            raise CannotPropose(f"{key} is pinned for {names[task]} and banned.", "Take one of the two back.")
        if key in question.without.get(task, ()):
            raise CannotPropose(f"{key} is pinned for {names[task]} and banned for it.", "Take one of the two back.")
        if key in pinned:
            other = pinned[key]
            if _share(by_task.get(task), by_task.get(other)):
                raise CannotPropose(
                    f"{key} is pinned for {names[other]} and for {names[task]}, and a program has both.", "Pin one of them."
                )
        pinned[key] = task
        wanted = by_task.get(task)
        followers = wanted.followers if wanted is not None else ()
        taken = [taken_by(p, key) for p in followers]
        if followers and all(taken):
            says = f"Nobody can have {key} for {names[task]}: {taken[0]} is before every program."
            raise CannotPropose(says, "Pin another key.")
        if followers and not any(key in options.follows.get(id(p), {}) for p in followers):
            says = f"No program can be given {key} for {names[task]} without a clash that nobody can move."
            raise CannotPropose(says, "Pin another key.")


def _share(one: Wanted | None, other: Wanted | None) -> bool:
    if one is None or other is None:
        return False
    return bool({p.program for p in one.followers} & {p.program for p in other.followers})
