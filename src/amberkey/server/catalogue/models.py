"""A list of commands from the file to the change set that it became, and the proposals that somebody said no to."""

import uuid

from django.db import models

from amberkey.server.library.models import Body, ChangeSet
from amberkey.server.people.models import User


class CommandList(models.Model):
    """`content` is the file as it came, `tables` what was read of it; `asked` how it is to be understood (see `working.Asked`).

    `basis` is the digest of the program against which it was checked, empty for a new one; `result` what that found. `program`:
    the program that it became part of, by id, once it is taken.
    """

    class State(models.TextChoices):
        OPENING = "opening"
        CHECKING = "checking"
        CHECKED = "checked"
        TAKING = "taking"
        TAKEN = "taken"
        FAILED = "failed"

    id = models.UUIDField(primary_key=True, default=uuid.uuid4)
    name = models.CharField(max_length=200)
    content = models.ForeignKey(Body, on_delete=models.PROTECT, related_name="+")
    tables = models.ForeignKey(Body, null=True, on_delete=models.PROTECT, related_name="+")
    asked = models.JSONField(default=dict)
    state = models.CharField(max_length=10, choices=State.choices, default=State.OPENING)
    done = models.PositiveIntegerField(default=0)
    total = models.PositiveIntegerField(default=0)
    basis = models.CharField(max_length=64, blank=True)
    result = models.ForeignKey(Body, null=True, on_delete=models.PROTECT, related_name="+")
    says = models.CharField(max_length=600, blank=True)
    program = models.CharField(max_length=80, blank=True)
    change_set = models.ForeignKey(ChangeSet, null=True, on_delete=models.PROTECT, related_name="+")
    actor = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ("-at",)

    def __str__(self) -> str:
        return f"{self.name}: {self.state}"


class RefusedTask(models.Model):
    """Somebody said that a command doesn't do a task: it isn't proposed again."""

    program = models.CharField(max_length=80)
    command = models.CharField(max_length=80)
    task = models.CharField(max_length=80)
    actor = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = (models.UniqueConstraint("program", "command", "task", name="refused_once"),)

    def __str__(self) -> str:
        return f"{self.program} {self.command}: not {self.task}"
