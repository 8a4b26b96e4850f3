"""The system tables that ship with Amber Key, as program documents: facts about presses of the three desktop platforms in our
own words, to start from. An organisation edits its own copies."""

import json
import pathlib
from functools import cache

from amberkey.core.documents.model import read_document
from amberkey.core.programs.model import Program


def system_table_files() -> tuple[pathlib.Path, ...]:
    """The files of the tables for Windows, macOS and Linux desktops."""
    return tuple(sorted((pathlib.Path(__file__).parent / "data").glob("*.json")))


@cache
def system_tables() -> tuple[Program, ...]:
    """The tables for Windows, macOS and Linux desktops."""
    # They are our own files, so nobody has to look whether a name stands in them twice.
    return tuple(read_document(json.loads(f.read_bytes()), {"amberkey/program@1": Program}) for f in system_table_files())
