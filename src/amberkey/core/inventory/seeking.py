"""Looking for things by words, as people say them: typos forgiven, endings, other words, other languages; the best first.

Every word that things are called by is known once, with where it stands. A word that is looked for is held against all of
them, and what it comes near leads to the things. How near typos are is the optimal string alignment distance (Damerau, A
Technique for Computer Detection and Correction of Spelling Errors, 1964), worked out by RapidFuzz.
"""

import math
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import NamedTuple, TypeAlias, TypeVar

from rapidfuzz import process
from rapidfuzz.distance import OSA

from amberkey.core.catalogue.words import is_particle, poles, stem, telling_words

K = TypeVar("K")
_MOST_WORDS = 12
"""So many words of a question are looked for; longer ones say nothing more."""
_LONGEST = 40
"""Letters of a word."""
_CLOSE = 0.9
"""From which nearness a word counts as found and not as guessed, when its rarity is told."""
_LOOKED_AT = 500
"""Of so many things the order is weighed; whoever finds more has to say more."""
_REMEMBERED = 500
"""So many words are remembered with what comes near them."""
_FLOOR = 0.3
"""The least score of what is shown at all."""


class Wording(NamedTuple):
    """Something that a thing is called; `counts`: how much a word found in it counts, from 0 to 1. The first is its name."""

    text: str
    counts: float


class Found(NamedTuple):
    """A thing, by its place among those looked through. `because`: what else it is called where that decided, empty where its
    name did; `marks`: the words found in either."""

    at: int
    score: float
    because: str
    marks: frozenset[str]


class _Stands(NamedTuple):
    """Where a word stands: in which wording of which thing."""

    at: int
    wording: int
    counts: float


_Hit: TypeAlias = tuple[float, int, str]
"""The best that was found for a word of the question: how much it counts, the wording (0 or less), the word there."""
_Hits: TypeAlias = Sequence[_Hit | None]


@dataclass(frozen=True, eq=False)
class Sought:
    """Things that can be looked for, each by its wordings."""

    things: Sequence[Sequence[Wording]]

    @cached_property
    def _words(self) -> Mapping[str, list[_Stands]]:
        found: dict[str, list[_Stands]] = {}
        for at, wordings in enumerate(self.things):
            for n, words in enumerate(self._split[at]):
                for word in dict.fromkeys(words):
                    found.setdefault(word, []).append(_Stands(at, n, wordings[n].counts))
        return found

    @cached_property
    def _split(self) -> list[tuple[tuple[str, ...], ...]]:
        return [tuple(telling_words(text) for text, _ in wordings) for wordings in self.things]

    @cached_property
    def _vocabulary(self) -> list[str]:
        return list(self._words)

    @cached_property
    def _by_stem(self) -> Mapping[str, list[str]]:
        return _grouped((stem(w), w) for w in self._words)

    @cached_property
    def _by_pole(self) -> Mapping[tuple[int, int], list[str]]:
        # What little words like "in" stand for depends on those beside them.
        return _grouped((pole, w) for w in self._words if not is_particle(stem(w)) for pole in poles(w))

    def find(self, question: str) -> list[Found]:
        """What a question finds, the best first, ties in the order of the things. Things that have all of its words, as near
        as may be, come before any others; those that lack one are found only where none has all."""
        asked = [w[:_LONGEST] for w in dict.fromkeys(telling_words(question))][:_MOST_WORDS]
        if not asked:
            return []
        hits: dict[int, list[_Hit | None]] = {}
        weights: list[float | None] = []
        for n, word in enumerate(asked):
            surely: set[int] = set()
            near = self._near(word)
            for meant, nearness in near.items():
                for at, wording, counts in self._words[meant]:
                    hit = (nearness * counts, -wording, meant)
                    known = hits.setdefault(at, [None] * len(asked))
                    before = known[n]
                    if before is None or hit > before:
                        known[n] = hit
                    if nearness >= _CLOSE:
                        surely.add(at)
            weights.append(math.log1p(len(self.things) / (1 + len(surely))) if near else None)
        if not hits:
            return []
        return self._in_order(hits, _whole_weights(weights), [stem(w) for w in asked])

    def _in_order(self, hits: Mapping[int, _Hits], weights: Sequence[float], asked: Sequence[str]) -> list[Found]:
        whole = {at: found for at, found in hits.items() if None not in found}
        total = sum(weights)
        reached = {at: _reached(found, weights, total) for at, found in (whole or hits).items()}
        order = sorted(reached, key=lambda at: (-reached[at], at))
        scored = (self._scored(at, hits[at], reached[at], asked) for at in order[:_LOOKED_AT])
        best = sorted((f for f in scored if f.score >= _FLOOR), key=lambda f: (-f.score, f.at))
        more = (Found(at, reached[at], "", _marks(hits[at])) for at in order[_LOOKED_AT:] if reached[at] >= _FLOOR)
        return [*best, *more]

    def _near(self, word: str) -> Mapping[str, float]:
        """The words that one comes near, and how near from 0 to 1. Who types asks for the words before the last one again."""
        known = self._asked.get(word)
        if known is None:
            if len(self._asked) >= _REMEMBERED:
                self._asked.clear()
            known = self._asked[word] = self._nearing(word)
        return known

    @cached_property
    def _asked(self) -> dict[str, Mapping[str, float]]:
        return {}

    def _nearing(self, word: str) -> dict[str, float]:
        found: dict[str, float] = {}

        def near(words: Iterable[str], nearness: float) -> None:
            for one in words:
                found[one] = max(found.get(one, 0.0), nearness)

        near((w for w in (word,) if w in self._words), 1.0)
        near(self._by_stem.get(stem(word), ()), 0.95)
        for pole in poles(word) if not is_particle(stem(word)) else ():
            near(self._by_pole.get(pole, ()), 0.7)
        for other in self._vocabulary:
            if other.startswith(word):
                near((other,), 0.72 + 0.2 * len(word) / len(other))
            elif len(word) >= 4 and word in other:
                near((other,), 0.55 + 0.15 * len(word) / len(other))
            elif len(other) >= 4 and len(other) >= len(word) - 3 and word.startswith(other):
                near((other,), 0.6)
        slips = 0 if len(word) < 3 else 1 if len(word) < 8 else 2
        if slips and word not in self._words:
            for other, distance, _ in process.extract(
                word, self._vocabulary, scorer=OSA.distance, score_cutoff=slips, limit=None
            ):
                if len(word) > 3 or other[0] == word[0]:
                    near((other,), 0.88 - 0.1 * distance - (0.06 if other[0] != word[0] else 0.0))
        return found

    def _scored(self, at: int, hits: _Hits, reached: float, asked: Sequence[str]) -> Found:
        wordings, split, marks = self.things[at], self._split[at], _marks(hits)
        # Of two names that both have the words, the one that says little else is meant; one that is just the question, surely.
        whole = 0.0
        because = ""
        for n, (text, counts) in enumerate(wordings):
            words = split[n]
            held = sum(w in marks for w in words) / len(words) if words else 0.0
            just = 0.12 if len(words) == len(asked) and [stem(w) for w in words] == asked else 0.0
            said = counts * (0.14 * held + just)
            if said > whole:
                whole, because = said, text if n else ""
        if because and marks.issubset(split[0]):
            because = ""
        elsewhere = next((wordings[-h[1]].text for h in hits if h and h[1]), "")
        return Found(at, reached + whole, because or elsewhere, marks)


def _whole_weights(weights: Sequence[float | None]) -> list[float]:
    """How much each word counts: one that nothing has tells little of what is meant, so it counts half of the least."""
    least = min(w for w in weights if w is not None) / 2
    return [least if w is None else w for w in weights]


def _marks(hits: _Hits) -> frozenset[str]:
    return frozenset(h[2] for h in hits if h)


def _reached(hits: _Hits, weights: Sequence[float], total: float) -> float:
    """How near the words of a question come, rare ones counting more, and less where some are missing."""
    if None not in hits:  # as nearly always, and there may be twenty thousand
        return sum([w * h[0] for w, h in zip(weights, hits, strict=True) if h]) / total
    here = [(w, h[0]) for w, h in zip(weights, hits, strict=True) if h]
    return sum(w * nearness for w, nearness in here) / total * sum(w for w, _ in here) / total


def _grouped(pairs: Iterable[tuple[K, str]]) -> dict[K, list[str]]:
    found: dict[K, list[str]] = {}
    for key, word in pairs:
        found.setdefault(key, []).append(word)
    return found
