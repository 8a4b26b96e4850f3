"""The example's simulated machines: each oddity does to its agent what it says, and to no other one."""

import pytest

from amberkey.agent.state import Config, State, Work
from amberkey.demo import fleet
from amberkey.demo.fleet import Placed, home_of, read_list, round_of, write_list
from amberkey.demo.settings import SETTINGS
from tests.agent.conftest import Server

PATH = "Quaysheet/settings.json"
OLD = SETTINGS["quaysheet"].encode()
NEW = OLD.replace(b'"hints": true', b'"hints": true, "more": 1')


@pytest.fixture
def server(monkeypatch):
    server = Server(paths=(PATH,))
    server.marks = []

    class Client:
        def __init__(self, address, token=""):
            pass

        def call(self, method, path, body=None, asked_in=""):
            if path == "/enrol-many":
                server.account = body["account"]
                return {"machine": "counter-3", "token": "t", "key": server.key.public}
            if path == "/work":
                server.marks.append(body["machine"])
            return server.call(method, path, body, asked_in)

    monkeypatch.setattr(fleet, "Client", Client)
    return server


@pytest.fixture
def placed(tmp_path, server):
    def make(does):
        one = Placed("counter-3", "mirte", does, {"quaysheet": PATH}, facts=str(tmp_path / "none"))
        file = home_of(tmp_path, one) / PATH
        file.parent.mkdir(parents=True)
        file.write_bytes(OLD)
        fleet.enrol(tmp_path, "http://127.0.0.1:1", "key", one)
        return one, file

    return make


def rounds(folder, one, count):
    return [round_of(folder, one, n) for n in range(count)]


def test_as_it_should_it_writes_what_was_ordered(tmp_path, server, placed):
    one, file = placed("as it should")
    server.ask(content=NEW, expect=OLD)
    assert rounds(tmp_path, one, 2) == ["heard", "heard"]
    assert (file.read_bytes(), server.last[0]) == (NEW, "written")


@pytest.mark.parametrize("does, why", [("full", "the disk is full"), ("read-only", "read-only")])
def test_what_cannot_be_written_is_told_and_stays(tmp_path, server, placed, does, why):
    one, file = placed(does)
    server.ask(content=NEW, expect=OLD)
    rounds(tmp_path, one, 1)
    assert (file.read_bytes(), server.last[0]) == (OLD, "refused")
    assert why in server.last[1]


def test_offline_it_is_heard_once(tmp_path, server, placed):
    one, _ = placed("offline")
    assert rounds(tmp_path, one, 4) == ["heard", "missed", "missed", "missed"]


def test_slow_it_misses_most_rounds_the_same_ones_each_time(tmp_path, server, placed):
    one, _ = placed("slow")
    first = rounds(tmp_path, one, 40)
    assert 1 < first.count("heard") < 20
    assert rounds(tmp_path, one, 40) == first


def test_a_wrong_clock_makes_no_difference(tmp_path, server, placed):
    one, file = placed("wrong time")
    rounds(tmp_path, one, 1)
    assert file.stat().st_mtime > 4_000_000_000
    server.ask(content=NEW, expect=OLD)
    rounds(tmp_path, one, 1)
    assert file.read_bytes() == NEW


def test_edited_by_hand_a_key_changes_once_after_it_was_written(tmp_path, server, placed):
    one, file = placed("edited by hand")
    rounds(tmp_path, one, 1)
    assert file.read_bytes() == OLD
    server.ask(content=NEW, expect=OLD)
    rounds(tmp_path, one, 1)
    assert b'"ctl-f8"' in file.read_bytes()
    file.write_bytes(NEW)
    rounds(tmp_path, one, 1)
    assert file.read_bytes() == NEW, "once"


def test_two_agents_by_accident_come_from_two_machines_in_turn(tmp_path, server, placed):
    one, _ = placed("two agents")
    rounds(tmp_path, one, 4)
    assert len(set(server.marks)) == 2
    assert server.marks[0] == server.marks[2] != server.marks[1]


def test_the_list_of_homes_is_read_as_it_was_written(tmp_path):
    homes = [Placed("a", "x", "slow", {"quaysheet": PATH}, (".config/a",), "facts"), Placed("b", "", "full", {})]
    write_list(tmp_path / "fleet", "key", homes)
    assert read_list(tmp_path / "fleet") == ("key", homes)


def test_an_enrolled_home_is_not_enrolled_again(tmp_path, server, placed):
    one, _ = placed("as it should")
    home = home_of(tmp_path, one)
    State(home, Config("http://127.0.0.1:9", "kept", "counter-3", server.key.public, account="mirte"), Work()).keep_config()
    assert fleet.enrol(tmp_path, "http://127.0.0.1:2", "key", one).config.token == "kept"
    assert State.of(home).config.server == "http://127.0.0.1:2"
