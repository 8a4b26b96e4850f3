"""Cards that were handed out, with what held then."""

from django.db import models

from amberkey.server.people.models import User


class CardGiven(models.Model):
    """`audience`: whom it was for, on which platform and layout (see `CardWish.audience`). `stood`: every key that held for
    them then, by which the next card tells what has changed; `text`: what stood on it."""

    number = models.PositiveIntegerField(unique=True)
    audience = models.CharField(max_length=200, db_index=True)
    title = models.CharField(max_length=200)
    wish = models.JSONField()
    stood = models.JSONField()
    text = models.TextField()
    people = models.PositiveIntegerField()
    by = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ("-number",)

    def __str__(self) -> str:
        return f"card {self.number}: {self.title}"
