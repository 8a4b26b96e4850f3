"""Commands to tasks: which task each command of a program does, by computation, with a score and reasons.

The score of a pair comes of the words of their names and other words, of keys (the task's usual ones, or those that it has in
other programs), and of the group. The commands of one program are then matched to tasks all at once, so that no task is given
twice: a maximum-weight assignment. `WEIGHTS` were found with `tools/measure_proposals.py`, which prints what they reach.
"""

import math
from collections import Counter, defaultdict
from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import NamedTuple

from amberkey.core.catalogue.words import are_opposite, is_particle, numbers, stems
from amberkey.core.keys.platform import PLATFORM_NAMES, Platform
from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.keys.wording import words_of
from amberkey.core.programs.model import Command, Program
from amberkey.core.tasks.model import Tasks


class Weights(NamedTuple):
    """How much each kind of evidence counts, from 0 to 1; and the bounds from which a proposal is made, and is sure."""

    usual_key: float = 0.45
    others_key: float = 0.35
    group: float = 0.12
    description: float = 0.15
    other_word: float = 0.92
    """Of a name that is one of the task's other words, or of a command of another program that does the task."""
    partly: float = 0.9
    """At most, of a name that shares words with another and isn't the same."""
    particle: float = 0.3
    """Of a word that says little by itself, beside others."""
    unknown: float = 0.5
    """Of a word that no task has, beside one that some have: the things that a program is about."""
    floor: float = 0.3
    sure: float = 0.9
    other_way: float = 0.6
    """From which score on a task is offered that another command of the program does: it is never the one proposed."""
    lead: float = 0.12
    """By how much a sure one is above the next best, for the command and for the task."""


WEIGHTS = Weights()
_SHOWN = 3


@dataclass(frozen=True, slots=True)
class Candidate:
    """A task that a command may do; `score` from 0 to 1, `reasons` in words, the strongest first. `beside`: the name of another
    command of the program that does it: this one would be the other way."""

    task: str
    score: float
    reasons: tuple[str, ...]
    beside: str = ""


@dataclass(frozen=True, slots=True)
class Proposal:
    """What is proposed for a command: the task that the matching gives it (None where it gives none), whether that is sure, and
    the best candidates by their score alone."""

    command: str
    task: str | None
    sure: bool
    candidates: tuple[Candidate, ...]


class _Label(NamedTuple):
    """A name under which a task is known; `factor`: how much a name like it counts. What is said of a command: `same` where it
    is called so, `like` where its name shares words with it."""

    task: str
    text: str
    words: tuple[str, ...]
    factor: float
    same: str
    like: str


class Proposer:
    """Proposes tasks for commands; what programs say of their commands' tasks already is learned from."""

    def __init__(
        self,
        tasks: Tasks,
        programs: Iterable[Program] = (),
        refused: Collection[tuple[str, str, str]] = (),
        weights: Weights = WEIGHTS,
    ) -> None:
        """`refused`: (program, command, task) that somebody said no to."""
        self.weights = weights
        self.refused = frozenset(refused)
        self.groups = {t.id: frozenset(stems(t.group)) for t in tasks.tasks}
        self.names = {t.id: t.name for t in tasks.tasks}
        self.usual: dict[tuple[Platform, Shortcut], list[str]] = defaultdict(list)
        labels: list[_Label] = []
        for task in tasks.tasks:
            labels.append(_Label(task.id, task.name, stems(task.name), 1.0, "it is called so", "their names are alike"))
            labels += [
                _Label(
                    task.id, w, stems(w), weights.other_word, f"{w} is another word for it", f"it is like its other word {w}"
                )
                for w in task.other_words
            ]
            for platform in task.usual:
                for shortcut in task.usual_on(platform):
                    self.usual[platform, shortcut].append(task.id)
        self.elsewhere: dict[tuple[Platform, Shortcut], Counter[str]] = defaultdict(Counter)
        for program in programs:
            for command in program.commands:
                if command.task in self.names:
                    of = f"{command.name} in {program.name}"
                    own = (str(command.task), command.name, stems(command.name))
                    labels.append(_Label(*own, weights.other_word, f"it is {of}", f"it is like {of}"))
                    for platform in command.defaults:
                        for shortcut in command.defaults_on(platform):
                            self.elsewhere[platform, shortcut][str(command.task)] += 1
        self.labels = tuple(dict.fromkeys(labels))
        counts = Counter(w for label in {(x.task, x.words) for x in self.labels} for w in set(label[1]))
        total = max(1, len(self.names))
        self.rarity = {
            w: (1 + math.log(total / min(n, total))) * (weights.particle if is_particle(w) else 1) for w, n in counts.items()
        }
        self.by_word: dict[str, list[int]] = defaultdict(list)
        for n, label in enumerate(self.labels):
            for word in label.words:
                self.by_word[word].append(n)

    def propose(self, program: Program, only: Collection[str] | None = None) -> list[Proposal]:
        """For the commands of a program that have no task yet, or those of some ids; tasks that its other commands do already
        are theirs."""
        wanted = [c for c in program.commands if not c.retired and (c.task is None if only is None else c.id in only)]
        ids = {c.id for c in wanted}
        given = {c.task: c.name for c in reversed(program.commands) if c.task is not None and c.id not in ids}
        every = [self._candidates(program, c) for c in wanted]
        found = [[one for one in own if one.task not in given] for own in every]
        chosen = _assigned(found, self.weights.floor)
        twins = Counter((stems(c.name), c.group) for c in wanted)
        best_for: dict[str, list[float]] = defaultdict(list)
        for candidates in found:
            for one in candidates:
                best_for[one.task].append(one.score)
        doing: dict[str, tuple[str, str]] = {str(task): ("", name) for task, name in given.items()}
        doing |= {c.task: (wanted[n].id, wanted[n].name) for n, c in chosen.items()}
        proposals = []
        for n, command in enumerate(wanted):
            at = chosen.get(n)
            sure = (
                at is not None
                and twins[stems(command.name), command.group] == 1
                and self._is_sure(at, found[n], best_for[at.task])
            )
            shown = [self._beside(one, command.id, doing) for one in found[n][:_SHOWN]]
            others = [one for one in every[n] if one.task in given and one.score >= self.weights.other_way][:1]
            shown += [self._beside(one, command.id, doing) for one in others]
            proposals.append(Proposal(command.id, at.task if at else None, sure, tuple(shown)))
        return proposals

    def _beside(self, one: Candidate, command: str, doing: Mapping[str, tuple[str, str]]) -> Candidate:
        """A candidate with who else does its task, where it is like enough to be another way of doing it."""
        other, name = doing.get(one.task, (command, ""))
        return replace(one, beside=name) if other != command and one.score >= self.weights.other_way else one

    def _is_sure(self, chosen: Candidate, own: Sequence[Candidate], rivals: Sequence[float]) -> bool:
        second = max((c.score for c in own if c.task != chosen.task), default=0.0)
        rival = sorted(rivals, reverse=True)[1] if len(rivals) > 1 else 0.0
        lead = self.weights.lead
        return chosen.score >= self.weights.sure and chosen.score - second >= lead and chosen.score - rival >= lead

    def _candidates(self, program: Program, command: Command) -> list[Candidate]:
        """The tasks that a command may do, best first."""
        names = self._by_names(command)
        keys = self._by_keys(command)
        group = frozenset(stems(command.group))
        described = frozenset(stems(command.description))
        found = []
        for task in names.keys() | keys.keys():
            if (program.id, command.id, task) in self.refused:
                continue
            by_name, why = names.get(task, (0.0, ""))
            by_key, key_why = keys.get(task, (0.0, ""))
            of_group = self.weights.group if group and group & self.groups[task] else 0.0
            words = frozenset(stems(self.names[task]))
            of_text = self.weights.description * len(words & described) / len(words) if words and described else 0.0
            score = 1 - (1 - by_name) * (1 - by_key) * (1 - of_group) * (1 - of_text)
            reasons = [
                why,
                key_why,
                "their groups are alike" if of_group else "",
                "its description says so" if of_text > 0.1 else "",
            ]
            found.append(Candidate(task, round(score, 4), tuple(r for r in reasons if r)))
        return sorted((c for c in found if c.score >= self.weights.floor / 2), key=lambda c: (-c.score, c.task))

    def _by_names(self, command: Command) -> dict[str, tuple[float, str]]:
        """How alike the names are, by task, with the label that is most alike."""
        best: dict[str, tuple[float, str]] = {}
        for n, text in enumerate((command.name, *command.other_words)):
            own = stems(text)
            factor = 1.0 if n == 0 else self.weights.other_word
            for at in {at for w in own for at in self.by_word.get(w, ())}:
                label = self.labels[at]
                alike = self._alike(text, own, label) * label.factor * factor
                if alike > best.get(label.task, (0.0, ""))[0]:
                    says = label.same if set(own) == set(label.words) else label.like
                    best[label.task] = (alike, says if n == 0 else f"{text} is another word for the command")
        return best

    def _alike(self, text: str, own: Sequence[str], label: _Label) -> float:
        """0 to 1: the share that two names have in common, rare words counting more; numbers and opposites part them."""
        both = set(own) & set(label.words)
        shared = sum(self.rarity[w] for w in both)
        known = sum(self.rarity.get(w, 0.0) for w in own)
        unknown = sum(w not in self.rarity for w in own) * self.weights.unknown * 2
        theirs = sum(self.rarity[w] for w in label.words)
        alike = 2 * shared / (known + unknown + theirs)
        if numbers(text) != numbers(label.text):
            alike *= 0.3
        if are_opposite(text, label.text):
            alike *= 0.1
        return min(alike, 0.98 if set(own) == set(label.words) else self.weights.partly)

    def _by_keys(self, command: Command) -> dict[str, tuple[float, str]]:
        best: dict[str, tuple[float, str]] = {}
        for platform in command.defaults:
            for shortcut in command.defaults_on(platform):
                told = f"{words_of(shortcut, platform)} on {PLATFORM_NAMES[platform]}"
                for task in self.usual.get((platform, shortcut), ()):
                    if self.weights.usual_key > best.get(task, (0.0, ""))[0]:
                        best[task] = (self.weights.usual_key, f"{told} is its usual key")
                others = self.elsewhere.get((platform, shortcut), Counter())
                total = others.total()
                for task, count in others.items():
                    score = self.weights.others_key * count / (total + 1)
                    if score > best.get(task, (0.0, ""))[0]:
                        best[task] = (score, f"{told} does it in other programs")
        return best


def _assigned(found: Sequence[Sequence[Candidate]], floor: float) -> dict[int, Candidate]:
    """Which candidate each command gets, so that the squares of the scores are the highest in all and no task is given twice:
    with the scores themselves, two poor matches would count for more than a good one."""
    import numpy
    from scipy.optimize import linear_sum_assignment  # type: ignore[import-untyped]

    places: dict[str, int] = {}
    for candidates in found:
        for one in candidates:
            places.setdefault(one.task, len(places))
    if not places:
        return {}
    scores = numpy.zeros((len(found), len(places)))
    by_place: dict[tuple[int, int], Candidate] = {}
    for n, candidates in enumerate(found):
        for one in candidates:
            if one.score >= floor:
                scores[n, places[one.task]] = one.score**2
                by_place[n, places[one.task]] = one
    rows, columns = linear_sum_assignment(scores, maximize=True)
    pairs = zip(rows.tolist(), columns.tolist(), strict=True)
    return {n: by_place[n, at] for n, at in pairs if (n, at) in by_place}


def figures(proposals: Mapping[str, Sequence[Proposal]], right: Mapping[tuple[str, str], str | None]) -> dict[str, float]:
    """How good proposals are: of the sure ones those that are right, of the commands that have a task those among the sure, and
    those whose task is among the first three. `proposals` by program; `right` by program and command."""
    sure = hits = found = have = 0
    for program, own in proposals.items():
        for one in own:
            true = right.get((program, one.command))
            have += true is not None
            sure += one.sure
            hits += one.sure and one.task == true
            found += true is not None and true in {c.task for c in one.candidates}
    return {"sure are right": hits / max(1, sure), "sure of all": hits / max(1, have), "first three": found / max(1, have)}
