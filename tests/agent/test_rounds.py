"""Rounds of the agent against a server that is killed off, whose answers get lost, or that isn't the organisation's."""

import json

import pytest

from amberkey.agent.errors import ServerProblem
from amberkey.agent.state import State
from amberkey.core.exchange.signing import SigningKey
from tests.agent.conftest import NEW, OLD, PATH

OTHER = SigningKey(bytes([7]) * 32)


def test_only_what_changed_is_told(server, home, round_of):
    assert round_of() == 1
    assert server.seen[PATH] == OLD
    assert round_of() == 0
    (home / PATH).write_bytes(b"by hand")
    assert round_of() == 1
    assert server.seen[PATH] == b"by hand"


def test_an_order_is_carried_out_once(server, home, round_of):
    server.ask()
    assert round_of() == 1
    assert (home / PATH).read_bytes() == NEW
    assert server.last == ("written", "Written.")


def test_a_report_that_was_lost_is_told_in_the_next_round_and_nothing_is_written_again(server, home, round_of):
    server.ask()
    server.lose_reports = True
    with pytest.raises(ServerProblem):
        round_of()
    assert (home / PATH).read_bytes() == NEW
    (home / PATH).write_bytes(OLD)  # somebody put the old file back meanwhile
    server.lose_reports = False
    round_of()
    assert server.outcomes[0][1:] == ("written", "Written.")
    assert (home / PATH).read_bytes() == OLD


def test_an_order_that_was_carried_out_is_not_again_when_it_is_played_back(server, home, round_of):
    order = server.ask()
    round_of()
    (home / PATH).write_bytes(OLD)
    server.orders = [order]
    round_of()
    assert server.last[0] == "refused"
    assert "carried out before" in server.last[1]
    assert (home / PATH).read_bytes() == OLD


def test_an_order_that_the_server_forgot_was_done_is_told_as_done_while_the_file_is_so(server, home, round_of):
    order = server.ask()
    round_of()
    server.orders = [order]
    round_of()
    assert server.last == ("written", "It was written already.")


def test_a_report_is_kept_until_the_server_hears_it(server, home, round_of):
    server.ask()
    server.lose_reports = True
    for _ in range(3):
        with pytest.raises(ServerProblem, match="gone"):
            round_of()
    assert [r["outcome"] for r in State.of(home).work.reports] == ["written"]
    server.lose_reports = False
    round_of()
    assert State.of(home).work.reports == []


def test_an_older_order_does_not_come_after_a_newer_one(server, home, round_of):
    server.ask(number=5)
    round_of()
    server.ask(number=4, content=OLD, expect=NEW)
    round_of()
    assert server.last[0] == "refused"
    assert (home / PATH).read_bytes() == NEW
    server.ask(number=6, content=OLD, expect=NEW)
    round_of()
    assert (home / PATH).read_bytes() == OLD


def test_an_order_that_was_begun_and_not_ended_is_carried_out(server, home, state, round_of):
    server.ask(number=3)

    def killed(step):
        if step == "written beside":
            raise KeyboardInterrupt

    with pytest.raises(KeyboardInterrupt):
        round_of(step=killed)
    assert State.of(home).work.begun == {f"home:{PATH}": 3}
    round_of()
    assert server.last == ("written", "Written.")
    assert (home / PATH).read_bytes() == NEW


def test_killed_after_the_write_it_is_found_done(server, home, round_of):
    server.ask(number=3)

    def killed(step):
        if step == "replaced":
            raise KeyboardInterrupt

    with pytest.raises(KeyboardInterrupt):
        round_of(step=killed)
    round_of()
    assert server.last == ("written", "It was written already.")


@pytest.mark.parametrize(
    "change, says",
    [
        ({"key": OTHER}, "isn't signed by this machine's organisation"),
        ({"machine": "training-1"}, "for another machine"),
        ({"format": "amberkey/order@9"}, "of another kind"),
        ({"digest": "0" * 64}, "arrived damaged"),
        ({"number": "three"}, "can't be understood"),
        ({"waits_for": 3}, "can't be understood"),
        ({"root": "machine"}, "doesn't write to"),
    ],
)
def test_an_order_that_is_not_for_this_machine_as_it_stands_is_refused(server, home, round_of, change, says):
    server.ask(**change)
    round_of()
    assert server.last[0] == "refused"
    assert says in server.last[1]
    assert (home / PATH).read_bytes() == OLD


def test_one_altered_letter_breaks_the_signature(server, home, round_of):
    order = server.ask()
    order["said"] = order["said"].replace('"number": 1', '"number": 2')
    round_of()
    assert server.last == ("refused", "The order isn't signed by this machine's organisation; nothing was written.")


@pytest.mark.parametrize("lost", ["said", "signature", "content"])
def test_an_order_with_a_part_missing_is_refused(server, home, round_of, lost):
    server.ask().pop(lost)
    round_of()
    assert server.last[0] == "refused"
    assert (home / PATH).read_bytes() == OLD


def test_a_newer_key_is_followed_when_the_old_one_handed_over(server, home, round_of):
    middle, newest = SigningKey(bytes([1]) * 32), SigningKey(bytes([2]) * 32)
    server.handovers = [server.key.hand_over(middle).model_dump(), middle.hand_over(newest).model_dump()]
    before, server.key = server.key, newest
    server.ask(key=before)  # by the retired key: refused, for the newest is pinned now
    server.ask(number=2)
    round_of()
    assert [o[1] for o in server.outcomes] == ["refused", "written"]
    assert State.of(home).config.key == newest.public
    assert (home / PATH).read_bytes() == NEW


def test_a_key_that_nobody_handed_over_to_is_not_followed(server, home, state, round_of):
    forged = OTHER.hand_over(SigningKey(bytes([2]) * 32)).model_dump() | {"old": server.key.public}
    server.handovers = [forged, {"old": 3}, "odd"]
    server.key = SigningKey(bytes([2]) * 32)
    server.ask()
    round_of()
    assert server.last[0] == "refused"
    assert State.of(home).config.key == state.config.key


def test_nothing_is_written_while_the_program_runs_that_would_write_it_anew(server, home, round_of):
    server.ask(waits_for=["Tidewarden.exe"])
    round_of(runs=frozenset({"tidewarden"}))
    assert server.last[0] == "waiting"
    assert "Tidewarden.exe is running" in server.last[1]
    assert (home / PATH).read_bytes() == OLD
    heard = len(server.outcomes)
    assert round_of(runs=frozenset({"tidewarden"})) == 0
    assert len(server.outcomes) == heard, "the same isn't told again and again"
    round_of()
    assert server.last == ("written", "Written.")


def test_an_order_over_a_changed_file_is_refused_and_the_file_shown(server, home, round_of):
    server.ask(expect=b"older")
    round_of()
    assert server.last[0] == "refused"
    assert server.seen[PATH] == OLD
    assert (home / PATH).read_bytes() == OLD


def test_a_problem_is_told_once_and_taken_back(server, home, round_of):
    round_of()
    (home / PATH).unlink()
    assert round_of() == 1
    assert "isn't there" in server.files[0]["problem"]
    assert round_of() == 0
    (home / PATH).write_bytes(OLD)
    round_of()
    assert server.files[0]["problem"] == ""


def test_what_is_wrong_with_one_file_keeps_no_other_from_its_turn(server, home, round_of):
    odd = ["App/ring.json", "App/pipe.json", "../outside", ".ssh/id", PATH, "App/second.json"]
    server.files = [{"id": n, "root": "home", "path": p, "digest": "", "problem": ""} for n, p in enumerate(odd)]
    (home / "App/ring.json").symlink_to("ring.json")
    import os

    os.mkfifo(home / "App/pipe.json")
    (home / "App/second.json").write_bytes(b"{}")
    server.ask(file=4)
    server.ask(number=2, file=0)
    round_of()
    assert server.seen == {"App/second.json": b"{}"}
    assert (home / PATH).read_bytes() == NEW
    assert [f["path"] for f in server.files if f["problem"]] == ["App/ring.json", "App/pipe.json", "../outside", ".ssh/id"]


def test_a_server_that_refuses_one_report_hears_the_others(server, home, round_of):
    server.ask()
    server.refuse["/orders/order-1"] = 404  # it knows no such order any more
    server.files.append({"id": 1, "root": "home", "path": "App/missing.json", "digest": "", "problem": ""})
    round_of()
    assert server.files[1]["problem"]
    server.refuse.clear()
    round_of()
    assert State.of(home).work.reports == []


@pytest.mark.parametrize("answer", [None, [], {"files": 3}, "text", {"files": ["odd", 3], "orders": {"a": 1}}])
def test_an_answer_that_makes_no_sense_ends_no_agent(server, home, state, answer):
    from amberkey.agent.work import work_once

    class Odd:
        def call(self, method, path, body=None, asked_in=""):
            return answer

    if isinstance(answer, dict) and isinstance(answer["files"], list):
        assert work_once(Odd(), state, runs=frozenset) == 0
    else:
        with pytest.raises(ServerProblem, match="can't be understood"):
            work_once(Odd(), state, runs=frozenset)


def test_a_paused_agent_neither_reads_nor_writes(server, home, state, round_of):
    state.config.paused = True
    state.keep_config()
    server.ask()
    assert round_of() == 0
    assert (home / PATH).read_bytes() == OLD
    assert server.seen == {}


def test_where_its_own_folder_cannot_be_written_nothing_else_is(server, home, round_of, monkeypatch):
    from amberkey.agent import folders

    def full(self, name, data, like=None):
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(folders.Folder, "put_beside", full)
    server.ask()
    round_of()
    assert server.last == ("refused", "The agent's own folder can't be written: No space left on device.")
    assert (home / PATH).read_bytes() == OLD


def test_what_it_keeps_is_readable_by_its_owner_alone(home, state):
    folder = home / ".amberkey"
    assert folder.stat().st_mode & 0o777 == 0o700
    assert {p.name: p.stat().st_mode & 0o777 for p in folder.iterdir()} == {"agent.json": 0o600, "state.json": 0o600}
    assert json.loads((folder / "agent.json").read_text())["machine"] == "counter-3"
