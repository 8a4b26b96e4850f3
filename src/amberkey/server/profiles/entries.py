"""Working with the shortcuts of a profile: carried to another profile or other layouts, and tidied of what changes nothing."""

from collections.abc import Mapping, Sequence
from typing import cast

from django.http import HttpRequest
from ninja import Router
from pydantic import Field

from amberkey.core.clashes.relearning import relearned
from amberkey.core.compare.operations import JsonDocument, Operation, set_item
from amberkey.core.documents.canonical import Json
from amberkey.core.keys.platform import PLATFORM_NAMES
from amberkey.core.keys.wording import words_of
from amberkey.core.layouts.layout import layout_names
from amberkey.core.profiles.effective import DEFAULT
from amberkey.core.profiles.model import Entry, Profile
from amberkey.core.ways.several import with_operations
from amberkey.core.ways.tidying import spare_entries
from amberkey.server.estate import current_estate, layer_names
from amberkey.server.library.documents import find, known_programs, load, newest_of
from amberkey.server.library.history import ChangeOut
from amberkey.server.library.sight import sees_document
from amberkey.server.library.verbs.change import change
from amberkey.server.people.acting import By, actor_of
from amberkey.server.people.models import Role
from amberkey.server.problems import NotFound, Problem
from amberkey.server.schema import Schema, Words
from amberkey.server.workbench.would import WouldOut, would_all

router = Router(tags=["profiles"])
_SHOWN = 20


class CarryIn(Schema):
    """Entries of a profile by their keys. `to`: the profile that gets them, itself for other layouts only. `layouts`: those
    that they hold for there, null: as they are. `stay`: they stay here too. `over`: what stands there is replaced."""

    keys: list[Words] = Field(min_length=1, max_length=2000)
    to: Words
    layouts: list[Words] | None = None
    stay: bool = True
    over: bool = False


class RelearnsOut(Schema):
    """How many people relearn just this: commands with their keys before and after."""

    people: int
    says: list[str]


class CarryPlanOut(Schema):
    """`stands`: what stands there already for the same commands, in words."""

    would: WouldOut
    relearn: list[RelearnsOut]
    stands: list[str]
    carried: int


class SpareOut(Schema):
    """An entry without which nothing changes. `same_as`: what says the same beneath it."""

    key: str
    command: str
    program: str
    platform: str
    keys: list[str]
    same_as: str


@router.post("/profiles/{profile_id}/entries/carry/plan", response=CarryPlanOut, auth=By(Role.EDITOR))
def plan_carrying(request: HttpRequest, profile_id: str, given: CarryIn) -> CarryPlanOut:
    """What carrying entries would change, for whom; saves nothing."""
    changes, stands = _carried(profile_id, given)
    estate = current_estate()
    known = {p: o for p, o in changes.items() if p in estate.profiles and o}
    after = with_operations(estate, known) if known else estate
    relearn = [
        RelearnsOut(
            people=estate.people_of(setups),
            says=[f"{r.command} in {r.program}: {r.before or 'none'}, then {r.after or 'none'}" for r in rows[:_SHOWN]],
        )
        for rows, setups in relearned(estate, after)
    ]
    return CarryPlanOut(
        would=would_all(changes),
        relearn=sorted(relearn, key=lambda r: -r.people),
        stands=stands,
        carried=len(given.keys),
    )


@router.post("/profiles/{profile_id}/entries/carry", response=ChangeOut, auth=By(Role.EDITOR))
def carry(request: HttpRequest, profile_id: str, given: CarryIn) -> ChangeOut:
    """Move or copy entries to another profile, or to other layouts."""
    changes, stands = _carried(profile_id, given)
    if stands and not given.over:
        cure = "Take those off first, or carry these over them."
        raise Problem(409, f"Something stands there already: {'; '.join(stands[:3])}.", cure=cure)
    here, there = load(f"profile/{profile_id}", Profile), load(f"profile/{given.to}", Profile)
    count = f"{len(given.keys)} {'shortcut' if len(given.keys) == 1 else 'shortcuts'}"
    where = f"from {here.name} to {there.name}" if given.to != profile_id else f"within {here.name} to other layouts"
    title = f"{'Copied' if given.stay else 'Moved'} {count} {where}"
    done = change(actor_of(request), title, {f"profile/{i}": o for i, o in changes.items()})
    return ChangeOut(id=done.id, title=done.title)


def _carried(profile_id: str, given: CarryIn) -> tuple[dict[str, list[Operation]], list[str]]:
    """The operations on each profile, and in words what stands there for the same commands."""
    for one in (profile_id, given.to):
        if not sees_document(f"profile/{one}"):
            raise NotFound(f"profile {one[:60]}")
    here, there = load(f"profile/{profile_id}", Profile), load(f"profile/{given.to}", Profile)
    own = {e.key: e for e in here.entries}
    missing = next((k for k in given.keys if k not in own), None)
    if missing is not None:
        raise NotFound(f"entry {missing[:80]}")
    unknown = next((i for i in given.layouts or () if i not in layout_names()), None)
    if unknown is not None:
        raise Problem(400, f"There is no layout {unknown[:40]}.", cure="Choose one that is there.")
    wanted = [own[k] for k in dict.fromkeys(given.keys)]
    layouts = {} if given.layouts is None else {"layouts": tuple(sorted(set(given.layouts)))}
    carried = [e.model_copy(update=layouts) if layouts else e for e in wanted]
    if given.to == profile_id and [e.key for e in carried] == [e.key for e in wanted]:
        raise Problem(409, "They stand there already.", cure="Choose another profile, or other layouts.")
    if len({e.key for e in carried}) < len(carried):
        raise Problem(409, "Two of them would be of one command there.", cure="Carry them one after another.")
    documents = {i: cast(JsonDocument, newest_of(find(f"profile/{i}")).body.json()) for i in {profile_id, given.to}}
    changes: dict[str, list[Operation]] = {i: [] for i in documents}
    stays = {e.key for e in there.entries} - (set() if given.stay or given.to != profile_id else set(given.keys))
    stands = [_in_words(e) for e in there.entries if e.key in stays and _differs(e, carried)]
    if not given.stay:
        for entry in wanted:
            if given.to != profile_id or entry.key not in {e.key for e in carried}:
                _set(changes[profile_id], documents[profile_id], entry.key, None)
    for entry in carried:
        _set(changes[given.to], documents[given.to], entry.key, entry)
    return changes, stands


def _differs(standing: Entry, carried: Sequence[Entry]) -> bool:
    return any(e.key == standing.key and e != standing for e in carried)


def _set(operations: list[Operation], document: JsonDocument, key: str, entry: Entry | None) -> None:
    after = cast(Json, entry.model_dump(mode="json", exclude_defaults=True)) if entry is not None else None
    found = set_item(document, "entries", key, after)
    if found is not None:
        operations.append(found)


def _in_words(entry: Entry) -> str:
    keys = " and ".join(words_of(g.keys, entry.platform) for g in entry.shortcuts) or "no shortcut"
    return f"{_command(entry)} with {keys}"


def _command(entry: Entry) -> str:
    program = known_programs().get(entry.program)
    command = program.command(entry.command) if program is not None else None
    return command.name if command is not None else entry.command


@router.get("/profiles/{profile_id}/entries/spare", response=list[SpareOut])
def spare(request: HttpRequest, profile_id: str) -> list[SpareOut]:
    """The entries of a profile without which nothing changes: they say what the makers ship, or what lies beneath."""
    if not sees_document(f"profile/{profile_id}"):
        raise NotFound(f"profile {profile_id[:60]}")
    estate = current_estate()
    profile = load(f"profile/{profile_id}", Profile)
    names: Mapping[str, str] = layer_names(estate)
    programs = known_programs()
    return [
        SpareOut(
            key=s.entry.key,
            command=_command(s.entry),
            program=programs[s.entry.program].name if s.entry.program in programs else s.entry.program,
            platform=PLATFORM_NAMES[s.entry.platform],
            keys=[words_of(g.keys, s.entry.platform) for g in s.entry.shortcuts],
            same_as="" if s.same_as == DEFAULT else names.get(s.same_as, s.same_as),
        )
        for s in spare_entries(estate, profile)
    ]
