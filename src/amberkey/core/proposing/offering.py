"""Works out what could be chosen: for each line the keys that it could have, for each command what it could follow."""

from collections.abc import Callable, Iterable, Iterator, Mapping, Set
from dataclasses import dataclass, field
from functools import cached_property

from amberkey.core.clashes.binding import Binding
from amberkey.core.keys.platform import PLATFORMS
from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.layouts.keyboard import Way
from amberkey.core.proposing.costs import line_cost, reach_points
from amberkey.core.proposing.freedom import Freedom
from amberkey.core.proposing.ground import Ground, Hearing, Place, Post
from amberkey.core.proposing.options import Candidate, Option, Options, Wanted
from amberkey.core.standard.carrying import equivalent
from amberkey.core.standard.setting import first_of
from amberkey.core.tasks.families import shapes_for
from amberkey.core.tasks.model import Family

_PLAIN_MODIFIERS = frozenset({"Shift"})


def options_of(ground: Ground) -> Options:
    """Everything that could be chosen."""
    return _Reader(ground).read()


@dataclass(eq=False)
class _Alike:
    """Places before one keyboard in which a command has the same keys: `before` with the present lines, `has` without any."""

    hearing: Hearing
    takes: bool
    """Whether what it takes is taken from every program."""
    before: frozenset[Way]
    has: Mapping[tuple[Way, ...], Binding]
    alone: bool
    """Whether people have it who may not relearn anything."""
    places: list[Place]

    @cached_property
    def first(self) -> frozenset[Way]:
        """What would be gone with another key of a line: all that it has now but its further keys."""
        return self.before.difference(*list(self.has)[1:])

    @cached_property
    def people(self) -> int:
        return sum(p.people for p in self.places)

    @cached_property
    def ids(self) -> frozenset[int]:
        return frozenset(map(id, self.places))


@dataclass(eq=False)
class _Heard:
    """All places before one keyboard. `had`: the ways of every key that the command has in some of them; `first`, `relearned`:
    people for whom any other key is their first one, or another one than now; `bound`: some of them may not have another."""

    alike: tuple[_Alike, ...]
    hearing: Hearing = field(init=False)
    takes: bool = field(init=False)
    had: frozenset[Way] = field(init=False)
    ids: frozenset[int] = field(init=False)
    first: int = field(init=False)
    relearned: int = field(init=False)
    bound: bool = field(init=False)

    def __post_init__(self) -> None:
        self.bound = any(a.alone and a.before for a in self.alike)
        self.hearing = self.alike[0].hearing
        self.takes = any(a.takes for a in self.alike)
        self.had = frozenset(w for a in self.alike for ways in (a.before, *a.has) for w in ways)
        self.ids = frozenset(i for a in self.alike for i in a.ids)
        self.first = sum(a.people for a in self.alike if not a.before)
        self.relearned = sum(a.people for a in self.alike if a.before)


class _Reader:
    def __init__(self, ground: Ground) -> None:
        self.ground = ground
        self.question = ground.question
        self.found = Options(ground)
        self.free = Freedom(ground)
        self._allowed_of: dict[int, frozenset[Shortcut]] = {}
        self._alike_of: dict[int, tuple[_Alike, ...]] = {}
        self._heard_of: dict[int, tuple[_Heard, ...]] = {}
        self._ids_of: dict[int, frozenset[int]] = {}
        self._plain_of: dict[int, tuple[frozenset[Shortcut], int, int]] = {}
        self._spelled_of: dict[int, Mapping[Way, set[Shortcut]]] = {}

    def read(self) -> Options:
        lines: list[Wanted] = []
        split: list[Family] = []
        for wanted in self._wanted():
            self._give(wanted)
            if wanted.family is not None and not wanted.candidates:
                split.append(wanted.family)
                for single in self._singles(wanted):
                    self._give(single)
                    lines.append(single)
            else:
                lines.append(wanted)
        for post in self.ground.posts:
            if post.free:
                self.found.stays[id(post)] = self._staying(post)
                if post.task is None:
                    self.found.moves[id(post)] = self._moving(post)
        self.found.lines = tuple(w for w in lines if w.candidates)
        self.found.split = tuple(split)
        self.found.is_settled = self.free.is_settled
        return self.found

    # Lines

    def _wanted(self) -> Iterator[Wanted]:
        """Every task that a program in use offers, families as one."""
        tasks = self.ground.estate.tasks
        done: set[tuple[str, tuple[str, ...]]] = set()
        for (task_id, layouts), posts in sorted(self.ground.of_task.items()):
            if (task_id, layouts) in done:
                continue
            task = tasks.task(task_id)
            if task is None:
                continue
            family = tasks.family_of(task_id) if not layouts else None
            members = [m for m in family.members if (m, ()) in self.ground.of_task] if family else []
            settled = {m for m in members if m in self.question.pins or m in self.question.kept}
            if family is not None and len(members) > 1 and not settled and not any(self._is_protected(m) for m in members):
                done |= {(m, ()) for m in members}
                own = tuple(p for m in members for p in self.ground.of_task[m, ()])
                yield Wanted(family.id, tuple(t for m in members if (t := tasks.task(m))), (), family, self._following(own))
            else:
                name = task_id + (f" for {', '.join(layouts)}" if layouts else "")
                yield Wanted(name, (task,), layouts, None, self._following(posts))

    def _is_protected(self, task_id: str) -> bool:
        task = self.ground.estate.tasks.task(task_id)
        return task is not None and task.protected

    def _singles(self, whole: Wanted) -> Iterator[Wanted]:
        for task in whole.tasks:
            yield Wanted(task.id, (task,), (), None, tuple(p for p in whole.followers if p.task == task.id))

    def _following(self, posts: Iterable[Post]) -> tuple[Post, ...]:
        """Those that a line reaches somewhere, that nobody let off it, and that aren't spared."""
        return tuple(p for p in posts if p.free and not p.excepted and p.program not in self.question.spared)

    def _give(self, wanted: Wanted) -> None:
        """Work out the keys that a line could have, the cheapest first."""
        for post in wanted.followers:
            self._staying(post)
        found: dict[Shortcut, Candidate] = {}
        for first in self._thinkable(wanted):
            keys = self._keys(wanted, first)
            if not keys or any(self._is_banned(task, s) for task, s in keys.items()):
                continue
            followed = [self._option(p, keys[p.task]) for p in wanted.followers if p.task is not None]
            if any(o is not None for o in followed) or wanted.pinned:
                found[first] = Candidate(first, keys, line_cost(self.ground, wanted, keys))
        wanted.candidates = tuple(sorted(found.values(), key=lambda c: (self.found.estimate(wanted, c), str(c.shortcut))))

    def _is_banned(self, task: str, shortcut: Shortcut) -> bool:
        return shortcut in self.question.bans or shortcut in self.question.without.get(task, ())

    def _keys(self, wanted: Wanted, first: Shortcut) -> Mapping[str, Shortcut]:
        if wanted.family is None:
            return {wanted.tasks[0].id: first}
        shapes = shapes_for(wanted.family, first, self.ground.estate.tasks)
        return {t.id: shapes[t.id] for t in wanted.tasks} if shapes else {}

    def _thinkable(self, wanted: Wanted) -> list[Shortcut]:
        """In a fixed order: what is settled; else today's keys, lines, usual keys, other platforms', and all that is free."""
        question, platform = self.question, self.question.platform
        task = wanted.tasks[0]
        if len(wanted.tasks) == 1:
            lines = [v for v in self.ground.standard.lines_of(task.id, platform) if v.layouts == wanted.layouts]
            pin = question.pins.get(task.id)
            settled: list[Shortcut] = []
            if pin is not None:
                settled = [pin]
            elif task.protected or task.id in question.kept:
                usual = task.usual_on(platform) if task.protected else self._today(wanted)
                settled = [v.shortcut for v in lines] or list(usual)
            # Where they have none of their own, some layouts are asked for since it can't be made there: all is free then.
            if settled and (not wanted.layouts or any(map(self._made_by(wanted), settled))):
                wanted.pinned = pin is not None or bool(lines)
                return settled
        found = dict.fromkeys(self._named(wanted))
        free: set[Shortcut] = set()
        for post in wanted.followers:
            if wanted.family is None or post.task == task.id:
                free |= self.free.of(post)
        found.update(dict.fromkeys(sorted(free, key=str)))
        return list(found)

    @staticmethod
    def _made_by(wanted: Wanted) -> Callable[[Shortcut], bool]:
        hearings = {id(place.hearing): place.hearing for post in wanted.followers for place in post.free}
        return lambda key: any(h.ways(key)[0] for h in hearings.values())

    def _named(self, wanted: Wanted) -> Iterator[Shortcut]:
        """Keys that some task of the line has, had, or has elsewhere, as what the first of its tasks would have."""
        tasks, platform = self.ground.estate.tasks, self.question.platform
        for task in wanted.tasks:
            keys: list[Shortcut] = [v.shortcut for v in self.ground.standard.lines_of(task.id, platform)]
            keys += [s for s in self._today(wanted, task.id) if not _is_unwanted(s)]
            keys += task.usual_on(platform)
            for other in PLATFORMS:
                if other != platform:
                    keys += [equivalent(v.shortcut, other, platform) for v in self.ground.standard.lines_of(task.id, other)]
            for key in keys:
                if wanted.family is None:
                    yield key
                elif (first := first_of(wanted.family, task.id, key, tasks)) is not None:
                    yield first

    def _today(self, wanted: Wanted, task: str | None = None) -> list[Shortcut]:
        """The keys that commands of a line have, with its present line and without it."""
        found: dict[Shortcut, None] = {}
        for post in wanted.followers:
            if task is None or post.task == task:
                for place in post.places:
                    for binding in (*post.now(place), *post.bindings(place)):
                        if binding.shortcut.presses:
                            found[binding.shortcut] = None
        return sorted(found, key=str)

    # Commands

    def _option(self, post: Post, key: Shortcut) -> Option | None:
        """What it comes to that a command has a key; None where it can't, or would clash with what nobody can move."""
        known = self.found.follows.setdefault(id(post), {})
        if key in known:
            return known[key]
        found = self._worked_out(post, key)
        if found is not None:
            known[key] = found
        return found

    def _worked_out(self, post: Post, key: Shortcut) -> Option | None:
        plain, cost, everybody = self._plain(post)
        if key in plain:
            return Option(key, cost, everybody, self._ids(post))
        new: set[int] = set()
        clashing = relearned = first = 0
        free = key in self.free.of(post)
        everywhere = free
        for group in self._heard(post):
            ways = group.hearing.ways(key)[0]
            if not ways:
                return None
            if free and not group.takes and group.had.isdisjoint(ways):
                if group.bound:
                    return None
                relearned += group.relearned
                first += group.first
                new |= group.ids
                continue
            everywhere = False
            for alike in group.alike:
                if not free and alike.places[0].why_not(key):
                    return None
                if not alike.before:
                    first += alike.people
                elif alike.alone and (alike.before.isdisjoint(ways) or not alike.first.issubset(ways)):
                    return None
                elif alike.before.isdisjoint(ways):
                    relearned += alike.people
                has = alike.has.get(ways)
                if has is None:
                    if (alike.takes or not free) and alike.before.issuperset(ways):
                        for place in alike.places:
                            # Two keys of it may be made in the ways of this one.
                            now = [b for b in post.now(place) if not b.arguments and not set(ways).isdisjoint(b.ways)]
                            same = [b for b in now if b.ways == ways][:1]
                            clashing += sum(self._clashing(post, place, today) for today in same or now)
                    elif alike.takes or (not free and not self._harmless(post, alike, key)):
                        return None
                    new |= alike.ids
                elif not free:
                    for place in alike.places:
                        today = next(b for b in post.bindings(place) if b.ways == ways)
                        clashing += self._clashing(post, place, today)
        if new:
            clashing += self.question.weights.clashes["medium"] * post.lacking
        ids = self._ids(post) if everywhere else frozenset(new)
        return Option(key, self._points(post, relearned, first) + clashing, relearned, ids)

    def _plain(self, post: Post) -> tuple[frozenset[Shortcut], int, int]:
        """The free keys of a command that it has nowhere yet, as nearly all: what each of them comes to, and who relearns."""
        known = self._plain_of.get(id(post))
        if known is None:
            heard = self._heard(post)
            keys: Set[Shortcut] = frozenset() if any(g.takes or g.bound for g in heard) else self.free.of(post)
            for group in heard if keys else ():
                spelled = self._spelled(group.hearing)
                keys -= {s for way in group.had for s in spelled.get(way, ())}
            relearned = sum(g.relearned for g in heard)
            cost = self._points(post, relearned, sum(g.first for g in heard))
            cost += self.question.weights.clashes["medium"] * post.lacking
            known = self._plain_of[id(post)] = frozenset(keys), cost, relearned
        return known

    def _spelled(self, hearing: Hearing) -> Mapping[Way, set[Shortcut]]:
        """The single presses that can be asked for before a keyboard, by the ways to make them."""
        known = self._spelled_of.get(id(hearing))
        if known is None:
            found: dict[Way, set[Shortcut]] = {}
            for key in dict.fromkeys(s for p in self.ground.places if p.hearing is hearing for s in p.thinkable):
                for way in hearing.ways(key)[0]:
                    found.setdefault(way, set()).add(key)
            known = self._spelled_of[id(hearing)] = found
        return known

    def _harmless(self, post: Post, alike: _Alike, key: Shortcut) -> bool:
        allowed = self._allowed_of.get(id(alike))
        if allowed is None:
            allowed = frozenset.intersection(*(self.free.allowed_in(place, post) for place in alike.places))
            self._allowed_of[id(alike)] = allowed
        return key in allowed or all(
            key in self.free.allowed_in(place, post) or self.free.fits(post, place, key) for place in alike.places
        )

    def _heard(self, post: Post) -> "tuple[_Heard, ...]":
        """The places of a command by their keyboards."""
        known = self._heard_of.get(id(post))
        if known is None:
            by_hearing: dict[int, list[_Alike]] = {}
            for alike in self._alike(post):
                by_hearing.setdefault(id(alike.hearing), []).append(alike)
            known = self._heard_of[id(post)] = tuple(_Heard(tuple(own)) for own in by_hearing.values())
        return known

    def _ids(self, post: Post) -> frozenset[int]:
        """All places in which a line reaches a command: one set for all its options, since there are many."""
        known = self._ids_of.get(id(post))
        if known is None:
            known = self._ids_of[id(post)] = frozenset(map(id, post.free))
        return known

    def _alike(self, post: Post) -> "tuple[_Alike, ...]":
        """The places of a command in which a key of it means the same."""
        known = self._alike_of.get(id(post))
        if known is None:
            found: dict[tuple[object, ...], _Alike] = {}
            for place in post.free:
                before = frozenset(way for b in post.now(place) if b.live for way in b.ways)
                has = {b.ways: b for b in post.bindings(place) if b.ways}
                alone = any(s.id in self.question.alone for s in place.setups)
                key = (id(place.hearing), id(place.program), before, frozenset(has), alone)
                found.setdefault(key, _Alike(place.hearing, place.takes_from_all, before, has, alone, [])).places.append(place)
            known = self._alike_of[id(post)] = tuple(found.values())
        return known

    def _points(self, post: Post, relearned: int, first: int) -> int:
        """What it comes to that so many people relearn a command's key, and so many have their first one."""
        weights = self.question.weights
        return post.factor * (weights.relearned * relearned + weights.first * first)

    def _staying(self, post: Post) -> Option:
        """What it comes to that a command keeps what it has without any line."""
        known = self.found.stays.get(id(post))
        if known is not None:
            return known
        relearned = first = 0
        for alike in self._alike(post):
            if alike.alone:
                self.found.alone.add(id(post))
            own = [way for b in alike.has.values() if b.live for way in b.ways]
            if alike.alone and not alike.before.issubset(own):
                self.found.held.add(id(post))
            if own and alike.before.isdisjoint(own):
                relearned += alike.people if alike.before else 0
                first += 0 if alike.before else alike.people
        cost = self._points(post, relearned, first)
        if post.task is not None and not post.excepted:
            cost += self.question.weights.not_agreeing * post.weight(post.free)
        for place in post.free:
            for binding in post.bindings(place)[:1]:
                cost += self._clashing(post, place, binding)
        found = self.found.stays[id(post)] = Option(Shortcut(()), cost, relearned, frozenset())
        return found

    def _moving(self, post: Post) -> dict[Shortcut, Option]:
        """The keys that a command without a line could move to where it makes room, the cheapest ones."""
        if (
            post.program in self.question.spared
            or post.places[0].takes_from_all
            or not any(post.bindings(place) for place in post.free)
        ):
            return {}
        found = []
        for key in sorted(self.free.of(post) - self.question.bans, key=str):
            option = self._option(post, key)
            if option is not None and len(option.new) == len(post.free):
                cost = option.cost + reach_points(self.ground, post, key)
                found.append(Option(key, cost, option.relearned, option.new))
        found.sort(key=lambda o: (o.cost, str(o.shortcut)))
        return {o.shortcut: o for o in found[: self.question.moves]}

    def _clashing(self, post: Post, place: Place, binding: Binding) -> int:
        """What the clashes of a key that a command has by itself cost the people of a place: more where a line spares them
        these today."""
        weights = self.question.weights
        points = sum(weights.clashes[c.severity] for c in place.alone(binding)) * place.people
        spared = points and not any(b.ways == binding.ways for b in post.now(place))
        return points * weights.anew if spared else points


def _is_unwanted(shortcut: Shortcut) -> bool:
    """A bare letter, or Alt with a letter alone: today's, but nothing to hand on."""
    press = shortcut.presses[0]
    key = press.key or ""
    held = set(press.modifiers)
    return (len(key) == 1 and held <= _PLAIN_MODIFIERS) or (len(key) == 1 and held == {"Alt"} and key.isalpha())
