"""Cards that were handed out, with what held then."""

import uuid

from django.db import models

from amberkey.server.people.models import User


class CardGiven(models.Model):
    """`audience`: whom it was for, on which platform and layout (see `CardWish.audience`). `stood`: every key that held for
    them then, by which the next card tells what has changed; `text` and `parts`: what stood on it.

    `token_hash`: of the address by which people read it without signing in, until the day `open_until`; empty: there is none.
    """

    number = models.PositiveIntegerField(unique=True)
    audience = models.CharField(max_length=200, db_index=True)
    title = models.CharField(max_length=200)
    wish = models.JSONField()
    stood = models.JSONField()
    text = models.TextField()
    parts = models.JSONField(default=list)
    people = models.PositiveIntegerField()
    token_hash = models.CharField(max_length=64, blank=True, db_index=True)
    open_until = models.DateField(null=True, blank=True)
    by = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ("-number",)

    def __str__(self) -> str:
        return f"card {self.number}: {self.title}"


PRINT = "print"
"""The form of cards that are made together in one PDF."""


class CardBatch(models.Model):
    """Cards that are made together by a worker. `form`: of each, or `print` for all in one PDF; `done`: how many are; `file`:
    what is fetched when all are."""

    class State(models.TextChoices):
        WORKING = "working"
        DONE = "done"
        FAILED = "failed"

    id = models.UUIDField(primary_key=True, default=uuid.uuid4)
    state = models.CharField(max_length=10, choices=State.choices, default=State.WORKING)
    wishes = models.JSONField()
    form = models.CharField(max_length=10)
    done = models.PositiveIntegerField(default=0)
    says = models.CharField(max_length=400, blank=True)
    file = models.BinaryField(null=True)
    made_by = models.ForeignKey(User, on_delete=models.CASCADE, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    def __str__(self) -> str:
        return f"{len(self.wishes)} cards, {self.state}"
