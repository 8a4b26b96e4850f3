"""Release plans, and how far each is with every settings file that it reaches."""

import uuid
from collections.abc import Mapping
from typing import cast

from django.db import models
from django.utils import timezone

from amberkey.core.rollout.model import ReleasePlan
from amberkey.server.fleet.models import Machine, MachineFile, Order
from amberkey.server.library.models import Body
from amberkey.server.people.models import User


class Plan(models.Model):
    """A release plan. `of`: the keys of the documents whose released revision it brings; empty: all that is released.

    `released`: the state of everything that was released when it began, and that every machine gets by it. `waves`: the ids of
    the machines of each wave, as they were resolved then. `opened`: when each wave that is open was opened, as ISO 8601.
    """

    class State(models.TextChoices):
        RUNNING = "running"
        PAUSED = "paused"
        DONE = "done"
        GOING_BACK = "going back"
        TAKEN_BACK = "taken back"

    id = models.UUIDField(primary_key=True, default=uuid.uuid4)
    number = models.PositiveIntegerField(unique=True)
    title = models.CharField(max_length=200)
    of = models.JSONField(default=list)
    plan = models.JSONField()
    waves = models.JSONField()
    opened = models.JSONField(default=dict)
    released = models.ForeignKey(Body, on_delete=models.PROTECT, related_name="+")
    made_by = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)
    state = models.CharField(max_length=12, choices=State.choices, default=State.RUNNING, db_index=True)
    says = models.CharField(max_length=400, blank=True)
    """Why it is paused."""
    ended_at = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ("-number",)

    def __str__(self) -> str:
        return f"release {self.number}: {self.title}"

    @property
    def document(self) -> ReleasePlan:
        """Its waves, gates and windows."""
        return ReleasePlan.model_validate(self.plan)

    @property
    def documents(self) -> Mapping[str, str]:
        """What it brings: the digest of each document by its key."""
        return cast(Mapping[str, str], self.released.json())

    @property
    def is_under_way(self) -> bool:
        """Whether it may still write to machines of its own accord."""
        return self.state in (self.State.RUNNING, self.State.PAUSED, self.State.GOING_BACK)


class Carried(models.Model):
    """How far a plan is with one settings file, or with a machine of which no file is known yet (`file` is none then).

    `wave`: counted from 0; machines that came later are in `NEWCOMERS`. `over`: an own change there may be overwritten.
    """

    NEWCOMERS = 99

    class State(models.TextChoices):
        TO_COME = "to come"
        ASKED = "asked"
        IN_STEP = "in step"
        STOPPED = "stopped"
        OWN_CHANGE = "own change"
        LEFT_OUT = "left out"
        TAKEN_BACK = "taken back"

    plan = models.ForeignKey(Plan, on_delete=models.CASCADE, related_name="rows")
    wave = models.PositiveSmallIntegerField()
    machine = models.ForeignKey(Machine, on_delete=models.CASCADE, related_name="+")
    file = models.ForeignKey(MachineFile, null=True, on_delete=models.CASCADE, related_name="carried")
    state = models.CharField(max_length=12, choices=State.choices, default=State.TO_COME)
    says = models.CharField(max_length=400, blank=True)
    since = models.DateTimeField(default=timezone.now)
    order = models.ForeignKey(Order, null=True, on_delete=models.SET_NULL, related_name="+")
    """The one that was given last."""
    wrote = models.ForeignKey(Order, null=True, on_delete=models.SET_NULL, related_name="+")
    """The one that brought the file in step: it is taken back where the plan is."""
    goes_back = models.BooleanField(default=False)
    """What was written is taken back, or nothing is written any more."""
    looked_at = models.DateTimeField(default=timezone.now)
    tries = models.PositiveSmallIntegerField(default=0)
    again_at = models.DateTimeField(null=True, blank=True)
    over = models.BooleanField(default=False)
    turns = models.PositiveSmallIntegerField(default=0)
    """How many times it was in step and then wasn't."""

    class Meta:
        constraints = (models.UniqueConstraint(fields=("plan", "machine", "file"), nulls_distinct=False, name="carried_once"),)
        indexes = (models.Index(fields=("plan", "wave", "state"), name="carried_by_wave"),)

    def __str__(self) -> str:
        return f"{self.state}: {self.file or self.machine_id}"
