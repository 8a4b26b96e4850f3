"""Machines for specialists (what agents say and ask: `agents`)."""

import datetime
from collections.abc import Mapping
from typing import Annotated, Literal

from django.http import HttpRequest
from ninja import Router
from pydantic import Field

from amberkey.core.exchange.signing import fingerprint
from amberkey.server.estate import current_estate, layer_names
from amberkey.server.exchange.keys import own_key
from amberkey.server.fleet import surveys, worklist
from amberkey.server.fleet.byhand import counted, items_of, ticks
from amberkey.server.fleet.kept import kept, refresh
from amberkey.server.fleet.models import EnrolKey, HandWork, Machine, MachineFile, Order
from amberkey.server.fleet.setups import setup_of
from amberkey.server.fleet.standing import State
from amberkey.server.fleet.verbs.apply import apply
from amberkey.server.fleet.verbs.enrol import MOST_BY_KEY, make_code, make_key, withdraw_key
from amberkey.server.library.documents import not_as_released
from amberkey.server.people.acting import By, actor_of
from amberkey.server.people.models import Role
from amberkey.server.schema import Schema, Told

router = Router(tags=["fleet"])
router.add_router("", worklist.router)
router.add_router("", surveys.router)


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
    doubled_at: datetime.datetime | None


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
                doubled_at=machine.doubled_at,
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
