"""The groups of clashes as they travel: column by column, each text, shortcut, stroke and party once, named by its number.

An organisation's clashes have the same setups, programs and keys in hundreds of groups; written out they are three times as
long. `web/src/clashes/unpacked.ts` makes whole groups of them again.
"""

from collections.abc import Hashable, Iterable
from typing import Generic, TypeVar

from amberkey.core.clashes.binding import Station
from amberkey.core.clashes.model import ClashKind
from amberkey.core.profiles.decisions import Severity
from amberkey.server.schema import Schema
from amberkey.server.workbench.clashes.told import AllowedOut, GroupOut, MeaningOut, PartyOut
from amberkey.server.workbench.words import ShortcutOut, StrokeOut

K = TypeVar("K", bound=Hashable)
T = TypeVar("T")


class PartiesOut(Schema):
    """Columns, one number a party: of texts; `shortcut` of shortcuts."""

    program: list[int]
    program_name: list[int]
    command: list[int]
    command_name: list[int]
    scope: list[int]
    scope_name: list[int]
    shortcut: list[int]


class ShortcutsOut(Schema):
    """Columns, one entry a shortcut: numbers of texts; `caps` one list of them a press."""

    text: list[int]
    words: list[int]
    caps: list[list[list[int]]]


class PackedGroupsOut(Schema):
    """Columns, one entry a group; what each means says `GroupOut`. Numbers are places in the tables beside it: `says`, `text`,
    `taken_says` and `meant_says` of texts, `subject` and `holder` of parties, `stroke` and `strokes` of strokes, `seen_in` and
    `setups` of setups, `departments` of department ids, `focus` two of texts. `new`, `may_be_meant`, `meaning` and `allowed`
    name by their place the groups for which they are so."""

    identity: list[str]
    kind: list[ClashKind]
    severity: list[Severity]
    taken_at: list[Station | None]
    meant_for: list[Station]
    seen_in: list[int]
    says: list[int]
    text: list[int]
    taken_says: list[int]
    meant_says: list[int]
    subject: list[int]
    holder: list[int | None]
    stroke: list[int | None]
    strokes: list[list[int]]
    focus: list[list[int]]
    setups: list[list[int]]
    departments: list[list[int]]
    people: list[int]
    new: list[int]
    may_be_meant: list[int]
    meaning: dict[int, MeaningOut]
    allowed: dict[int, AllowedOut]


class PackedOut(Schema):
    """Groups with the tables that their numbers are places in."""

    texts: list[str]
    setups: list[str]
    department_ids: list[str]
    strokes: list[StrokeOut]
    shortcuts: ShortcutsOut
    parties: PartiesOut
    groups: PackedGroupsOut


class _Table(Generic[K, T]):
    """Values by the key that tells them apart, each with its place."""

    def __init__(self) -> None:
        self.places: dict[K, int] = {}
        self.values: list[T] = []

    def place(self, key: K, value: T) -> int:
        found = self.places.get(key)
        if found is None:
            found = self.places[key] = len(self.values)
            self.values.append(value)
        return found


class _Packing:
    def __init__(self) -> None:
        self.texts: _Table[str, str] = _Table()
        self.setups: _Table[str, str] = _Table()
        self.departments: _Table[str, str] = _Table()
        self.strokes: _Table[tuple[str | None, tuple[str, ...]], StrokeOut] = _Table()
        self.shortcuts: _Table[int, ShortcutOut] = _Table()
        self.parties: _Table[tuple[int, ...], None] = _Table()

    def text(self, text: str) -> int:
        return self.texts.place(text, text)

    def stroke(self, stroke: StrokeOut) -> int:
        return self.strokes.place((stroke.code, tuple(stroke.modifiers)), stroke)

    def party(self, one: PartyOut) -> int:
        # Shortcuts that are told alike are one object (see `words.shortcut_out`).
        key = (
            *(self.text(one.program), self.text(one.program_name), self.text(one.command), self.text(one.command_name)),
            *(self.text(one.scope), self.text(one.scope_name), self.shortcuts.place(id(one.shortcut), one.shortcut)),
        )
        return self.parties.place(key, None)


def packed(groups: Iterable[GroupOut]) -> PackedOut:
    """Some groups, in their order."""
    groups = list(groups)
    pack = _Packing()
    text, stroke, setup, department = pack.text, pack.stroke, pack.setups.place, pack.departments.place
    columns = PackedGroupsOut(
        identity=[g.identity for g in groups],
        kind=[g.kind for g in groups],
        severity=[g.severity for g in groups],
        taken_at=[g.taken_at for g in groups],
        meant_for=[g.meant_for for g in groups],
        seen_in=[setup(g.seen_in, g.seen_in) for g in groups],
        says=[text(g.says) for g in groups],
        text=[text(g.text) for g in groups],
        taken_says=[text(g.taken_says) for g in groups],
        meant_says=[text(g.meant_says) for g in groups],
        subject=[pack.party(g.subject) for g in groups],
        holder=[None if g.holder is None else pack.party(g.holder) for g in groups],
        stroke=[None if g.stroke is None else stroke(g.stroke) for g in groups],
        strokes=[[stroke(s) for s in g.strokes] for g in groups],
        focus=[[] if g.focus is None else [text(g.focus.program), text(g.focus.scope)] for g in groups],
        setups=[[setup(s, s) for s in g.setups] for g in groups],
        departments=[[department(d, d) for d in g.departments] for g in groups],
        people=[g.people for g in groups],
        new=[n for n, g in enumerate(groups) if g.new],
        may_be_meant=[n for n, g in enumerate(groups) if g.may_be_meant],
        meaning={n: g.meaning for n, g in enumerate(groups) if g.meaning is not None},
        allowed={n: g.allowed for n, g in enumerate(groups) if g.allowed is not None},
    )
    shortcuts = ShortcutsOut(
        text=[text(s.text) for s in pack.shortcuts.values],
        words=[text(s.words) for s in pack.shortcuts.values],
        caps=[[[text(cap) for cap in press] for press in s.caps] for s in pack.shortcuts.values],
    )
    parties = list(pack.parties.places)
    return PackedOut(
        texts=pack.texts.values,
        setups=pack.setups.values,
        department_ids=pack.departments.values,
        strokes=pack.strokes.values,
        shortcuts=shortcuts,
        parties=PartiesOut(**{name: [p[n] for p in parties] for n, name in enumerate(PartiesOut.model_fields)}),
        groups=columns,
    )
