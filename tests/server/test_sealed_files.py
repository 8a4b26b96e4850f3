"""Bytes of people's files in the database: sealed, shown to nobody, and gone after 30 days."""

import datetime

import pytest
from django.db import connection
from django.utils import timezone

from amberkey.server.fleet.models import FileBytes, MachineFile, Order
from amberkey.server.fleet.sealed import seal, unseal
from amberkey.server.fleet.surveying import forget_old_ones
from tests.server.test_fleet import Agent, machine


@pytest.fixture
def agent(ines, machines_folder, signing_key):
    return Agent(machines_folder / "counter-3")


def test_a_look_into_the_database_shows_nothing_of_a_file(agent):
    agent.round()
    kept = MachineFile.objects.get(machine="counter-3", path="Quaysheet/settings.json")
    assert kept.seen == agent.settings.read_bytes()
    with connection.cursor() as cursor:
        cursor.execute("SELECT sealed FROM fleet_filebytes")
        assert all(b"tariffs" not in bytes(row[0]) for row in cursor.fetchall())
        cursor.execute("SELECT packed FROM library_body WHERE digest = %s", [kept.content_id])
        assert cursor.fetchall() == []


def test_only_the_bytes_of_that_digest_come_out(settings):
    sealed = seal(b"bytes", "a" * 64)
    assert unseal(sealed, "a" * 64) == b"bytes"
    assert unseal(sealed, "b" * 64) is None
    assert unseal(sealed[:-1] + bytes([sealed[-1] ^ 1]), "a" * 64) is None
    assert unseal(b"", "a" * 64) is None
    assert seal(b"bytes", "a" * 64) != sealed, "twice the same looks like two"
    settings.SECRET_KEY = "another secret"
    assert unseal(sealed, "a" * 64) is None


def test_with_another_secret_agents_show_their_files_again(ines, agent, settings):
    agent.round()
    ines.post("/machines/counter-3/apply", {})
    settings.SECRET_KEY = "another secret"
    assert agent.call("POST", "/work", {})["orders"] == []
    assert agent.round() == 1
    assert MachineFile.objects.get(path="Quaysheet/settings.json").seen == agent.settings.read_bytes()


def test_what_is_kept_goes_after_30_days_but_for_what_is_to_be_written(ines, agent):
    agent.round()
    ines.post("/machines/counter-3/apply", {})
    FileBytes.objects.update(kept_at=timezone.now() - datetime.timedelta(days=31))
    ordered = Order.objects.get(state="waiting")
    assert forget_old_ones() == FileBytes.objects.count()
    assert [b.pk for b in FileBytes.objects.all()] == [ordered.content_id]
    agent.round()
    assert machine(ines)["state"] == "in step", "the order came through all the same"
    FileBytes.objects.update(kept_at=timezone.now() - datetime.timedelta(days=31))
    assert forget_old_ones() == 1
    ordered.refresh_from_db()
    assert (ordered.content, len(ordered.digest)) == (None, 64)
    assert machine(ines)["state"] == "unseen"
    agent.round()
    assert machine(ines)["state"] == "in step"
    assert forget_old_ones() == 0
