"""The few things that an agent may say and ask. Each sees its own home on its own machine and nothing else."""

import base64
import binascii
import datetime
import uuid
from typing import Annotated, Any, Literal

from django.http import HttpRequest
from django.utils import timezone
from ninja import Router
from ninja.security import HttpBearer
from pydantic import Field

from amberkey.core.exchange.signing import SigningKey, fingerprint, leading_to
from amberkey.server.exchange.keys import handovers, own_key
from amberkey.server.fleet.homes import Home
from amberkey.server.fleet.models import Agent, Machine, MachineFile, Order, Serves
from amberkey.server.fleet.orders import said_of, sections_of
from amberkey.server.fleet.verbs.enrol import enrol, enrol_many, hashed, leave, stay_on
from amberkey.server.fleet.verbs.hear import done, seen
from amberkey.server.fleet.verbs.watch import programs_at, watch_files
from amberkey.server.once import reading
from amberkey.server.problems import Problem
from amberkey.server.schema import Schema, Told, Words

MAX_FILE = 4 * 1024 * 1024
_STORES = 20
# So that an agent that polls, shows and reports within a moment costs one write.
_HEARD_LIVES = datetime.timedelta(seconds=10)
_FACTS_LIVE = datetime.timedelta(hours=1)


class AgentAuth(HttpBearer):
    """An agent's token; it sees its own home and nothing else."""

    def authenticate(self, request: HttpRequest, token: str) -> Any:
        agent = Agent.objects.select_related("machine").filter(token_hash=hashed(token)).first()
        if agent is not None and (agent.heard_at is None or agent.heard_at < timezone.now() - _HEARD_LIVES):
            Agent.objects.filter(pk=agent.pk).update(heard_at=timezone.now())
        return agent


agent = Router(tags=["agent"], auth=AgentAuth())


class HomeIn(Schema):
    """`serves`: whether the agent works in a home or in what is the machine's own. `account`: what the system calls the account
    whose home it is."""

    serves: Serves = Serves.HOME
    account: Annotated[str, Field(max_length=80)] = ""

    def home(self) -> Home:
        """Where the agent works."""
        return Home(self.serves, self.account.strip() if self.serves == Serves.HOME else "")


class EnrolIn(HomeIn):
    code: Words


class EnrolManyIn(HomeIn):
    """`machine`: what the organisation calls it, its id or its name."""

    key: Words
    machine: Words


class EnrolledOut(Schema):
    """`key`: the organisation's public key, by which the agent knows its orders from now on; `fingerprint` is the same for
    people to compare."""

    machine: str
    token: str
    key: str
    fingerprint: str


class RoundIn(Schema):
    """`stores`: what the settings stores are called that the agent can reach. `machine`: by what it knows the machine that it
    runs on, the same each time."""

    machine: Annotated[str, Field(pattern=r"^[0-9a-f]{32}$")] | None = None
    stores: Annotated[list[Words], Field(max_length=_STORES)] = []


class WatchOut(Schema):
    """A file to watch: its path below the root (of a store, what it is called), the digest last seen, and what was wrong then.
    `sections`: of a store, those that may be shown."""

    id: int
    root: str
    path: str
    digest: str
    problem: str
    sections: list[str]


class OrderOut(Schema):
    """An order that waits. `said`: the text that was signed; `says`: what the agent said of it last."""

    id: uuid.UUID
    file: int
    said: str
    signature: str
    content: str
    says: str
    asked_in: str


class HandOverOut(Schema):
    """An older key says, by its signature, that a newer one speaks for the organisation."""

    old: str
    new: str
    signature: str


class FactsIn(Schema):
    """What the machine is, in its system's own words. `programs`: the version of each by its name."""

    edition: Annotated[str, Field(max_length=120)] = ""
    layouts: Annotated[list[Annotated[str, Field(max_length=120)]], Field(max_length=16)] = []
    programs: Annotated[dict[Words, Words], Field(max_length=60)] = {}


class RoundOut(Schema):
    """`key`: with which orders are signed now, and `handovers` those that lead to it. `facts`: whether the machine shall say
    again what it is, and which of the `programs` it has in which version."""

    facts: bool
    programs: list[str]
    key: str
    handovers: list[HandOverOut]
    files: list[WatchOut]
    orders: list[OrderOut]


Backups = Annotated[int, Field(ge=0, le=1_000)] | None


class SeenIn(Schema):
    file: int
    content: str | None = None
    problem: Told = ""
    backups: Backups = None


class DoneIn(Schema):
    outcome: Literal["written", "refused", "waiting"]
    says: Told = ""
    backups: Backups = None


class OkOut(Schema):
    ok: bool = True


def _agent(request: HttpRequest) -> Agent:
    agent = request.auth  # type: ignore[attr-defined]
    assert isinstance(agent, Agent)
    return agent


def _enrolled(machine: Machine, token: str) -> EnrolledOut:
    own = own_key()
    key = own.key.public if own else ""
    return EnrolledOut(machine=machine.id, token=token, key=key, fingerprint=fingerprint(key) if key else "none")


@agent.post("/enrol", response=EnrolledOut, auth=None)
def agent_enrol(request: HttpRequest, given: EnrolIn) -> EnrolledOut:
    """Exchange a code, once, for the token of its machine."""
    return _enrolled(*enrol(given.code, given.home()))


@agent.post("/enrol-many", response=EnrolledOut, auth=None)
def agent_enrol_many(request: HttpRequest, given: EnrolManyIn) -> EnrolledOut:
    """Exchange an enrolment key for the token of one of the organisation's machines."""
    return _enrolled(*enrol_many(given.key, given.machine, given.home()))


@agent.post("/work", response=RoundOut)
def agent_work(request: HttpRequest, given: RoundIn) -> RoundOut:
    """The files to watch and the orders that wait, those given first at the beginning."""
    by = _agent(request)
    stay_on(by, given.machine)
    with reading():
        return _work(by, given.stores)


def _work(by: Agent, stores: list[str]) -> RoundOut:
    own = own_key()
    files = watch_files(by, stores)
    orders = Order.objects.filter(file__in=files, state=Order.State.WAITING).order_by("number")
    waiting = orders.select_related("content", "file__agent__machine")
    key = own.key.public if own else ""
    said_at = by.machine.facts_at
    asks = said_at is None or said_at < timezone.now() - _FACTS_LIVE
    return RoundOut(
        facts=asks,
        programs=sorted({p.name for p in programs_at(by)}) if asks else [],
        key=key,
        handovers=[HandOverOut(old=h.old, new=h.new, signature=h.signature) for h in leading_to(key, handovers())],
        files=[_watch(file) for file in files],
        orders=[o for order in waiting if own and (o := _order(order, own.key))],
    )


def _order(order: Order, key: SigningKey) -> OrderOut | None:
    content = order.content.data if order.content is not None else None
    if content is None:  # sealed with another secret: whoever asked for it asks again
        return None
    said = said_of(order)
    return OrderOut(
        id=order.id,
        file=order.file_id,
        said=said,
        signature=key.sign_order(said.encode()),
        content=base64.b64encode(content).decode(),
        says=order.says,
        asked_in=order.asked_in,
    )


def _watch(file: MachineFile) -> WatchOut:
    digest = file.content.digest if file.content is not None and file.content.is_readable else ""
    sections = sections_of(file)
    return WatchOut(id=file.pk, root=file.root, path=file.path, digest=digest, problem=file.problem, sections=sections)


@agent.post("/seen", response=OkOut)
def agent_seen(request: HttpRequest, given: SeenIn) -> OkOut:
    """What a file holds now, or why that can't be said."""
    content = None
    if given.content is not None:
        try:
            content = base64.b64decode(given.content, validate=True)
        except (binascii.Error, ValueError) as error:
            raise Problem(400, "The content is not base64.") from error
        if len(content) > MAX_FILE:
            raise Problem(413, "The settings file is too large.", f"{MAX_FILE // 1048576} MB is the most.")
    seen(_agent(request), given.file, content, given.problem, given.backups)
    return OkOut()


@agent.post("/orders/{order_id}", response=OkOut)
def agent_done(request: HttpRequest, order_id: uuid.UUID, given: DoneIn) -> OkOut:
    """What came of an order."""
    done(_agent(request), str(order_id), given.outcome, given.says, given.backups)
    return OkOut()


@agent.post("/facts", response=OkOut)
def agent_facts(request: HttpRequest, given: FactsIn) -> OkOut:
    """What the machine says it is. Nothing follows from it by itself: where the list says otherwise, both are shown."""
    facts = {"edition": given.edition, "layouts": given.layouts, "programs": given.programs}
    Machine.objects.filter(pk=_agent(request).machine_id).update(facts=facts, facts_at=timezone.now())
    return OkOut()


@agent.post("/leave", response=OkOut)
def agent_leave(request: HttpRequest) -> OkOut:
    """The agent is taken off its machine; its token is worth nothing from now on."""
    leave(_agent(request))
    return OkOut()
