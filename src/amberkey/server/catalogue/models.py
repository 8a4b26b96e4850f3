"""A list of commands from the file to the change set that it became, and the proposals that somebody said no to."""

from django.db import models

from amberkey.server.library.lists import ListBroughtIn
from amberkey.server.library.models import Body
from amberkey.server.people.models import User


class CommandList(ListBroughtIn):
    """`tables`: what was read of the file; `asked`: how it is to be understood (see `working.Asked`).

    `program`: the one that it became part of, by id, once it is taken.
    """

    tables = models.ForeignKey(Body, null=True, on_delete=models.PROTECT, related_name="+")
    asked = models.JSONField(default=dict)
    program = models.CharField(max_length=80, blank=True)


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
