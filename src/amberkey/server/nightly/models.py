"""Who may send lists, and what was sent."""

import uuid

from django.db import models

from amberkey.server.catalogue.models import CommandList
from amberkey.server.organisation.models import ListImport
from amberkey.server.people.models import User


class SentKind(models.TextChoices):
    PEOPLE = "people"
    MACHINES = "machines"
    COMMANDS = "commands"


class Sender(models.Model):
    """A system that sends one kind of list with a token, which is kept only as a hash. What it sends is done in the name of
    whoever made the token.

    `program`: the one, by id, whose commands it sends. `matching`: for each heading, as it stands in the sheet, what its column
    is; from the list that somebody said yes to first. `platforms`: where keys count of which nothing says where. `memory`: what
    its lists said before (see `core.exchange.lists.nightly.Memory`).
    """

    id = models.UUIDField(primary_key=True, default=uuid.uuid4)
    name = models.CharField(max_length=80)
    kind = models.CharField(max_length=10, choices=SentKind.choices)
    program = models.CharField(max_length=80, blank=True)
    token_hash = models.CharField(max_length=64, unique=True)
    made_by = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)
    revoked_at = models.DateTimeField(null=True, blank=True)
    matching = models.JSONField(default=dict)
    platforms = models.JSONField(default=list)
    memory = models.JSONField(default=dict)

    class Meta:
        ordering = ("name", "at")

    def __str__(self) -> str:
        return f"{self.kind} from {self.name}"


class SentList(models.Model):
    """A list that was sent, and what became of it. `digest`: of its bytes. `people_or_machines` or `commands` is the list as it
    was read, in which it can be looked at and corrected."""

    class State(models.TextChoices):
        WORKING = "working"
        TAKEN = "taken"
        SAME = "same"
        WAITING = "waiting"
        REFUSED = "refused"
        REPLACED = "replaced"
        FAILED = "failed"

    id = models.UUIDField(primary_key=True, default=uuid.uuid4)
    sender = models.ForeignKey(Sender, on_delete=models.CASCADE, related_name="sent")
    at = models.DateTimeField(auto_now_add=True)
    name = models.CharField(max_length=200)
    digest = models.CharField(max_length=64)
    state = models.CharField(max_length=10, choices=State.choices, default=State.WORKING)
    says = models.CharField(max_length=1200, blank=True)
    people_or_machines = models.ForeignKey(ListImport, null=True, on_delete=models.SET_NULL, related_name="+")
    commands = models.ForeignKey(CommandList, null=True, on_delete=models.SET_NULL, related_name="+")
    decided_by = models.ForeignKey(User, null=True, on_delete=models.PROTECT, related_name="+")

    class Meta:
        ordering = ("-at",)

    def __str__(self) -> str:
        return f"{self.name} from {self.sender.name}: {self.state}"

    @property
    def list(self) -> ListImport | CommandList | None:
        """The list as it was read."""
        return self.people_or_machines or self.commands
