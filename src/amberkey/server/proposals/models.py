"""A proposal from the question to the points of its curve."""

import uuid

from django.db import models

from amberkey.server.library.models import Body
from amberkey.server.people.models import User


class Proposal(models.Model):
    """`asked`: see `working.AskedOf`; `base`: the standard that it was worked out from, `stamp`: all that it was worked out
    from, as a digest; `budgets`: those of the curve's points below the best, once they are known. `doing`: what is done now, in
    words; `best`, `bound`: points of the best so far, and of what none can be below. `stop`: somebody wants what there is."""

    class State(models.TextChoices):
        WORKING = "working"
        DONE = "done"
        STOPPED = "stopped"
        FAILED = "failed"

    id = models.UUIDField(primary_key=True, default=uuid.uuid4)
    state = models.CharField(max_length=10, choices=State.choices, default=State.WORKING)
    asked = models.JSONField()
    base = models.ForeignKey(Body, null=True, on_delete=models.PROTECT, related_name="+")
    stamp = models.CharField(max_length=64, blank=True)
    budgets = models.JSONField(null=True)
    doing = models.CharField(max_length=200, blank=True)
    best = models.FloatField(null=True)
    bound = models.FloatField(null=True)
    stop = models.BooleanField(default=False)
    says = models.CharField(max_length=600, blank=True)
    by = models.ForeignKey(User, on_delete=models.CASCADE, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ("-at",)

    def __str__(self) -> str:
        return f"proposal for {self.asked.get('platform')}, {self.state}"


class ProposalPoint(models.Model):
    """One point of a proposal's curve: the best standard for so much relearning. `told`: its figures and rows as JSON, as
    screens show them; `standard`: the whole document. `place`: 0 for the best of all, then in the order of `budgets`; none for
    one that was stopped before it was the best, and is looked for anew when the work goes on."""

    proposal = models.ForeignKey(Proposal, on_delete=models.CASCADE, related_name="points")
    place = models.PositiveIntegerField(null=True)
    relearned = models.PositiveIntegerField()
    worth = models.IntegerField()
    told = models.ForeignKey(Body, on_delete=models.PROTECT, related_name="+")
    standard = models.ForeignKey(Body, on_delete=models.PROTECT, related_name="+")

    class Meta:
        ordering = ("relearned", "id")

    def __str__(self) -> str:
        return f"{self.relearned} relearned, worth {self.worth}"
