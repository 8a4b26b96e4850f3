"""What a release would reach: which machines, who relearns what there, what can't take it and why, what has to be closed."""

from collections import Counter
from collections.abc import Collection, Mapping
from dataclasses import dataclass, field

from django.contrib.postgres.aggregates import StringAgg

from amberkey.core.clashes.estate import Estate
from amberkey.core.clashes.relearning import Relearned, relearned_on
from amberkey.core.descriptions.described import place_of
from amberkey.core.exchange.approving import MayLie
from amberkey.core.organisation.deriving import Derived
from amberkey.core.organisation.model import Organisation
from amberkey.core.profiles.resolving import ResolvedSetup
from amberkey.core.profiles.setup import Setup
from amberkey.core.rollout.waves import Reached
from amberkey.server.estate import ORGANISATION, board_of, derived_of, estate_of
from amberkey.server.fleet.models import Agent, MachineFile, Root
from amberkey.server.fleet.setups import setup_at
from amberkey.server.fleet.verbs.watch import described_by
from amberkey.server.library.approving import may_lie
from amberkey.server.library.documents import State, parsed
from amberkey.server.library.given import givens, state_of

MOST_TOLD = 200


@dataclass(frozen=True, slots=True)
class Cannot:
    """A machine, or a program on it, that a release can't be brought to."""

    machine: str
    name: str
    why: str


@dataclass(frozen=True, slots=True)
class Learns:
    """What some people relearn."""

    relearned: Relearned
    people: int


@dataclass
class Reach:
    """`reached`: the machines that take the release, `names` by their ids; `closes`: programs that have to be closed before
    their files can be written, with on how many machines."""

    reached: list[Reached] = field(default_factory=list)
    names: dict[str, str] = field(default_factory=dict)
    cannot: list[Cannot] = field(default_factory=list)
    learns: list[Learns] = field(default_factory=list)
    learners: int = 0
    closes: dict[str, int] = field(default_factory=dict)


def reach_of(of: Collection[str], state: State) -> Reach:
    """What a release of some documents reaches in a state; of none in particular, what everything that is released does."""
    estate, derived, found = estate_of(state), derived_of(state), Reach()
    organisation = parsed(state[ORGANISATION]) if ORGANISATION in state else None
    departments = _departments(organisation) if isinstance(organisation, Organisation) else {}
    agents: dict[str, list[str]] = {}
    enrolled = Agent.objects.exclude(token_hash="").order_by("machine_id", "pk")
    for machine_id, name, person, planned in enrolled.values_list("machine_id", "machine__name", "person", "machine__setup"):
        found.names[machine_id] = name
        agents.setdefault(machine_id, []).append(setup_at(derived, machine_id, person, planned))
    there = _people_there(derived, organisation) if isinstance(organisation, Organisation) else {}
    reaches = {i: reaches_setup(of, setup) for i, setup in estate.setups.items()}
    touched: dict[str, dict[str, int]] = {}
    for machine_id, own in agents.items():
        people = {i: there.get((machine_id, i), estate.setups[i].people) for i in own if i in estate.setups}
        if any(reaches[i] for i in people):
            found.reached.append(Reached(machine_id, departments.get(machine_id, frozenset()), people))
            touched[machine_id] = people
    _learns(found, state, touched)
    _obstacles(found, state)
    if isinstance(organisation, Organisation):
        known = {machine for machine in organisation.machines_by_id if machine not in agents}
        concerned = {m for m, i in there if m in known and reaches_setup(of, derived.setups[i])}
        machines = (m for m in organisation.machines if m.id in concerned and m.retired is None)
        found.cannot += [Cannot(m.id, m.name, "It has no agent.") for m in machines]
    return found


def reaches_setup(of: Collection[str], setup: Setup) -> bool:
    """Whether a release of some documents changes anything for a setup; of none in particular, it may."""
    if not of:
        return True
    layers, programs = {f"profile/{layer}" for layer in setup.layers}, {f"program/{u.id}@{u.version}" for u in setup.programs}
    return any(key in layers or key in programs for key in of)


def _people_there(derived: Derived, organisation: Organisation) -> dict[tuple[str, str], int]:
    """How many people have a setup at a machine."""
    persons: dict[tuple[str, str], set[str]] = {}
    for seat in derived.seated:
        persons.setdefault((seat.machine, seat.setup), set()).add(seat.person)
    return {at: sum(organisation.people_by_id[p].stands_for for p in ids) for at, ids in persons.items()}


def _departments(organisation: Organisation) -> dict[str, frozenset[str]]:
    """By machine the departments of those who sit there, and those around them."""
    inward = {d.id: frozenset(one.id for one in organisation.inward(d.id)) for d in organisation.departments}
    found: dict[str, frozenset[str]] = {}
    for seat in organisation.seats:
        own = inward[organisation.people_by_id[seat.person].department]
        others = found.setdefault(seat.machine, own)
        if others is not own:
            found[seat.machine] = others | own
    return found


def _learns(found: Reach, state: State, touched: Mapping[str, Mapping[str, int]]) -> None:
    """Against what each machine was given last; who was never given anything has nothing to relearn from Amber Key."""
    given = givens()
    after = estate_of(state)
    people: Counter[Relearned] = Counter()
    states: dict[str, Estate] = {}  # thousands of machines were given few states
    known: dict[tuple[str, str], tuple[Relearned, ...]] = {}
    for machine_id, setups in touched.items():
        digest = given.get(machine_id)
        if digest is None:
            continue
        if digest not in states:
            states[digest] = estate_of(state_of(digest))
        before = states[digest]
        for setup_id, many in setups.items():
            if (digest, setup_id) not in known:
                both = setup_id in before.setups and setup_id in after.setups
                known[digest, setup_id] = relearned_on(board_of(before, setup_id), board_of(after, setup_id)) if both else ()
            if known[digest, setup_id]:
                found.learners += many
            for one in known[digest, setup_id]:
                people[one] += many
    found.learns = [Learns(one, many) for one, many in people.most_common(MOST_TOLD)]


def _obstacles(found: Reach, state: State) -> None:
    """What is known now to stand against it, and what has to be closed."""
    estate, derived, approved = estate_of(state), derived_of(state), may_lie()
    reached = {r.machine for r in found.reached}
    closes: Counter[str] = Counter()
    cannot: list[tuple[str, str, str]] = []
    at: dict[tuple[str, str, str], str] = {}
    # Of thousands of files most lie alike: what is the same of them is asked and told once.
    alike = ("program", "number", "root", "path", "problem", "agent__person", "machine__setup")
    files = MachineFile.objects.filter(agent__token_hash__gt="").order_by().values(*alike)
    for one in files.annotate(on=StringAgg("machine_id", delimiter=" ")):
        person, planned = one["agent__person"], one["machine__setup"]
        file = MachineFile(program=one["program"], number=one["number"], root=one["root"], path=one["path"])
        told_in: dict[str, _Told | None] = {}
        for machine in one["on"].split(" "):
            if machine not in reached:
                continue
            who = (machine, person, planned)
            if who not in at:
                at[who] = setup_at(derived, *who)
            setup_id = at[who]
            if setup_id not in told_in:
                known = setup_id in estate.setups
                told_in[setup_id] = _told_of(file, board_of(estate, setup_id).setup, approved) if known else None
            told = told_in[setup_id]
            if told is None:
                continue
            if told.closes:
                closes[told.closes] += 1
            why = f"{told.program}: {one['problem']}" if one["problem"] else told.why
            if why:
                cannot.append((machine, file.program, why))
    found.cannot += [Cannot(machine, found.names[machine], why) for machine, _, why in sorted(cannot)]
    found.closes = dict(sorted(closes.items(), key=lambda c: (-c[1], c[0])))


@dataclass(frozen=True, slots=True)
class _Told:
    """`closes`: the program, where it has to be closed first; `why`: what stands against writing the file."""

    program: str
    closes: str
    why: str


def _told_of(file: MachineFile, setup: ResolvedSetup, approved: MayLie) -> _Told | None:
    platform, program = setup.setup.works_on, setup.program(file.program)
    described = described_by(file, program, platform) if program is not None else None
    if program is None or described is None:
        return None
    lies = file.root == Root.STORE or approved(program, platform, place_of(file.root, file.path))
    why = "" if lies else f"{program.name}: that its file lies at {file.path} isn't approved."
    return _Told(program.name, program.name if described[1].rewrites_at_exit else "", why)


def people_of(reach: Reach, machines: Collection[str]) -> int:
    """How many people sit at some machines."""
    chosen = set(machines)
    return sum(r.people for r in reach.reached if r.machine in chosen)
