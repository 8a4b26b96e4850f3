"""Documents, their revisions, and the change sets that made them.

Bodies are kept once by digest as compressed canonical bytes: JSONB keeps neither the order of names nor U+0000.
"""

import uuid
import zlib

from django.db import models

from amberkey.core.documents.canonical import Json, canonical_bytes, digest_of
from amberkey.core.documents.reading import read_json
from amberkey.server.people.models import User


class Body(models.Model):
    digest = models.CharField(max_length=64, primary_key=True)
    packed = models.BinaryField()

    def __str__(self) -> str:
        return self.digest[:12]

    @classmethod
    def keep(cls, data: bytes) -> "Body":
        body, _ = cls.objects.get_or_create(digest=digest_of(data), defaults={"packed": zlib.compress(data)})
        return body

    @classmethod
    def keep_json(cls, value: Json) -> "Body":
        return cls.keep(canonical_bytes(value))

    @property
    def data(self) -> bytes:
        return zlib.decompress(self.packed)

    def json(self) -> Json:
        return read_json(self.data)


class Document(models.Model):
    """`key` is kind and id (and the version for programs): `profile/house`, `program/quaysheet@7.2`."""

    key = models.CharField(max_length=200, primary_key=True)
    format = models.CharField(max_length=60, db_index=True)
    doc_id = models.CharField(max_length=80)
    name = models.CharField(max_length=200)
    deleted_at = models.DateTimeField(null=True, blank=True)
    newest = models.ForeignKey("Revision", null=True, on_delete=models.PROTECT, related_name="+")
    released = models.ForeignKey("Revision", null=True, on_delete=models.PROTECT, related_name="+")

    def __str__(self) -> str:
        return self.key


class ChangeSet(models.Model):
    """What one decision or import changed over several documents. An undo is a change set of its own."""

    at = models.DateTimeField(auto_now_add=True, db_index=True)
    actor = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    title = models.CharField(max_length=400)
    reason = models.CharField(max_length=600, blank=True)
    undoes = models.ForeignKey("self", null=True, on_delete=models.PROTECT, related_name="undone_by")
    undone = models.BooleanField(default=False)

    class Meta:
        ordering = ("-id",)

    def __str__(self) -> str:
        return self.title


class SettledClash(models.Model):
    """A clash that a change set decides, by its identity; one decision may settle several."""

    change_set = models.ForeignKey(ChangeSet, on_delete=models.CASCADE, related_name="settled")
    clash = models.CharField(max_length=16, db_index=True)

    class Meta:
        constraints = (models.UniqueConstraint(fields=("change_set", "clash"), name="a_clash_once_a_change"),)

    def __str__(self) -> str:
        return f"{self.clash} by {self.change_set_id}"


class ChangeSetPart(models.Model):
    """What a change set did to one document: made it, deleted it (it can be brought back), or changed it by operations, which
    are kept as canonical JSON."""

    class Does(models.TextChoices):
        CHANGED = "changed"
        MADE = "made"
        DELETED = "deleted"

    does = models.CharField(max_length=10, choices=Does.choices, default=Does.CHANGED)
    change_set = models.ForeignKey(ChangeSet, on_delete=models.CASCADE, related_name="parts")
    document = models.ForeignKey(Document, on_delete=models.PROTECT)
    operations = models.ForeignKey(Body, on_delete=models.PROTECT)

    def __str__(self) -> str:
        return f"{self.change_set_id} on {self.document_id}"


class PersonName(models.Model):
    """What a person is called, and the id that other lists have for them, by the id under which documents have them: the only
    place where that stands. The newest row whose change isn't undone counts."""

    person = models.CharField(max_length=80, db_index=True)
    name = models.CharField(max_length=200)
    known_as = models.CharField(max_length=200, blank=True)
    change_set = models.ForeignKey(ChangeSet, null=True, on_delete=models.CASCADE, related_name="names")
    at = models.DateTimeField(auto_now_add=True)

    def __str__(self) -> str:
        return f"{self.person}: {self.name}"


class Given(models.Model):
    """What a machine was last given: the state of all released documents at that time, as canonical JSON (key to digest)."""

    machine = models.CharField(max_length=80, primary_key=True)
    state = models.ForeignKey(Body, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now=True)

    def __str__(self) -> str:
        return f"{self.machine} at {self.at:%Y-%m-%d %H:%M}"


class Revision(models.Model):
    document = models.ForeignKey(Document, on_delete=models.PROTECT, related_name="revisions")
    number = models.PositiveIntegerField()
    body = models.ForeignKey(Body, on_delete=models.PROTECT)
    parent = models.ForeignKey("self", null=True, on_delete=models.PROTECT, related_name="+")
    author = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    note = models.CharField(max_length=400, blank=True)
    name = models.CharField(max_length=80, blank=True)
    at = models.DateTimeField(auto_now_add=True)
    change_set = models.ForeignKey(ChangeSet, null=True, on_delete=models.PROTECT, related_name="revisions")
    brought = models.ForeignKey(Body, null=True, on_delete=models.PROTECT, related_name="+")
    """What a bundle held from which differences were taken into this revision; a later one is merged against it."""

    class Meta:
        constraints = (models.UniqueConstraint(fields=("document", "number"), name="one_revision_a_number"),)

    def __str__(self) -> str:
        return f"{self.document_id} {self.number}"

    @property
    def digest(self) -> str:
        return self.body_id


class TakenFacts(models.Model):
    """A system table as it was shipped when the organisation took it over, alone (no change set) or into what it had corrected.

    The newest row whose change set isn't undone is what the next shipped table is merged against.
    """

    document = models.ForeignKey(Document, on_delete=models.CASCADE, related_name="taken_facts")
    body = models.ForeignKey(Body, on_delete=models.PROTECT, related_name="+")
    change_set = models.ForeignKey(ChangeSet, null=True, on_delete=models.CASCADE, related_name="+")

    def __str__(self) -> str:
        return f"{self.document_id} {self.body_id[:12]}"


class Thinning(models.Model):
    """Dropping old revisions by a rule, as a job. `rule` as JSON; `now` is the time that it counts from, so that what was told
    before is what goes, however often the job is begun again."""

    class State(models.TextChoices):
        WAITING = "waiting"
        DONE = "done"
        FAILED = "failed"

    id = models.UUIDField(primary_key=True, default=uuid.uuid4)
    rule = models.JSONField()
    now = models.DateTimeField()
    actor = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    state = models.CharField(max_length=10, choices=State.choices, default=State.WAITING)
    dropped = models.PositiveIntegerField(default=0)
    freed = models.PositiveBigIntegerField(default=0)
    says = models.CharField(max_length=400, blank=True)

    class Meta:
        ordering = ("-now",)

    def __str__(self) -> str:
        return f"thinning of {self.now:%Y-%m-%d}: {self.state}"


class Approval(models.Model):
    """A releaser looked at what something runs, or at where files are written, and said yes to that very content.

    `digest`: of subject and content (see `core.exchange.approving.Sensitive`). `author`: who had written it, so it wasn't they.
    `by` is None for what was released already when approvals began.
    """

    digest = models.CharField(max_length=64, unique=True)
    subject = models.CharField(max_length=300)
    content = models.TextField()
    author = models.ForeignKey(User, null=True, on_delete=models.PROTECT, related_name="+")
    by = models.ForeignKey(User, null=True, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)
    withdrawn_at = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ("subject", "-at")

    def __str__(self) -> str:
        return self.subject
