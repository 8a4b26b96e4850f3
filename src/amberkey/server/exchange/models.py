"""Whose bundles are known: keys of other organisations that are trusted, and how this one's own keys followed one another.

The secret key itself is never in the database (see `exchange.keys`).
"""

from django.db import models

from amberkey.server.people.models import User


class TrustedKey(models.Model):
    """Another organisation's public key (base64), under the name that it has here. One that is no longer trusted stays, so that
    it can be trusted again."""

    key = models.CharField(max_length=44, unique=True)
    name = models.CharField(max_length=200)
    by = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)
    withdrawn_at = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ("name", "at")

    def __str__(self) -> str:
        return self.name


class HandedOver(models.Model):
    """An older key of this organisation signed that a newer one speaks for it (see `core.exchange.signing.HandOver`)."""

    old = models.CharField(max_length=44)
    new = models.CharField(max_length=44)
    signature = models.CharField(max_length=88)
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ("id",)
        constraints = (models.UniqueConstraint(fields=("old", "new"), name="handed_over_once"),)

    def __str__(self) -> str:
        return f"{self.old} to {self.new}"
