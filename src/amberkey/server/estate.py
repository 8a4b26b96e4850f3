"""The estate as the library has it now, computed once for each state of its documents.

The key of the cache is what the answer depends on: the digests of all documents in it. What two states have in common they
share, so a change costs what it touches.
"""

import datetime
import threading
from collections import deque
from collections.abc import Mapping, Sequence
from functools import lru_cache
from weakref import WeakKeyDictionary

from django.utils import timezone

from amberkey.core.clashes.board import Board
from amberkey.core.clashes.estate import Estate, Shared
from amberkey.core.organisation.deriving import NOBODY, Derived, derive
from amberkey.core.organisation.model import Organisation
from amberkey.core.profiles.decisions import Decisions
from amberkey.core.profiles.model import Profile
from amberkey.core.profiles.setup import Setup
from amberkey.core.programs.model import Program
from amberkey.core.standard.model import NO_STANDARD, Standard
from amberkey.core.tasks.model import NO_TASKS, Tasks
from amberkey.core.worth.assumptions import ASSUMED
from amberkey.server.library.documents import State, digests, parsed
from amberkey.server.library.given import givens, state_of
from amberkey.server.library.house import HOUSE, house_begins, with_house
from amberkey.server.library.names import names_stamp, organisation_named
from amberkey.server.people.sight import sees_personal
from amberkey.server.problems import NotFound, Problem

DECISIONS = "decisions/decisions"
ORGANISATION = "organisation/organisation"
STANDARD = "standard/standard"
TASKS = "tasks/tasks"

_building = threading.Lock()
# For a state of the estate, the earlier ones that it was held against, and what is new since.
_new_since: WeakKeyDictionary[Estate, tuple[object, Mapping[str, frozenset[str]]]] = WeakKeyDictionary()
_shared = Shared()
# How many states of the estate are at hand: what is released, what is, and some that people just came from.
_STATES = 6


def current_estate(*, released: bool = False) -> Estate:
    """All setups in use with the newest documents, or with the released ones as machines get them."""
    return estate_of(digests(released=released))


def estate_of(state: State) -> Estate:
    """All setups in use as they were, or are, in a state of the documents."""
    keys = tuple(sorted(d for key, d in state.items() if not key.startswith(("decisions/", "standard/"))))
    begins = house_begins(state)
    with _building:  # two requests at once would both work it out
        return _estate(keys, timezone.localdate(), begins)


def given_before() -> Mapping[str, frozenset[str]]:
    """For each setup that has machines that were given something: the digests of the states that they were given last."""
    known = givens()
    found: dict[str, set[str]] = {}
    if known:
        for seated in current_derived().seated:
            if seated.machine in known:
                found.setdefault(seated.setup, set()).add(known[seated.machine])
    return {setup: frozenset(states) for setup, states in found.items()}


def new_since_given(estate: Estate) -> Mapping[str, frozenset[str]]:
    """The clashes that are new since the machines of a setup were last given anything, by identity, each with the setups in
    which it is. Setups whose machines were never given anything are held against what is released."""
    released, given = estate_of(digests(released=True)), given_before()
    bases = {state: estate_of(state_of(state)) for state in frozenset().union(*given.values())}
    key = (released, tuple(sorted(given.items())))
    known = _new_since.get(estate)
    if known is None or known[0] != key:
        known = _new_since[estate] = key, _new_in(estate, released, {s: [bases[d] for d in ds] for s, ds in given.items()})
    return known[1]


def _new_in(estate: Estate, released: Estate, given: Mapping[str, Sequence[Estate]]) -> Mapping[str, frozenset[str]]:
    against: dict[Estate, list[str]] = {}
    for setup in estate.setups:
        for base in given.get(setup, [released]):
            against.setdefault(base, []).append(setup)
    found: dict[str, frozenset[str]] = {}
    for base, setups in against.items():
        if base is estate or not base.setups:  # nothing is new where nothing was before
            continue
        for group in base.new_in(estate, None if len(setups) == len(estate.setups) else setups):
            found[group.clash.identity] = found.get(group.clash.identity, frozenset()) | {s.id for s in group.setups}
    return found


def current_organisation() -> Organisation:
    """The organisation as it is now, with the names of its people; one without anybody where none was ever saved."""
    digest = digests().get(ORGANISATION, "")
    if not digest:
        return Organisation(id="organisation", name="The organisation")
    return organisation_named(digest, names_stamp())


def current_derived(*, released: bool = False) -> Derived:
    """The setups in use, with who has them: as it is now, or as it is released."""
    return derived_of(digests(released=released))


def derived_of(state: State) -> Derived:
    """The setups in use in a state of the documents, with who has them."""
    names = _names(tuple(sorted(d for k, d in state.items() if k.startswith("program/"))))
    return _derived(state.get(ORGANISATION, ""), names, house_begins(state))


@lru_cache(maxsize=_STATES)
def _derived(digest: str, names: tuple[tuple[str, str], ...], begins: bool) -> Derived:
    value = parsed(digest) if digest else None
    if not isinstance(value, Organisation):
        return NOBODY
    return derive(with_house(value) if begins else value, dict(names))


@lru_cache(maxsize=_STATES)
def _names(digests_of_programs: tuple[str, ...]) -> tuple[tuple[str, str], ...]:
    return tuple(sorted({(p.id, p.name) for p in map(parsed, digests_of_programs)}))


_recent: deque[frozenset[str]] = deque(maxlen=_STATES)
"""The setups of the states that were put together last."""


@lru_cache(maxsize=_STATES)
def _estate(keys: tuple[str, ...], today: datetime.date, begins: bool) -> Estate:
    documents = [parsed(d) for d in keys]
    names = tuple(sorted({(d.id, d.name) for d in documents if isinstance(d, Program)}))
    digest = next((k for k, d in zip(keys, documents, strict=True) if isinstance(d, Organisation)), "")
    derived = _derived(digest, names, begins)
    profiles = {d.id: d for d in documents if isinstance(d, Profile)}
    planned = {d.id: d for d in sorted(documents, key=lambda d: d.id) if isinstance(d, Setup)}
    setups = {**planned, **derived.setups}
    # A state that is looked at in between, as what is released, takes nothing from those that are looked at beside it.
    _recent.append(frozenset(setups))
    _shared.prune(frozenset().union(*_recent))
    return Estate(
        setups=setups,
        programs={(d.id, d.version): d for d in documents if isinstance(d, Program)},
        profiles={HOUSE.id: HOUSE, **profiles} if begins else profiles,
        tasks=next((d for d in documents if isinstance(d, Tasks)), NO_TASKS),
        today=today,
        shared=_shared,
        census=derived.census.joined_by(planned.values()),
        assumed=next((d.worth for d in documents if isinstance(d, Organisation)), ASSUMED),
    )


def estate_with(estate: Estate, organisation: Organisation) -> Estate:
    """The same estate with another organisation: what a change of people or machines would make of it."""
    begins = house_begins(digests())
    derived = derive(with_house(organisation) if begins else organisation, {p.id: p.name for p in estate.programs.values()})
    in_use = current_derived().setups
    planned = {i: s for i, s in estate.setups.items() if i not in in_use}
    return Estate(
        setups={**planned, **derived.setups},
        programs=estate.programs,
        profiles=estate.profiles,
        tasks=estate.tasks,
        today=estate.today,
        shared=estate.shared,
        census=derived.census.joined_by(planned.values()),
        assumed=organisation.worth,
    )


def decisions() -> Decisions:
    digest = digests().get(DECISIONS)
    value = parsed(digest) if digest else None
    return value if isinstance(value, Decisions) else Decisions(id="decisions", name="Allowed clashes")


def current_standard() -> Standard:
    """The newest revision of the standard; an empty one where none was ever saved."""
    digest = digests().get(STANDARD)
    value = parsed(digest) if digest else None
    return value if isinstance(value, Standard) else NO_STANDARD


def target_of(setup: Setup, asked: str | None = None) -> str:
    """The profile in which decisions made through a setup are kept: the layer asked for, else the house's, or the setup's
    nearest where it has no house. Raises Problem for one that is no layer of the setup, and where it has none at all.
    """
    if not setup.layers:
        raise Problem(
            409,
            "Nobody here has a profile, so a decision would reach nobody.",
            cure="Under Profiles, make one or open one, and give it to everybody or to their department.",
        )
    if asked:
        if asked not in setup.layers:
            raise Problem(
                400, f"{asked[:60]} is no layer here.", f"There are {', '.join(setup.layers)}.", "Choose one of them."
            )
        return asked
    return HOUSE.id if HOUSE.id in setup.layers else setup.layers[-1]


def board_of(estate: Estate, setup_id: str) -> Board:
    """Raises NotFound for a setup that isn't in use, or that whoever asks may not see."""
    if setup_id not in estate.setups or not in_sight(setup_id):
        raise NotFound(f"setup {setup_id[:60]}")
    return estate.board(setup_id)


def language_of(setup_id: str) -> str:
    """The language of a setup's keyboard, in which whoever looks through it reads keys; English without one."""
    return board_of(current_estate(), setup_id).setup.layout.language if setup_id else "en"


def in_sight(setup_id: str) -> bool:
    """Whether whoever asks may look through a setup: those that say something of a person are not for everybody."""
    return sees_personal() or setup_id not in current_derived().personal


def layer_names(estate: Estate) -> dict[str, str]:
    """What the layers are called before whoever asks; a layer that somebody has alone has no name before everybody."""
    names = {p.id: p.name for p in estate.profiles.values()}
    if not sees_personal():
        names |= dict.fromkeys(current_organisation().own_layers & names.keys(), "own settings")
    return names
