"""Preferences in a machine's settings file: what is to be written there, and what somebody set and so stays."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import cast

from amberkey.core.clashes.board import Board
from amberkey.core.exchange.rendering import preferences_on, with_preferences
from amberkey.core.programs.model import Program
from amberkey.core.programs.offers import Scalar
from amberkey.core.programs.preference_files import in_the_file, read_preferences
from amberkey.server.fleet.models import MachineFile

Preferences = Mapping[str, Scalar]


@dataclass(frozen=True)
class Preferring:
    """`now`: what the file says of preferences; `write`: those to write, by their ids, and `differences` these in sentences.
    `own`: likewise those that somebody set since they were written, or that can't be."""

    now: Preferences
    write: Preferences
    differences: tuple[str, ...]
    own: tuple[str, ...]


def preferring(file: MachineFile, data: bytes, board: Board, program: Program, number: int) -> Preferring:
    """How the preferences in a file (its bytes, its number among those of the program) stand against what layers set.

    What was written and is wanted no more goes back to what the maker ships. Raises SettingsFileError.
    """
    places = {p.id: p for p in in_the_file(program, number)}
    if not places:
        return Preferring({}, {}, (), ())
    now, written = read_preferences(data, program, number), written_preferences(file)
    wanted = {i: v for i, v in preferences_on(board.setup, program).items() if i in places}
    wanted = {**{i: places[i].default for i in written if i in places}, **wanted}
    write: dict[str, Scalar] = {}
    differences, own = [], []
    for name, value in wanted.items():
        place, has = places[name], now.get(name, places[name].default)
        if has == value:
            continue
        told = f"{place.name} is {place.said(has)} on the machine"
        if name in written and name in now and now[name] != written[name]:
            own.append(f"{told}, as somebody set it; {place.said(value)} is wanted, and isn't written over it.")
            continue
        _, left = with_preferences(data, program, number, {name: value})
        if left:
            own.append(f"{told}; {place.said(value)} is wanted, and can't be written. {left[0]}")
            continue
        write[name] = value
        differences.append(f"{told}; {place.said(value)} is wanted.")
    return Preferring(now, write, tuple(differences), tuple(own))


def written_preferences(file: MachineFile) -> Preferences:
    """The preferences that stood in a file when it was last written, as they were wanted."""
    said = file.applied.json() if file.applied is not None else {}
    return cast(Preferences, said.get("preferences", {})) if isinstance(said, dict) else {}
