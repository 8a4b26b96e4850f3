"""The worklist: what has to be set by hand on which machine, printed, ticked, and brought back as a sheet."""

from django.http import HttpRequest, HttpResponse
from ninja import File, Router
from ninja.files import UploadedFile
from pydantic import Field

from amberkey.core.exchange.as_sheets.cells import Reader
from amberkey.core.exchange.sheets import read_sheet, too_large
from amberkey.core.exchange.worklist import ByHand
from amberkey.server.estate import current_estate, current_organisation, in_sight
from amberkey.server.fleet.byhand import by_setup, counted, is_done, items_of, machines_of, ticks
from amberkey.server.fleet.verbs.tick import Tick, tick
from amberkey.server.people.acting import By, actor_of
from amberkey.server.people.models import Role
from amberkey.server.problems import NotFound, Problem
from amberkey.server.schema import Schema, Told, Words
from amberkey.server.sheets import WHILE_WAITING, sheet_response

router = Router(tags=["fleet"])
HEADS = ("Machine", "Where", "What", "So far", "Set it to", "Done", "By", "Machine id", "Item id")
NEEDED = ("Machine id", "Item id", "Done")
_NOT_DONE = frozenset({"", "no", "-", "0", "open"})


class WorkSetupOut(Schema):
    """A setup of which something has to be set by hand: on how many machines how many things, and how many of all are done."""

    setup: str
    name: str
    machines: int
    items: int
    done: int
    total: int


class ByHandOut(Schema):
    id: str
    where: str
    what: str
    old: str
    new: str
    content: str
    why: str


class WorkMachineOut(Schema):
    """A machine with the things that are done on it; `again`: those that were done, but are wanted otherwise by now."""

    id: str
    name: str
    done: list[str]
    again: list[str]


class WorkOut(Schema):
    setup: str
    name: str
    items: list[ByHandOut]
    machines: list[WorkMachineOut]


class TickIn(Schema):
    """`content`: what it was set to; null takes the tick back."""

    machine: Words
    item: Words
    content: Told | None


class TicksIn(Schema):
    ticks: list[TickIn] = Field(max_length=20_000)


class TickedOut(Schema):
    """`before`: sent again, it brings back how it was. `says`: what was done, in a sentence."""

    says: str
    before: list[TickIn]


@router.get("/worklist", response=list[WorkSetupOut])
def worklist(request: HttpRequest) -> list[WorkSetupOut]:
    """The setups of which something has to be set by hand, as they are released, those with most to do first."""
    estate, ticked = current_estate(released=True), ticks()
    found = []
    for setup, machines in by_setup().items():
        items = items_of(setup)
        if items:
            counts = [counted(items, ticked.get(m.id, {})) for m in machines]
            found.append(
                WorkSetupOut(
                    setup=setup,
                    name=estate.setups[setup].name,
                    machines=len(machines),
                    items=len(items),
                    done=sum(c.done for c in counts),
                    total=sum(c.total for c in counts),
                )
            )
    return sorted(found, key=lambda w: (w.done - w.total, w.name))


@router.get("/worklist.{form}", response={200: None})
def worklist_sheet(request: HttpRequest, form: str, setup: str = "") -> HttpResponse:
    """The worklist as CSV, ODS or XLSX, of one setup or all: a row for each thing on each machine. Ticked there, it can be
    brought back."""
    wanted = {setup: machines_of(setup)} if setup else by_setup()
    if setup:
        _see(setup)
    ticked = ticks()
    rows = []
    for one, machines in wanted.items():
        for machine in machines:
            own = ticked.get(machine.id, {})
            for item in items_of(one):
                row = own.get(item.id) if is_done(item, own) else None
                day, by = (row.at.date().isoformat(), row.by.display_name) if row else ("", "")
                rows.append((machine.name, item.where, item.what, item.old, item.new, day, by, machine.id, item.id))
    return sheet_response(form, "worklist", HEADS, rows)


@router.post("/worklist/ticks", response=TickedOut, auth=By(Role.EDITOR))
def tick_these(request: HttpRequest, given: TicksIn) -> TickedOut:
    """Tick what was set by hand, or take ticks back."""
    known = current_organisation().machines_by_id
    unknown = next((t.machine for t in given.ticks if t.machine not in known), None)
    if unknown is not None:
        raise NotFound(f"machine {unknown[:60]}")
    return _ticked(request, [Tick(t.machine, t.item, t.content) for t in given.ticks])


@router.post("/worklist/sheet", response=TickedOut, auth=By(Role.EDITOR))
def bring_back(request: HttpRequest, file: File[UploadedFile]) -> TickedOut:
    """Tick what a worklist that comes back says is done. A row that isn't ticked there takes no tick back.

    Raises SheetError with every row that can't be ticked: another machine, or something that is wanted otherwise by now.
    """
    if (file.size or 0) > WHILE_WAITING.packed:
        raise Problem(
            413, "The sheet is too large.", too_large(file.size or 0, WHILE_WAITING).says, "Bring back one setup at a time."
        )
    reader = Reader(read_sheet(file.read(), WHILE_WAITING))
    reader.need(NEEDED)
    items = {m.id: {i.id: i for i in items_of(setup)} for setup, machines in by_setup().items() for m in machines}
    own = ticks()
    found: list[Tick] = []
    for row in reader.rows():
        if reader.cell(row, "Done").casefold() in _NOT_DONE:
            continue
        machine, item = reader.cell(row, "Machine id"), reader.cell(row, "Item id")
        if machine not in items:
            reader.fault(row, "Machine id", f"There is no machine {machine[:60]} with something to do.", "Take the row out.")
            continue
        wanted = items[machine].get(item)
        if wanted is None or reader.cell(row, "Set it to") not in ("", wanted.new):
            says = "This is wanted otherwise by now, or not at all."
            reader.fault(row, "Item id", says, "Take the row out, print the list again, and look at that machine.")
        elif not is_done(wanted, own.get(machine, {})):
            found.append(Tick(machine, item, wanted.content))
    reader.finish()
    return _ticked(request, found)


@router.get("/worklist/{setup_id}", response=WorkOut)
def work(request: HttpRequest, setup_id: str) -> WorkOut:
    """What has to be set by hand on the machines of a setup, and how far each is."""
    _see(setup_id)
    items, machines = items_of(setup_id), machines_of(setup_id)
    ticked = ticks([m.id for m in machines])
    out = []
    for machine in machines:
        own = ticked.get(machine.id, {})
        done = [i.id for i in items if is_done(i, own)]
        again = [i.id for i in items if i.id in own and not is_done(i, own)]
        out.append(WorkMachineOut(id=machine.id, name=machine.name, done=done, again=again))
    name = current_estate(released=True).setups[setup_id].name
    return WorkOut(setup=setup_id, name=name, items=[_out(i) for i in items], machines=out)


def _ticked(request: HttpRequest, wanted: list[Tick]) -> TickedOut:
    before = tick(actor_of(request), wanted)
    back = all(t.content is None for t in wanted)
    many = "1 thing" if len(wanted) == 1 else f"{len(wanted)} things"
    says = "Nothing was ticked that wasn't." if not wanted else f"{many} {'to do again' if back else 'done by hand'}."
    return TickedOut(says=says, before=[TickIn(machine=t.machine, item=t.item, content=t.content) for t in before])


def _see(setup_id: str) -> None:
    if setup_id not in current_estate(released=True).setups or not in_sight(setup_id):
        raise NotFound(f"setup {setup_id[:60]}")


def _out(item: ByHand) -> ByHandOut:
    return ByHandOut(
        id=item.id, where=item.where, what=item.what, old=item.old, new=item.new, content=item.content, why=item.why
    )
