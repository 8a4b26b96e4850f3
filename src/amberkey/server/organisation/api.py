"""The organisation: its tables and setups, and changes of one item or many, planned before they are saved."""

from collections import Counter
from typing import Any

from django.http import HttpRequest
from django.utils import timezone
from ninja import Query, Router

from amberkey.core.clashes.estate import Estate, Group
from amberkey.core.keys.platform import PLATFORM_NAMES
from amberkey.core.organisation.model import Person
from amberkey.server.estate import current_estate, current_organisation, in_sight, layer_names
from amberkey.server.organisation import layers, lists, overview, profiles, uses, worth
from amberkey.server.organisation.tables import Section, TableRow, Wanted, chosen, ordered, table_of
from amberkey.server.organisation.verbs.bulk import Wish, operations_for
from amberkey.server.organisation.verbs.edit import Item, Plan, edit, operations_of, plan, with_ids, with_what_hangs_on
from amberkey.server.people.acting import By, actor_of
from amberkey.server.people.models import Role
from amberkey.server.people.sight import sees_personal
from amberkey.server.problems import Problem
from amberkey.server.schema import Schema, Words
from amberkey.server.workbench.clashes.told import brief
from amberkey.server.workbench.keeping import kept

router = Router(tags=["organisation"])
for part in (overview, lists, layers, profiles, uses, worth):
    router.add_router("", part.router)
_SHOWN = 12  # how many clashes a plan names; it counts all


class SeatOut(Schema):
    """A seat as it stands in the document, the name of the other side (the machine's, or the person's), and the layouts that
    the machine has."""

    item: dict[str, Any]
    name: str
    layouts: list[str]


class RowOut(Schema):
    """`cells` in words, by column; `item` as it stands in the document, for changing it."""

    id: str
    cells: dict[str, str]
    item: dict[str, Any]
    seats: list[SeatOut]


class PageOut(Schema):
    """Some rows of those that fit: from `start` on. `people` counts those behind shared sign-ins too."""

    total: int
    start: int
    rows: list[RowOut]


class SetupOut(Schema):
    id: str
    name: str
    platform: str
    edition: str
    unknown: list[str]
    layout: str
    body: str
    people: int
    machines: int
    layers: list[str]
    programs: list[str]
    clashes: dict[str, int]


class ItemIn(Schema):
    """A person who comes without an id gets one, and so do seats of nobody that come with them."""

    section: str
    before: dict[str, Any] | None = None
    after: dict[str, Any] | None = None


class ItemsIn(Schema):
    title: Words
    items: list[ItemIn]


class BulkIn(Schema):
    """Which rows: those with `ids`, or all that are as `wanted` says but those `without`."""

    section: Section
    ids: list[str] | None = None
    wanted: Wanted = Wanted()
    without: list[str] = []
    wish: Wish


class OrganisationPlanOut(Schema):
    """What a change would do: sentences, and the clashes that it solves and makes (the first of them in words)."""

    changed: int
    told: list[str]
    solves: list[str]
    makes: list[str]
    solved: int
    made: int


class ChangedOut(Schema):
    id: int
    title: str


@router.get("/organisation/table/{section}", response=PageOut)
def table(
    request: HttpRequest,
    section: Section,
    wanted: Query[Wanted],
    sort: str = "name",
    down: bool = False,
    start: int = 0,
    count: int = 200,
) -> PageOut:
    """People or machines that are as wanted, in order, from `start` on; at most 500 at once."""
    rows = ordered(chosen(table_of(section), wanted), sort, down)
    start = max(0, start)
    return PageOut(total=len(rows), start=start, rows=[_row(r) for r in rows[start : start + max(1, min(count, 500))]])


_PERSONAL = ("mouse_hand", "assistive", "profiles")


def _row(row: TableRow) -> RowOut:
    item, cells = row.item.model_dump(mode="json", exclude_defaults=True), dict(row.cells)
    if not sees_personal():
        cells["setups"] = "; ".join(name for i, name in row.setups.items() if in_sight(i))
        if isinstance(row.item, Person):
            item = {field: value for field, value in item.items() if field not in _PERSONAL}
            cells["profiles"] = ""
    return RowOut(
        id=row.item.id,
        cells=cells,
        item=item,
        seats=[
            SeatOut(item=s.model_dump(mode="json", exclude_defaults=True), name=name, layouts=list(layouts))
            for s, name, layouts in row.seats
        ],
    )


@router.get("/organisation/setups", response=list[SetupOut])
@kept
def setups(request: HttpRequest) -> list[SetupOut]:
    """Every setup in use with who has it and how many clashes it has, by severity."""
    estate = current_estate()
    found = []
    names = layer_names(estate)
    for setup in filter(lambda s: in_sight(s.id), estate.setups.values()):
        board = estate.board(setup.id)
        found.append(
            SetupOut(
                id=setup.id,
                name=setup.name,
                platform=PLATFORM_NAMES[setup.platform],
                edition=setup.edition,
                unknown=list(board.setup.unknown),
                layout=board.setup.layout.name,
                body=board.setup.body.name,
                people=setup.people,
                machines=setup.machines,
                layers=[names[i] for i in setup.layers],
                programs=[f"{p.name} {p.version}" for p in board.setup.programs],
                clashes=dict(Counter(c.severity for c in estate.clashes(setup.id))),
            )
        )
    return found


@router.post("/organisation/plan", response=OrganisationPlanOut, auth=By(Role.EDITOR))
def plan_items(request: HttpRequest, given: ItemsIn) -> OrganisationPlanOut:
    """What changing these items would do; nothing is saved."""
    return _plan(plan(_operations(given)))


@router.post("/organisation/change", response=ChangedOut, auth=By(Role.EDITOR))
def change_items(request: HttpRequest, given: ItemsIn) -> ChangedOut:
    """Add, change or remove items of the organisation as one change that can be undone."""
    title = given.title.strip() or "Changed the organisation"
    done = edit(actor_of(request), title, _operations(given))
    return ChangedOut(id=done.id, title=title)  # whoever asked may be told the name that the history doesn't keep


def _operations(given: ItemsIn) -> list[Any]:
    operations = operations_of(with_ids(Item(i.section, i.before, i.after) for i in given.items))
    return with_what_hangs_on(operations, current_organisation())


@router.post("/organisation/bulk/plan", response=OrganisationPlanOut, auth=By(Role.EDITOR))
def plan_bulk(request: HttpRequest, given: BulkIn) -> OrganisationPlanOut:
    """What the same change of many people or machines would do; nothing is saved."""
    return _plan(plan(_bulk(given)[0]))


@router.post("/organisation/bulk", response=ChangedOut, auth=By(Role.EDITOR))
def change_bulk(request: HttpRequest, given: BulkIn) -> ChangedOut:
    """Change many people or machines alike, as one change that can be undone."""
    operations, asked = _bulk(given)
    what = "people" if given.section == "people" else "machines"
    if not operations:
        raise Problem(409, f"All {asked} {what} are so already.", "There is nothing to change.")
    done = edit(actor_of(request), f"Changed {len(operations)} {what} at once", operations)
    return ChangedOut(id=done.id, title=done.title)


def _bulk(given: BulkIn) -> tuple[list[Any], int]:
    ids = given.ids
    if ids is None:
        without = set(given.without)
        ids = [r.item.id for r in chosen(table_of(given.section), given.wanted) if r.item.id not in without]
    if not ids:
        raise Problem(400, "Nothing is chosen.", cure="Choose at least one row.")
    today = timezone.localdate()
    return operations_for(given.section, dict.fromkeys(ids), given.wish, current_organisation(), today), len(ids)


def _plan(found: Plan) -> OrganisationPlanOut:
    now = current_estate()
    setups_told = f"There will be {found.setups_after} setups in use"
    if found.setups_after == found.setups_before:
        setups_told += ", as many as now."
    else:
        setups_told += f", instead of {found.setups_before}."
    told = [setups_told]
    if found.people_after != found.people_before:
        told.append(f"They will count {found.people_after} people instead of {found.people_before}.")
    return OrganisationPlanOut(
        changed=found.changed,
        told=told,
        solves=_brief(found.solves, now),
        makes=_brief(found.makes, found.estate),
        solved=len(found.solves),
        made=len(found.makes),
    )


def _brief(groups: tuple[Group, ...], estate: Estate) -> list[str]:
    shown = sorted(groups, key=lambda g: -g.people)[:_SHOWN]
    return [f"{brief(g, estate.board(g.setups[0].id))}, {g.people} people" for g in shown]
