"""From a question to a proposal: solved over the cheapest keys of each line, then over all, judged by the engine, and again
without what the engine doesn't like."""

import math
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from concurrent.futures import Future, ThreadPoolExecutor
from dataclasses import dataclass, field, replace
from functools import partial
from threading import Event

from amberkey.core.clashes.estate import Estate, Group
from amberkey.core.clashes.model import Clash
from amberkey.core.keys.platform import PLATFORM_NAMES, Platform
from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.proposing.explaining import Explainer, Held
from amberkey.core.proposing.freedom import taken_by
from amberkey.core.proposing.ground import Ground, Post, grounds_of
from amberkey.core.proposing.instance import Choice, Instance
from amberkey.core.proposing.joined import Joined, shapes_apart
from amberkey.core.proposing.offering import options_of
from amberkey.core.proposing.options import Candidate, Options, Wanted
from amberkey.core.proposing.program import Solved, Solver, Status
from amberkey.core.proposing.proposal import Judged, estate_under, judge, standard_of, together
from amberkey.core.proposing.question import CannotPropose, Question
from amberkey.core.proposing.searching import Searcher, Told
from amberkey.core.standard.compiling import LAYER, Compiler
from amberkey.core.standard.model import Standard
from amberkey.core.tasks.model import Family

_ROUNDS = 5
"""How often the engine may object before its word stands as a clash that the proposal names."""
_BAD = ("blocker", "high")


@dataclass(frozen=True, slots=True)
class ProposedLine:
    """A line as it is proposed: `tasks` of more than one keep one shape. `before`: the present key of each task, if any;
    `relearned` over all people, who are `people`; `better`: keys that others hold; `second`: points that doing without this
    key would cost, about; None where that isn't known."""

    platform: Platform
    wanted: Wanted
    candidate: Candidate
    before: Mapping[str, Shortcut]
    people: int
    relearned: int
    follow: tuple[str, ...]
    keep: tuple[str, ...]
    better: tuple[Held, ...]
    second: float | None


@dataclass(frozen=True, slots=True)
class Side:
    """What a proposal says of one platform. `changes`: commands that keep their own key against a line, or make room, each with
    why; `makes`: clashes that there weren't; `split`: families that can't be whole."""

    platform: Platform
    lines: tuple[ProposedLine, ...]
    changes: tuple[tuple[Choice, str], ...]
    judged: Judged
    today: Judged
    makes: tuple[Group, ...]
    split: tuple[Family, ...]


@dataclass(frozen=True)
class Proposal:
    """`cost`: the points of the program that was solved, `bound`: what no proposal can be below there; `judged` and `today` are
    the engine's figures under the proposal and as things stand, over all platforms that were asked for. `over_all`: whether
    the bound is one over every key, or over the cheapest of each line only."""

    question: Question
    status: Status
    standard: Standard
    sides: tuple[Side, ...]
    cost: float
    bound: float
    relearned: int
    judged: Judged
    today: Judged
    over_all: bool
    before: Estate = field(repr=False)
    after: Estate = field(repr=False)

    @property
    def gap(self) -> float:
        """How much cheaper any other proposal could be, as a share of this one's cost."""
        return 0.0 if self.cost <= 0 else max(0.0, (self.cost - self.bound) / self.cost)

    @property
    def lines(self) -> tuple[ProposedLine, ...]:
        """The lines of all platforms, one platform after the other."""
        return tuple(v for s in self.sides for v in s.lines)

    @property
    def changes(self) -> tuple[tuple[Choice, str], ...]:
        """The same of commands."""
        return tuple(c for s in self.sides for c in s.changes)

    @property
    def makes(self) -> tuple[Group, ...]:
        """The same of clashes."""
        return tuple(g for s in self.sides for g in s.makes)

    @property
    def split(self) -> tuple[Family, ...]:
        """Families that can't be whole on some platform."""
        return tuple({f.id: f for s in self.sides for f in s.split}.values())


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
        self.question, self.standard, self.stopped, self.told = question, standard, stopped, told
        self.compiler = compiler or Compiler()
        told("Reading who has what", None, -math.inf)
        grounds = grounds_of(question, estate, standard, self.compiler)
        for ground in grounds:
            _check(ground)
        told("Finding the keys that each task could have", None, -math.inf)
        self.options: tuple[Options, ...] = tuple(map(options_of, grounds))
        for own in self.options:
            _check_alone(own)
            _check_pins(own)
        self.searcher = Searcher(question, self.options, solver, stopped, told)
        self._after: tuple[Standard, Estate] | None = None
        self._today = [judge(own, standard, own.ground.now) for own in self.options]
        self.today = together(self._today, shapes_apart(self.options, standard))

    @property
    def ground(self) -> Ground:
        """Of the first platform."""
        return self.options[0].ground

    def propose(self, budget: int | None = None, *, over_all: bool = True) -> Proposal:
        """The best proposal for a budget: the most keys relearned, over all people; None: any number. Raises CannotPropose
        where none keeps within it."""
        if over_all and budget is None and self.searcher.is_large:
            return self._of_many()
        made = None
        if over_all and self.searcher.last is None:
            # Most of what the engine objects to it finds among few keys, where solving again is quick.
            made = self._settled(partial(self.searcher.among_few, budget))
        if made is None or not (self.searcher.is_large or self.stopped()):
            find = self.searcher.among_all if over_all and not self.stopped() else self.searcher.among_few
            made = self._settled(partial(find, budget))
        return made if self.stopped() else self._pricing(made, budget, self.stopped)()

    def _of_many(self) -> Proposal:
        """One among the cheapest keys of each task; meanwhile it is found out what none over all keys can be below."""
        ended = Event()
        with ThreadPoolExecutor(1) as beside:
            floor = beside.submit(self.searcher.floor, lambda: ended.is_set() or self.stopped())
            try:
                made = self._settled(partial(self.searcher.among_few, None))
                if self.stopped():
                    return made
                made = self._pricing(made, None, self.stopped)()
                bound = floor.result()
            finally:
                ended.set()
        if bound == -math.inf:
            return made
        status: Status = "optimal" if made.cost - bound < 1 else "feasible"
        return replace(made, status=status, bound=min(bound, made.cost), over_all=True)

    def curve(self, budgets: Sequence[int]) -> Iterator[Proposal]:
        """The best proposal for each budget. Raises CannotPropose where none keeps within one."""
        ended = Event()
        with ThreadPoolExecutor(1) as beside:  # the prices of a point are found while the next one is looked for
            priced: Future[Proposal] | None = None
            for n, budget in enumerate(budgets):
                if self.stopped():
                    ended.set()
                    break
                self.told(f"The curve: the best with {budget:,} keys relearned", None, -math.inf)
                try:
                    made = self._settled(partial(self.searcher.among_all, budget, budgets[n + 1 :]))
                except CannotPropose:
                    if priced is not None:
                        yield priced.result()  # what was found before stays
                    raise
                if priced is not None:
                    yield priced.result()
                priced = beside.submit(self._pricing(made, budget, ended.is_set))
            if priced is not None:
                yield priced.result()

    def _settled(self, find: Callable[[], tuple[Joined, Solved]]) -> Proposal:
        """What is found, without what the engine objects to."""
        for n in range(_ROUNDS):
            found, solved = find()
            if not solved.chosen:
                raise CannotPropose("No proposal was found in time.", "Give it longer, or pin less.")
            self.searcher.last = found, solved.chosen
            made, objected = self._made(found, solved)
            if not objected or n == _ROUNDS - 1 or self.stopped():
                break
            self.searcher.forbid(objected)
        return made

    def least_relearned(self) -> int | None:
        """How many keys have to be relearned at least, over all people, among the cheapest keys of each task; None where that
        wasn't found."""
        return self.searcher.least_relearned()

    def _made(self, found: Joined, solved: Solved) -> tuple[Proposal, set[tuple[int, Shortcut]]]:
        """The proposal of a choice, judged; and what the engine objects to: keys that clash after all."""
        self.told("Judging it", solved.cost, solved.bound)
        standard = self.standard
        meant = []
        for n, instance in enumerate(found.instances):
            chosen = found.of_platform(n, solved.chosen)
            explainer = Explainer(instance, chosen)
            lines, choices = instance.meaning(chosen)
            changes = [(c, explainer.why(c)) for c in choices if _is_told(c)]
            reasons = {c.post.name: why for c, why in changes}
            standard = standard_of(instance.options, lines, choices, reasons, standard)
            meant.append((explainer, lines, choices, changes))
        after = self._estate_under(standard)
        sides, objected = [], set()
        for own, today, (explainer, lines, choices, changes) in zip(self.options, self._today, meant, strict=True):
            setups = sorted({s.id for p in own.ground.places for s in p.setups})
            makes = tuple(own.ground.now.new_in(after, setups))
            told = [_line(explainer, wanted, candidate, choices) for wanted, candidate in lines]
            told.sort(key=lambda v: (-v.people, v.wanted.name))
            judged = judge(own, standard, after)
            sides.append(Side(own.question.platform, tuple(told), tuple(changes), judged, today, makes, own.split))
            bad = [g.clash for g in makes if g.clash.severity in _BAD]
            objected |= {pair for clash in bad for pair in _objected(clash, choices)}
        made = Proposal(
            question=self.question,
            status=solved.status,
            standard=standard,
            sides=tuple(sides),
            cost=solved.cost,
            bound=min(solved.bound, solved.cost),
            relearned=found.relearned_by(solved.chosen),
            judged=together([s.judged for s in sides], shapes_apart(self.options, standard)),
            today=self.today,
            over_all=self.searcher.is_whole(found),
            before=self.ground.now,
            after=after,
        )
        return made, objected - self.searcher.forbidden

    def _estate_under(self, standard: Standard) -> Estate:
        """The estate under a standard; the last one is at hand with all that was found in it."""
        if self._after is None or self._after[0] != standard:
            self._after = standard, estate_under(self.ground, standard, self.compiler)
        return self._after[1]

    def _pricing(self, made: Proposal, budget: int | None, stopped: Callable[[], bool]) -> Callable[[], Proposal]:
        """What makes the proposal that says what doing without each line's key would cost."""
        asked = [(n, id(v.wanted), v.candidate.shortcut) for n, side in enumerate(made.sides) for v in side.lines]
        pricing = self.searcher.pricing(budget, asked, stopped)

        def priced() -> Proposal:
            prices = iter(pricing())
            sides = tuple(replace(s, lines=tuple(replace(v, second=next(prices)) for v in s.lines)) for s in made.sides)
            return replace(made, sides=sides)

        return priced


def _line(explainer: Explainer, wanted: Wanted, candidate: Candidate, choices: Iterable[Choice]) -> ProposedLine:
    ground = explainer.instance.options.ground
    platform = ground.question.platform
    own = {id(p) for p in wanted.followers}
    here = [c for c in choices if id(c.post) in own]
    setups = {s.id: s for p in wanted.followers for place in p.places for s in place.setups}
    before = {
        t.id: v.shortcut for t in wanted.tasks for v in ground.standard.lines_of(t.id, platform) if v.layouts == wanted.layouts
    }
    relearned = sum(_relearned(explainer.instance, c) for c in here)
    names = {id(p): p.places[0].program.name for p in wanted.followers}
    follow = tuple(dict.fromkeys(names[id(c.post)] for c in here if c.does == "follows"))
    keep = tuple(dict.fromkeys(names[id(c.post)] for c in here if c.does == "keeps"))
    better = tuple(explainer.better(wanted, candidate))
    people = ground.base.people_of(setups.values())
    return ProposedLine(platform, wanted, candidate, before, people, relearned, follow, keep, better, None)


def _is_told(choice: Choice) -> bool:
    """Whether a word on a command is worth telling: it doesn't just follow, or have what it had."""
    return choice.does in ("moves", "loses", "clears") or (choice.does == "keeps" and choice.post.task is not None)


def _relearned(instance: Instance, choice: Choice) -> int:
    variable = instance.of.get((id(choice.post), choice.does, choice.shortcut))
    return instance.relearned.get(variable, 0) if variable is not None else 0


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
            f"Nobody works on {PLATFORM_NAMES[question.platform]}, so there is nothing to choose keys for.",
            "Choose a platform that machines have.",
        )
    if not any(p.task is not None for p in ground.posts):
        raise CannotPropose(
            f"No command of a program in use on {PLATFORM_NAMES[question.platform]} has a task.",
            "Give commands their tasks first.",
        )


def _check_pins(options: Options) -> None:
    """Raises CannotPropose where pins contradict each other, a ban, or what nobody can move."""
    question = options.question
    pinned: dict[Shortcut, str] = {}
    names = {t.id: t.name for t in options.ground.estate.tasks.tasks}
    by_task = {t.id: w for w in options.lines if w.pinned or not w.layouts for t in w.tasks}
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
            if any(id(p) in options.alone for p in followers):
                says = f"{key} is pinned for {names[task]}, and people who are left alone press another key for it."
                raise CannotPropose(says, "Pin their key, or don't leave them alone.")
            says = f"No program can be given {key} for {names[task]} without a clash that nobody can move."
            raise CannotPropose(says, "Pin another key.")


def _check_alone(options: Options) -> None:
    """Raises CannotPropose where people who are to be left alone would have to relearn a key."""
    for wanted in options.lines:
        for post in wanted.followers:
            offered = options.follows.get(id(post), {})
            if id(post) in options.held and not any(c.keys.get(post.task or "") in offered for c in wanted.candidates):
                name = next((t.name for t in wanted.tasks if t.id == post.task), wanted.name)
                raise CannotPropose(
                    f"Who is left alone has {name} by its present line, and that can't stay.",
                    "Take the pin or the ban that is against it back, or don't leave them alone.",
                )


def _share(one: Wanted | None, other: Wanted | None) -> bool:
    if one is None or other is None:
        return False
    return bool({p.program for p in one.followers} & {p.program for p in other.followers})
