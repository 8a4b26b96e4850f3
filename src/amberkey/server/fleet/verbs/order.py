"""An order to write a settings file, by compare-and-swap: what is wanted there, or what was there before."""

import datetime
from collections.abc import Callable
from typing import NamedTuple, cast

from amberkey.core.clashes.board import Board
from amberkey.core.containers.errors import SettingsFileError
from amberkey.core.descriptions.described import Described
from amberkey.core.documents.canonical import Json, digest_of
from amberkey.core.exchange.rendering import preferences_on, with_preferences
from amberkey.core.keys.reading import read_document_shortcut
from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.programs.model import Program
from amberkey.core.programs.offers import Scalar
from amberkey.core.programs.preference_files import in_the_file, read_preferences
from amberkey.core.programs.settings_files import read_settings, write_settings
from amberkey.core.rollout.putting_back import Entries, PutBack, put_back
from amberkey.server.fleet.models import FileBytes, Machine, MachineFile, Order
from amberkey.server.fleet.preferring import Preferences, preferring
from amberkey.server.fleet.standing import Wanted, entries_json, given_up, left_in, wanted_entries
from amberkey.server.library.models import Body, Given
from amberkey.server.people.models import User
from amberkey.server.problems import Problem
from amberkey.server.watch.logs import current_id

holders: list[Callable[[str], Problem | None]] = []
"""Who may have a machine in hand, so that nobody else orders anything there: each says so, or nothing."""


def held(machine_id: str) -> Problem | None:
    """Why nobody but who has a machine in hand may order anything there; None where nobody has."""
    return next((problem for holder in holders if (problem := holder(machine_id)) is not None), None)


def order_wanted(
    by: User,
    file: MachineFile,
    program: Program,
    how: Described,
    board: Board,
    given: Body,
    overlap_until: datetime.date | None = None,
) -> Order:
    """Ask for what a state of the documents, `given`, wants in a file that was seen; own keys that are left stay.

    `overlap_until`: up to that day keys that are given up work beside the new ones, where the file can say so. Raises
    SettingsFileError.
    """
    seen, platform = _seen(file), board.setup.setup.works_on
    now = read_settings(seen, program, how, platform).entries
    left = left_in(file, now)

    def all_wanted() -> dict[str, tuple[Shortcut, ...] | None]:
        return {c: s for c, s in wanted_entries(board, program, file).items() if c not in left}

    if overlap_until is not None and file.overlap_until is None:
        file.overlap, file.overlap_until = given_up(all_wanted(), file, board, program) or None, overlap_until
    wanted = all_wanted()
    try:
        content = write_settings(seen, program, how, wanted, platform).data
    except SettingsFileError:
        if not file.overlap:
            raise
        file.overlap = None  # a file that has one key a command
        wanted = all_wanted()
        content = write_settings(seen, program, how, wanted, platform).data
    file.save(update_fields=["overlap", "overlap_until"])
    number = program.settings_files.index(how)
    prefers = preferring(file, seen, board, program, number)
    content, _ = with_preferences(content, program, number, prefers.write)
    applied = _applied(
        wanted, read_settings(content, program, how, platform).entries, _preferred(content, board, program, number)
    )
    return _ask(by, file, seen, content, _Read(now, prefers.now), applied, given=given)


def taking_back(order: Order, program: Program, how: Described, board: Board) -> PutBack:
    """What taking back an order that was carried out would write, from what its file says now. Raises SettingsFileError."""
    now = read_settings(_seen(order.file), program, how, board.setup.setup.works_on).entries
    return put_back(_entries(order.read_before), _entries(order.wanted), now)


def order_back(by: User, order: Order, program: Program, how: Described, board: Board) -> Order | None:
    """Ask for what was in a file before an order: the very bytes where nothing else changed since, else our keys as they were.
    None where there is nothing to write. Raises SettingsFileError."""
    file, seen, platform = order.file, _seen(order.file), board.setup.setup.works_on
    number = program.settings_files.index(how)
    bytes_before = order.before.data if order.before is not None else None
    now = read_settings(seen, program, how, platform).entries
    if digest_of(seen) == order.digest and bytes_before is not None:
        content = bytes_before
    else:
        back = put_back(_entries(order.read_before), _entries(order.wanted), now)
        content = write_settings(seen, program, how, back.wanted, platform).data if back.wanted else seen
        content, _ = with_preferences(content, program, number, _preferences_back(order, seen, program, number))
    if content == seen:
        return None
    after = read_settings(content, program, how, platform).entries
    read = _Read(now, read_preferences(seen, program, number))
    return _ask(by, file, seen, content, read, _applied({}, after), given=order.given_before, undoes=order)


def _preferences_back(order: Order, seen: bytes, program: Program, number: int) -> dict[str, Scalar]:
    """The preferences that an order wrote and nobody changed since, as they were before it."""
    wrote, before = _preferences(order.wanted), _preferences(order.read_before)
    now = read_preferences(seen, program, number)
    places = {p.id: p for p in in_the_file(program, number)}
    return {i: before.get(i, places[i].default) for i, v in wrote.items() if i in places and now.get(i) == v}


def _preferred(content: bytes, board: Board, program: Program, number: int) -> dict[str, Scalar]:
    """The preferences that a file says as layers set them."""
    wanted, said = preferences_on(board.setup, program), read_preferences(content, program, number)
    return {i: v for i, v in said.items() if wanted.get(i) == v}


def _seen(file: MachineFile) -> bytes:
    seen = file.seen
    if seen is None:
        raise Problem(409, f"{file.path} isn't known.", "Its agent hasn't shown it, or that was too long ago.", "Wait for it.")
    return seen


def _entries(body: Body | None) -> Entries:
    said = body.json() if body is not None else {}
    entries = said.get("entries", {}) if isinstance(said, dict) else {}
    assert isinstance(entries, dict)
    return {c: tuple(read_document_shortcut(s) for s in v) for c, v in entries.items() if isinstance(v, list)}


def _preferences(body: Body | None) -> Preferences:
    said = body.json() if body is not None else {}
    return cast(Preferences, said.get("preferences", {})) if isinstance(said, dict) else {}


class _Read(NamedTuple):
    """What a file said before it was written."""

    entries: Entries
    preferences: Preferences


def _applied(wanted: Wanted, after: Entries, preferences: Preferences | None = None) -> Body:
    applied: dict[str, Json] = {
        "wanted": {c: v for c, v in entries_json(wanted).items() if v is not None},
        "entries": entries_json(after),
    }
    if preferences:
        applied["preferences"] = dict(preferences)
    return Body.keep_json(applied)


def _ask(
    by: User,
    file: MachineFile,
    seen: bytes,
    content: bytes,
    now: _Read,
    wanted: Body,
    *,
    given: Body | None,
    undoes: Order | None = None,
) -> Order:
    machine = Machine.objects.select_for_update().get(pk=file.machine_id)
    machine.orders_given += 1
    machine.save(update_fields=["orders_given"])
    file.machine.orders_given = machine.orders_given
    # An order that still waits is replaced: only the newest wish counts.
    file.orders.filter(state=Order.State.WAITING).update(state=Order.State.REFUSED, says="A newer order took its place.")
    before = Given.objects.filter(machine=file.machine_id).first()
    return Order.objects.create(
        file=file,
        number=machine.orders_given,
        expect=digest_of(seen),
        digest=digest_of(content),
        content=FileBytes.keep(content),
        wanted=wanted,
        actor=by,
        given=given,
        before=FileBytes.keep(seen),
        applied_before=file.applied,
        given_before=before.state if before is not None else None,
        read_before=Body.keep_json({"entries": entries_json(now.entries), "preferences": dict(now.preferences)}),
        undoes=undoes,
        asked_in=current_id(),
    )
