"""Which keys are free for a command wherever it is in use, and who takes one from it."""

from collections.abc import Mapping, Set
from functools import cached_property

from amberkey.core.clashes.alone import awkward_on
from amberkey.core.clashes.binding import Binding
from amberkey.core.clashes.part import bindings_of
from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.layouts.stroke import Stroke
from amberkey.core.profiles.effective import EffectiveCommand
from amberkey.core.profiles.effective import Set as Setting
from amberkey.core.proposing.ground import Ground, Place, Post
from amberkey.core.standard.compiling import LAYER


class Freedom:
    """The keys that commands may have. What was found is kept: the same is asked for each of many keys."""

    def __init__(self, ground: Ground) -> None:
        self.ground = ground
        self.question = ground.question
        self._allowed: dict[tuple[int, str, frozenset[Stroke]], frozenset[Shortcut]] = {}
        self._settled_in: dict[tuple[int, str], set[Stroke]] = {}
        self._kept_of: dict[int, dict[Stroke, set[str | None]]] = {}
        self._kept_from: dict[tuple[int, str | None], frozenset[Stroke]] = {}
        self._free_here: dict[tuple[int, str, frozenset[Stroke], frozenset[Stroke]], frozenset[Shortcut]] = {}
        self._free_of: dict[int, frozenset[Shortcut]] = {}
        self._usual_of: dict[str | None, frozenset[Shortcut]] = {}

    def of(self, post: Post) -> Set[Shortcut]:
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
            allowed = self.allowed_in(place, post)
            found = frozenset(s for s in allowed if place.thinkable[s][0] not in kept) if kept else allowed
            self._free_here[key] = found
        return found

    def allowed_in(self, place: Place, post: Post) -> frozenset[Shortcut]:
        """The single presses that are free for a command in a place, whatever the browsers around it keep."""
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

    def fits(self, post: Post, place: Place, key: Shortcut) -> bool:
        """Whether a key that isn't free at first sight does no harm for this very task: its own press of text fields, say."""
        if key in place.thinkable and key not in self.usual(post.task):
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

    def usual(self, task_id: str | None) -> Set[Shortcut]:
        """The presses that a task has everywhere, or has a line for."""
        known = self._usual_of.get(task_id)
        if known is None:
            task = self.ground.estate.tasks.task(task_id or "")
            platform = self.question.platform
            lines = self.ground.standard.lines_of(task_id or "", platform)
            known = frozenset((*(task.usual_on(platform) if task else ()), *(v.shortcut for v in lines)))
            self._usual_of[task_id] = known
        return known


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
