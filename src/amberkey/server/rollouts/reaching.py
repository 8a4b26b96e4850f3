"""What a release would reach: which machines, who relearns what there, what can't take it and why, what has to be closed."""

from collections import Counter
from collections.abc import Collection, Mapping
from dataclasses import dataclass, field

from django.contrib.postgres.aggregates import StringAgg
from django.db.models import CharField
from django.db.models.functions import Cast

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
NOBODY_THERE: Mapping[str, int] = {}


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
    there = _people_there(derived, organisation) if isinstance(organisation, Organisation) else {}
    reaches = {i: reaches_setup(of, setup) for i, setup in estate.setups.items()}
    agents: dict[str, dict[str, int]] = {}
    works_for: dict[str, tuple[str, str]] = {}
    enrolled = Agent.objects.exclude(token_hash="").order_by("machine_id", "pk")
    fields = ("pk", "machine_id", "machine__name", "person", "machine__setup")
    for agent, machine_id, name, person, planned in enrolled.values_list(*fields):
        found.names[machine_id] = name
        people = there.get(machine_id, NOBODY_THERE)
        # Most machines have one setup: whoever sits there has it.
        setup_id = next(iter(people)) if len(people) == 1 else setup_at(derived, machine_id, person, planned)
        own = agents.setdefault(machine_id, {})
        if setup_id in reaches:
            own[setup_id] = people[setup_id] if setup_id in people else estate.setups[setup_id].people
        works_for[str(agent)] = (machine_id, setup_id)
    touched = {machine_id: own for machine_id, own in agents.items() if any(reaches[i] for i in own)}
    found.reached = [Reached(m, departments.get(m, frozenset()), people) for m, people in touched.items()]
    _learns(found, state, touched)
    _obstacles(found, state, {agent: at for agent, at in works_for.items() if at[0] in touched})
    if isinstance(organisation, Organisation):
        known = {machine for machine in organisation.machines_by_id if machine not in agents}
        concerned = {m for m in known & there.keys() if any(reaches_setup(of, derived.setups[i]) for i in there[m])}
        machines = (m for m in organisation.machines if m.id in concerned and m.retired is None)
        found.cannot += [Cannot(m.id, m.name, "It has no agent.") for m in machines]
    return found


def reaches_setup(of: Collection[str], setup: Setup) -> bool:
    """Whether a release of some documents changes anything for a setup; of none in particular, it may."""
    if not of:
        return True
    layers, programs = {f"profile/{layer}" for layer in setup.layers}, {f"program/{u.id}@{u.version}" for u in setup.programs}
    return any(key in layers or key in programs for key in of)


def _people_there(derived: Derived, organisation: Organisation) -> dict[str, dict[str, int]]:
    """By machine, its setups with how many people have each there."""
    persons: dict[str, dict[str, set[str]]] = {}
    for person, machine, _, setup in derived.seated:
        persons.setdefault(machine, {}).setdefault(setup, set()).add(person)
    people = organisation.people_by_id
    return {m: {i: sum(people[p].stands_for for p in ids) for i, ids in own.items()} for m, own in persons.items()}


def _departments(organisation: Organisation) -> dict[str, frozenset[str]]:
    """By machine the departments of those who sit there, and those around them."""
    inward = {d.id: frozenset(one.id for one in organisation.inward(d.id)) for d in organisation.departments}
    people = organisation.people_by_id
    found: dict[str, frozenset[str]] = {}
    for seat in organisation.seats:
        own = inward[people[seat.person].department]
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


def _obstacles(found: Reach, state: State, works_for: Mapping[str, tuple[str, str]]) -> None:
    """What is known now to stand against it, and what has to be closed. `works_for`: by agent, the machine and the setup."""
    estate, approved = estate_of(state), may_lie()
    closes: Counter[str] = Counter()
    cannot: list[tuple[str, str, str]] = []
    # Of thousands of files most lie alike: what is the same of them is asked and told once.
    alike = ("program", "number", "root", "path", "problem")
    files = MachineFile.objects.filter(agent__token_hash__gt="").order_by().values(*alike)
    for one in files.annotate(on=StringAgg(Cast("agent_id", CharField()), delimiter=" ")):
        file = MachineFile(program=one["program"], number=one["number"], root=one["root"], path=one["path"])
        at: dict[str, list[str]] = {}
        for agent in one["on"].split(" "):
            if agent in works_for:
                machine, setup_id = works_for[agent]
                at.setdefault(setup_id, []).append(machine)
        for setup_id, machines in at.items():
            told = _told_of(file, board_of(estate, setup_id).setup, approved) if setup_id in estate.setups else None
            if told is None:
                continue
            if told.closes:
                closes[told.closes] += len(machines)
            why = f"{told.program}: {one['problem']}" if one["problem"] else told.why
            if why:
                cannot += [(machine, file.program, why) for machine in machines]
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
