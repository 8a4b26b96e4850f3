"""A list that somebody brings in, from the uploaded sheet to the change set that it became."""

import uuid

from django.db import models

from amberkey.server.library.models import Body, ChangeSet
from amberkey.server.people.models import User


class ListImport(models.Model):
    """`content` is the sheet as it came; `heads` its headings and `first` its first rows, once somebody has opened it. `basis`
    is the digest of the organisation against which it was checked; `result` what that found, as JSON."""

    class State(models.TextChoices):
        OPENING = "opening"
        NEW = "new"
        CHECKING = "checking"
        CHECKED = "checked"
        TAKING = "taking"
        TAKEN = "taken"
        FAILED = "failed"

    id = models.UUIDField(primary_key=True, default=uuid.uuid4)
    kind = models.CharField(max_length=20)
    name = models.CharField(max_length=200)
    content = models.ForeignKey(Body, on_delete=models.PROTECT, related_name="+")
    heads = models.JSONField(default=list)
    first = models.JSONField(default=list)
    matching = models.JSONField(default=dict)
    state = models.CharField(max_length=10, choices=State.choices, default=State.NEW)
    done = models.PositiveIntegerField(default=0)
    total = models.PositiveIntegerField(default=0)
    basis = models.CharField(max_length=64, blank=True)
    result = models.ForeignKey(Body, null=True, on_delete=models.PROTECT, related_name="+")
    says = models.CharField(max_length=600, blank=True)
    change_set = models.ForeignKey(ChangeSet, null=True, on_delete=models.PROTECT, related_name="+")
    actor = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ("-at",)

    def __str__(self) -> str:
        return f"{self.kind} from {self.name}: {self.state}"
