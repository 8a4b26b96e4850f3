"""What could be chosen: the lines of a platform with the keys that each could have, and what each command could follow."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from functools import cached_property

from amberkey.core.clashes.binding import Binding
from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.proposing.ground import Ground, Hearings, Place, Post
from amberkey.core.proposing.question import Question
from amberkey.core.tasks.model import Family, Task


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
