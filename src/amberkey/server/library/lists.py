"""What every list has that somebody brings in, whatever it is a list of: the file, how far it is, and what became of it."""

import uuid
from typing import Self
from uuid import UUID

from django.db import models

from amberkey.server.library.models import Body, ChangeSet
from amberkey.server.people.models import User
from amberkey.server.problems import NotFound


class ListState(models.TextChoices):
    OPENING = "opening"
    NEW = "new"
    CHECKING = "checking"
    CHECKED = "checked"
    TAKING = "taking"
    TAKEN = "taken"
    FAILED = "failed"


BUSY = (ListState.OPENING, ListState.CHECKING, ListState.TAKING)
"""While a job is at work on it."""


class ListBroughtIn(models.Model):
    """`content` is the file as it came. `basis`: the digest of the document against which it was checked, empty for a new one;
    `result`: what that found, as JSON. `done` of `total` rows are checked.

    `retiring`: ids that are retired where the list doesn't have them; `returning`: ids that are brought back where it has
    them. Both are empty but for lists that come every night.
    """

    id = models.UUIDField(primary_key=True, default=uuid.uuid4)
    name = models.CharField(max_length=200)
    content = models.ForeignKey(Body, on_delete=models.PROTECT, related_name="+")
    state = models.CharField(max_length=10, choices=ListState.choices, default=ListState.OPENING)
    done = models.PositiveIntegerField(default=0)
    total = models.PositiveIntegerField(default=0)
    basis = models.CharField(max_length=64, blank=True)
    result = models.ForeignKey(Body, null=True, on_delete=models.PROTECT, related_name="+")
    says = models.CharField(max_length=600, blank=True)
    retiring = models.JSONField(default=list)
    returning = models.JSONField(default=list)
    change_set = models.ForeignKey(ChangeSet, null=True, on_delete=models.PROTECT, related_name="+")
    actor = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        abstract = True
        ordering = ("-at",)

    def __str__(self) -> str:
        return f"{self.name}: {self.state}"

    @classmethod
    def locked(cls, list_id: UUID) -> Self:
        """A list, locked until the transaction ends. Raises NotFound."""
        found = cls._default_manager.select_for_update().filter(id=list_id).first()
        if found is None:
            raise NotFound("such list")
        return found

    @classmethod
    def fail(cls, list_id: UUID, why: str) -> None:
        """Ends whatever a job was doing with a list; it can be checked again."""
        busy = cls._default_manager.filter(id=list_id, state__in=BUSY)
        busy.update(state=ListState.FAILED, says=f"Nothing was taken. {why}"[:600])
