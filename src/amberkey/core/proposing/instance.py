"""The question as an integer program: what each variable means, and which of them exclude each other.

Rows are cliques: of the new keys on one stroke, wherever the focus may be, and each key that would stay there, one at most.
"""

from collections import Counter
from collections.abc import Collection, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from functools import cached_property
from typing import Literal, NamedTuple

from amberkey.core.clashes.binding import Binding
from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.layouts.keyboard import Way
from amberkey.core.layouts.stroke import Stroke
from amberkey.core.proposing.ground import Hearing, Place, Post
from amberkey.core.proposing.options import Candidate, Option, Options, Wanted
from amberkey.core.proposing.program import Program
from amberkey.core.standard.compiling import LAYER

Does = Literal["follows", "keeps", "moves", "loses", "further", "clears"]


_SPREAD = 3
"""So many keys of a line are looked at because few others have them, however cheap they are."""
MEANINGS = 4
"""So many tasks of the same people may have one key at most, unless more are settled beforehand."""
Terms = tuple[int, ...]
"""Variables of which one at most can be yes: something is so where one is."""


class Choice(NamedTuple):
    """What a variable says of a command: it follows its line with a key, keeps its own, moves to a key, loses its own, or
    keeps one of its further keys; without that it `clears` it."""

    post: Post
    does: Does
    shortcut: Shortcut


@dataclass(eq=False)
class Instance:
    """`lines` and `posts` tell what variables mean: the key of a line, the word on a command. `relearned`: by variable, the
    people who relearn."""

    options: Options
    program: Program = field(default_factory=Program)
    lines: dict[int, tuple[Wanted, Candidate]] = field(default_factory=dict)
    posts: dict[int, Choice] = field(default_factory=dict)
    relearned: dict[int, int] = field(default_factory=dict)
    of: dict[tuple[int, Does, Shortcut], int] = field(default_factory=dict)
    """By post, word and key the variable."""
    of_line: dict[tuple[int, Shortcut], int] = field(default_factory=dict)
    """By line and its first key the variable."""
    both: dict[int, tuple[Terms, Terms]] = field(default_factory=dict)
    """By variable, two keys that clash where both stay: it is yes where they do."""
    meanings: list[tuple[Terms, Terms]] = field(default_factory=list)
    """Lines with one key that the same people have, and the variables that pay for it: one yes for each but the first."""

    def relearned_by(self, chosen: Iterable[int]) -> int:
        """How many keys are relearned, over all people."""
        return sum(self.relearned.get(v, 0) for v in chosen)

    def with_both(self, chosen: Iterable[int]) -> tuple[int, ...]:
        """A choice with what follows from it: the pairs of keys that clash since both stay, the keys with several meanings."""
        yes = set(chosen) - self.both.keys() - {v for _, paying in self.meanings for v in paying}
        for lines, paying in self.meanings:
            yes.update(paying[: max(0, len(yes.intersection(lines)) - 1)])
        yes |= {v for v, (one, other) in self.both.items() if not yes.isdisjoint(one) and not yes.isdisjoint(other)}
        return tuple(sorted(yes))

    def meaning(self, chosen: Iterable[int]) -> tuple[list[tuple[Wanted, Candidate]], list[Choice]]:
        """What a choice says of lines and of commands."""
        yes = set(chosen)
        posts = [
            c._replace(does="clears") if v not in yes else c for v, c in self.posts.items() if v in yes or c.does == "further"
        ]
        return [own for v, own in self.lines.items() if v in yes], posts


def instance_of(options: Options, few: int | None = None, forbidden: Iterable[tuple[int, Shortcut]] = ()) -> Instance:
    """The program of some options. `few`: so many of the cheapest keys of each line, and its present one, are looked at; None:
    all. `forbidden`: by post, keys that the engine found to clash after all."""
    return _Maker(options, few, frozenset(forbidden)).make()


class _Here(NamedTuple):
    """A key of a program on a stroke, as far as it hangs on what is chosen."""

    terms: Terms
    way: Way
    scope: str
    task: str | None


class _Maker:
    def __init__(self, options: Options, few: int | None, forbidden: frozenset[tuple[int, Shortcut]]) -> None:
        self.options, self.few, self.forbidden = options, few, forbidden
        self.ground = options.ground
        self.weights = options.question.weights
        self.made = Instance(options)
        self.program = self.made.program
        self.followers: set[int] = set()
        self.own: dict[int, list[tuple[Shortcut, int]]] = {}
        self.rows: set[frozenset[int]] = set()
        self.new_at: dict[int, dict[Stroke, list[_Here]]] = {}
        self.stay_at: dict[int, dict[Stroke, list[_Here]]] = {}
        self.offered: dict[tuple[int, int, str], list[tuple[_Here, frozenset[int]]]] = {}

    def make(self) -> Instance:
        for wanted in self.options.lines:
            self._line(wanted)
        self._others()
        for place in self.ground.places:
            self.new_at[id(place)] = self._new(place)
        for place in self.ground.places:
            self.stay_at[id(place)] = self._staying(place)
        for place in self.ground.places:
            self._cliques(place)
            self._with_browsers(place)
        for row in _without_subsets(self.rows):
            self.program.at_most(1, sorted(row))
        self._clashes_that_stay()
        self._several_meanings()
        return self.made

    def _post(self, post: Post, does: Does, shortcut: Shortcut, cost: float, relearned: int) -> int:
        found = self.program.variable(cost)
        self.made.posts[found] = Choice(post, does, shortcut)
        self.made.of[id(post), does, shortcut] = found
        if relearned:
            self.made.relearned[found] = relearned
        return found

    def _line(self, wanted: Wanted) -> None:
        candidates = self._looked_at(wanted)
        chosen = []
        for candidate in candidates:
            found = self.program.variable(candidate.cost)
            self.made.lines[found] = wanted, candidate
            self.made.of_line[id(wanted), candidate.shortcut] = found
            chosen.append(found)
        self.program.exactly(1, chosen)
        for post in wanted.followers:
            self.followers.add(id(post))
            stays = self.options.stays[id(post)]
            own = [self._post(post, "keeps", Shortcut(()), stays.cost, stays.relearned)]
            by_key: dict[Shortcut, list[int]] = {}
            for line, candidate in zip(chosen, candidates, strict=True):
                by_key.setdefault(candidate.keys[post.task or ""], []).append(line)
            for key, lines in by_key.items():
                option = self.options.follows.get(id(post), {}).get(key)
                if option is None or (id(post), key) in self.forbidden:
                    continue
                follows = self._post(post, "follows", key, option.cost, option.relearned)
                self.own.setdefault(id(post), []).append((key, follows))
                own.append(follows)
                self.program.at_most(0, [follows, *lines], [1.0, *[-1.0] * len(lines)])
                if any(t.protected for t in wanted.tasks) and not option.relearned and not option.new:
                    self.program.at_most(0, own[:1])  # nothing takes the press of a protected task
            if id(post) in self.options.held and own[1:]:
                self.program.at_most(0, own[:1])
            self.program.exactly(1, own)

    def _looked_at(self, wanted: Wanted) -> Sequence[Candidate]:
        if self.few is None:
            return wanted.candidates
        present = {
            v.shortcut
            for t in wanted.tasks[:1]
            for v in self.ground.standard.lines_of(t.id, self.options.question.platform)
            if v.layouts == wanted.layouts
        }
        spread = self._spread[id(wanted)]
        return [c for n, c in enumerate(wanted.candidates) if n < self.few or c.shortcut in present or c.shortcut in spread]

    @cached_property
    def _spread(self) -> Mapping[int, Collection[Shortcut]]:
        """For each line, those of most people first, the cheapest keys that fewest lines before it have: where there are many
        lines, the cheapest keys of all of them are the same ones, and too few for all."""
        taken: Counter[Shortcut] = Counter()
        found: dict[int, Collection[Shortcut]] = {}
        for wanted in sorted(self.options.lines, key=lambda w: -sum(p.people for post in w.followers for p in post.free)):
            ordered = sorted(wanted.candidates, key=lambda c: max(taken[k] for k in c.keys.values()))
            own = found[id(wanted)] = [c.shortcut for c in ordered[:_SPREAD]]
            taken.update(own)
        return found

    def _others(self) -> None:
        """Commands that no line speaks of: they keep their keys, or make room."""
        for post in self.ground.posts:
            if id(post) in self.followers or not post.free or post.program in self.options.question.spared or post.excepted:
                continue
            shortcuts = {b.shortcut for place in post.free for b in post.bindings(place)[:1]}
            if not shortcuts:
                continue
            keeps = self._post(post, "keeps", Shortcut(()), self.options.stays[id(post)].cost, 0)
            if post.lacking or post.places[0].takes_from_all:
                self.program.exactly(1, [keeps])
                continue
            is_alone = id(post) in self.options.alone
            further = any(len(post.bindings(place)) > 1 for place in post.free)
            weight = self.weights.cleared if further else self.weights.lost
            lost = [] if is_alone else [self._post(post, "loses", Shortcut(()), weight * post.weight(post.free), 0)]
            moves = []
            for option in self.options.moves.get(id(post), {}).values() if not further else ():
                if (id(post), option.shortcut) not in self.forbidden:
                    moves.append(self._post(post, "moves", option.shortcut, option.cost, option.relearned))
            if id(post) in self.options.held and moves:
                self.program.at_most(0, [keeps])
            self.program.exactly(1, [keeps, *lost, *moves])

    def _new(self, place: Place) -> dict[Stroke, list[_Here]]:
        """The keys that commands would have here and have neither by themselves nor now, by their first strokes."""
        found: dict[Stroke, list[_Here]] = {}
        here = id(place)
        for post in self.ground.at.get(here, ()):
            if place in post.free:
                now = self._now(post, place)
                for one, new in self._offered(post, place.hearing, post.in_place(place).scope):
                    if here in new and one.way not in now:
                        found.setdefault(one.way[0], []).append(one)
        return found

    def _offered(self, post: Post, hearing: Hearing, scope: str) -> list[tuple[_Here, frozenset[int]]]:
        """Every key that a command could have before a keyboard, with the places in which it would be new."""
        found = self.offered.get((id(post), id(hearing), scope))
        if found is None:
            options: list[tuple[Option, int]] = [
                (self.options.follows[id(post)][key], variable) for key, variable in self.own.get(id(post), ())
            ]
            options += [
                (option, variable)
                for option in self.options.moves.get(id(post), {}).values()
                if (variable := self.made.of.get((id(post), "moves", option.shortcut))) is not None
            ]
            found = self.offered[id(post), id(hearing), scope] = [
                (_Here((variable,), way, scope, post.task), option.new)
                for option, variable in options
                if option.new
                for way in hearing.ways(option.shortcut)[0]
            ]
        return found

    def _now(self, post: Post, place: Place) -> frozenset[Way]:
        """The ways in which a line gives a command its keys here now."""
        return frozenset(way for b in post.now(place) if b.live and b.layer == LAYER for way in b.ways)

    def _staying(self, place: Place) -> dict[Stroke, list[_Here]]:
        """The keys that commands have here by themselves or now, and what has to be chosen for them to stay."""
        wanted = set(self.new_at[id(place)])
        for other in self.ground.places:
            if place.part in other.browsers:
                wanted |= self.new_at[id(other)].keys()
        found: dict[Stroke, list[_Here]] = {}
        for post in self.ground.at.get(id(place), ()):
            if place not in post.free:
                continue
            for n, binding in enumerate(post.bindings(place)):
                for way in binding.ways if binding.live else ():
                    if way[0] in wanted:
                        terms = self._terms(post, place, binding, first=n == 0)
                        if terms:
                            found.setdefault(way[0], []).append(_Here(terms, way, binding.scope, post.task))
            for binding, terms in self._by_lines(post, place):
                for way in binding.ways:
                    if way[0] in wanted:
                        found.setdefault(way[0], []).append(_Here(terms, way, binding.scope, post.task))
        return found

    def _by_lines(self, post: Post, place: Place) -> Iterator[tuple[Binding, Terms]]:
        """The keys that a line gives a command here now, each with what has to be chosen for it to stay."""
        for binding in post.now(place):
            if binding.live and binding.layer == LAYER:
                same = tuple(
                    v
                    for key, v in self.own.get(id(post), ())
                    if place.ways(key) == binding.ways and id(place) in self.options.follows[id(post)][key].new
                )
                if same:
                    yield binding, same

    def _terms(self, post: Post, place: Place, binding: Binding, *, first: bool) -> Terms:
        """What has to be chosen for a key to stay; empty where it stays whatever is chosen."""
        keeps = self.made.of.get((id(post), "keeps", Shortcut(())))
        if keeps is None:
            return ()
        if first:
            same = [v for key, v in self.own.get(id(post), ()) if place.ways(key) == binding.ways]
            return (keeps, *same)
        return (self._further(post, binding.shortcut),)

    def _further(self, post: Post, shortcut: Shortcut) -> int:
        known = self.made.of.get((id(post), "further", shortcut))
        if known is None:
            weight = self.weights.cleared * post.weight(post.free)
            self.program.offset += weight
            known = self._post(post, "further", shortcut, -weight, 0)
            if id(post) in self.options.alone:
                self.program.exactly(1, [known])
        return known

    def _cliques(self, place: Place) -> None:
        scopes = [frozenset(s.id for s in place.program.outward(leaf)) for leaf in _leaves(place)]
        staying = self.stay_at[id(place)]
        for stroke, new in self.new_at[id(place)].items():
            for path in scopes:
                here = [h for h in new if h.scope in path]
                if here:
                    self._exclude(here, [h for h in staying.get(stroke, ()) if h.scope in path])

    def _exclude(self, new: Sequence[_Here], staying: Sequence[_Here]) -> None:
        """Of new keys on a first stroke one at most, and beside it none that stays. Sequences that part later don't meet."""
        ways = dict.fromkeys(h.way for h in (*new, *staying))
        # A single press meets all that begin with it, so that sequences say nothing beside it.
        single = any(len(w) == 1 for w in ways)
        for way in (None,) if single else ways:
            together = frozenset(v for h in new if way is None or _meet(h.way, way) for v in h.terms)
            beside = [h for h in staying if way is None or _meet(h.way, way)]
            for one in beside:
                if together - set(one.terms):
                    self.rows.add(together | set(one.terms))
            if not beside and len(together) > 1:
                self.rows.add(together)

    def _with_browsers(self, place: Place) -> None:
        """A page and the browser around it don't want the same press, unless it does the same task in both."""
        for browser in place.browsers:
            around = self.ground.place_of(browser, place)
            if around is None:
                continue
            root = around.program.root.id
            for stroke, page in self.new_at[id(place)].items():
                own = [h for h in self.new_at[id(around)].get(stroke, ()) if h.scope == root]
                own += [h for h in self.stay_at[id(around)].get(stroke, ()) if h.scope == root]
                self._apart(page, own)
            for stroke, own in self.new_at[id(around)].items():
                self._apart(self.stay_at[id(place)].get(stroke, ()), [h for h in own if h.scope == root])

    def _apart(self, page: Sequence[_Here], own: Sequence[_Here]) -> None:
        several = len(page) > 1 and any(len(h.terms) > 1 for h in page)
        others: dict[str | None, frozenset[int]] = {}
        for one in own:
            against = others.get(one.task)
            if against is None:
                against = frozenset(v for h in page if h.task is None or h.task != one.task for v in h.terms)
                others[one.task] = against
            if several:
                for h in page:
                    if h.task is None or h.task != one.task:
                        self.rows.add(frozenset(h.terms) | set(one.terms))
            elif against:
                self.rows.add(against | set(one.terms))

    def _clashes_that_stay(self) -> None:
        """What makers, or hands, let clash within a program, while both keys stay: points for each person."""
        found: dict[tuple[Terms, Terms], float] = {}
        for place in self.ground.places:
            posts = {p.in_place(place).id: p for p in self.ground.at.get(id(place), ()) if place in p.free}
            told: set[str] = set()
            for clash in (*place.within, *place.within_now):
                if clash.identity in told:
                    continue
                told.add(clash.identity)
                points = float(self.weights.clashes[clash.severity] * place.people)
                sides = [self._side(place, posts, b) for b in (clash.holder, clash.loser) if b is not None]
                if any(s is None for s in sides):
                    continue
                known = [s for s in sides if s]
                if not known:
                    self.program.offset += points
                elif len(known) == 1:
                    for variable in known[0]:
                        self.program.costs[variable] += points
                else:
                    one, other = sorted(known)
                    found[one, other] = found.get((one, other), 0.0) + points
        for (one, other), points in sorted(found.items()):
            if set(one) & set(other):
                continue
            both = self.program.variable(points)
            self.made.both[both] = one, other
            self.program.at_most(1, [*one, *other, both], [*[1.0] * (len(one) + len(other)), -1.0])

    def _several_meanings(self) -> None:
        """One key for several tasks of the same people: points for each task but the first, and no key has more than a few."""
        if not self.weights.two_meanings:
            return
        people_of: dict[Terms, int] = {}
        choices = Counter(id(wanted) for wanted, _ in self.made.lines.values())
        for people, tasks in self.options.audiences:
            by_key: dict[Shortcut, dict[int, int]] = {}
            for variable, (wanted, candidate) in self.made.lines.items():
                for task, key in candidate.keys.items():
                    if (id(wanted), task) in tasks:
                        by_key.setdefault(key, {})[variable] = id(wanted)
            for variables in by_key.values():
                if len(set(variables.values())) > 1:
                    lines = tuple(variables)
                    people_of[lines] = people_of.get(lines, 0) + people
        for lines, people in people_of.items():
            points = float(self.weights.two_meanings * people)
            settled = sum(choices[id(self.made.lines[v][0])] == 1 for v in lines)  # nobody can choose another key there
            paying = tuple(self.program.variable(points) for _ in range(max(settled, min(len(lines), MEANINGS)) - 1))
            self.made.meanings.append((lines, paying))
            self.program.at_most(1, [*lines, *paying], [*[1.0] * len(lines), *[-1.0] * len(paying)])

    def _side(self, place: Place, posts: Mapping[str, Post], binding: Binding) -> Terms | None:
        """What has to be chosen for a key to stay: nothing where it stays anyway, None where it can't."""
        post = posts.get(binding.command.id)
        if post is None or binding.arguments or binding.placed is not None:
            return ()
        own = post.bindings(place)
        n = next((n for n, b in enumerate(own) if b.shortcut == binding.shortcut), None)
        if n is not None:
            return self._terms(post, place, own[n], first=n == 0)
        return next((terms for b, terms in self._by_lines(post, place) if b.shortcut == binding.shortcut), None)


def _leaves(place: Place) -> Iterator[str]:
    """The scopes with nothing inside them: each has a path of scopes that can hear a press together."""
    parents = {s.parent for s in place.program.scopes}
    return (s.id for s in place.program.scopes if s.id not in parents)


def _meet(one: Way, other: Way) -> bool:
    """Whether one of two ways is, or begins, the other."""
    short, long = sorted((one, other), key=len)
    return long[: len(short)] == short


def _without_subsets(rows: Iterable[frozenset[int]]) -> Iterator[frozenset[int]]:
    """Those that no other one has in it, in a fixed order."""
    ordered = sorted(rows, key=lambda r: (-len(r), sorted(r)))
    having: dict[int, list[int]] = {}
    kept: list[frozenset[int]] = []
    for row in ordered:
        rarest = min(row, key=lambda v: len(having.get(v, ())))
        if any(row <= kept[n] for n in having.get(rarest, ())):
            continue
        for v in row:
            having.setdefault(v, []).append(len(kept))
        kept.append(row)
        yield row
