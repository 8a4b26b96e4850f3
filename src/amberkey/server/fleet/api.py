"""Machines for specialists, and the few things that an agent may say and ask."""

import base64
import binascii
import datetime
import uuid
from collections.abc import Mapping
from typing import Any, Literal

from django.http import HttpRequest
from django.utils import timezone
from ninja import Router
from ninja.security import HttpBearer

from amberkey.server.estate import current_estate, layer_names
from amberkey.server.fleet import worklist
from amberkey.server.fleet.byhand import counted, items_of, ticks
from amberkey.server.fleet.kept import kept, refresh
from amberkey.server.fleet.models import HandWork, Machine, MachineFile, Order
from amberkey.server.fleet.setups import setup_of
from amberkey.server.fleet.standing import State
from amberkey.server.fleet.verbs.apply import apply
from amberkey.server.fleet.verbs.enrol import enrol, hashed, make_code, watch_files
from amberkey.server.fleet.verbs.hear import done, seen
from amberkey.server.library.documents import not_as_released
from amberkey.server.people.acting import By, actor_of
from amberkey.server.people.models import Role
from amberkey.server.problems import Problem
from amberkey.server.schema import Schema, Told, Words

router = Router(tags=["fleet"])
router.add_router("", worklist.router)
MAX_FILE = 4 * 1024 * 1024


class FileOut(Schema):
    program: str
    program_name: str
    path: str
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


class MachineOut(Schema):
    id: str
    name: str
    setup: str
    setup_name: str
    enrolled: bool
    heard_at: datetime.datetime | None
    state: State
    files: list[FileOut]
    layers: list[str]
    unreleased: list[str]
    by_hand: ByHandCountOut


class ApplyIn(Schema):
    over_drift: bool = False


class CodeOut(Schema):
    code: str


class OrdersOut(Schema):
    orders: int


_WORST: tuple[State, ...] = ("problem", "drifted", "new", "behind", "waiting", "unseen", "in step")


class WaitingMachinesOut(Schema):
    """How many machines need somebody: they have drifted, or their files can't be read or written."""

    need_you: int


@router.get("/machines/waiting", response=WaitingMachinesOut)
def waiting(request: HttpRequest) -> WaitingMachinesOut:
    """Asked again and again by every page: answered from what is kept."""
    refresh()
    files = MachineFile.objects.filter(standing__state__in=("drifted", "problem"))
    return WaitingMachinesOut(need_you=files.values("machine").distinct().count())


@router.get("/machines", response=list[MachineOut])
def machines(request: HttpRequest) -> list[MachineOut]:
    """Every machine that has an agent or a code for one, with how its settings stand against what is released."""
    refresh()
    estate = current_estate(released=True)
    newer = set(not_as_released().filter(format="amberkey/profile@1").values_list("doc_id", flat=True))
    names, ticked = layer_names(estate), ticks()
    found = []
    rows = Machine.objects.order_by("name").prefetch_related("files", "files__orders")
    for machine in rows:
        setup = estate.setups.get(setup_of(machine, released=True))
        programs = {u.id: u.version for u in setup.programs} if setup else {}
        files = []
        for file in machine.files.all():
            standing = kept(file)
            program = estate.programs.get((file.program, programs.get(file.program, "")))
            if standing is None or program is None:
                continue
            last = file.orders.first()
            files.append(
                FileOut(
                    program=file.program,
                    program_name=program.name,
                    path=file.path,
                    state=standing.state,
                    says=standing.says,
                    differences=list(standing.differences),
                    seen_at=file.seen_at,
                    applied_at=file.applied_at,
                    last_order=last.says if last and last.state == Order.State.REFUSED else "",
                )
            )
        found.append(
            MachineOut(
                id=machine.id,
                name=machine.name,
                setup=setup.id if setup else "",
                setup_name=setup.name if setup else "in nothing that is released",
                enrolled=bool(machine.token_hash),
                heard_at=machine.heard_at,
                state=min((f.state for f in files), key=_WORST.index, default="unseen"),
                files=files,
                layers=[names[i] for i in setup.layers] if setup else [],
                unreleased=[names[i] for i in setup.layers if i in newer] if setup else [],
                by_hand=_by_hand(setup.id if setup else "", ticked.get(machine.id, {})),
            )
        )
    return found


def _by_hand(setup_id: str, ticked: Mapping[str, HandWork]) -> ByHandCountOut:
    count = counted(items_of(setup_id), ticked)
    return ByHandCountOut(done=count.done, total=count.total)


@router.post("/machines/{machine_id}/apply", response=OrdersOut, auth=By(Role.RELEASER))
def apply_profile(request: HttpRequest, machine_id: str, given: ApplyIn) -> OrdersOut:
    """Order the machine's settings files to be brought in step with the released profiles."""
    return OrdersOut(orders=len(apply(actor_of(request), machine_id, over_drift=given.over_drift)))


@router.post("/machines/{machine_id}/code", response=CodeOut, auth=By(Role.RELEASER))
def enrolment_code(request: HttpRequest, machine_id: str) -> CodeOut:
    """A code with which the machine's agent enrols once."""
    return CodeOut(code=make_code(actor_of(request), machine_id))


class AgentAuth(HttpBearer):
    """An agent's token; it sees its own machine and nothing else."""

    def authenticate(self, request: HttpRequest, token: str) -> Any:
        machine = Machine.objects.filter(token_hash=hashed(token)).first()
        if machine is not None:
            Machine.objects.filter(pk=machine.pk).update(heard_at=timezone.now())
        return machine


agent = Router(tags=["agent"], auth=AgentAuth())


class EnrolIn(Schema):
    code: Words


class EnrolledOut(Schema):
    machine: str
    token: str


class OrderOut(Schema):
    id: uuid.UUID
    expect: str
    digest: str
    content: str
    asked_in: str


class WatchOut(Schema):
    """A file to watch: its path below the home, the digest last seen, and an order where one waits."""

    program: str
    path: str
    digest: str
    problem: bool
    order: OrderOut | None


class SeenIn(Schema):
    program: str
    content: str | None = None
    problem: Told = ""


class DoneIn(Schema):
    outcome: Literal["written", "refused"]
    says: Told = ""


class OkOut(Schema):
    ok: bool = True


def _machine(request: HttpRequest) -> Machine:
    machine = request.auth  # type: ignore[attr-defined]
    assert isinstance(machine, Machine)
    return machine


@agent.post("/enrol", response=EnrolledOut, auth=None)
def agent_enrol(request: HttpRequest, given: EnrolIn) -> EnrolledOut:
    machine, token = enrol(given.code)
    return EnrolledOut(machine=machine.id, token=token)


@agent.get("/work", response=list[WatchOut])
def agent_work(request: HttpRequest) -> list[WatchOut]:
    """The files to watch and the orders that wait."""
    found = []
    watch_files(_machine(request))
    for file in MachineFile.objects.filter(machine=_machine(request)).select_related("content"):
        order = file.orders.filter(state=Order.State.WAITING).select_related("content").first()
        out = None
        if order is not None:
            content = base64.b64encode(order.content.data).decode()
            out = OrderOut(
                id=order.id,
                expect=order.expect,
                digest=order.content.digest,
                content=content,
                asked_in=order.asked_in,
            )
        digest = file.content.digest if file.content else ""
        found.append(WatchOut(program=file.program, path=file.path, digest=digest, problem=bool(file.problem), order=out))
    return found


@agent.post("/seen", response=OkOut)
def agent_seen(request: HttpRequest, given: SeenIn) -> OkOut:
    content = None
    if given.content is not None:
        try:
            content = base64.b64decode(given.content, validate=True)
        except (binascii.Error, ValueError) as error:
            raise Problem(400, "The content is not base64.") from error
        if len(content) > MAX_FILE:
            raise Problem(413, "The settings file is too large.", f"{MAX_FILE // 1048576} MB is the most.")
    seen(_machine(request), given.program, content, given.problem)
    return OkOut()


@agent.post("/orders/{order_id}", response=OkOut)
def agent_done(request: HttpRequest, order_id: uuid.UUID, given: DoneIn) -> OkOut:
    done(_machine(request), str(order_id), given.outcome, given.says)
    return OkOut()
