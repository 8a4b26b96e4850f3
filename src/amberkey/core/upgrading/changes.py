"""Two versions of a program held against each other: what is called otherwise, came, went, moved, and what it takes now.

A command is the same in both where its id is, or where the new version says so (`was`). Of the others those that are gone are
matched to those that came: by words, keys, place and task, all at once by a maximum-weight assignment, so that none is matched
twice. That is proposed and never assumed.
"""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field

from rapidfuzz import fuzz, process

from amberkey.core.catalogue.words import are_opposite, numbers, stems
from amberkey.core.keys.platform import PLATFORM_NAMES, Platform
from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.programs.model import Command, Program

# How much each kind of evidence counts that a command that came is one that is gone.
_NAME, _KEYS, _TASK, _SCOPE, _GROUP = 0.55, 0.25, 0.2, 0.06, 0.06
_LEAST = 0.5
"""From which evidence on it is proposed."""
_ALIKE = (_LEAST - _SCOPE - _GROUP) / _NAME
"""How alike names have to be, from 0 to 1, where neither key nor task speaks for a pair: else it stays below that."""


@dataclass(frozen=True, slots=True)
class Renamed:
    """A command that has another id in the new version. `known`: the new version says so itself; else it is proposed, with
    `reasons` in words."""

    old: Command
    new: Command
    known: bool
    reasons: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class Moved:
    """A command whose maker gave it other keys on a platform."""

    old: Command
    new: Command
    platform: Platform
    before: tuple[Shortcut, ...]
    after: tuple[Shortcut, ...]


@dataclass(frozen=True, slots=True)
class Changes:
    """`called`: commands with another name and the same id. `scoped`: those that are live elsewhere. `behaves`: what the
    program does otherwise, `again`: what has to be done again after the update; both in sentences."""

    old: Program
    new: Program
    renamed: tuple[Renamed, ...] = ()
    called: tuple[tuple[Command, Command], ...] = ()
    came: tuple[Command, ...] = ()
    gone: tuple[Command, ...] = ()
    moved: tuple[Moved, ...] = ()
    scoped: tuple[tuple[Command, Command], ...] = ()
    behaves: tuple[str, ...] = ()
    again: tuple[str, ...] = ()
    same: Mapping[str, str] = field(default_factory=dict)
    """By the id in the old version, the id of the same command in the new one, proposals among them."""


def version_changes(old: Program, new: Program) -> Changes:
    """What a new version changes against an old one, commands in the order of the new version."""
    here = {c.id: c for c in old.commands if not c.retired}
    there = {c.id: c for c in new.commands if not c.retired}
    pairs = dict(_known_pairs(here, new))
    left = [c for i, c in here.items() if i not in pairs]
    free = [c for i, c in there.items() if i not in {c.id for c in pairs.values()}]
    proposed = [*_matched(left, free, old, new)]
    renamed = [Renamed(here[i], c, True) for i, c in pairs.items() if c.id != i]
    pairs |= {one.old.id: one.new for one in proposed}
    order = {c.id: n for n, c in enumerate(new.commands)}
    both = sorted(((here[i], c) for i, c in pairs.items()), key=lambda p: order[p[1].id])
    matched = {one.new.id for one in proposed}
    return Changes(
        old=old,
        new=new,
        renamed=tuple(sorted((*renamed, *proposed), key=lambda r: order[r.new.id])),
        called=tuple((a, b) for a, b in both if a.id == b.id and a.name != b.name),
        came=tuple(c for c in free if c.id not in matched),
        gone=tuple(c for c in left if c.id not in pairs),
        moved=tuple(_moved(both, old, new)),
        scoped=tuple((a, b) for a, b in both if _scope_name(old, a) != _scope_name(new, b)),
        behaves=tuple(_behaves(old, new)),
        again=tuple(_again(old, new)),
        same={i: c.id for i, c in pairs.items()},
    )


def _known_pairs(here: Mapping[str, Command], new: Program) -> Iterator[tuple[str, Command]]:
    """Commands that are the same by their ids; of several that say they were one, the first."""
    taken: set[str] = set()
    for own_id in here:
        found = new.commands_by_id.get(own_id)
        if found is not None and not found.retired and found.id == own_id:
            taken.add(own_id)
            yield own_id, found
    for own_id in here:
        found = new.command(own_id)
        if found is not None and not found.retired and found.id != own_id and found.id not in taken:
            taken.add(found.id)
            yield own_id, found


def _matched(gone: Sequence[Command], came: Sequence[Command], old: Program, new: Program) -> Iterator[Renamed]:
    if not gone or not came:
        return
    import numpy as np  # with SciPy, a third of a second that few need
    from scipy.optimize import linear_sum_assignment  # type: ignore[import-untyped]

    found = {(n, m): _evidence(gone[n], came[m], old, new) for n, m in _thinkable(gone, came)}
    costs = np.zeros((len(gone), len(came)))
    for (n, m), (score, _) in found.items():
        costs[n, m] = -score if score >= _LEAST else 0.0
    for n, m in zip(*linear_sum_assignment(costs), strict=True):
        score, reasons = found.get((n, m), (0.0, ()))
        if score >= _LEAST:
            yield Renamed(gone[n], came[m], False, reasons)


def _thinkable(gone: Sequence[Command], came: Sequence[Command]) -> set[tuple[int, int]]:
    """The pairs for which enough could speak: names that are alike, the same key, the same task. All others, which of a
    thousand commands are nearly all, needn't be looked at."""
    names = [[" ".join(stems(c.name)) for c in commands] for commands in (gone, came)]
    alike = process.cdist(*names, scorer=fuzz.token_sort_ratio, score_cutoff=100 * _ALIKE)
    pairs = {(int(n), int(m)) for n, m in zip(*alike.nonzero(), strict=True)}
    by_sign: dict[object, list[int]] = {}
    for m, command in enumerate(came):
        for sign in _signs(command):
            by_sign.setdefault(sign, []).append(m)
    pairs.update((n, m) for n, command in enumerate(gone) for sign in _signs(command) for m in by_sign.get(sign, ()))
    return pairs


def _signs(command: Command) -> Iterator[object]:
    """What makes two commands thinkable, whatever they are called."""
    if command.task is not None:
        yield command.task
    for platform in command.defaults:
        keys = command.defaults_on(platform)
        if keys:
            yield platform, keys


def _evidence(a: Command, b: Command, old: Program, new: Program) -> tuple[float, tuple[str, ...]]:
    """How much speaks for one command being the other, from 0 to about 1, and what it is."""
    if are_opposite(a.name, b.name) or numbers(a.name) != numbers(b.name):
        return 0.0, ()
    likeness = fuzz.token_sort_ratio(" ".join(stems(a.name)), " ".join(stems(b.name))) / 100
    score, reasons = _NAME * likeness, []
    if likeness >= 0.8:
        reasons.append("the names are alike")
    same = [p for p in a.defaults if a.defaults_on(p) and a.defaults_on(p) == b.defaults_on(p)]
    if same:
        score += _KEYS
        reasons.append(f"the maker gives both the same key on {' and '.join(PLATFORM_NAMES[p] for p in same)}")
    if a.task is not None and a.task == b.task:
        score += _TASK
        reasons.append("both do the same task")
    if _scope_name(old, a) == _scope_name(new, b):
        score += _SCOPE
        reasons.append("both are live in the same place")
    if a.group and a.group == b.group:
        score += _GROUP
        reasons.append("both stand in the same group")
    return score, tuple(reasons)


def _moved(both: Sequence[tuple[Command, Command]], old: Program, new: Program) -> Iterator[Moved]:
    for a, b in both:
        for platform in old.platforms:
            if platform in new.platforms and a.defaults_on(platform) != b.defaults_on(platform):
                yield Moved(a, b, platform, a.defaults_on(platform), b.defaults_on(platform))


def _scope_name(program: Program, command: Command) -> str:
    return program.scope(command.scope).name


def _behaves(old: Program, new: Program) -> Iterator[str]:
    for platform in old.platforms:
        if platform not in new.platforms:
            yield f"It isn't there on {PLATFORM_NAMES[platform]} any more."
        elif old.reads_on(platform) != new.reads_on(platform):
            now, was = new.reads_on(platform), old.reads_on(platform)
            yield f"On {PLATFORM_NAMES[platform]} it goes by the {now} now, not by the {was}."
    for platform in new.platforms:
        if platform not in old.platforms:
            yield f"It is there on {PLATFORM_NAMES[platform]} now."
    before, after = old.limits, new.limits
    if before.sequence_length != after.sequence_length:
        yield f"It takes at most {after.sequence_length} presses in a row now; it was {before.sequence_length}."
    if before.shortcuts_per_command != after.shortcuts_per_command:
        yield f"It takes at most {after.shortcuts_per_command} keys for a command now; it was {before.shortcuts_per_command}."
    if before.bare_keys != after.bare_keys:
        yield f"It {'takes' if after.bare_keys else 'refuses'} keys without modifiers now."
    for shortcut in after.refuses:
        if shortcut not in before.refuses:
            yield f"It refuses {shortcut} now."
    for shortcut in before.refuses:
        if shortcut not in after.refuses:
            yield f"It takes {shortcut} now."
    if old.card_only != new.card_only:
        yield "Its keys can't be set from outside any more." if new.card_only else "Its keys can be set from outside now."
    if (old.on_prefix, old.on_tie, old.after_miss) != (new.on_prefix, new.on_tie, new.after_miss):
        yield "It settles keys that meet each other otherwise."


def _again(old: Program, new: Program) -> Iterator[str]:
    known = {s.id for s in old.switches}
    for switch in new.switches:
        yield f"{'Look again whether' if switch.id in known else 'Switch on:'} {switch.name} ({switch.where})."
    there = {a.id for a in new.add_ons}
    for add_on in old.add_ons:
        if add_on.id not in there:
            yield f"The add-on {add_on.name} is gone: what it brought has no keys any more."
    for n, file in enumerate(new.settings_files):
        before = old.settings_files[n] if n < len(old.settings_files) else None
        if before is None:
            yield f"Its keys lie in one file more: {', '.join(sorted(set(file.path.values())))}."
        elif before.path != file.path:
            yield f"Its settings file lies elsewhere: {', '.join(sorted(set(file.path.values())))}. It begins empty there."
        elif before.container != file.container or before.dialect != file.dialect:
            yield "Its settings file is written otherwise: what machines have has to be written again."
    if len(new.settings_files) < len(old.settings_files):
        yield "It has fewer settings files: what lay in the others has to be set again."
