"""What-if drafts of the standard, and how far everybody was at each of its revisions."""

from django.db import models

from amberkey.server.library.models import Body, Revision
from amberkey.server.people.models import User


class Draft(models.Model):
    """A standard as somebody thinks of it: `body` is the whole document, `base` the one that it was made from."""

    name = models.CharField(max_length=200)
    owner = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now=True)
    base = models.ForeignKey(Body, on_delete=models.PROTECT, related_name="+")
    body = models.ForeignKey(Body, on_delete=models.PROTECT, related_name="+")
    removed = models.BooleanField(default=False)

    class Meta:
        ordering = ("-at",)

    def __str__(self) -> str:
        return self.name


class CoveragePoint(models.Model):
    """Coverage of all setups when a revision of the standard was saved or released: counts, plain and by people."""

    revision = models.ForeignKey(Revision, on_delete=models.CASCADE, related_name="+")
    at = models.DateTimeField(auto_now_add=True)
    released = models.BooleanField(default=False)
    agree = models.PositiveIntegerField()
    could = models.PositiveIntegerField()
    people_agree = models.PositiveIntegerField()
    people_could = models.PositiveIntegerField()

    class Meta:
        ordering = ("id",)

    def __str__(self) -> str:
        return f"{self.agree} of {self.could} at {self.revision_id}"
