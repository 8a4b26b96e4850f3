"""Upgrade checks: what a newer version of a program means for those who have an older one, before their machines have it."""

from collections.abc import Iterator, Sequence
from typing import Annotated, cast

from django.http import HttpRequest
from ninja import Router
from pydantic import Field

from amberkey.core.clashes.estate import Estate, Group
from amberkey.core.compare.operations import JsonDocument, Operation, set_item
from amberkey.core.documents.canonical import Json
from amberkey.core.keys.platform import PLATFORM_NAMES
from amberkey.core.programs.editions import figures_of
from amberkey.core.programs.model import Program
from amberkey.core.upgrading.changes import Changes, version_changes
from amberkey.core.upgrading.meaning import Meaning, OwnEntry, accepted, meaning_of
from amberkey.server.estate import current_estate, current_organisation, current_standard, in_sight, layer_names
from amberkey.server.library.documents import find, newest_of, programs_by_key
from amberkey.server.library.history import ChangeOut
from amberkey.server.library.sight import sees_document
from amberkey.server.library.verbs.change import change
from amberkey.server.people.acting import By, actor_of
from amberkey.server.people.models import Role
from amberkey.server.problems import NotFound, Problem
from amberkey.server.schema import Schema, Words
from amberkey.server.workbench.clashes.told import brief
from amberkey.server.workbench.keeping import kept
from amberkey.server.workbench.words import ShortcutOut, shortcut_on

router = Router(tags=["commands"])
_SHOWN = 60


class WaitingUpgradeOut(Schema):
    """A program of which some machines have an older version than there is. `people`: who have the older one."""

    program: str
    name: str
    old: str
    new: str
    people: int
    machines: int


class RenamingOut(Schema):
    """A command under another id. `known`: the new version says so; else it is proposed, for `reasons`."""

    old: str
    old_name: str
    new: str
    new_name: str
    known: bool
    reasons: list[str]


class MovedDefaultOut(Schema):
    command: str
    name: str
    platform: str
    before: list[ShortcutOut]
    after: list[ShortcutOut]


class OtherMeaningOut(Schema):
    """A press that does something else after the upgrade, or nothing (`now` empty)."""

    keys: str
    was: str
    now: str
    people: int
    setups: list[str]


class TouchedEntryOut(Schema):
    """An entry of a profile that the upgrade touches, by its key there."""

    profile: str
    profile_name: str
    key: str
    command: str
    keys: list[ShortcutOut]
    platform: str


class UpgradeOut(Schema):
    """What an upgrade changes and means; the first 60 of each list. `people`, `setups`: those who would upgrade."""

    program: str
    name: str
    old: str
    new: str
    versions: list[str]
    people: int
    setups: int
    machines: int
    came: list[str]
    gone: list[str]
    renamed: list[RenamingOut]
    called: list[str]
    moved: list[MovedDefaultOut]
    scoped: list[str]
    behaves: list[str]
    again: list[str]
    surprises: list[OtherMeaningOut]
    orphans: list[TouchedEntryOut]
    spare: list[TouchedEntryOut]
    follow: list[str]
    lost: list[str]
    solves: list[str]
    makes: list[str]


class TakeUpgradeIn(Schema):
    """What is taken of an upgrade check: proposed renamings, by the ids of the old commands, that are said in the new version;
    spare entries that are taken out, by profile and key."""

    old: Words
    new: Words
    renamed: Annotated[list[Words], Field(max_length=2_000)] = []
    spare: Annotated[list[tuple[Words, Words]], Field(max_length=2_000)] = []


@router.get("/upgrades", response=list[WaitingUpgradeOut])
@kept
def upgrades(request: HttpRequest) -> list[WaitingUpgradeOut]:
    """Programs of which there is a newer version than some machines have, those of most people first."""
    return waiting_upgrades()


def waiting_upgrades() -> list[WaitingUpgradeOut]:
    """The same, for whoever else tells of it."""
    estate, programs = current_estate(), _by_program()
    found = []
    for versions in programs.values():
        newest = versions[-1]
        for older in versions[:-1]:
            used = (older.id, older.version)
            having = [s for s in estate.setups.values() if used in ((u.id, u.version) for u in s.programs)]
            if having:
                found.append(
                    WaitingUpgradeOut(
                        program=older.id,
                        name=newest.name,
                        old=older.version,
                        new=newest.version,
                        people=estate.people_of(having),
                        machines=_machines_with(older),
                    )
                )
    return sorted(found, key=lambda u: (-u.people, u.name, u.old))


@router.get("/upgrades/{program}", response=UpgradeOut)
@kept
def upgrade(request: HttpRequest, program: str, old: Words = "", new: Words = "", taken: Words = "") -> UpgradeOut:
    """What one version changes against another, and what that means. Without versions, from the oldest that somebody has to the
    newest. `taken`: proposed renamings that are taken as true, the ids of the old commands with blanks between them."""
    before, after, versions = _versions(program, old, new)
    changes = version_changes(before, after)
    ids = set(taken.split())
    return _told(changes, meaning_of(current_estate(), changes, accepted(changes, ids), current_standard()), versions)


@router.post("/upgrades/{program}", response=ChangeOut, auth=By(Role.EDITOR))
def take_upgrade(request: HttpRequest, program: str, given: TakeUpgradeIn) -> ChangeOut:
    """Say in the new version which commands are old ones, and take out entries that say what its default says: one change."""
    actor = actor_of(request)
    before, after, _ = _versions(program, given.old, given.new)
    changes = version_changes(before, after)
    proposed = {one.old.id: one.new.id for one in changes.renamed if not one.known}
    unknown = next((i for i in given.renamed if i not in proposed), None)
    if unknown is not None:
        raise Problem(409, f"No renaming of {unknown[:60]} is proposed.", "It was changed meanwhile.", "Look again.")
    meaning = meaning_of(current_estate(), changes, accepted(changes, given.renamed))
    spare = {(o.profile, o.entry.key) for o in meaning.spare}
    gone = next((pair for pair in given.spare if pair not in spare), None)
    if gone is not None:
        raise Problem(409, f"{gone[0][:60]} says more than the new default.", "It was changed meanwhile.", "Look again.")
    operations = dict(_taken_out(given.spare))
    if given.renamed:
        operations[f"program/{after.id}@{after.version}"] = _said_in(after, {i: proposed[i] for i in given.renamed})
    title = f"Took {len(given.renamed)} renamings and {len(given.spare)} spare entries of {after.name} {after.version}"
    done = change(actor, title, operations)
    return ChangeOut(id=done.id, title=done.title)


def _by_program() -> dict[str, list[Program]]:
    """The versions of each program, the oldest first; systems are kept by their editions, not by versions."""
    found: dict[str, list[Program]] = {}
    for one in programs_by_key().values():
        if one.kind != "system":
            found.setdefault(one.id, []).append(one)
    for versions in found.values():
        versions.sort(key=lambda p: (figures_of(p.version), p.version))
    return found


def _versions(program: str, old: str, new: str) -> tuple[Program, Program, list[str]]:
    versions = _by_program().get(program)
    if versions is None:
        raise NotFound(f"program {program[:60]}")
    if len(versions) < 2:
        raise Problem(409, f"There is one version of {versions[0].name} only.", cure="Bring the new version in first.")
    by_version = {p.version: p for p in versions}
    wrong = next((v for v in (old, new) if v and v not in by_version), None)
    if wrong is not None:
        raise NotFound(f"version {wrong[:40]} of {versions[0].name}")
    used = {u.version for s in current_estate().setups.values() for u in s.programs if u.id == program}
    after = by_version[new] if new else versions[-1]
    others = [p for p in versions if p is not after]
    before = by_version[old] if old else next((p for p in others if p.version in used), others[-1])
    if before is after:
        raise Problem(409, f"Both are version {after.version}.", cure="Choose two different ones.")
    return before, after, [p.version for p in versions]


def _machines_with(program: Program) -> int:
    organisation = current_organisation()
    return sum(
        any((u.id, u.version) == (program.id, program.version) for u in organisation.programs_on(m))
        for m in organisation.machines
        if m.retired is None
    )


def _told(changes: Changes, meaning: Meaning, versions: list[str]) -> UpgradeOut:
    old, new, estate = changes.old, changes.new, current_estate()
    tasks = {t.id: t.name for t in estate.tasks.tasks}
    return UpgradeOut(
        program=new.id,
        name=new.name,
        old=old.version,
        new=new.version,
        versions=versions,
        people=meaning.people,
        setups=len(meaning.setups),
        machines=_machines_with(old),
        came=[c.name for c in changes.came[:_SHOWN]],
        gone=[c.name for c in changes.gone[:_SHOWN]],
        renamed=[
            RenamingOut(
                old=r.old.id,
                old_name=r.old.name,
                new=r.new.id,
                new_name=r.new.name,
                known=r.known,
                reasons=list(r.reasons),
            )
            for r in changes.renamed[:_SHOWN]
        ],
        called=[f"{a.name} is {b.name} now" for a, b in changes.called[:_SHOWN]],
        moved=[
            MovedDefaultOut(
                command=m.new.id,
                name=m.new.name,
                platform=PLATFORM_NAMES[m.platform],
                before=[shortcut_on(k, m.platform) for k in m.before],
                after=[shortcut_on(k, m.platform) for k in m.after],
            )
            for m in changes.moved[:_SHOWN]
        ],
        scoped=[f"{b.name}: {new.scope(b.scope).name}, not {old.scope(a.scope).name}" for a, b in changes.scoped[:_SHOWN]],
        behaves=list(changes.behaves),
        again=list(changes.again),
        surprises=[
            OtherMeaningOut(
                keys=s.keys,
                was=s.was.name,
                now=s.now.name if s.now else "",
                people=s.people,
                setups=[setup.name for setup in s.setups if in_sight(setup.id)],
            )
            for s in meaning.surprises[:_SHOWN]
        ],
        orphans=_entries(meaning.orphans, estate),
        spare=_entries(meaning.spare, estate),
        follow=[tasks.get(t, t) for t in meaning.follow],
        lost=[tasks.get(t, t) for t in meaning.lost],
        solves=_brief(meaning.solves, estate),
        makes=_brief(meaning.makes, meaning.after),
    )


def _brief(groups: Sequence[Group], estate: Estate) -> list[str]:
    return [brief(g, estate.board(g.setups[0].id)) for g in groups[:_SHOWN]]


def _entries(entries: Sequence[OwnEntry], estate: Estate) -> list[TouchedEntryOut]:
    names = layer_names(estate)
    return [
        TouchedEntryOut(
            profile=o.profile,
            profile_name=names[o.profile],
            key=o.entry.key,
            command=o.command.name,
            keys=[shortcut_on(g.keys, o.entry.platform) for g in o.entry.shortcuts],
            platform=PLATFORM_NAMES[o.entry.platform],
        )
        for o in entries[:_SHOWN]
        if sees_document(f"profile/{o.profile}")
    ]


def _said_in(program: Program, renamed: dict[str, str]) -> list[Operation]:
    """The operations that say of commands what they were."""
    document = cast(JsonDocument, newest_of(find(f"program/{program.id}@{program.version}")).body.json())
    items = {cast(str, c["id"]): c for c in cast(list[dict[str, Json]], document.get("commands", []))}
    found = []
    for new in dict.fromkeys(renamed.values()):
        were = [i for i, to in renamed.items() if to == new]
        item = items[new]
        was = sorted({*cast(list[str], item.get("was") or []), *were})
        found.append(set_item(document, "commands", new, {**item, "was": cast(Json, was)}))
    return [o for o in found if o is not None]


def _taken_out(spare: Sequence[tuple[str, str]]) -> Iterator[tuple[str, list[Operation]]]:
    by_profile: dict[str, list[str]] = {}
    for profile, key in spare:
        by_profile.setdefault(profile, []).append(key)
    for profile, keys in by_profile.items():
        if not sees_document(f"profile/{profile}"):
            raise NotFound(f"profile {profile[:60]}")
        document = cast(JsonDocument, newest_of(find(f"profile/{profile}")).body.json())
        found = (set_item(document, "entries", key, None) for key in dict.fromkeys(keys))
        yield f"profile/{profile}", [o for o in found if o is not None]
