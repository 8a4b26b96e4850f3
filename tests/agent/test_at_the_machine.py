"""The agent's command line, for whoever sits at the machine."""

import subprocess
import sys

import pytest

from amberkey.agent import __main__ as command_line
from amberkey.agent.files import back_up, backups_of, read_file
from amberkey.agent.running import account, machine_mark, running
from amberkey.agent.state import State, alone
from tests.agent.conftest import NEW, OLD, PATH, Server


@pytest.fixture
def ask(home, monkeypatch, capsys):
    def run(*words, at=home):
        monkeypatch.setattr(sys, "argv", ["amberkey-agent", words[0], "--home", str(at), *words[1:]])
        status = command_line.main()
        said = capsys.readouterr()
        return status, said.out + said.err

    return run


@pytest.fixture
def server_there(monkeypatch):
    """A server that answers whoever calls it."""
    server = Server()
    calls = []

    class Client:
        def __init__(self, address, token=""):
            pass

        def call(self, method, path, body=None, asked_in=""):
            calls.append((path, body))
            if path.startswith("/enrol"):
                server.account = body.get("account", "")
                return {"machine": "counter-3", "token": "fresh", "key": server.key.public, "fingerprint": "ab12 cd34"}
            if path == "/leave":
                return {"ok": True}
            return server.call(method, path, body, asked_in)

    monkeypatch.setattr(command_line, "Client", Client)
    server.calls = calls
    return server


def test_it_enrols_shows_the_key_that_it_obeys_and_works(home, ask, server_there):
    status, said = ask("enrol", "--server", "https://keys.example", "--code", "c0de", "--allow", ".config/folio")
    assert (status, said) == (0, "Enrolled as counter-3. Its organisation's key is ab12 cd34.\n")
    config = State.of(home).config
    assert (config.token, config.key, config.allowed) == ("fresh", server_there.key.public, [".config/folio"])
    server_there.ask()
    assert ask("run", "--once")[0] == 0
    assert (home / PATH).read_bytes() == NEW
    status, said = ask("status")
    assert (status, said.splitlines()) == (
        0,
        ["counter-3, for https://keys.example", f"  {PATH}: An order was heard. 1 backup."],
    )


def test_it_enrols_by_a_key_for_many_under_the_name_that_it_is_given(ask, server_there):
    assert ask("enrol", "--server", "https://keys.example", "--key", "k", "--machine", "Gate 3")[0] == 0
    assert server_there.calls[0] == ("/enrol-many", {"key": "k", "machine": "Gate 3", "account": account()})


def test_enrolled_again_it_keeps_its_stores_and_how_far_it_was(home, state, ask, server_there):
    state.config.stores = {"store": {"get": ["a"], "put": ["b"]}}
    state.work.done = {"home:x": 9}
    state.keep_config()
    state.keep_work()
    ask("enrol", "--server", "https://keys.example", "--code", "c0de")
    again = State.of(home)
    assert (again.config.stores, again.work.done) == (state.config.stores, {"home:x": 9})


def test_paused_it_does_nothing_until_it_goes_on(home, state, ask, server_there):
    assert ask("pause") == (0, "Paused: nothing is read or written.\n")
    assert "(paused)" in ask("status")[1]
    server_there.ask()
    ask("run", "--once")
    assert (home / PATH).read_bytes() == OLD
    ask("go-on")
    ask("run", "--once")
    assert (home / PATH).read_bytes() == NEW


def test_the_newest_backup_is_put_back_and_what_was_there_is_kept(home, state, ask):
    assert ask("restore", PATH)[1] == f"There is no other backup of {PATH}.\n"
    back_up(home, PATH, b"first")
    back_up(home, PATH, b"second")
    assert ask("restore", PATH)[0] == 0
    assert read_file(home, PATH) == b"second"
    assert [data for _, data in backups_of(home, PATH)] == [OLD, b"second", b"first"]
    assert ask("restore", PATH)[0] == 0
    assert read_file(home, PATH) == OLD


def test_uninstalled_it_knows_nothing_any_more_but_the_backups(home, state, ask, server_there):
    back_up(home, PATH, OLD)
    status, said = ask("uninstall")
    assert (status, "The server knows." in said) == (0, True)
    assert server_there.calls == [("/leave", {})]
    assert [p.name for p in (home / ".amberkey").iterdir()] == ["backups"]
    assert ask("status") == (1, "This machine is not enrolled. Run `enrol` with a code first.\n")


@pytest.mark.parametrize("path, says", [("../x", "outside"), (".amberkey/x", "agent's own")])
def test_what_may_never_be_read_is_not_opened_either(home, state, ask, path, says):
    status, said = ask("allow", path)
    assert (status, says in said) == (1, True)
    assert State.of(home).config.allowed == []


def test_a_store_is_opened_with_its_command_lines(home, state, ask):
    assert ask("store", "--called", "Store", "--get", "tool 'take out' /", "--put", "tool put /")[0] == 0
    assert State.of(home).config.stores == {"Store": {"get": ["tool", "take out", "/"], "put": ["tool", "put", "/"]}}
    assert ask("store", "--called", "Store", "--get", "tool 'x", "--put", "y")[0] == 1
    assert ask("store", "--called", "Store", "--get", "", "--put", "y")[0] == 1


@pytest.mark.parametrize("text", ["", "[]", "{", '{"server": "x"}', "\x00", "[" * 100_000])
def test_what_it_keeps_and_cannot_read_is_told(home, state, ask, text):
    (home / ".amberkey/agent.json").write_text(text)
    status, said = ask("run", "--once")
    assert status == 1
    assert ".amberkey" in said


def test_two_agents_never_work_in_one_home(home, state, ask, server_there):
    with alone(home):
        assert ask("run", "--once") == (1, "Another agent works in this home already.\n")
    assert ask("run", "--once")[0] == 0


def test_what_a_killed_agent_left_in_its_own_folder_goes_when_one_begins_again(home, state):
    left = home / ".amberkey" / f".state.json.{'0' * 16}.amberkey"
    left.write_text("cut off")
    with alone(home):
        assert not left.exists()


def test_a_machine_is_known_by_the_same_mark_each_time():
    assert machine_mark() == machine_mark()
    assert len(machine_mark()) == 32


def test_what_runs_is_known_by_its_name_and_by_the_file_that_it_was_started_from(tmp_path):
    script = tmp_path / "Quaysheet.py"
    script.write_text("import sys; print('up', flush=True); sys.stdin.read()")
    process = subprocess.Popen([sys.executable, script], stdin=subprocess.PIPE, stdout=subprocess.PIPE)
    try:
        process.stdout.readline()
        assert "quaysheet.py" in running()
    finally:
        process.communicate()
    assert "quaysheet.py" not in running()


def test_as_a_service_it_enrols_once_by_the_key_that_the_installer_left(home, ask, server_there, tmp_path):
    config = tmp_path / "agent.json"
    assert ask("serve", "--config", str(config), "--once")[0] == 1
    config.write_text('{"server": "https://keys.example"}')
    assert "says no server and key" in ask("serve", "--config", str(config), "--once")[1]
    config.write_text('{"server": "https://keys.example", "key": "k3y", "machine": "Gate 3", "allow": [".config/folio"]}')
    assert ask("serve", "--config", str(config), "--once")[0] == 0
    assert ask("serve", "--config", str(config), "--once")[0] == 0
    assert [c for c in server_there.calls if c[0].startswith("/enrol")] == [
        ("/enrol-many", {"key": "k3y", "machine": "Gate 3", "account": account()})
    ]
    assert State.of(home).config.allowed == [".config/folio"]
