"""Users with one of four roles, and the audit trail."""

from typing import ClassVar

from django.contrib.auth.models import AbstractUser
from django.db import models


class Role(models.TextChoices):
    READER = "reader", "a reader"
    EDITOR = "editor", "an editor"
    RELEASER = "releaser", "a releaser"
    ADMINISTRATOR = "administrator", "an administrator"

    @property
    def rank(self) -> int:
        return list(Role).index(self)


class User(AbstractUser):
    """Somebody who signs in. Each role may do what the ones before it may."""

    role = models.CharField(max_length=20, choices=Role.choices, default=Role.READER)

    own_shortcuts = models.JSONField(default=dict)
    """For each of Amber Key's actions that this person changed: a canonical shortcut, or None where it is switched off."""

    REQUIRED_FIELDS: ClassVar[list[str]] = []

    @property
    def acting_role(self) -> Role:
        """The role that counts: whoever set the server up by command line is its administrator."""
        return Role.ADMINISTRATOR if self.is_superuser else Role(self.role)

    @property
    def display_name(self) -> str:
        return self.first_name or self.username


class OneTimeLink(models.Model):
    """A link by which a password is set, once. `user`: whose; none: whoever has it becomes the first administrator.

    The secret of a link is kept only as a hash.
    """

    secret_hash = models.CharField(max_length=64, unique=True)
    user = models.ForeignKey(User, null=True, on_delete=models.CASCADE, related_name="links")
    made_by = models.ForeignKey(User, null=True, on_delete=models.PROTECT, related_name="+")
    expires_at = models.DateTimeField()
    used_at = models.DateTimeField(null=True, blank=True)

    def __str__(self) -> str:
        return f"link for {self.user or 'the first administrator'}"


class SignedIn(models.Model):
    """A session that somebody has open: since when, and from which address."""

    session_key = models.CharField(max_length=40, unique=True)
    user = models.ForeignKey(User, on_delete=models.CASCADE, related_name="signed_in")
    at = models.DateTimeField(auto_now_add=True)
    address = models.CharField(max_length=60, blank=True)

    class Meta:
        ordering = ("-at",)

    def __str__(self) -> str:
        return f"{self.user} since {self.at:%Y-%m-%d %H:%M}"


class AuditEntry(models.Model):
    """One thing that was done: by whom (a user, or a machine's agent), what, to what."""

    at = models.DateTimeField(auto_now_add=True, db_index=True)
    actor = models.ForeignKey(User, null=True, on_delete=models.PROTECT, related_name="+")
    machine = models.CharField(max_length=80, blank=True)
    action = models.CharField(max_length=60)
    subject = models.CharField(max_length=200)
    detail = models.CharField(max_length=600, blank=True)

    class Meta:
        ordering = ("-at",)

    def __str__(self) -> str:
        return f"{self.at:%Y-%m-%d %H:%M} {self.actor or self.machine}: {self.action} {self.subject}"
