"""The system tables that ship with Amber Key, as program documents: facts about presses of the three desktop platforms in our
own words, to start from. An organisation edits its own copies."""

from functools import cache
from importlib import resources

from amberkey.core.documents.model import read_document
from amberkey.core.documents.reading import read_json
from amberkey.core.programs.model import Program


@cache
def system_tables() -> tuple[Program, ...]:
    """The tables for Windows, macOS and Linux desktops."""
    folder = resources.files("amberkey.core.programs.data")
    files = sorted((f for f in folder.iterdir() if f.name.endswith(".json")), key=lambda f: f.name)
    return tuple(read_document(read_json(f.read_bytes()), {"amberkey/program@1": Program}) for f in files)
