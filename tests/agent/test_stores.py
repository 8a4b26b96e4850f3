"""Settings stores on a machine: through the command lines that it was told, and only the sections that are asked for."""

import sys

import pytest

from amberkey.agent.errors import Changed, FileProblem
from amberkey.agent.files import digest_of
from amberkey.agent.stores import only_sections, read_store, swap_store

TEXT = b"[a]\none=1\n\n[secret]\ntwo=2\n\n[b/c]\nthree=3\n"


@pytest.fixture
def stores(tmp_path):
    place = tmp_path / "store.txt"
    place.write_bytes(TEXT)
    run = [sys.executable, "-m", "amberkey.demo.store", str(place)]
    return {"Store": {"get": [*run, "get"], "put": [*run, "put"]}}


def test_only_sections_that_are_asked_for_leave_the_machine():
    assert only_sections(TEXT, ["a", "b/c"]) == b"[a]\none=1\n\n[b/c]\nthree=3\n"
    assert only_sections(TEXT, []) == b""
    assert only_sections(TEXT, ["a"]) == only_sections(TEXT.partition(b"[secret]")[0], ["a"]), "whatever else stands there"
    assert only_sections(b"loose=1\n" + TEXT.replace(b"\n", b"\r\n"), ["a"]) == b"[a]\r\none=1\r\n"


def test_a_store_is_written_if_it_is_as_expected(stores):
    seen = read_store(stores, "Store", ["a"])
    assert swap_store(stores, "Store", ["a"], digest_of(seen), b"[a]\none=9\n") == "written"
    assert read_store(stores, "Store", ["a", "secret"]) == b"[a]\none=9\n\n[secret]\ntwo=2\n"
    with pytest.raises(Changed) as caught:
        swap_store(stores, "Store", ["a"], digest_of(seen), b"[a]\none=8\n")
    assert caught.value.content == b"[a]\none=9\n"
    assert swap_store(stores, "Store", ["a"], "0" * 64, b"[a]\none=9\n") == "already"


@pytest.mark.parametrize(
    "get, says",
    [
        (["/nowhere/tool"], "can't be run"),
        ([sys.executable, "-c", "import sys; sys.exit('no store here')"], "failed: no store here"),
        ([sys.executable, "-c", "print('x' * 5_000_000)"], "more than 4 MB"),
    ],
)
def test_a_command_that_fails_is_told(get, says):
    with pytest.raises(FileProblem, match=says):
        read_store({"Store": {"get": get, "put": get}}, "Store", ["a"])


def test_a_store_that_nobody_told_it_of_is_not_reached(stores):
    with pytest.raises(FileProblem, match="doesn't know Other"):
        read_store(stores, "Other", ["a"])


def test_a_command_that_never_ends_is_given_up(monkeypatch):
    monkeypatch.setattr("amberkey.agent.stores.LONGEST", 0.2)
    slow = [sys.executable, "-c", "import threading; threading.Event().wait(20)"]
    with pytest.raises(FileProblem, match="can't be run"):
        read_store({"Store": {"get": slow, "put": slow}}, "Store", ["a"])
