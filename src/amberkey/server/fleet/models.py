"""Machines, the settings files on them as last seen, and the orders to write them."""

import uuid

from django.db import models

from amberkey.server.library.models import Body
from amberkey.server.people.models import User


class Machine(models.Model):
    """A staff machine with an agent, or a code for one. The agent's token is kept only as a hash.

    What it runs and who sits at it says the organisation, under the same id; `setup` names a planned setup for one that isn't
    in there yet.
    """

    id = models.SlugField(max_length=60, primary_key=True)
    name = models.CharField(max_length=120)
    setup = models.CharField(max_length=80, blank=True)
    token_hash = models.CharField(max_length=64, blank=True, db_index=True)
    enrolled_at = models.DateTimeField(null=True, blank=True)
    heard_at = models.DateTimeField(null=True, blank=True)

    def __str__(self) -> str:
        return self.name


class EnrolCode(models.Model):
    """A code that enrols one machine once."""

    code_hash = models.CharField(max_length=64, unique=True)
    machine = models.ForeignKey(Machine, on_delete=models.CASCADE)
    made_by = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    expires_at = models.DateTimeField()
    used_at = models.DateTimeField(null=True, blank=True)

    def __str__(self) -> str:
        return f"code for {self.machine_id}"


class MachineFile(models.Model):
    """A program's settings file on a machine: as last seen, and as it was when Amber Key last wrote it.

    `applied` is canonical JSON: `{"wanted": {...}, "entries": {...}}`, what was asked for and what the file then held.
    """

    machine = models.ForeignKey(Machine, on_delete=models.CASCADE, related_name="files")
    program = models.CharField(max_length=80)
    path = models.CharField(max_length=300)
    content = models.ForeignKey(Body, null=True, on_delete=models.PROTECT, related_name="+")
    problem = models.CharField(max_length=400, blank=True)
    seen_at = models.DateTimeField(null=True, blank=True)
    applied = models.ForeignKey(Body, null=True, on_delete=models.PROTECT, related_name="+")
    applied_at = models.DateTimeField(null=True, blank=True)
    standing = models.JSONField(null=True, blank=True)
    """How it stands against what is released (see `standing.Standing`), as worked out last."""
    stands_on = models.CharField(max_length=64, blank=True, db_index=True)
    """The digest of everything that was released when `standing` was worked out; empty where it has to be worked out anew."""

    class Meta:
        constraints = (models.UniqueConstraint(fields=("machine", "program"), name="one_file_a_program"),)

    def __str__(self) -> str:
        return f"{self.program} on {self.machine_id}"


class Order(models.Model):
    """Write this content if the file still has that digest. One waits at a time for a file."""

    class State(models.TextChoices):
        WAITING = "waiting"
        DONE = "done"
        REFUSED = "refused"

    id = models.UUIDField(primary_key=True, default=uuid.uuid4)
    file = models.ForeignKey(MachineFile, on_delete=models.CASCADE, related_name="orders")
    expect = models.CharField(max_length=64)
    content = models.ForeignKey(Body, on_delete=models.PROTECT, related_name="+")
    wanted = models.ForeignKey(Body, on_delete=models.PROTECT, related_name="+")
    actor = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)
    state = models.CharField(max_length=10, choices=State.choices, default=State.WAITING)
    says = models.CharField(max_length=400, blank=True)
    given = models.ForeignKey(Body, null=True, on_delete=models.PROTECT, related_name="+")
    """The state of everything that was released when it was asked for."""
    asked_in = models.CharField(max_length=64, blank=True)
    """The id of the request that asked for it: what follows from it is logged under the same one."""

    class Meta:
        ordering = ("-at",)

    def __str__(self) -> str:
        return f"{self.state}: {self.file}"


class HandWork(models.Model):
    """Somebody set one thing on a machine by hand. `content` is what they set it to: where something else is wanted by now, it
    is to be done again (see `core.exchange.worklist.ByHand`)."""

    machine = models.CharField(max_length=80, db_index=True)
    item = models.CharField(max_length=16)
    content = models.TextField()
    by = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = (models.UniqueConstraint(fields=("machine", "item"), name="set_once_a_machine"),)

    def __str__(self) -> str:
        return f"{self.item} on {self.machine}"
