"""Machines for specialists (what agents say and ask: `agents`)."""

import datetime
from collections.abc import Mapping, Sequence
from typing import Annotated, Literal

from django.db.models import Count, OuterRef, Prefetch, Subquery, Value
from django.db.models.functions import Coalesce
from django.http import HttpRequest
from ninja import Router
from pydantic import Field

from amberkey.core.exchange.signing import fingerprint
from amberkey.core.exchange.worklist import ByHand
from amberkey.core.organisation.reported import Part
from amberkey.server.estate import current_estate, layer_names
from amberkey.server.exchange.keys import own_key
from amberkey.server.fleet import package, surveys, worklist
from amberkey.server.fleet.byhand import counted, items_of, ticks
from amberkey.server.fleet.differing import difference_of
from amberkey.server.fleet.homes import seated
from amberkey.server.fleet.kept import kept, refresh
from amberkey.server.fleet.models import Agent, EnrolKey, HandWork, Machine, MachineFile, Order, Serves
from amberkey.server.fleet.notes import notes_of
from amberkey.server.fleet.setups import setups_of
from amberkey.server.fleet.standing import WORST, State
from amberkey.server.fleet.verbs.apply import apply
from amberkey.server.fleet.verbs.enrol import MOST_BY_KEY, give_home, make_code, make_key, take_off, withdraw_key
from amberkey.server.fleet.verbs.take_fact import contradicted, take
from amberkey.server.library.documents import not_as_released
from amberkey.server.library.history import ChangeOut
from amberkey.server.library.names import NOBODY, SOMEBODY, Called, names_of_people
from amberkey.server.people.acting import By, actor_of
from amberkey.server.people.models import Role
from amberkey.server.people.sight import sees_personal
from amberkey.server.problems import NotFound
from amberkey.server.schema import NamedOut, Schema, Told

router = Router(tags=["fleet"])
router.add_router("", worklist.router)
router.add_router("", surveys.router)
router.add_router("", package.router)


class FileOut(Schema):
    program: str
    program_name: str
    path: str
    id: int
    agent: int
    backups: int | None
    state: State
    says: str
    differences: list[str]
    seen_at: datetime.datetime | None
    applied_at: datetime.datetime | None
    last_order: str


class ByHandCountOut(Schema):
    """How many things have to be set on a machine by hand, since no file says them, and how many were ticked. They are never
    part of being in step."""

    done: int
    total: int


class ContradictedPartOut(Schema):
    """A part of a machine that its list has otherwise than the machine itself. `known`: whether it is clear what it says, so
    that the list can take it."""

    part: Part
    listed: str
    said: str
    known: bool


class BytewiseOut(Schema):
    """A place in which a file is to change: its line, and the signs that differ there."""

    line: int
    before: str
    after: str


class AgentOut(Schema):
    """What works on a machine. `person`: whose home it is, and `whose` what they are called; empty where nobody said and it
    isn't clear."""

    id: int
    serves: Serves
    account: str
    person: str
    whose: str
    enrolled: bool
    heard_at: datetime.datetime | None
    doubled_at: datetime.datetime | None


class HomeOfIn(Schema):
    """Whose home it is; empty: nobody's in particular."""

    person: Annotated[str, Field(max_length=80)] = ""


class FactTakeIn(Schema):
    part: Part


class MachineOut(Schema):
    """`note`: what else there is to say of it, as that it came after a release had ended."""

    id: str
    name: str
    setup: str
    setup_name: str
    enrolled: bool
    heard_at: datetime.datetime | None
    state: State
    agents: list[AgentOut]
    files: list[FileOut]
    layers: list[str]
    unreleased: list[str]
    by_hand: ByHandCountOut
    contradicted: list[ContradictedPartOut]
    note: str


class MachinesOut(Schema):
    """A page of machines. `total`: how many there are of those that were asked for; `states`: how many stand how, whatever
    state was asked for."""

    total: int
    pages: int
    states: dict[State, int]
    machines: list[MachineOut]


class ApplyIn(Schema):
    over_drift: bool = False


class CodeOut(Schema):
    """`fingerprint`: of the key with which orders are signed; the agent shows the same when it has enrolled."""

    code: str
    fingerprint: str


class EnrolKeyIn(Schema):
    """How many machines it may enrol, and for how many days."""

    note: Told = ""
    limit: Annotated[int, Field(ge=1, le=MOST_BY_KEY)]
    days: Annotated[int, Field(ge=1, le=365)]


class EnrolKeyOut(Schema):
    """An enrolment key without the key itself. `state`: whether it still enrols machines, and why not."""

    id: int
    note: str
    made_by: str
    made_at: datetime.datetime
    expires_at: datetime.datetime
    limit: int
    used: int
    state: Literal["works", "used up", "too old", "withdrawn"]


class MadeEnrolKeyOut(Schema):
    """`key` is shown this once."""

    key: str
    fingerprint: str
    made: EnrolKeyOut


class EnrolKeyWithdrawnIn(Schema):
    """`back`: it shall work again."""

    back: bool = False


class OrdersOut(Schema):
    orders: int


_PAGE = 100
_FILES = MachineFile.objects.filter(machine=OuterRef("pk"), rank__isnull=False).order_by("rank").values("rank")[:1]
_RANK = Coalesce(Subquery(_FILES), Value(WORST.index("unseen")))
_WITH_FILES = (
    Prefetch("agents", Agent.objects.order_by("serves", "account", "pk")),
    Prefetch("files", MachineFile.objects.defer("content", "applied").order_by("program", "number", "pk")),
)
Page = Annotated[int, Field(ge=1, le=10_000)]
SearchWords = Annotated[str, Field(max_length=120)]


class WaitingMachinesOut(Schema):
    """How many machines need somebody: they have drifted, or their files can't be read or written."""

    need_you: int


@router.get("/machines/waiting", response=WaitingMachinesOut)
def waiting(request: HttpRequest) -> WaitingMachinesOut:
    """Asked again and again by every page: answered from what is kept."""
    refresh()
    files = MachineFile.objects.filter(standing__state__in=("drifted", "problem"))
    return WaitingMachinesOut(need_you=files.values("machine").distinct().count())


@router.get("/machines/shown", response=list[NamedOut])
def machines_shown(request: HttpRequest) -> list[NamedOut]:
    """The machines of which a settings file was ever seen, by name."""
    rows = Machine.objects.filter(files__content__isnull=False).distinct().order_by("name", "id")
    return [NamedOut(id=machine.id, name=machine.name) for machine in rows.only("id", "name")]


@router.get("/machines", response=MachinesOut)
def machines(request: HttpRequest, page: Page = 1, words: SearchWords = "", state: State | None = None) -> MachinesOut:
    """The machines that have an agent or a code for one, with how their settings stand against what is released, by name.

    `words`: each has to stand in the name; `state`: only those that stand so. A page has 100.
    """
    refresh()
    everything = Machine.objects.all()
    for word in words.split():
        everything = everything.filter(name__icontains=word)
    counts = dict.fromkeys(WORST, 0)
    for rank, many in everything.annotate(rank=_RANK).order_by().values_list("rank").annotate(Count("pk")):
        counts[WORST[rank]] = many
    rows = everything.alias(rank=_RANK).filter(rank=WORST.index(state)) if state is not None else everything
    total = counts[state] if state is not None else sum(counts.values())
    first = (page - 1) * _PAGE
    shown = rows.order_by("name", "id").prefetch_related(*_WITH_FILES)[first : first + _PAGE]
    return MachinesOut(total=total, pages=-(-total // _PAGE) or 1, states=counts, machines=_told(list(shown)))


def _told(rows: Sequence[Machine]) -> list[MachineOut]:
    estate = current_estate(released=True)
    newer = set(not_as_released().filter(format="amberkey/profile@1").values_list("doc_id", flat=True))
    called = names_of_people() if sees_personal() else {}
    names, ticked = layer_names(estate), ticks([m.id for m in rows])
    setups = setups_of(rows, released=True)
    other, refused, noted = contradicted(rows), _refused(rows), notes_of([m.id for m in rows])
    by_hand = {setup_id: items_of(setup_id) for setup_id in set(setups.values())}
    found = []
    for machine in rows:
        setup = estate.setups.get(setups[machine.id])
        programs = {u.id: u.version for u in setup.programs} if setup else {}
        files = []
        for file in machine.files.all():
            standing = kept(file)
            program = estate.programs.get((file.program, programs.get(file.program, "")))
            if standing is None or program is None:
                continue
            files.append(
                FileOut(
                    program=file.program,
                    program_name=program.name,
                    path=file.path,
                    id=file.pk,
                    agent=file.agent_id,
                    backups=file.backups,
                    state=standing.state,
                    says=standing.says,
                    differences=list(standing.differences),
                    seen_at=file.seen_at,
                    applied_at=file.applied_at,
                    last_order=refused.get(file.pk, ""),
                )
            )
        agents = [_agent_out(agent, called) for agent in machine.agents.all()]
        found.append(
            MachineOut(
                id=machine.id,
                name=machine.name,
                setup=setup.id if setup else "",
                setup_name=setup.name if setup else "in nothing that is released",
                enrolled=any(a.enrolled for a in agents),
                heard_at=max((a.heard_at for a in agents if a.heard_at is not None), default=None),
                state=min((f.state for f in files), key=WORST.index, default="unseen"),
                files=files,
                layers=[names[i] for i in setup.layers] if setup else [],
                unreleased=[names[i] for i in setup.layers if i in newer] if setup else [],
                agents=agents,
                contradicted=[
                    ContradictedPartOut(part=c.part, listed=c.listed, said=c.said, known=c.taken is not None)
                    for c in other.get(machine.id, ())
                ],
                by_hand=_counted(by_hand[setups[machine.id]], ticked.get(machine.id, {})),
                note=noted.get(machine.id, ""),
            )
        )
    return found


def _refused(rows: Sequence[Machine]) -> dict[int, str]:
    """What was said by the files whose newest order was refused."""
    newest = Order.objects.filter(file__machine__in=rows).order_by("file", "-at").distinct("file")
    found = newest.values_list("file_id", "state", "says")
    return {file_id: says for file_id, state, says in found if state == Order.State.REFUSED}


def _agent_out(agent: Agent, called: Mapping[str, Called]) -> AgentOut:
    return AgentOut(
        id=agent.pk,
        serves=Serves(agent.serves),
        account=agent.account if sees_personal() else "",
        person=agent.person if sees_personal() else "",
        whose=(called.get(agent.person, NOBODY).name or SOMEBODY) if agent.person else "",
        enrolled=bool(agent.token_hash),
        heard_at=agent.heard_at,
        doubled_at=agent.doubled_at,
    )


@router.get("/machines/files/{file_id}/difference", response=list[BytewiseOut], auth=By(Role.EDITOR))
def file_difference(request: HttpRequest, file_id: int) -> list[BytewiseOut]:
    """Byte for byte what would change in a file as it was seen last, so that it has what is released. Only that is told,
    nothing of what else stands in it."""
    return [BytewiseOut(line=d.line, before=d.before, after=d.after) for d in difference_of(file_id)]


@router.get("/agents/{agent_id}/people", response=list[NamedOut], auth=By(Role.RELEASER))
def people_of_agent(request: HttpRequest, agent_id: int) -> list[NamedOut]:
    """Who sits at the agent's machine: one of them is whose home it works in."""
    agent = Agent.objects.filter(pk=agent_id).first()
    if agent is None:
        raise NotFound(f"agent {agent_id}")
    called = names_of_people()
    there = [NamedOut(id=p.id, name=called.get(p.id, NOBODY).name or SOMEBODY) for p in seated(agent.machine_id)]
    return sorted(there, key=lambda p: (p.name.casefold(), p.id))


@router.post("/agents/{agent_id}/home", response=AgentOut, auth=By(Role.RELEASER))
def give_agent_home(request: HttpRequest, agent_id: int, given: HomeOfIn) -> AgentOut:
    """Say whose home an agent works in: the settings of that person go there from now on."""
    return _agent_out(give_home(actor_of(request), agent_id, given.person), names_of_people())


@router.post("/agents/{agent_id}/take-off", response=AgentOut, auth=By(Role.RELEASER))
def take_off_agent(request: HttpRequest, agent_id: int) -> AgentOut:
    """An agent gets nothing any more; it comes back only by a new code."""
    return _agent_out(take_off(actor_of(request), agent_id), names_of_people())


@router.post("/machines/{machine_id}/facts", response=ChangeOut, auth=By(Role.EDITOR))
def take_fact(request: HttpRequest, machine_id: str, given: FactTakeIn) -> ChangeOut:
    """Take into the organisation's list what a machine says of itself, as one change that can be undone."""
    done = take(actor_of(request), machine_id, given.part)
    return ChangeOut(id=done.id, title=done.title)


def _counted(items: Sequence[ByHand], ticked: Mapping[str, HandWork]) -> ByHandCountOut:
    count = counted(items, ticked)
    return ByHandCountOut(done=count.done, total=count.total)


@router.post("/machines/{machine_id}/apply", response=OrdersOut, auth=By(Role.RELEASER))
def apply_profile(request: HttpRequest, machine_id: str, given: ApplyIn) -> OrdersOut:
    """Order the machine's settings files to be brought in step with the released profiles."""
    return OrdersOut(orders=len(apply(actor_of(request), machine_id, over_drift=given.over_drift)))


@router.post("/machines/{machine_id}/code", response=CodeOut, auth=By(Role.RELEASER))
def enrolment_code(request: HttpRequest, machine_id: str) -> CodeOut:
    """A code with which the machine's agent enrols once."""
    return CodeOut(code=make_code(actor_of(request), machine_id), fingerprint=_fingerprint())


@router.get("/enrolment-keys", response=list[EnrolKeyOut], auth=By(Role.RELEASER))
def enrolment_keys(request: HttpRequest) -> list[EnrolKeyOut]:
    """The keys with which installers enrol many machines, the newest first."""
    return [_key_out(key) for key in EnrolKey.objects.select_related("made_by")]


@router.post("/enrolment-keys", response=MadeEnrolKeyOut, auth=By(Role.RELEASER))
def new_enrolment_key(request: HttpRequest, given: EnrolKeyIn) -> MadeEnrolKeyOut:
    """A key for installing agents on many machines that the organisation has."""
    made, key = make_key(actor_of(request), given.note[:120], given.limit, given.days)
    return MadeEnrolKeyOut(key=key, fingerprint=_fingerprint(), made=_key_out(made))


@router.post("/enrolment-keys/{key_id}", response=EnrolKeyOut, auth=By(Role.RELEASER))
def change_enrolment_key(request: HttpRequest, key_id: int, given: EnrolKeyWithdrawnIn) -> EnrolKeyOut:
    """Withdraw a key, or let it work again."""
    return _key_out(withdraw_key(actor_of(request), key_id, back=given.back))


def _fingerprint() -> str:
    own = own_key()
    return fingerprint(own.key.public) if own else "none"


def _key_out(key: EnrolKey) -> EnrolKeyOut:
    return EnrolKeyOut(
        id=key.pk,
        note=key.note,
        made_by=key.made_by.display_name,
        made_at=key.made_at,
        expires_at=key.expires_at,
        limit=key.limit,
        used=key.used,
        state=key.state,
    )
