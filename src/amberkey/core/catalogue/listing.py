"""A table of commands held against a program: what each row says, which command it is, what taking it would do.

A list that comes again is merged: what somebody changed in the program since the last list stays where the list says what it
said then; where both say something new, the row contradicts and the program's own stays until somebody chooses.
"""

import difflib
from collections import Counter
from collections.abc import Callable, Collection, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Literal, cast, get_args

from amberkey.core.catalogue.cells import Habits, KeyCell, habits_of, read_key_cell
from amberkey.core.catalogue.headings import KEY_FIELDS, Field, Matching, field_of, plain_words
from amberkey.core.catalogue.tables import Table, TableRow
from amberkey.core.documents.canonical import Json
from amberkey.core.documents.errors import Fault
from amberkey.core.documents.ids import fresh_id, id_from
from amberkey.core.exchange.lists.cells import CellFault, read_yes_or_no, split
from amberkey.core.keys.platform import Platform
from amberkey.core.programs.making import with_commands, write_keys
from amberkey.core.programs.model import Command, CommandKind, Program, Scope
from amberkey.core.tasks.model import Tasks

What = Literal["adds", "changes", "same", "contradicts", "unread", "heading"]
_LONGEST_NAME = 200
FoundBy = Literal["", "its id", "its name and group", "its name", "its keys and a similar name"]
Said = dict[str, Json]
"""What a row says of a command: fields as `with_commands` takes them; `keys` by platform as text."""
Corrections = Mapping[int, Mapping[str, str]]
"""By row, other texts for its cells by field; `what` says `command` or `heading`; `take` `list` takes the list's side."""
_KINDS = {plain_words(k): k for k in get_args(CommandKind)}
_ALIKE = 0.6
_STEP = 200


@dataclass(frozen=True, slots=True)
class CellRead:
    """One cell: its text, what was understood (as text), how sure that is, and why not."""

    text: str
    read: str
    state: Literal["sure", "guessed", "none", "unread"]
    says: str = ""


@dataclass(frozen=True, slots=True)
class Difference:
    """A field in which a row differs from the program: what it is there, what the list says, and whether that is taken."""

    field: str
    now: str
    then: str
    taken: bool


@dataclass(frozen=True, slots=True)
class ListedRow:
    """A row of the table. `command`: the id that it has or would have; `said`: what taking it sets."""

    row: int
    what: What
    name: str
    command: str = ""
    found_by: FoundBy = ""
    cells: Mapping[str, CellRead] = field(default_factory=dict)
    said: Said = field(default_factory=dict)
    differs: tuple[Difference, ...] = ()
    faults: tuple[Fault, ...] = ()
    whole: Said = field(default_factory=dict)
    """All that the row says, kept for the next time that the list comes."""

    @property
    def guessed(self) -> bool:
        """Whether anything of it was guessed, or can't be read."""
        return any(c.state in ("guessed", "unread") for c in self.cells.values())

    @property
    def good(self) -> bool:
        """Whether it can be taken."""
        return self.what in ("adds", "changes", "contradicts", "same")


@dataclass(frozen=True)
class Listing:
    """`missing`: the commands of the program, by id, of which the list says nothing; `scopes`: those that it names and the
    program hasn't."""

    rows: tuple[ListedRow, ...]
    missing: tuple[str, ...]
    scopes: tuple[Scope, ...]

    def counts(self) -> Counter[What]:
        return Counter(r.what for r in self.rows)

    def said(self) -> dict[str, Said]:
        """What the list says of each command, by id."""
        return {r.command: r.whole for r in self.rows if r.good}


class ListOfCommands:
    """Reads a table against one state of a program."""

    def __init__(
        self,
        program: Program,
        tasks: Tasks,
        matching: Matching,
        *,
        platforms: Sequence[Platform] = (),
        corrections: Corrections | None = None,
        last: Mapping[str, Said] | None = None,
    ) -> None:
        """`platforms`: where keys count of which neither heading nor modifiers say where; `last`: what the last list said."""
        self.program = program
        self.matching = matching
        self.platforms = tuple(platforms) or where_general(program)
        self.corrections = corrections or {}
        self.last = last or {}
        self.places: dict[Field, int] = {}
        for n, one in matching.columns.items():
            self.places.setdefault(one, n)
        self.tasks = {plain_words(w): t.id for t in reversed(tasks.tasks) for w in (*reversed(t.other_words), t.name, t.id)}
        self.scopes = {plain_words(s.name): s.id for s in program.scopes} | {s.id: s.id for s in program.scopes}
        self.new_scopes: list[Scope] = []
        self.by_id = {c.id: c for c in program.commands} | {w: c for c in program.commands for w in c.was}
        self.by_name: dict[str, list[Command]] = {}
        self.by_keys: dict[tuple[Platform, str], list[Command]] = {}
        for command in program.commands:
            self.by_name.setdefault(plain_words(command.name), []).append(command)
            for platform in command.defaults:
                if text := write_keys(command.defaults_on(platform)):
                    self.by_keys.setdefault((platform, text), []).append(command)
        self.taken = set(self.by_id)
        self.used: dict[str, int] = {}
        self.seen: dict[tuple[str, str], int] = {}

    def read(self, table: Table, progress: Callable[[int], None] | None = None) -> Listing:
        """All rows; `progress` is told now and then how many are done."""
        rows = [r for r in table.rows if r.number > self.matching.head]
        keys = [n for n, f in self.matching.columns.items() if f in KEY_FIELDS]
        habits = habits_of(r.cells[n] for r in rows for n in keys if n < len(r.cells))
        group = ""
        carried = self._is_carried(rows)
        found: list[ListedRow] = []
        for n, row in enumerate(rows):
            cells = self._cells(row)
            if (heading := self._heading(row, cells, rows[n + 1] if n + 1 < len(rows) else None, table)) is not None:
                group = heading or group
                found.append(ListedRow(row.number, "heading", heading))
                continue
            if "group" in self.places and (cells.get("group") or not carried):
                group = cells.get("group", "")
            found.append(self._row(row, {**cells, "group": group}, habits))
            if progress is not None and len(found) % _STEP == 0:
                progress(len(found))
        missing = tuple(c.id for c in self.program.commands if c.id not in self.used and not c.retired)
        return Listing(tuple(found), missing, tuple(self.new_scopes))

    def _cells(self, row: TableRow) -> dict[str, str]:
        corrected = self.corrections.get(row.number, {})
        cells: dict[str, str] = {f: row.cells[n] for f, n in self.places.items() if n < len(row.cells)}
        return {**cells, **{f: t.strip() for f, t in corrected.items() if f not in ("what", "take")}}

    def _is_carried(self, rows: Sequence[TableRow]) -> bool:
        """Whether an empty cell of the column of groups means the one above: so it is where groups were merged cells."""
        at = self.places.get("group")
        if at is None:
            return False
        empty = sum(at >= len(r.cells) or not r.cells[at] for r in rows)
        return empty * 5 > len(rows)

    def _heading(self, row: TableRow, cells: Mapping[str, str], following: TableRow | None, table: Table) -> str | None:
        """The group that a row heads; an empty text for headings said again; None for a command."""
        corrected = self.corrections.get(row.number, {}).get("what")
        if corrected is not None:
            return (cells.get("name") or next((c for c in row.cells if c), "")) if corrected == "heading" else None
        filled = [c for c in row.cells if c]
        if row.faults:
            return None
        known = [f for c in filled if (f := field_of(c)) is not None]
        if len(filled) > 1 and len(set(known)) >= 2 and len(known) == len(filled):
            return ""
        several = len(self.places) > 1 and table.width > 1
        if len(set(filled)) == 1 and several and following is not None and len({c for c in following.cells if c}) > 1:
            if any(cells.get(f) for f in KEY_FIELDS):
                return None
            return filled[0] if "group" not in self.places or not cells.get("name") or filled[0].endswith(":") else None
        return None

    def _row(self, row: TableRow, cells: Mapping[str, str], habits: Habits) -> ListedRow:
        place = f"row {row.number}"
        name = " ".join(cells.get("name", "").split())
        read = dict(self._read(cells, habits))
        faults = list(row.faults)
        if not name:
            faults.append(Fault(place, "It names no command.", "Give it a name, or leave the row out."))
        if len(name) > _LONGEST_NAME:
            says = f"Its name has {len(name)} characters, and {_LONGEST_NAME} are the most."
            faults.append(Fault(place, says, "Say it in fewer, or leave the row out."))
        for one, cell in read.items():
            if cell.state == "unread":
                faults.append(Fault(f"{place}, {_told(one)}", cell.says, "Write it anew, or leave the row out."))
        known, found_by = self._find(name, cells, read)
        identity = (plain_words(name), plain_words(cells.get("group", "")))
        first = self.used.get(known.id) if known is not None else self.seen.get(identity)
        if name and first is not None:
            faults.append(Fault(place, f"Row {first} is the same command, {name}.", "Leave one of them out."))
        if faults:
            return ListedRow(row.number, "unread", name, cells=read, faults=tuple(faults))
        whole = self._said(name, read)
        self.seen[identity] = row.number
        if known is None:
            made = fresh_id(cells.get("id") or name, self.taken)
            self.taken.add(made)
            return ListedRow(row.number, "adds", name, made, cells=read, said=whole, whole=whole)
        self.used[known.id] = row.number
        differs = tuple(self._differs(known, whole, self.corrections.get(row.number, {}).get("take") == "list"))
        said = {d.field.partition(".")[0]: None for d in differs if d.taken}
        what: What = "contradicts" if any(not d.taken for d in differs) else "changes" if differs else "same"
        taken = {f: whole[f] for f in said}
        if "keys" in taken:
            wanted = {d.field.removeprefix("keys.") for d in differs if d.taken and d.field.startswith("keys.")}
            taken["keys"] = {p: t for p, t in cast(dict[str, Json], whole["keys"]).items() if p in wanted}
        return ListedRow(row.number, what, name, known.id, found_by, read, taken, differs, whole=whole)

    def _read(self, cells: Mapping[str, str], habits: Habits) -> Iterator[tuple[str, CellRead]]:
        for one, text in cells.items():
            if one in KEY_FIELDS:
                yield one, _of_keys(text, read_key_cell(text, habits))
            elif one == "task" and text:
                yield one, _known(text, self.tasks.get(plain_words(text)), "task")
            elif one == "scope" and text:
                yield one, self._scope(text)
            elif one == "kind" and text:
                found_kind = (
                    plain_words(text).replace(" ", "-") if plain_words(text) in ("built in", "add on") else plain_words(text)
                )
                known = found_kind in get_args(CommandKind)
                yield (
                    one,
                    CellRead(
                        text,
                        found_kind if known else "",
                        "sure" if known else "guessed",
                        "" if known else f"No kind is called {text[:60]}.",
                    ),
                )
            elif one == "risky" and text:
                try:
                    yield one, CellRead(text, "yes" if read_yes_or_no(text) else "no", "sure")
                except CellFault as error:
                    yield one, CellRead(text, "", "guessed", f"{error.says} It was taken for no.")
            else:
                yield one, CellRead(text, text, "sure" if text else "none")

    def _scope(self, text: str) -> CellRead:
        found = self.scopes.get(plain_words(text)) or self.scopes.get(text)
        if found is None:
            made = Scope(id=fresh_id(text, set(self.scopes.values())), name=text[:80], parent=self.program.root.id)
            self.new_scopes.append(made)
            self.scopes[plain_words(text)] = found = made.id
            return CellRead(text, found, "guessed", f"{text[:60]} is a new scope, within {self.program.root.name}.")
        new = any(s.id == found for s in self.new_scopes)
        return CellRead(text, found, "guessed" if new else "sure", "A new scope." if new else "")

    def _find(self, name: str, cells: Mapping[str, str], read: Mapping[str, CellRead]) -> tuple[Command | None, FoundBy]:
        """The command of the program that a row means, and by what it was found."""
        said = cells.get("id", "")
        if said and (found := self.by_id.get(said) or self.by_id.get(id_from(said))) is not None:
            return found, "its id"
        named = [c for c in self.by_name.get(plain_words(name), []) if c.id not in self.used]
        group = plain_words(cells.get("group", ""))
        within = [c for c in named if plain_words(c.group) == group]
        if len(within) == 1:
            return within[0], "its name and group"
        if len(named) == 1 and not within:
            return named[0], "its name"
        if named or plain_words(name) in self.by_name:
            return (self.by_name[plain_words(name)][0], "its name") if not named and group == "" else (None, "")
        for platform, text in self._keys(read).items():
            for command in self.by_keys.get((platform, text), []):
                if command.id not in self.used and _are_alike(plain_words(name), plain_words(command.name)):
                    return command, "its keys and a similar name"
        return None, ""

    def _keys(self, read: Mapping[str, CellRead]) -> dict[Platform, str]:
        """The keys that a row says, by platform as text; a column for one platform counts before one for all."""
        found: dict[Platform, str] = {}
        if "keys" in read:
            found |= dict.fromkeys(self.platforms, read["keys"].read)
        for one, platform in KEY_FIELDS.items():
            if platform is not None and one in read and platform in self.program.platforms:
                found[platform] = read[one].read
        return found

    def _said(self, name: str, read: Mapping[str, CellRead]) -> Said:
        said: Said = {"name": name}
        for one in ("group", "description", "scope", "kind", "task"):
            if one in read and (read[one].read or (one in ("group", "description") and one in self.places)):
                said[one] = read[one].read
        if "other_words" in read:
            said["other_words"] = cast(Json, split(read["other_words"].text.replace(",", ";")))
        if read.get("risky", CellRead("", "", "none")).read:
            said["risky"] = read["risky"].read == "yes"
        if keys := self._keys(read):
            said["keys"] = cast(Json, keys)
        return said

    def _differs(self, command: Command, said: Said, lists_side: bool) -> Iterator[Difference]:
        last = self.last.get(command.id)
        for one, then in said.items():
            if one == "keys":
                before = cast(Mapping[str, Json], (last or {}).get("keys") or {})
                for platform, text in cast(Mapping[Platform, str], then).items():
                    now = write_keys(command.defaults_on(platform))
                    yield from _difference(f"keys.{platform}", now, text, before.get(platform) if last else None, lists_side)
                continue
            value = getattr(command, one)
            now_json = list(value) if isinstance(value, tuple) else value
            yield from _difference(one, now_json, then, (last or {}).get(one), lists_side)


def _are_alike(one: str, other: str) -> bool:
    """Whether two names are spelled alike, or all words of the one stand in the other."""
    a, b = set(one.split()), set(other.split())
    return a <= b or b <= a or difflib.SequenceMatcher(None, one, other).ratio() >= _ALIKE


def _difference(name: str, now: Json, then: Json, before: Json, lists_side: bool) -> Iterator[Difference]:
    """None where both are the same, or the list says what it said before and the program was changed since."""
    if (now or None) == (then or None):
        return
    if before is not None and (before or None) == (then or None) and not lists_side:
        return
    own_work = before is not None and (before or None) != (now or None)
    yield Difference(name, _as_text(now), _as_text(then), lists_side or not own_work)


def _as_text(value: Json) -> str:
    if isinstance(value, list):
        return "; ".join(str(v) for v in value)
    return (
        {None: "", True: "yes", False: "no"}.get(cast(bool | None, value), "") if value in (None, True, False) else str(value)
    )


def _known(text: str, found: str | None, noun: str) -> CellRead:
    says = "" if found else f"No {noun} is called {text[:60]}, so it was left out."
    return CellRead(text, found or "", "sure" if found else "guessed", says)


def _of_keys(text: str, cell: KeyCell) -> CellRead:
    return CellRead(text, write_keys(cell.shortcuts), cell.state, cell.says)


def where_general(program: Program) -> tuple[Platform, ...]:
    """Where keys count of which nothing says where: everywhere but on macOS, unless there is nothing else."""
    return tuple(p for p in program.platforms if p != "macos") or program.platforms


def _told(one: str) -> str:
    return one.replace("keys.", "keys on ").replace("other_words", "other words")


def with_listed(program: Program, listing: Listing, rows: Collection[int] | None = None) -> Program:
    """A program after a list: what its good rows say, those of some numbers only if given. Commands of which it says nothing
    stay. Raises DocumentError."""
    good = [r for r in listing.rows if r.good and (rows is None or r.row in rows)]
    changed = {r.command: r for r in good if r.what != "adds"}
    given: list[Said] = []
    for command in program.commands:
        row = changed.get(command.id)
        given.append({"name": command.name, **(row.said if row else {}), "id": command.id})
    for row in good:
        if row.what == "adds":
            given.append({**row.said, "scope": row.said.get("scope") or program.root.id})
    wanted = {str(g.get("scope")) for g in given}
    scopes = tuple(s for s in listing.scopes if s.id in wanted)
    return with_commands(
        program.model_copy(update={"scopes": (*program.scopes, *scopes)}), cast(Sequence[Mapping[str, Json]], given)
    )


def with_retired(program: Program, *, retire: Collection[str], back: Collection[str]) -> Program:
    """A program with some of its commands retired, and others brought back."""
    commands = (
        c.model_copy(update={"retired": c.id in retire}) if c.id in retire or c.id in back else c for c in program.commands
    )
    return program.model_copy(update={"commands": tuple(commands)})


_VERBS: Mapping[What, str] = {
    "adds": "Adds {}.",
    "changes": "Changes {}.",
    "same": "Leaves {} as they are.",
    "contradicts": "{} were changed here and in the list since it last came; here they stay.",
}


def told(listing: Listing, program: Program, *, gone: bool = False) -> list[str]:
    """What taking a list would do, in sentences. `gone`: commands of which it says nothing are left out of what it makes."""
    counts = listing.counts()
    sentences = [text.format(_counted(counts[what])) for what, text in _VERBS.items() if counts[what]]
    if listing.missing:
        names = [c.name for c in program.commands if c.id in set(listing.missing)]
        stays = f"gone in {program.version}" if gone else "which stay"
        sentences.append(f"Says nothing of {_counted(len(names))} of the program, {stays}: {_some(names)}.")
    if listing.scopes:
        sentences.append(f"Makes the scopes {_some([s.name for s in listing.scopes])}.")
    if counts["unread"]:
        bad = counts["unread"]
        sentences.append("1 row can't be taken as it is." if bad == 1 else f"{bad:,} rows can't be taken as they are.")
    return sentences


def _counted(number: int) -> str:
    return f"{number:,} {'command' if number == 1 else 'commands'}"


def _some(names: Iterable[str]) -> str:
    found = list(names)
    return ", ".join(found[:5]) + (f" and {len(found) - 5} more" if len(found) > 5 else "")
