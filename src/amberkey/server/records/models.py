"""Test records, kept with everything by name, so that they can be read when setups and programs are long gone."""

from django.db import models

from amberkey.server.people.models import User


class Record(models.Model):
    """`shortcut` is canonical, presses separated by "then"; `expected` is what Amber Key said would come of it when it was
    tested, `outcome` the key of that (see `core.clashes.trying.outcome_key`)."""

    at = models.DateTimeField(auto_now_add=True, db_index=True)
    actor = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    setup = models.CharField(max_length=120, db_index=True)
    setup_name = models.CharField(max_length=200)
    program = models.CharField(max_length=80, blank=True)
    program_name = models.CharField(max_length=200, blank=True)
    scope = models.CharField(max_length=80, blank=True)
    scope_name = models.CharField(max_length=200, blank=True)
    shortcut = models.CharField(max_length=400)
    pressed = models.CharField(max_length=400)
    expected = models.CharField(max_length=400)
    outcome = models.CharField(max_length=300)
    seen = models.CharField(max_length=400)
    passed = models.BooleanField()
    removed = models.BooleanField(default=False)

    class Meta:
        ordering = ("-id",)

    def __str__(self) -> str:
        return f"{self.pressed} in {self.program_name}: {'passed' if self.passed else 'not passed'}"
