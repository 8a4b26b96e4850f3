"""From rows of a sheet to operations on the organisation: each row by itself, so that the good ones can be taken.

A row whose id (or, without one, whose name) is known changes that item in the columns that the sheet has; every other row
adds one.
"""

import re
import unicodedata
from collections.abc import Collection, Iterator, Mapping
from dataclasses import dataclass, replace
from typing import Literal, cast

from pydantic import ValidationError

from amberkey.core.compare.operations import Operation, operation
from amberkey.core.documents.canonical import Json
from amberkey.core.documents.errors import Fault
from amberkey.core.exchange.lists.cells import (
    CellFault,
    Names,
    each_once,
    read_day,
    read_number,
    read_platform,
    read_yes_or_no,
    split,
)
from amberkey.core.exchange.lists.columns import Column, ListKind, columns_of
from amberkey.core.exchange.lists.inventory import edition_in, layout_of, newest_table, platform_of, systems_of
from amberkey.core.exchange.sheets import Row
from amberkey.core.keys.platform import PLATFORM_NAMES, Platform
from amberkey.core.layouts.bodies import body_ids, load_body
from amberkey.core.layouts.layout import layout_names, layouts_also_named
from amberkey.core.organisation.checks import faults_of_machine
from amberkey.core.organisation.model import Machine, Organisation, Person, RoleUse, Seat
from amberkey.core.organisation.pseudonyms import is_pseudonym, new_pseudonym
from amberkey.core.profiles.setup import ProgramUsed
from amberkey.core.programs.model import Program

What = Literal["adds", "changes", "same", "fault"]
Fields = dict[str, Json]
_SECTIONS: Mapping[ListKind, str] = {"people": "people", "machines": "machines", "uses": "uses"}


@dataclass(frozen=True)
class Known:
    """What a list may name beside the organisation itself: programs by id and version, profiles by id with their names."""

    programs: Mapping[tuple[str, str], Program]
    profiles: Mapping[str, str]


@dataclass(frozen=True, slots=True)
class RowRead:
    """What a row comes to. `fields`: the columns in which it changes the item; `key`: the id of the item, where it is read."""

    row: int
    what: What
    name: str
    operations: tuple[Operation, ...] = ()
    faults: tuple[Fault, ...] = ()
    fields: tuple[str, ...] = ()
    guessed: tuple[Fault, ...] = ()
    """What was made of cells that say it in other words than ours, with their places."""
    key: str = ""


class ListReader:
    """Reads the rows of one list against one state of the organisation."""

    def __init__(self, kind: ListKind, matching: Mapping[str, int], organisation: Organisation, known: Known) -> None:
        """`matching`: the place of each column in the sheet. Raises CellFault where a needed one is missing altogether."""
        self.kind = kind
        self.columns = columns_of(kind)
        self.matching = {c: n for c, n in matching.items() if c in self.columns}
        self.organisation = organisation
        self.known = known
        self.seen: dict[str, int] = {}
        self.systems = systems_of(known.programs.values())
        self.guessed: list[Fault] = []
        self.departments = Names("department", {d.id: d.name for d in organisation.departments})
        self.roles = Names("role", {r.id: r.name for r in organisation.roles})
        self.kits = Names("kit", {k.id: k.name for k in organisation.kits})
        self.machines = Names("machine", {m.id: m.name for m in organisation.machines})
        self.profiles = Names("profile", known.profiles)
        self.programs = Names("program", {p.id: p.name for p in known.programs.values()})
        self.bodies = Names("keyboard body", {i: load_body(i).name for i in body_ids()})
        self.commands: dict[str, Names] = {}
        self.by_name: dict[str, list[str]] = {}
        if kind != "uses":
            for item in organisation.people if kind == "people" else organisation.machines:
                self.by_name.setdefault(item.name.casefold(), []).append(item.id)
        self.elsewhere = {p.known_as.casefold(): p.id for p in organisation.people if p.known_as}
        self.uses = {u.key: u for u in organisation.uses}
        self.seats: dict[str, dict[str, Seat]] = {}
        for seat in organisation.seats:
            self.seats.setdefault(seat.person, {})[seat.machine] = seat
        needed = [c.title for c in self.columns.values() if c.needed and c.id not in self.matching]
        if kind == "uses" and needed:
            raise CellFault(f"The sheet has no column for {' and '.join(needed)}.", "Say which of its columns that is.")
        if kind != "uses" and not self.matching.keys() & {"id", "name"}:
            raise CellFault("The sheet has no column for Id or Name.", "Say which of its columns that is.")

    def read(self, row: Row, already_bad: bool = False) -> RowRead:
        """What one row comes to; all its faults, not only the first."""
        cells = {c: row.cells[n] for c, n in self.matching.items() if n < len(row.cells)}
        faults: list[Fault] = []
        fields: Fields = {}
        self.guessed = []
        if self.kind == "machines":
            cells = self._with_system(row, cells)
        name = cells.get("name") or cells.get("id") or cells.get("command", "")
        known_as = ""
        if self.kind == "people" and (cells.get("id") or cells.get("name")):
            cells, known_as = self._with_our_id(row, cells)
        for column, text in cells.items():
            try:
                fields[column] = self._cell(self.columns[column], text, cells, row)
            except CellFault as fault:
                faults.append(fault.at(self._place(row, column)))
        if faults or already_bad:
            return RowRead(row.number, "fault", name, faults=tuple(faults))
        try:
            if self.kind == "uses":
                return self._uses(row, fields)
            if known_as:
                fields["known_as"] = known_as
            found_row = self._item(row, fields, name)
            return replace(found_row, guessed=tuple(self.guessed)) if self.guessed else found_row
        except CellFault as fault:
            return RowRead(row.number, "fault", name, faults=(fault.at(f"row {row.number}"),))
        except ValidationError as error:
            told = [f"{'.'.join(map(str, e['loc']))}: {e['msg'].removeprefix('Value error, ')}." for e in error.errors()]
            found = tuple(Fault(f"row {row.number}", says, "Mend the cell.") for says in told)
            return RowRead(row.number, "fault", name, faults=found)

    def _with_system(self, row: Row, cells: dict[str, str]) -> dict[str, str]:
        """The cells of a machine with its platform and edition as our words, where an inventory's text says them."""
        said = cells.get("platform", "") or cells.get("edition", "")
        if not said or said.casefold() in PLATFORM_NAMES or said.casefold() in {n.casefold() for n in PLATFORM_NAMES.values()}:
            return cells
        platform = platform_of(said, self.systems)
        table = newest_table(platform, self.systems) if platform else None
        if platform is None or table is None:
            return cells
        found = dict(cells)
        if "platform" in self.matching and cells.get("platform"):
            found["platform"] = platform
            self._guess(row, "platform", f"{said[:60]} is taken for {PLATFORM_NAMES[platform]}.")
            if not cells.get("edition") and (edition := edition_in(said, table)):
                found["edition"] = said
                self._guess(row, "edition", f"{said[:60]} is taken for the edition {edition}.")
        elif not cells.get("platform") and self._standing(cells) is None:
            found["platform"] = platform
            self._guess(row, "platform", f"{said[:60]} is taken for {PLATFORM_NAMES[platform]}.")
        return found

    def _with_our_id(self, row: Row, cells: dict[str, str]) -> tuple[dict[str, str], str]:
        """The cells of a person with the id that they have here, and the one that the list has for them. A person who is new
        gets an id that says nothing of who it is."""
        said, name = cells.get("id", ""), cells.get("name", "").casefold()
        if said in self.organisation.people_by_id or is_pseudonym(said):  # ours, here or where the list comes from
            return cells, ""
        named = self.by_name.get(name, [])
        if not said:
            if named:
                return cells, ""
            return {**cells, "id": self.elsewhere.setdefault(f"name {name}", new_pseudonym())}, ""
        ours = self.elsewhere.get(said.casefold())
        if ours is None and len(named) == 1 and not self.organisation.people_by_id[named[0]].known_as:
            ours = named[0]
            self._guess(row, "id", f"{said[:60]} is taken for {cells['name'][:60]}, who is here; that id is kept beside.")
        if ours is None:
            ours = new_pseudonym()
        self.elsewhere[said.casefold()] = ours
        return {**cells, "id": ours}, said

    def _guess(self, row: Row, column: str, says: str) -> None:
        self.guessed.append(Fault(self._place(row, column), says, ""))

    def _place(self, row: Row, column: str) -> str:
        return f"row {row.number}, {self.columns[column].title}"

    def _cell(self, column: Column, text: str, cells: Mapping[str, str], row: Row) -> Json:
        if not text:
            return None
        match column.id:
            case "department":
                return self.departments.find(text)
            case "role":
                return self.roles.find(text)
            case "roles":
                return list(each_once(self.roles.find(t) for t in split(text)))
            case "kits":
                return list(each_once(self.kits.find(t) for t in split(text)))
            case "profiles":
                return list(each_once(self.profiles.find(t) for t in split(text)))
            case "machines":
                return list(each_once(self.machines.find(t) for t in split(text)))
            case "stands_for":
                return read_number(text, 1, 10_000)
            case "weekly":
                return read_number(text, 0, 100_000)
            case "retired":
                return read_day(text).isoformat()
            case "numlock":
                return read_yes_or_no(text)
            case "platform":
                return read_platform(text)
            case "layouts":
                return list(self._layouts(text, cells, row))
            case "body":
                return self.bodies.find(text)
            case "programs":
                return [cast(Json, p) for p in self._programs(text)]
            case "program":
                return self.programs.find(text)
            case "command":
                return self._command(text, cells.get("program", ""))
            case "id":
                if not re.fullmatch(r"[a-z0-9]+(?:[-.][a-z0-9]+)*", text):
                    raise CellFault(f"{text[:40]} can't be an id.", "Small letters and digits, with hyphens or points between.")
                return text
            case _:
                return text

    def _layouts(self, text: str, cells: Mapping[str, str], row: Row) -> Iterator[str]:
        try:
            platform: Platform | None = read_platform(cells["platform"])
        except (KeyError, CellFault):
            known = self._standing(cells)
            platform = known.platform if isinstance(known, Machine) else None
        names = Names("keyboard layout", layout_names(platform), layouts_also_named(platform))
        for part in split(text):
            try:
                yield names.find(part)
            except CellFault:
                guess = layout_of(part, platform)
                if guess is None:
                    raise
                self._guess(row, "layouts", f"{part[:60]} is taken for the layout {layout_names(platform)[guess]}.")
                yield guess

    def _standing(self, cells: Mapping[str, str]) -> Person | Machine | None:
        """The item that a row is about, as far as that can be known yet."""
        items: Mapping[str, Person | Machine]
        items = self.organisation.people_by_id if self.kind == "people" else self.organisation.machines_by_id
        if cells.get("id"):
            return items.get(cells["id"])
        named = self.by_name.get(cells.get("name", "").casefold(), [])
        return items[named[0]] if len(named) == 1 else None

    def _programs(self, text: str) -> Iterator[dict[str, Json]]:
        for part in split(text):
            name, _, version = part.rpartition(" ")
            program = self.programs.find(name or part)
            versions = sorted(v for i, v in self.known.programs if i == program)
            if version not in versions or not name:
                raise CellFault(f"{part[:60]} names no version that is here.", f"There is {program} {' and '.join(versions)}.")
            yield {"id": program, "version": version}

    def _command(self, text: str, program_text: str) -> str:
        program = self.programs.find(program_text)
        names = self.commands.get(program)
        if names is None:
            found = {c.id: c.name for (i, _), p in sorted(self.known.programs.items()) if i == program for c in p.commands}
            names = self.commands[program] = Names("command", found)
        return names.find(text)

    def _once(self, row: Row, key: str, said: str = "") -> None:
        if key in self.seen:
            raise CellFault(f"{said or key} stands in row {self.seen[key]} already.", "Keep one of the rows.")
        self.seen[key] = row.number

    def _uses(self, row: Row, fields: Fields) -> RowRead:
        missing = [self.columns[c].title for c in self.columns if fields.get(c) is None]
        if missing:
            raise CellFault(f"{' and '.join(missing)} is empty.", "Fill it in.")
        use = RoleUse.model_validate(fields)
        self._once(row, use.key)
        before = self.uses.get(use.key)
        return _told(row, use.key, "uses", use.key, before, use, ("weekly",))

    def _item(self, row: Row, fields: Fields, name: str) -> RowRead:
        cells = {c: str(fields.get(c) or "") for c in ("id", "name")}
        named = self.by_name.get(cells["name"].casefold(), []) if not cells["id"] else []
        if len(named) > 1:
            raise CellFault(f"{name} is the name of {' and '.join(named)}.", "Say which by its id.")
        before = self._standing(cells)
        item_id = cells["id"] or (before.id if before else _id_from(cells["name"]))
        if not item_id:
            raise CellFault("There is neither an id nor a name.", "Fill one in.")
        self._once(row, item_id, name if self.kind == "people" else "")
        missing = [c.title for c in self.columns.values() if c.needed and fields.get(c.id) is None]
        if before is None and missing:
            raise CellFault(f"{' and '.join(missing)} is empty.", "A new one needs it.")
        blank = [self.columns[c].title for c in self.matching if self.columns[c].needed and fields.get(c) is None]
        if blank:
            raise CellFault(f"{' and '.join(blank)} is empty.", "Fill it in, or leave the column out.")
        machines = cast("list[str] | None", fields.pop("machines", None))
        changed = {c: v for c, v in fields.items() if c != "id"}
        # What a cell leaves empty goes back to what it is without being said.
        emptied = {c for c, v in changed.items() if v is None}
        old: Fields = before.model_dump(mode="json", exclude_defaults=True) if before else {}
        value = {**{k: v for k, v in old.items() if k not in emptied}, **{c: v for c, v in changed.items() if v is not None}}
        value["id"] = item_id
        if isinstance(before, Machine) and fields.get("programs"):
            value["programs"] = _kept(before, cast(list[Json], fields["programs"]))
        model = Person if self.kind == "people" else Machine
        after = model.model_validate(value)
        if isinstance(after, Machine) and before is None:
            after = self._with_table(row, after)
        if isinstance(after, Machine):
            faults = faults_of_machine(after, self.organisation, self.known.programs)
            if faults:
                found = tuple(Fault(f"row {row.number}, {f.place}", f.says, f.cure) for f in faults)
                return RowRead(row.number, "fault", name, faults=found)
        seats = self._seats(item_id, machines) if self.kind == "people" and "machines" in self.matching else ()
        fields_changed = tuple(c for c in self.columns if c in changed and old.get(c) != _json(after).get(c))
        if old.get("known_as") != _json(after).get("known_as"):
            fields_changed = ("id", *fields_changed)
        told = _told(row, after.name, _SECTIONS[self.kind], item_id, before, after, fields_changed)
        if not seats:
            return told
        what: What = "changes" if told.what == "same" else told.what
        return replace(told, what=what, operations=(*told.operations, *seats), fields=(*told.fields, "machines"))

    def _with_table(self, row: Row, machine: Machine) -> Machine:
        """A new machine with the newest system table of its platform, where it is given none."""
        running = [self.known.programs.get((p.id, p.version)) for p in self.organisation.programs_on(machine)]
        if any(p is not None and p.kind == "system" for p in running):
            return machine
        table = newest_table(machine.platform, self.systems)
        if table is None:
            return machine
        self._guess(row, "programs", f"It is given {table.name} {table.version}, the system table that there is.")
        own = ProgramUsed(id=table.id, version=table.version)
        return machine.model_copy(update={"programs": (own, *machine.programs)})

    def _seats(self, person: str, machines: Collection[str] | None) -> tuple[Operation, ...]:
        wanted = {m: Seat(person=person, machine=m) for m in machines or ()}
        now = self.seats.get(person, {})
        gone = [operation("seats", s.key, _json(s), None) for m, s in now.items() if m not in wanted]
        come = [operation("seats", s.key, None, _json(s)) for m, s in wanted.items() if m not in now]
        return (*gone, *come)


def _told(
    row: Row,
    name: str,
    section: str,
    key: str,
    before: Person | Machine | RoleUse | None,
    after: Person | Machine | RoleUse,
    fields: tuple[str, ...],
) -> RowRead:
    if before == after:
        return RowRead(row.number, "same", name, key=key)
    one = operation(section, key, _json(before) if before else None, _json(after))
    return RowRead(row.number, "changes" if before else "adds", name, (one,), fields=fields if before else (), key=key)


def _kept(before: Machine, programs: list[Json]) -> list[Json]:
    """The programs of a cell; one that stands there already keeps its add-ons and how it runs, which no cell says."""
    standing = {(p.id, p.version): cast(Json, p.model_dump(mode="json", exclude_defaults=True)) for p in before.programs}
    return [standing.get((str(p["id"]), str(p["version"])), p) for p in cast(list[dict[str, Json]], programs)]


def _json(item: Person | Machine | RoleUse | Seat) -> dict[str, Json]:
    return cast(dict[str, Json], item.model_dump(mode="json", exclude_defaults=True))


def _id_from(name: str) -> str:
    """An id made from a name: letters without marks, in small, with hyphens."""
    plain = unicodedata.normalize("NFKD", name).encode("ascii", "ignore").decode().lower()
    return re.sub(r"[^a-z0-9]+", "-", plain).strip("-")[:80].strip("-")
