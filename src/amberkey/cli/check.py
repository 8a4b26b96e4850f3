"""`amberkey check`: the clashes of setups."""

import datetime
import json
import pathlib
from argparse import Namespace
from collections.abc import Mapping
from dataclasses import replace
from typing import TYPE_CHECKING

from amberkey.cli.answer import Answer, Facts, columns, reach_facts, stroke_facts
from amberkey.cli.errors import Wrong
from amberkey.cli.files import Shelf, board_from, estate_of, read_one, setups_in, shelf_of
from amberkey.core.clashes.binding import Binding
from amberkey.core.clashes.board import Board
from amberkey.core.clashes.estate import Estate
from amberkey.core.clashes.model import Clash
from amberkey.core.clashes.wording import say_clash
from amberkey.core.compare.operations import operation_to_json
from amberkey.core.profiles.model import Profile
from amberkey.core.profiles.setup import Setup

if TYPE_CHECKING:
    from amberkey.core.ways.wayout import WayOut


def check(asked: Namespace) -> tuple[list[Answer], int]:
    """The clashes of each setup (of an organisation: of all in use), the worst first. Exit code 1 where there is one."""
    found = [(setup, path) for path in asked.setup for setup in setups_in(path)]
    setups, paths = [setup for setup, _ in found], {setup.id: path for setup, path in found}
    doubled = next((s.id for s in setups if sum(o.id == s.id for o in setups) > 1), None)
    if doubled is not None:
        raise Wrong(f"Two of the setups are called {doubled}. Give each an id of its own.", {"setup": doubled})
    shelf = shelf_of(asked.setup, asked.more)
    estate = estate_of(setups, shelf, day_from(asked.today))
    for setup in setups:
        board_from(estate, setup.id, shelf)
    new = _new_since(asked.before, estate) if asked.before else None
    if asked.sarif:
        _write_sarif(asked.sarif, estate, paths, shelf, new)
    answers = [_answer(estate, setup, new, asked.ways) for setup in setups]
    return answers, int(any(a.facts["clashes"] for a in answers))


def _write_sarif(to: str, estate: Estate, paths: Mapping[str, str], shelf: Shelf, new: dict[str, set[str]] | None) -> None:
    from amberkey.cli.sarif import sarif_log, sarif_result  # only who asks for it waits for its modules

    programs = {f"{program}@{version}": path for (program, version), path in shelf.programs.items()}
    files = {**programs, **shelf.profiles}
    results = [
        sarif_result(c, say_clash(c, estate.board(setup)), estate.setups[setup], path, files)
        for setup, path in paths.items()
        for c in _clashes(estate, setup, new)
    ]
    try:
        pathlib.Path(to).write_text(json.dumps(sarif_log(results), ensure_ascii=False, indent=1) + "\n", "utf-8")
    except OSError as error:
        raise Wrong(f"{to} can't be written ({error.strerror}).") from error


def _clashes(estate: Estate, setup_id: str, new: dict[str, set[str]] | None) -> list[Clash]:
    return [c for c in estate.clashes(setup_id) if new is None or c.identity in new.get(setup_id, ())]


def day_from(text: str | None) -> datetime.date:
    """The day given, or the machine's. Raises Wrong."""
    try:
        return datetime.date.fromisoformat(text) if text else datetime.date.today()
    except ValueError as error:
        raise Wrong(f"{text} is no day. Write it as 2026-11-24.") from error


def _new_since(path: str, estate: Estate) -> dict[str, set[str]]:
    """By setup, the identities of clashes that weren't there with an earlier state of a profile."""
    before = read_one(path, Profile)
    if before.id not in estate.profiles:
        raise Wrong(f"No setup stands on the profile {before.id}.", {"profile": before.id})
    found: dict[str, set[str]] = {}
    for group in estate.with_profiles([before]).new_in(estate):
        for setup in group.setups:
            found.setdefault(setup.id, set()).add(group.clash.identity)
    return found


def _answer(estate: Estate, setup: Setup, new: dict[str, set[str]] | None, ways: bool) -> Answer:
    board = estate.board(setup.id)
    clashes = _clashes(estate, setup.id, new)
    unknown = list(board.setup.unknown)
    facts: Facts = {
        "setup": setup.id,
        "day": str(estate.today),
        "unknown": unknown,
        "clashes": [_clash(c, board, estate, ways) for c in clashes],
    }
    rows = [(c.severity, c.kind, say_clash(c, board)) for c in clashes]
    many = f"{len(clashes)} {'clash' if len(clashes) == 1 else 'clashes'}"
    return Answer("\n".join(filter(None, (f"{setup.name}: {many}", *unknown, columns(rows)))), facts)


def _clash(clash: Clash, board: Board, estate: Estate, ways: bool) -> Facts:
    facts: Facts = {
        "identity": clash.identity,
        "kind": clash.kind,
        "severity": clash.severity,
        "platform": clash.platform,
        "stroke": stroke_facts(clash.stroke) if clash.stroke else None,
        "holder": _binding(clash.holder),
        "loser": _binding(clash.loser),
        "also": [_binding(b) for b in clash.also],
        "station": clash.station,
        "focus": "/".join(clash.focus) if clash.focus else None,
        "text": clash.text or None,
        "spellings_meet": clash.spellings_meet,
        "why": clash.why or None,
        "says": say_clash(clash, board),
    }
    if ways:
        from amberkey.core.ways.proposing import ways_out  # only who asks for ways waits for their modules

        setup = board.setup.setup
        if setup.layers:
            group = next(g for g in estate.groups([setup.id]) if g.clash.identity == clash.identity)
            facts["ways"] = [_way(w) for w in ways_out(estate, replace(group, clash=clash), setup.layers[-1])]
        else:
            facts["ways"] = []
    return facts


def _binding(binding: Binding | None) -> Facts | None:
    if binding is None:
        return None
    return {
        "program": binding.program.id,
        "command": binding.command.id,
        "name": binding.command.name,
        "arguments": dict(binding.arguments),
        "scope": binding.scope,
        "shortcut": str(binding.shortcut),
        "layer": binding.layer,
    }


def _way(way: "WayOut") -> Facts:
    told = way.consequences
    return {
        "way": way.kind,
        "shortcut": str(way.shortcut) if way.shortcut else None,
        "scopes": list(way.scopes),
        "reach": reach_facts(way.reach) if way.reach else None,
        "reasons": list(way.reasons),
        "solves": [g.clash.identity for g in told.solves],
        "makes": [g.clash.identity for g in told.makes],
        "uncovers": sorted(told.uncovered),
        "setups": list(told.setups),
        "people": told.people,
        "changes": {p: [operation_to_json(o) for o in operations] for p, operations in way.changes.items()},
    }
