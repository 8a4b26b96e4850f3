"""`amberkey upgrade`: what a new version of a program changes, and what that means for setups that have the old one."""

from argparse import Namespace
from collections.abc import Iterable, Sequence

from amberkey.cli.answer import Answer, Facts, columns
from amberkey.cli.check import day_from
from amberkey.cli.errors import Wrong
from amberkey.cli.files import board_from, estate_of, read_one, setups_in, shelf_of
from amberkey.core.clashes.estate import Estate, Group
from amberkey.core.clashes.wording import say_clash
from amberkey.core.keys.platform import PLATFORM_NAMES
from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.programs.model import Program
from amberkey.core.standard.model import Standard
from amberkey.core.upgrading.changes import Changes, version_changes
from amberkey.core.upgrading.meaning import Meaning, OwnEntry, accepted, meaning_of


def upgrade(asked: Namespace) -> tuple[list[Answer], int]:
    """What the new version means. Exit code 1 where something has to be decided: proposals, presses that mean something else,
    entries whose command is gone, clashes made, tasks that nothing does any more."""
    old, new = read_one(asked.old, Program), read_one(asked.new, Program)
    if old.id != new.id:
        raise Wrong(f"{asked.old} is {old.name} and {asked.new} is {new.name}: these are no versions of one program.")
    if old.version == new.version:
        raise Wrong(f"Both are version {old.version} of {old.name}. Give the new one a version of its own.")
    setups = [setup for path in asked.setup for setup in setups_in(path)]
    having = [s for s in setups if any((u.id, u.version) == (old.id, old.version) for u in s.programs)]
    if setups and not having:
        raise Wrong(f"No setup has {old.name} {old.version}, so nobody would upgrade from it.")
    changes = version_changes(old, new)
    if not having:
        return [Answer("\n\n".join(filter(None, _changed(changes))), _facts(changes))], int(_open(changes, None))
    shelf = shelf_of([*asked.setup, asked.old, asked.new], asked.more)
    estate = estate_of(having, shelf, day_from(asked.today))
    for setup in having:
        board_from(estate, setup.id, shelf)
    standard = read_one(asked.standard, Standard) if asked.standard else None
    taken = {one.old.id for one in changes.renamed if not one.known} if asked.take_all else set(asked.take)
    _check_taken(changes, taken)
    meaning = meaning_of(estate, changes, accepted(changes, taken), standard)
    text = "\n\n".join(filter(None, (*_changed(changes), *_means(meaning, estate))))
    return [Answer(text, {**_facts(changes), **_meaning_facts(meaning, estate)})], int(_open(changes, meaning))


def _check_taken(changes: Changes, taken: Iterable[str]) -> None:
    known = {one.old.id for one in changes.renamed if not one.known}
    wrong = next((i for i in taken if i not in known), None)
    if wrong is not None:
        raise Wrong(f"No renaming of {wrong} is proposed.", {"take": wrong, "proposed": sorted(known)})


def _open(changes: Changes, meaning: Meaning | None) -> bool:
    """Whether something has to be decided."""
    if any(not one.known for one in changes.renamed):
        return True
    return meaning is not None and bool(meaning.surprises or meaning.orphans or meaning.makes or meaning.lost)


def _changed(changes: Changes) -> Iterable[str]:
    old, new = changes.old, changes.new
    yield f"{old.name}, {old.version} to {new.version}: {len(changes.came)} commands came, {len(changes.gone)} are gone"
    yield _list("Came", [c.name for c in changes.came])
    yield _list("Gone", [c.name for c in changes.gone])
    known = [f"{r.old.name} is {r.new.name} now" for r in changes.renamed if r.known and r.old.name != r.new.name]
    yield _list("Called otherwise", [*known, *(f"{a.name} is {b.name} now" for a, b in changes.called)])
    yield _list(
        "Perhaps the same",
        [f"{r.old.name}, and now {r.new.name}: {'; '.join(r.reasons)}" for r in changes.renamed if not r.known],
    )
    moved = [(m.new.name, PLATFORM_NAMES[m.platform], _keys(m.before), "now", _keys(m.after)) for m in changes.moved]
    yield f"On other keys:\n{columns(moved)}" if moved else ""
    scoped = [f"{b.name}: {new.scope(b.scope).name}, not {old.scope(a.scope).name}" for a, b in changes.scoped]
    yield _list("Live elsewhere", scoped)
    yield _list("It behaves otherwise", changes.behaves)
    yield _list("To be done again after the update", changes.again)


def _means(meaning: Meaning, estate: Estate) -> Iterable[str]:
    yield f"For {meaning.people} people in {len(meaning.setups)} setups:"
    rows = [(s.keys, s.was.name, "now", s.now.name if s.now else "nothing", f"{s.people} people") for s in meaning.surprises]
    yield f"Presses that mean something else:\n{columns(rows)}" if rows else ""
    yield _list("Own entries whose command is gone", [_own(o, estate) for o in meaning.orphans])
    yield _list("Own entries that say what the new default says", [_own(o, estate) for o in meaning.spare])
    yield _list("Tasks of the standard that it does now", meaning.follow)
    yield _list("Tasks of the standard that it does no more", meaning.lost)
    yield _list(f"Solves {len(meaning.solves)}", [_clash(g, estate) for g in meaning.solves])
    yield _list(f"Makes {len(meaning.makes)}", [_clash(g, meaning.after) for g in meaning.makes])


def _list(title: str, says: Sequence[str]) -> str:
    return "\n".join((f"{title}:", *(f"  {s}" for s in says))) if says else ""


def _own(own: OwnEntry, estate: Estate) -> str:
    keys = _keys([g.keys for g in own.entry.shortcuts])
    return f"{estate.profiles[own.profile].name}: {keys} for {own.command.name}"


def _keys(shortcuts: Sequence[Shortcut]) -> str:
    return " or ".join(map(str, shortcuts)) or "no key"


def _clash(group: Group, estate: Estate) -> str:
    return say_clash(group.clash, estate.board(group.setups[0].id))


def _facts(changes: Changes) -> Facts:
    return {
        "program": changes.new.id,
        "old": changes.old.version,
        "new": changes.new.version,
        "came": [c.id for c in changes.came],
        "gone": [c.id for c in changes.gone],
        "renamed": [{"old": r.old.id, "new": r.new.id, "known": r.known, "reasons": list(r.reasons)} for r in changes.renamed],
        "called": [{"command": b.id, "old": a.name, "new": b.name} for a, b in changes.called],
        "moved": [
            {"command": m.new.id, "platform": m.platform, "before": [*map(str, m.before)], "after": [*map(str, m.after)]}
            for m in changes.moved
        ],
        "scoped": [{"command": b.id, "old": a.scope, "new": b.scope} for a, b in changes.scoped],
        "behaves": list(changes.behaves),
        "again": list(changes.again),
    }


def _meaning_facts(meaning: Meaning, estate: Estate) -> Facts:
    def own(entries: Sequence[OwnEntry]) -> list[Facts]:
        return [{"profile": o.profile, "command": o.entry.command, "platform": o.entry.platform} for o in entries]

    return {
        "setups": [s.id for s in meaning.setups],
        "people": meaning.people,
        "surprises": [
            {"keys": s.keys, "was": s.was.id, "now": s.now.id if s.now else None, "people": s.people} for s in meaning.surprises
        ],
        "orphans": own(meaning.orphans),
        "spare": own(meaning.spare),
        "follow": list(meaning.follow),
        "lost": list(meaning.lost),
        "solves": [{"identity": g.clash.identity, "says": _clash(g, estate)} for g in meaning.solves],
        "makes": [{"identity": g.clash.identity, "says": _clash(g, meaning.after)} for g in meaning.makes],
    }
