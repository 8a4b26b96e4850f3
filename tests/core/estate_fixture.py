"""The written fixture: two small programs, two system tables, three setups, and the clashes that each setup has."""

import json
import pathlib

from amberkey.core.clashes.estate import Estate
from amberkey.core.documents.model import read_document
from amberkey.core.profiles.model import Profile
from amberkey.core.profiles.setup import Setup
from amberkey.core.programs.model import Program

FIXTURES = pathlib.Path(__file__).parent / "fixtures"


def load(name: str):
    return json.loads((FIXTURES / name).read_text(encoding="utf-8"))


def programs() -> list[Program]:
    return [read_document(p, {"amberkey/program@1": Program}) for p in load("programs.json")]


def setups() -> list[Setup]:
    return [read_document(s, {"amberkey/setup@1": Setup}) for s in load("setups.json")]


def estate(*profiles: Profile, program_list: list[Program] | None = None) -> Estate:
    house = Profile(id="house", name="House")
    return Estate(
        {s.id: s for s in setups()},
        {(p.id, p.version): p for p in program_list or programs()},
        {p.id: p for p in (house, *profiles)},
    )
