"""Documents from files: a setup with everything that it names, from the files beside it and those given.

Only what is named is checked as a whole; a faulty file that nobody names does no harm, and is told of where something is
missing. The tables of the three systems that ship with Amber Key stand behind all others.
"""

import datetime
import json
import pathlib
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from typing import TypeVar, cast

from amberkey.cli.errors import Wrong
from amberkey.core.clashes.board import Board
from amberkey.core.clashes.estate import Estate
from amberkey.core.documents.errors import DocumentError, Fault
from amberkey.core.documents.model import Document
from amberkey.core.formats import read_any
from amberkey.core.layouts.errors import LayoutNotThere, UnknownBody, UnknownLayout
from amberkey.core.organisation.census import Census
from amberkey.core.organisation.model import Organisation
from amberkey.core.profiles.errors import MissingPart, UnfitPart
from amberkey.core.profiles.model import Profile
from amberkey.core.profiles.setup import Setup
from amberkey.core.programs.model import Program
from amberkey.core.programs.reference import system_table_files
from amberkey.core.tasks.model import NO_TASKS, Tasks

D = TypeVar("D", bound=Document)
LARGEST = 8 * 1024 * 1024


def read_one(path: str, model: type[D]) -> D:
    """A document of one kind from a file. Raises Wrong with every fault and its place."""
    data = _bytes(pathlib.Path(path))
    try:
        value = read_any(data)
    except DocumentError as error:
        raise Wrong(f"{path}: {error}", _facts(path, error)) from error
    if not isinstance(value, model):
        raise Wrong(f"{path}: this is {value.format}; {model.model_fields['format'].default} is wanted.", {"file": path})
    return value


def setups_in(path: str) -> list[Setup]:
    """The setup of a file, or all that follow from the organisation in it. Raises Wrong with every fault and its place."""
    value = read_one(path, Document)  # type: ignore[type-abstract, unused-ignore]
    if isinstance(value, Setup):
        return [value]
    if isinstance(value, Organisation):
        from amberkey.core.organisation.checks import keyboard_faults  # a single setup needn't wait for these
        from amberkey.core.organisation.deriving import derive

        # Told by the machine's id: the machines of a file that was read no longer stand in its order.
        faults = [Fault(f"machines[{m.id}].{f.place}", f.says, f.cure) for m in value.machines for f in keyboard_faults(m)]
        if faults:
            error = DocumentError(faults)
            raise Wrong(f"{path}: {error}", _facts(path, error))
        return list(derive(value).setups.values())
    wanted = f"{Setup.model_fields['format'].default} or {Organisation.model_fields['format'].default}"
    raise Wrong(f"{path}: this is {value.format}; {wanted} is wanted.", {"file": path})


def organisation_in(path: str) -> Census | None:
    """Who has which setups, if the file holds an organisation: people with several are counted once."""
    value = read_one(path, Document)  # type: ignore[type-abstract, unused-ignore]
    if not isinstance(value, Organisation):
        return None
    from amberkey.core.organisation.deriving import derive

    return derive(value).census


def setups_of_departments(path: str, departments: Sequence[str]) -> frozenset[str]:
    """The setups that people of some departments of an organisation have. Raises Wrong where there is no such department."""
    if not departments:
        return frozenset()
    value = read_one(path, Organisation)
    unknown = next((d for d in departments if d not in value.departments_by_id), None)
    if unknown is not None:
        raise Wrong(f"There is no department {unknown} in {path}.", {"file": path})
    from amberkey.core.organisation.deriving import derive

    return derive(value).setups_in(value, departments)


def _facts(path: str, error: DocumentError) -> dict[str, object]:
    return {"file": path, "faults": [{"place": f.place, "says": f.says, "cure": f.cure} for f in error.faults]}


def _bytes(path: pathlib.Path) -> bytes:
    try:
        if path.is_dir():
            raise Wrong(f"{path} is a folder; name the file.", {"file": str(path)})
        if path.stat().st_size > LARGEST:
            raise Wrong(f"{path} is larger than {LARGEST // 1048576} MB. No document is.", {"file": str(path)})
        return path.read_bytes()
    except OSError as error:
        raise Wrong(f"{path} can't be read: {error.strerror or error}.", {"file": str(path)}) from error
    except ValueError as error:  # a path with a null character
        raise Wrong(f"{str(path)[:80]!r} is no path.") from error


@dataclass
class Shelf:
    """Files by what they hold, looked at but not yet checked."""

    programs: dict[tuple[str, str], pathlib.Path] = field(default_factory=dict)
    profiles: dict[str, pathlib.Path] = field(default_factory=dict)
    tasks: list[pathlib.Path] = field(default_factory=list)
    passed_over: list[str] = field(default_factory=list)

    def put(self, path: pathlib.Path) -> None:
        """Later files go before earlier ones of the same document."""
        try:
            value = json.loads(_bytes(path))
        except (Wrong, ValueError, RecursionError) as error:
            self.passed_over.append(f"{path.name} ({error if isinstance(error, Wrong) else 'no JSON'})")
            return
        if not isinstance(value, dict) or not isinstance(value.get("format"), str):
            return
        kind, who = value["format"].removeprefix("amberkey/").partition("@")[0], str(value.get("id"))
        match kind:
            case "program":
                self.programs[who, str(value.get("version"))] = path
            case "profile":
                self.profiles[who] = path
            case "tasks":
                self.tasks.append(path)


def shelf_of(beside: Iterable[str], more: Sequence[str]) -> Shelf:
    """The documents beside some files, and those in further files and folders."""
    shelf = Shelf()
    for path in system_table_files():
        shelf.put(path)
    seen: set[pathlib.Path] = set()
    for folder in dict.fromkeys(pathlib.Path(p).resolve().parent for p in beside):
        for path in sorted(folder.glob("*.json")):
            seen.add(path)
            shelf.put(path)
    for given in more:
        path = pathlib.Path(given)
        if not path.exists():
            raise Wrong(f"{given} isn't there. --with wants a file or a folder.", {"file": given})
        for one in sorted(path.glob("*.json")) if path.is_dir() else [path]:
            if one.resolve() not in seen:
                shelf.put(one)
    return shelf


def estate_of(setups: Sequence[Setup], shelf: Shelf, today: datetime.date | None = None) -> Estate:
    """An estate of setups with what the shelf has of what they name. Raises Wrong where a document is faulty."""
    programs: dict[tuple[str, str], Program] = {}
    profiles: dict[str, Profile] = {}
    for setup in setups:
        used = [*setup.programs, *([setup.remote.system] if setup.remote else [])]
        for one in used:
            path = shelf.programs.get((one.id, one.version))
            if path is not None:
                programs[one.id, one.version] = read_one(str(path), Program)
        for layer in setup.layers:
            if layer in shelf.profiles:
                profiles[layer] = read_one(str(shelf.profiles[layer]), Profile)
    # What nobody names still tells orphans from programs that merely aren't in a setup.
    known = {key: cast(Program, None) for key in shelf.programs}
    tasks = read_one(str(shelf.tasks[-1]), Tasks) if shelf.tasks else NO_TASKS
    return Estate({s.id: s for s in setups}, {**known, **programs}, profiles, tasks, today)


def board_from(estate: Estate, setup_id: str, shelf: Shelf) -> Board:
    """The board of a setup. Raises Wrong naming what is missing or doesn't fit, and where it was looked for."""
    try:
        return estate.board(setup_id)
    except MissingPart as error:
        where = "Looked for beside the setup and in what --with names."
        over = f" Passed over: {', '.join(shelf.passed_over[:5])}." if shelf.passed_over else ""
        raise Wrong(f"{error} {where}{over}", {"setup": setup_id, "missing": error.kind, "id": error.part}) from error
    except (UnfitPart, UnknownLayout, LayoutNotThere, UnknownBody) as error:
        raise Wrong(f"The setup {setup_id}: {error}", {"setup": setup_id}) from error
