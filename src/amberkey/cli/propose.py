"""`amberkey propose`: keys for all tasks of a platform at once, with how good they are at least."""

import json
import pathlib
from argparse import Namespace
from collections.abc import Sequence
from dataclasses import replace
from typing import cast

from amberkey.cli.answer import Answer, Facts, columns
from amberkey.cli.check import day_from
from amberkey.cli.errors import Wrong
from amberkey.cli.files import board_from, estate_of, organisation_in, read_one, setups_in, setups_of_departments, shelf_of
from amberkey.core.keys.errors import ShortcutError
from amberkey.core.keys.platform import PLATFORM_NAMES, PLATFORMS, Platform
from amberkey.core.keys.reading import read_shortcut
from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.proposing.apart import Apart
from amberkey.core.proposing.propose import Proposal, Proposer
from amberkey.core.proposing.question import NOTHING_SETTLED, CannotPropose, Question, Settled
from amberkey.core.standard.model import NO_STANDARD, Standard


def propose(asked: Namespace) -> tuple[list[Answer], int]:
    """A standard for one platform of an organisation, or for several in one go. Exit code 1 where others might be better by
    more than `--gap`."""
    platform = cast(Platform, asked.platform)
    setups = [s for path in asked.setup for s in setups_in(path)]
    shelf = shelf_of([*asked.setup, *([asked.standard] if asked.standard else [])], asked.more)
    estate = estate_of(setups, shelf, day_from(asked.today))
    census = organisation_in(asked.setup[0]) if len(asked.setup) == 1 else None
    if census is not None:
        estate = replace(estate, census=census)
    for setup in setups:
        board_from(estate, setup.id, shelf)
    standard = read_one(asked.standard, Standard) if asked.standard else NO_STANDARD
    together = tuple(cast(Sequence[Platform], asked.together))
    settled = _settled(asked, platform, together)
    first = settled.pop(platform, NOTHING_SETTLED)
    question = Question(
        platform,
        together,
        pins=first.pins,
        bans=first.bans,
        without=first.without,
        elsewhere=settled,
        spared=frozenset(asked.spare),
        alone=setups_of_departments(asked.setup[0], asked.alone),
        seconds=asked.seconds,
    )
    try:
        found = Proposer(question, estate, standard, Apart()).propose(asked.budget)
    except CannotPropose as error:
        raise Wrong(f"{error.says} {error.cure}", {"status": "none"}) from error
    if asked.to:
        _write(asked.to, found.standard)
    return [Answer(_text(found), _facts(found))], int(found.gap > asked.gap)


def _settled(asked: Namespace, first: Platform, together: Sequence[Platform]) -> dict[Platform, Settled]:
    """What is settled beforehand, by platform: the first one where none is said."""
    pins: dict[Platform, dict[str, Shortcut]] = {}
    bans: dict[Platform, list[tuple[str, Shortcut]]] = {}
    for said in asked.pin:
        platform, text = _platform_of(said, first, together, "pin")
        pins.setdefault(platform, {}).update([_pin(text, platform)])
    for said in asked.ban:
        platform, text = _platform_of(said, first, together, "ban")
        bans.setdefault(platform, []).append(_banned(text, platform))
    return {
        platform: Settled(
            pins.get(platform, {}),
            frozenset(key for task, key in bans.get(platform, ()) if not task),
            {own: frozenset(key for task, key in bans[platform] if task == own) for own, _ in bans.get(platform, ()) if own},
        )
        for platform in dict.fromkeys([*pins, *bans])
    }


def _platform_of(said: str, first: Platform, together: Sequence[Platform], option: str) -> tuple[Platform, str]:
    name, given, text = said.partition(":")
    platform = next((p for p in PLATFORMS if p == name.strip().lower()), None) if given else None
    if platform is None:
        return first, said
    if platform not in (first, *together):
        raise Wrong(f"--{option} {said[:60]}: no keys are chosen for {platform}: add --together {platform}.", {option: said})
    return platform, text.strip()


def _pin(text: str, platform: Platform) -> tuple[str, Shortcut]:
    task, given, keys = text.partition("=")
    if not given:
        raise Wrong(f"--pin {text[:60]}: TASK=KEYS is wanted, for instance save=Ctrl+S.", {"pin": text})
    return task.strip(), _key(keys, platform, "pin")


def _banned(text: str, platform: Platform) -> tuple[str, Shortcut]:
    """A key with the task that may not have it; without a task nobody may. The sign = may be a key itself."""
    task, given, keys = text.partition("=")
    named = bool(given and keys.strip() and task.strip() and "+" not in task)
    return (task.strip(), _key(keys, platform, "ban")) if named else ("", _key(text, platform, "ban"))


def _key(text: str, platform: Platform, option: str) -> Shortcut:
    try:
        return read_shortcut(text).resolve(platform)
    except ShortcutError as error:
        guess = f" Did you mean {error.guess}?" if error.guess else f" Expected {error.expected}."
        raise Wrong(f"--{option} {text[:60]}: {error.says}{guess}", {option: text}) from error


def _write(path: str, standard: Standard) -> None:
    try:
        pathlib.Path(path).write_text(json.dumps(standard.to_json(), ensure_ascii=False, indent=1) + "\n", encoding="utf-8")
    except OSError as error:
        raise Wrong(f"{path} can't be written: {error.strerror}.", {"file": path}) from error


def _text(found: Proposal) -> str:
    judged, today = found.judged, found.today
    proven = "proven the best" if found.status == "optimal" else f"at most {100 * found.gap:.1f} % from the best"
    platforms = ", ".join(PLATFORM_NAMES[p] for p in found.question.platforms)
    head = (
        f"{platforms}: {found.cost:,.0f} points, {proven}; {found.relearned:,} keys relearned\n"
        f"agreeing {judged.agree:,} of {judged.could:,} programs times people, {today.agree:,} as it is; "
        f"blocker and high clashes {judged.worst:,} times people, {today.worst:,} as it is"
    )
    rows = [
        (
            *([PLATFORM_NAMES[line.platform]] if len(found.sides) > 1 else []),
            " and ".join(t.name for t in line.wanted.tasks),
            " and ".join(map(str, line.candidate.keys.values())),
            f"{line.people} people",
            f"{line.relearned} relearned" if line.relearned else "",
        )
        for line in found.lines
    ]
    changes = [
        (
            *([PLATFORM_NAMES[side.platform]] if len(found.sides) > 1 else []),
            *(c.post.program, c.post.command.name, c.does, str(c.shortcut), why),
        )
        for side in found.sides
        for c, why in side.changes
    ]
    return f"{head}\n\n{columns(rows)}" + (f"\n\n{columns(changes)}" if changes else "")


def _facts(found: Proposal) -> Facts:
    return {
        "status": found.status,
        "cost": found.cost,
        "bound": found.bound,
        "gap": found.gap,
        "relearned": found.relearned,
        "points": {**found.judged.points._asdict(), "total": found.judged.points.total},
        "today": {**found.today.points._asdict(), "total": found.today.points.total},
        "agree": found.judged.agree,
        "could": found.judged.could,
        "lines": [
            {
                "platform": line.platform,
                "tasks": {task: str(key) for task, key in line.candidate.keys.items()},
                "layouts": list(line.wanted.layouts),
                "people": line.people,
                "relearned": line.relearned,
                "keep_their_own": list(line.keep),
            }
            for line in found.lines
        ],
        "exceptions": _told(found, ("keeps",)),
        "moved": _told(found, ("moves", "loses", "clears")),
        "clashes_made": [
            {
                "platform": side.platform,
                "kind": g.clash.kind,
                "severity": g.clash.severity,
                "people": g.people,
                "stroke": str(g.clash.stroke),
            }
            for side in found.sides
            for g in side.makes
        ],
    }


def _told(found: Proposal, does: Sequence[str]) -> list[dict[str, object]]:
    return [
        {
            "platform": side.platform,
            "program": c.post.program,
            "command": c.post.command.id,
            "does": c.does,
            "keys": str(c.shortcut),
            "why": why,
        }
        for side in found.sides
        for c, why in side.changes
        if c.does in does
    ]
