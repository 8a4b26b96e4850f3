"""Agents beside programs that rewrite, sort, lock or drop what is in their files."""

import contextlib
import json
import subprocess
import sys

import pytest

from amberkey.agent.running import running
from tests.agent.conftest import NEW, OLD, PATH


@contextlib.contextmanager
def program(home, does, name="boardwright"):
    """A stand-in as its own process, until its input ends."""
    command = [sys.executable, "-m", "amberkey.demo.programs", name, home / PATH, "--does", does]
    process = subprocess.Popen(command, stdin=subprocess.PIPE, stdout=subprocess.PIPE)
    try:
        assert process.stdout.readline() == b"up\n"
        yield
    finally:
        process.communicate(timeout=60)


@pytest.fixture
def here(home, server, state):
    """One round with what really runs on this machine."""
    from amberkey.agent.state import State
    from amberkey.agent.work import work_once

    return lambda: work_once(server, State.of(home))


def test_what_is_written_while_a_program_runs_that_rewrites_its_file_would_be_lost(home, server, here):
    with program(home, "rewrites"):
        server.ask()
        here()
        assert (home / PATH).read_bytes() == NEW
    assert (home / PATH).read_bytes() == OLD


def test_so_it_is_written_after_the_program_has_ended_and_stays(home, server, here):
    server.ask(waits_for=["boardwright"])
    with program(home, "rewrites"):
        assert "boardwright" in running()
        here()
        assert server.last[0] == "waiting"
    assert (home / PATH).read_bytes() == OLD
    here()
    assert server.last == ("written", "Written.")
    with program(home, "rewrites"):
        pass
    assert (home / PATH).read_bytes() == NEW


def test_a_file_that_is_held_is_written_once_it_is_let_go(home, server, here):
    server.ask()
    with program(home, "locks"):
        here()
        assert "locked by another program" in server.last[1]
    server.ask(number=2)
    here()
    assert (home / PATH).read_bytes() == NEW


@pytest.mark.parametrize("does", ["sorts", "drops"])
def test_what_a_program_made_of_its_file_is_shown_as_it_is(home, server, here, does):
    (home / PATH).write_text('{"zoom": 2, "keyboard": {"own": []}}')
    here()
    with program(home, does):
        pass
    here()
    seen = json.loads(server.seen[PATH])
    assert list(seen) == (["keyboard", "zoom"] if does == "sorts" else ["keyboard"])
