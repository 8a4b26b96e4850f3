"""The example's settings files: one for each container, read as they are, and written with whatever the profiles set."""

import pytest

from amberkey.core.documents.model import Document
from amberkey.core.formats import read_any
from amberkey.core.keys.platform import Platform
from amberkey.core.profiles.model import Profile
from amberkey.core.programs.model import Program
from amberkey.core.programs.settings_files import read_settings, write_settings
from amberkey.demo.load import DOCUMENTS
from amberkey.demo.settings import SETTINGS

ALL: list[Document] = [read_any(p.read_bytes()) for p in sorted(DOCUMENTS.glob("*.json"))]
PROGRAMS = {p.id: p for p in ALL if isinstance(p, Program) and p.settings_files}
WINDOWS: Platform = "windows"


def test_every_container_has_a_program():
    assert {p.settings_files[0].container for p in PROGRAMS.values()} == {
        *("json", "yaml", "toml", "xml", "ini", "properties", "table", "lines")
    }
    assert PROGRAMS.keys() == SETTINGS.keys()


@pytest.mark.parametrize("name", sorted(SETTINGS))
def test_its_file_is_read_and_takes_what_the_profiles_set(name):
    program, data = PROGRAMS[name], SETTINGS[name].encode()
    how = program.settings_files[0]
    found = read_settings(data, program, how)
    assert found.entries
    assert (found.unread, found.missing) == ((), "")
    assert set(found.entries) <= set(program.commands_by_id)
    entries = [e for p in ALL if isinstance(p, Profile) for e in p.entries if e.program == name and e.platform == WINDOWS]
    for entry in (e for e in entries if not e.arguments):
        wanted = {entry.command: tuple(g.keys for g in entry.shortcuts)}
        written = write_settings(data, program, how, wanted)
        after = read_settings(written.data, program, how).entries
        assert after.get(entry.command, ()) == tuple(dict.fromkeys(wanted[entry.command]))
        assert {c: v for c, v in after.items() if c != entry.command} == {
            c: v for c, v in found.entries.items() if c != entry.command
        }
