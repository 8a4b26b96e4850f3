"""What people put aside of Today, and the addresses of their feeds."""

from django.db import models

from amberkey.server.people.models import User


class Aside(models.Model):
    """A matter that somebody put aside: until a day, or for good where it names none."""

    user = models.ForeignKey(User, on_delete=models.CASCADE, related_name="+")
    matter = models.CharField(max_length=200)
    until = models.DateField(null=True, blank=True)

    class Meta:
        constraints = (models.UniqueConstraint(fields=("user", "matter"), name="a matter is put aside once"),)

    def __str__(self) -> str:
        return f"{self.user}: {self.matter}"


class Feed(models.Model):
    """By its token, which is kept only as a hash, the feed of somebody is read without signing in. One for each person."""

    user = models.OneToOneField(User, on_delete=models.CASCADE, primary_key=True, related_name="+")
    token_hash = models.CharField(max_length=64, unique=True)
    at = models.DateTimeField(auto_now_add=True)
    read_at = models.DateTimeField(null=True, blank=True)

    def __str__(self) -> str:
        return f"feed of {self.user}"
