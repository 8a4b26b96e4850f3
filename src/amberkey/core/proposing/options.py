"""What could be chosen: the lines of a platform with the keys that each could have, and what each command could follow."""

from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence, Set
from dataclasses import dataclass, field
from functools import cached_property

from amberkey.core.clashes.alone import awkward_on
from amberkey.core.clashes.binding import Binding
from amberkey.core.clashes.part import bindings_of
from amberkey.core.keys.names import case_of_key
from amberkey.core.keys.platform import PLATFORMS, Platform
from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.layouts.keyboard import Way
from amberkey.core.layouts.stroke import Stroke
from amberkey.core.profiles.effective import EffectiveCommand
from amberkey.core.profiles.effective import Set as Setting
from amberkey.core.proposing.ground import Ground, Hearing, Hearings, Place, Post
from amberkey.core.proposing.question import Question
from amberkey.core.standard.carrying import equivalent
from amberkey.core.standard.compiling import LAYER
from amberkey.core.standard.setting import first_of
from amberkey.core.tasks.families import shapes_for
from amberkey.core.tasks.model import Family, Task

_PLAIN_MODIFIERS = frozenset({"Shift"})


@dataclass(frozen=True, slots=True)
class Option:
    """What it comes to that a command follows a line with one key: points, and people who relearn. `new`: the places, by their
    identity, in which it hasn't this key by itself."""

    shortcut: Shortcut
    cost: int
    relearned: int
    new: frozenset[int]


@dataclass(frozen=True, slots=True)
class Candidate:
    """A key that a line could have. `keys`: what it gives to each of the line's tasks; `cost`: in points, whoever follows."""

    shortcut: Shortcut
    keys: Mapping[str, Shortcut]
    cost: int


@dataclass(eq=False)
class Wanted:
    """A task, or a family as one, for which one key is chosen. `kept`: the one that is settled beforehand; `followers`: the
    commands that may follow."""

    name: str
    tasks: tuple[Task, ...]
    layouts: tuple[str, ...]
    family: Family | None
    followers: tuple[Post, ...]
    candidates: tuple[Candidate, ...] = ()
    pinned: bool = False
    _asked: dict[str, tuple[int, Hearings]] = field(default_factory=dict, init=False, repr=False)

    def asked(self, ground: Ground, task: str) -> tuple[int, Hearings]:
        """For a task of it: people who have it times how much they use it, and the keyboards that they have."""
        found = self._asked.get(task)
        if found is None:
            own = [p for p in self.followers if p.task == task]
            places = {id(place): place for p in own for place in p.free}.values()
            setups = {s.id: s for place in places for s in place.setups}
            people = sum(ground.base.people_of([s]) for s in setups.values())
            found = self._asked[task] = max((p.factor for p in own), default=1) * people, ground.hearings(places)
        return found


@dataclass(eq=False)
class Options:
    """`lines` with their candidates; `follows`: by post, what it could follow; `stays`: by post, points for keeping its own;
    `split`: families that can't be whole."""

    ground: Ground
    lines: tuple[Wanted, ...] = ()
    follows: dict[int, dict[Shortcut, Option]] = field(default_factory=dict)
    stays: dict[int, Option] = field(default_factory=dict)
    moves: dict[int, dict[Shortcut, Option]] = field(default_factory=dict)
    held: set[int] = field(default_factory=set)
    """The posts, by their identity, that can't keep their own: people who are left alone have another key by a line."""
    alone: set[int] = field(default_factory=set)
    """The posts that people have who are left alone."""
    split: tuple[Family, ...] = ()

    @cached_property
    def audiences(self) -> Sequence[tuple[int, frozenset[tuple[int, str]]]]:
        """People who have the same tasks, by the identity of the line and the task, with how many they are."""
        of_setup: dict[str, set[tuple[int, str]]] = {}
        for wanted in self.lines:
            for post in wanted.followers:
                for setup in (s for place in post.free for s in place.setups):
                    of_setup.setdefault(setup.id, set()).add((id(wanted), post.task or ""))
        alike: dict[frozenset[tuple[int, str]], list[str]] = {}
        for setup_id, tasks in sorted(of_setup.items()):
            alike.setdefault(frozenset(tasks), []).append(setup_id)
        base = self.ground.base
        return [(base.people_of(base.setups[i] for i in ids), tasks) for tasks, ids in alike.items()]

    is_settled: Callable[[Place, Binding], bool] = lambda place, binding: True
    """Whether a key of a program stays whatever is chosen."""

    @property
    def question(self) -> Question:
        """What was asked."""
        return self.ground.question

    def estimate(self, wanted: Wanted, candidate: Candidate) -> int:
        """What a key costs a line where nothing else is in its way: those that follow, and those that can't."""
        total = candidate.cost
        for post in wanted.followers:
            key = candidate.keys[post.task] if post.task is not None else candidate.shortcut
            option = self.follows.get(id(post), {}).get(key)
            total += option.cost if option is not None else self.stays[id(post)].cost
        return total


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
        self._allowed: dict[tuple[int, str, frozenset[Stroke]], frozenset[Shortcut]] = {}
        self._settled_in: dict[tuple[int, str], set[Stroke]] = {}
        self._kept_of: dict[int, dict[Stroke, set[str | None]]] = {}
        self._kept_from: dict[tuple[int, str | None], frozenset[Stroke]] = {}
        self._free_here: dict[tuple[int, str, frozenset[Stroke], frozenset[Stroke]], frozenset[Shortcut]] = {}
        self._allowed_of: dict[int, frozenset[Shortcut]] = {}
        self._free_of: dict[int, frozenset[Shortcut]] = {}
        self._usual_of: dict[str | None, frozenset[Shortcut]] = {}
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
        self.found.is_settled = self.is_settled
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
                free |= self._free(post)
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

    def _free(self, post: Post) -> Set[Shortcut]:
        """The single presses that are free for a command in all its places, its program's own commands that can move aside."""
        known = self._free_of.get(id(post))
        if known is None:
            each = {id(here): here for here in (self._free_in(place, post) for place in post.free)}
            known = self._free_of[id(post)] = frozenset.intersection(*each.values()) if each else frozenset()
        return known

    def _free_in(self, place: Place, post: Post) -> frozenset[Shortcut]:
        kept = self._kept_by_browsers(place, post)
        key = (id(place), post.in_place(place).scope, place.reserved(post.task), kept)
        found = self._free_here.get(key)
        if found is None:
            allowed = self._allowed_in(place, post)
            found = frozenset(s for s in allowed if place.thinkable[s][0] not in kept) if kept else allowed
            self._free_here[key] = found
        return found

    def _allowed_in(self, place: Place, post: Post) -> frozenset[Shortcut]:
        scope = post.in_place(place).scope
        reserved = place.reserved(post.task)
        key = (id(place), scope, reserved)
        found = self._allowed.get(key)
        if found is None:
            blocked = place.spoken_for(scope) | self._settled(place, scope) | reserved
            found = frozenset(s for s, way in place.thinkable.items() if way[0] not in blocked)
            self._allowed[key] = found
        return found

    def _settled(self, place: Place, scope: str) -> Set[Stroke]:
        """The strokes of commands in reach that stay whatever is chosen: set by hand, placed, of sets, of spared programs."""
        key = (id(place), scope)
        found = self._settled_in.get(key)
        if found is None:
            program = place.program
            found = self._settled_in[key] = {
                stroke
                for stroke, bucket in place.part.first.items()
                if any(program.nested(b.scope, scope) and self.is_settled(place, b) for b in bucket)
            }
        return found

    def _kept_by_browsers(self, place: Place, post: Post) -> frozenset[Stroke]:
        """The strokes of the browsers around a web program that stay whatever is chosen, but for those of the same task."""
        if not place.browsers:
            return frozenset()
        of_tasks = self._kept_of.get(id(place))
        if of_tasks is None:
            of_tasks = self._kept_of[id(place)] = {}
            for browser in place.browsers:
                at = self.ground.place_of(browser, place)
                for stroke, bucket in browser.first.items():
                    for binding in bucket:
                        if at is None or self.is_settled(at, binding):
                            of_tasks.setdefault(stroke, set()).add(binding.command.task)
        key = (id(place), post.task)
        found = self._kept_from.get(key)
        if found is None:
            found = frozenset(s for s, tasks in of_tasks.items() if None in tasks or tasks != {post.task})
            self._kept_from[key] = found
        return found

    def is_settled(self, place: Place, binding: Binding) -> bool:
        """Whether a key of a program stays whatever is chosen."""
        post = self._post_of.get((id(place), binding.command.id))
        if post is None or binding.arguments or binding.placed is not None or place not in self._free_places[id(post)]:
            return True
        return post.excepted or place.takes_from_all or post.program in self.question.spared

    @cached_property
    def _post_of(self) -> Mapping[tuple[int, str], Post]:
        return {(id(place), p.in_place(place).id): p for p in self.ground.posts for place in p.places}

    @cached_property
    def _free_places(self) -> Mapping[int, frozenset[Place]]:
        return {id(p): frozenset(p.free) for p in self.ground.posts}

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
        free = key in self._free(post)
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
            keys: Set[Shortcut] = frozenset() if any(g.takes or g.bound for g in heard) else self._free(post)
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
            allowed = frozenset.intersection(*(self._allowed_in(place, post) for place in alike.places))
            self._allowed_of[id(alike)] = allowed
        return key in allowed or all(
            key in self._allowed_in(place, post) or self._fits(post, place, key) for place in alike.places
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

    def _fits(self, post: Post, place: Place, key: Shortcut) -> bool:
        """Whether a key that isn't free at first sight does no harm for this very task: its own press of text fields, say."""
        if key in place.thinkable and key not in self._usual(post.task):
            return False
        if place.browsers and not self._kept_by_browsers(place, post).isdisjoint(way[0] for way in place.ways(key)):
            return False
        (binding,) = bindings_of(_as_if(post, place, key), place.program, place.part.ground, 0)
        if not binding.live or place.alone(binding):
            return False
        scope = post.in_place(place).scope
        board = place.board
        for way in binding.ways:
            stroke = way[0]
            if any(awkward_on(s, place.part.ground.keyboard) for s in way) or stroke in self._settled(place, scope):
                return False
            if any(b.command.task != post.task for b in board.last.get(stroke, ())) or stroke in place.reserved(post.task):
                return False
            if any(stroke in owner.menus for owner in board.menus_of(place.part)) or stroke in place.part.retired:
                return False
        return True

    def _usual(self, task_id: str | None) -> Set[Shortcut]:
        """The presses that a task has everywhere, or has a line for."""
        known = self._usual_of.get(task_id)
        if known is None:
            task = self.ground.estate.tasks.task(task_id or "")
            platform = self.question.platform
            lines = self.ground.standard.lines_of(task_id or "", platform)
            known = frozenset((*(task.usual_on(platform) if task else ()), *(v.shortcut for v in lines)))
            self._usual_of[task_id] = known
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
        for key in sorted(self._free(post) - self.question.bans, key=str):
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


def reach_points(ground: Ground, post: Post, key: Shortcut) -> int:
    """What the reach of a key costs those who have a command."""
    question = ground.question
    reach = min(ground.hearings(post.free).reach(key), question.weights.reach_most)
    return round(question.weights.reach_share * reach * post.weight(post.free))


def line_cost(ground: Ground, wanted: Wanted, keys: Mapping[str, Shortcut]) -> int:
    """Reach and letters for everybody who has one of a line's tasks, and its present lines that become others."""
    weights, platform = ground.question.weights, ground.question.platform
    total = 0.0
    for task in wanted.tasks:
        key = keys.get(task.id)
        if key is None:
            continue
        weight, hearings = wanted.asked(ground, task.id)
        total += weights.reach_share * min(hearings.reach(key), weights.reach_most) * weight
        total += _letters(ground.question, task, key) * weight
        lines = [v for v in ground.standard.lines_of(task.id, platform) if v.layouts == wanted.layouts]
        total += weights.changed_line * any(v.shortcut != key for v in lines)
        total += weights.unlike * _people_unlike(ground, task, wanted.layouts, key)
    return round(total)


def _people_unlike(ground: Ground, task: Task, layouts: tuple[str, ...], key: Shortcut) -> int:
    """For how many people a key has another shape than another platform's line, summed over the platforms that have one and
    keep it."""
    here, found = ground.question.platform, 0
    for other in PLATFORMS:
        if other == here or other in ground.question.beside:
            continue
        lines = [v for v in ground.standard.lines_of(task.id, other) if v.layouts == layouts]
        if lines and not any(alike(key, here, v.shortcut, other) for v in lines):
            found += people_of_both(ground, other, task.id)
    return found


def people_of_both(ground: Ground, other: Platform, task: str) -> int:
    """The people who have a task on the one of two platforms where fewer have it."""
    return min(ground.people_having(ground.question.platform, task), ground.people_having(other, task))


def alike(key: Shortcut, platform: Platform, other_key: Shortcut, other: Platform) -> bool:
    """Whether two platforms' keys have one shape: the same keys, each with its own platform's modifiers."""
    return shape_of(key, platform) == shape_of(other_key, other)


def shape_of(key: Shortcut, platform: Platform) -> Shortcut:
    """As what keys of all platforms are held against each other: macOS tells Control from Command, and AltGraph is Alt."""
    return equivalent(key, platform, "macos")


def _letters(question: Question, task: Task, key: Shortcut) -> int:
    """0 for the first letter of a word of the task, more for others."""
    last = key.presses[-1].key or ""
    if len(last) != 1 or not last.isalpha():
        return question.weights.other_key
    initials = {case_of_key(word[0]) for word in task.name.split() if word[0].isalpha()}
    return 0 if case_of_key(last) in initials else question.weights.strange_letter


def taken_by(post: Post, key: Shortcut) -> str:
    """Who takes a key from a command in all its places, so that nobody can have it there; empty where somebody can."""
    found = ""
    for place in post.free:
        (binding,) = bindings_of(_as_if(post, place, key), place.program, place.part.ground, 0)
        worst = next((c for c in place.alone(binding) if c.severity == "blocker"), None)
        if worst is None:
            return ""
        found = worst.holder.called if worst.holder is not None and worst.holder is not binding else worst.why
    return found


def _as_if(post: Post, place: Place, key: Shortcut) -> EffectiveCommand:
    command = post.in_place(place)
    return EffectiveCommand(place.program.id, command, Setting(LAYER, ((key, command.scope),)), ())


def _is_unwanted(shortcut: Shortcut) -> bool:
    """A bare letter, or Alt with a letter alone: today's, but nothing to hand on."""
    press = shortcut.presses[0]
    key = press.key or ""
    held = set(press.modifiers)
    return (len(key) == 1 and held <= _PLAIN_MODIFIERS) or (len(key) == 1 and held == {"Alt"} and key.isalpha())
