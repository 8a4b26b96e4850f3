"""Why a line has its key, in words: which commands hold the better ones, for how many people."""

from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass
from functools import cached_property

from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.keys.wording import words_of
from amberkey.core.proposing.ground import Post
from amberkey.core.proposing.instance import Choice, Instance
from amberkey.core.proposing.options import Candidate, Wanted

_TOLD = 3


@dataclass(frozen=True, slots=True)
class Held:
    """A key that would be better for a line by itself, and what holds it: what is chosen for somebody else. `people`: those who
    have the program in which it is held; nobody holds it (`by` empty) where the line's own commands can't all have it."""

    shortcut: Shortcut
    better_by: int
    by: str
    program: str
    people: int


class Explainer:
    """Reads reasons off the rows of a program: what is chosen there keeps the rest out. Nothing is solved again."""

    def __init__(self, instance: Instance, chosen: Iterable[int]) -> None:
        self.instance, self.chosen = instance, frozenset(chosen)

    @cached_property
    def _rows_of(self) -> Mapping[int, list[int]]:
        found: dict[int, list[int]] = {}
        for n, row in enumerate(self.instance.program.rows):
            if row.most == 1 and row.least is None and all(t == 1 for t in row.times):
                for variable in row.variables:
                    found.setdefault(variable, []).append(n)
        return found

    def holders(self, variable: int) -> Iterator[int]:
        """What is chosen and excludes a variable."""
        for n in self._rows_of.get(variable, ()):
            for other in self.instance.program.rows[n].variables:
                if other in self.chosen and other != variable:
                    yield other

    def better(self, wanted: Wanted, candidate: Candidate) -> list[Held]:
        """The keys that would cost a line less than the one that it has if it were alone, the best first, a few of them."""
        options = self.instance.options
        here = options.estimate(wanted, candidate)
        found: list[Held] = []
        for other in wanted.candidates:
            saves = here - options.estimate(wanted, other)
            if saves <= 0 or len(found) == _TOLD:
                break
            held = next(self._held(wanted, other, saves), None)
            if held is not None:
                found.append(held)
        return found

    def _held(self, wanted: Wanted, other: Candidate, saves: int) -> Iterator[Held]:
        for post in wanted.followers:
            variable = self.instance.of.get((id(post), "follows", other.keys[post.task or ""]))
            for holder in self.holders(variable) if variable is not None else ():
                choice = self.instance.posts.get(holder)
                if choice is not None and choice.post not in wanted.followers:
                    people = sum(p.people for p in choice.post.places)
                    yield Held(other.shortcut, saves, choice.post.command.name, choice.post.places[0].program.name, people)

    def why(self, choice: Choice) -> str:
        """Why a command keeps its own key against its line, or makes room: in a sentence."""
        post = choice.post
        if choice.does == "keeps":
            return self._why_it_keeps(post)
        stroke_holders = self._in_the_way(post)
        if stroke_holders:
            return f"It makes room for {stroke_holders[0]}."
        return "Its own key is taken from people, or takes something from them."

    def _in_the_way(self, post: Post) -> list[str]:
        keeps = self.instance.of.get((id(post), "keeps", Shortcut(())))
        found = [self.instance.posts[h] for h in self.holders(keeps)] if keeps is not None else []
        return list(dict.fromkeys(c.post.command.name for c in found if c.post is not post))

    def _why_it_keeps(self, post: Post) -> str:
        line = self._line_of(post)
        if line is None:
            return "No line speaks of it."
        key = line.keys[post.task or ""]
        variable = self.instance.of.get((id(post), "follows", key))
        program, words = post.places[0].program.name, words_of(key, self.instance.options.question.platform)
        if variable is None:
            return f"{program} can't take {words} for it without a clash that nobody can move."
        names = [self.instance.posts[h].post.command.name for h in self.holders(variable) if h in self.instance.posts]
        if names:
            return f"{names[0]} has {words} in {program}."
        return f"Learning {words} anew would cost its people more than agreeing is worth."

    def _line_of(self, post: Post) -> Candidate | None:
        for variable in self.chosen & self.instance.lines.keys():
            wanted, candidate = self.instance.lines[variable]
            if any(p is post for p in wanted.followers):
                return candidate
        return None
