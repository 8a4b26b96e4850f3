"""Machines, the settings files on them as last seen, and the orders to write them."""

import uuid
from typing import Literal

from django.db import models
from django.utils import timezone

from amberkey.core.documents.canonical import digest_of
from amberkey.server.fleet.sealed import mark, seal, unseal
from amberkey.server.library.models import Body
from amberkey.server.people.models import User


class Machine(models.Model):
    """A staff machine with an agent, or several, or a code for one.

    What it runs and who sits at it says the organisation, under the same id; `setup` names a planned setup for one that isn't
    in there yet.
    """

    id = models.SlugField(max_length=60, primary_key=True)
    name = models.CharField(max_length=120)
    setup = models.CharField(max_length=80, blank=True)
    facts = models.JSONField(null=True, blank=True)
    """What the machine says it is: `{"edition": text, "layouts": [text]}`, in its system's own words."""
    facts_at = models.DateTimeField(null=True, blank=True)
    orders_given = models.PositiveIntegerField(default=0)
    """The number of the newest order: they only rise, and none is carried out twice."""

    class Meta:
        indexes = (models.Index(fields=("name", "id"), name="machines_by_name"),)

    def __str__(self) -> str:
        return self.name


class Serves(models.TextChoices):
    HOME = "home"
    MACHINE = "machine"


class Agent(models.Model):
    """What works on a machine: in the home of one account, or in what is the machine's own. It has a token, kept as a hash.

    `account`: what the machine's system calls the account, empty for an agent that never said. `person`: whose home it is;
    where that isn't known, the settings of most people who sit at the machine count for it.
    """

    machine = models.ForeignKey(Machine, on_delete=models.CASCADE, related_name="agents")
    serves = models.CharField(max_length=10, choices=Serves.choices, default=Serves.HOME)
    account = models.CharField(max_length=80, blank=True)
    person = models.CharField(max_length=80, blank=True)
    person_at = models.DateTimeField(null=True, blank=True)
    """When it became theirs."""
    token_hash = models.CharField(max_length=64, blank=True, db_index=True)
    """Empty once it has left."""
    enrolled_at = models.DateTimeField(null=True, blank=True)
    heard_at = models.DateTimeField(null=True, blank=True)
    mark = models.CharField(max_length=32, blank=True)
    """By what it knows the machine that it runs on; empty until it worked once."""
    doubled_at = models.DateTimeField(null=True, blank=True)
    """When its token was last used on another machine."""

    class Meta:
        constraints = (models.UniqueConstraint(fields=("machine", "serves", "account"), name="an_agent_a_home"),)

    def __str__(self) -> str:
        return f"{self.account or 'agent'} on {self.machine_id}"


class EnrolCode(models.Model):
    """A code that enrols one machine once."""

    code_hash = models.CharField(max_length=64, unique=True)
    machine = models.ForeignKey(Machine, on_delete=models.CASCADE)
    made_by = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    expires_at = models.DateTimeField()
    used_at = models.DateTimeField(null=True, blank=True)

    def __str__(self) -> str:
        return f"code for {self.machine_id}"


class EnrolKey(models.Model):
    """A key with which an installer enrols many machines that the organisation has, up to `limit` of them and until it ends."""

    key_hash = models.CharField(max_length=64, unique=True)
    note = models.CharField(max_length=120, blank=True)
    made_by = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    made_at = models.DateTimeField(auto_now_add=True)
    expires_at = models.DateTimeField()
    limit = models.PositiveIntegerField()
    used = models.PositiveIntegerField(default=0)
    withdrawn_at = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ("-made_at",)

    def __str__(self) -> str:
        return f"enrolment key of {self.made_at:%Y-%m-%d}"

    @property
    def state(self) -> Literal["works", "used up", "too old", "withdrawn"]:
        """Whether it still enrols machines, and why not."""
        if self.withdrawn_at is not None:
            return "withdrawn"
        if self.expires_at < timezone.now():
            return "too old"
        return "used up" if self.used >= self.limit else "works"


class Root(models.TextChoices):
    HOME = "home"
    MACHINE = "machine"
    STORE = "store"


class FileBytes(models.Model):
    """The bytes of a settings file as it was seen or shall be, sealed, for 30 days."""

    digest = models.CharField(max_length=64, primary_key=True)
    sealed = models.BinaryField()
    mark = models.CharField(max_length=16, default="")
    """Which secret it was sealed with."""
    kept_at = models.DateTimeField(db_index=True)

    def __str__(self) -> str:
        return self.digest[:12]

    @classmethod
    def keep(cls, data: bytes) -> "FileBytes":
        digest = digest_of(data)
        found, _ = cls.objects.update_or_create(
            digest=digest, defaults={"sealed": seal(data, digest), "mark": mark(), "kept_at": timezone.now()}
        )
        return found

    @property
    def is_readable(self) -> bool:
        """Whether its bytes come out again; asked without looking at them."""
        return self.mark == mark()

    @property
    def data(self) -> bytes | None:
        """None where the server's secret is another one by now."""
        return unseal(bytes(self.sealed), self.digest)


class MachineFile(models.Model):
    """A program's settings file on a machine, in a home or the machine's own: as last seen, and as it was when Amber Key last
    wrote it.

    `root`: below what it lies, and `path`: where there; of a settings store `path` is what the store is called. `number`: which
    of the program's descriptions it was that said so; where a path has changed since, that one still holds.

    `applied` is canonical JSON: `{"wanted": {...}, "entries": {...}}`, what was asked for and what the file then held.
    """

    machine = models.ForeignKey(Machine, on_delete=models.CASCADE, related_name="files")
    agent = models.ForeignKey(Agent, on_delete=models.CASCADE, related_name="files")
    """Who reads and writes it, and nobody else does."""
    program = models.CharField(max_length=80)
    number = models.PositiveSmallIntegerField(default=0)
    root = models.CharField(max_length=10, choices=Root.choices, default=Root.HOME)
    path = models.CharField(max_length=300)
    content = models.ForeignKey(FileBytes, null=True, on_delete=models.SET_NULL, related_name="+")
    problem = models.CharField(max_length=400, blank=True)
    seen_at = models.DateTimeField(null=True, blank=True)
    applied = models.ForeignKey(Body, null=True, on_delete=models.PROTECT, related_name="+")
    applied_at = models.DateTimeField(null=True, blank=True)
    standing = models.JSONField(null=True, blank=True)
    """How it stands against what is released (see `standing.Standing`), as worked out last."""
    rank = models.PositiveSmallIntegerField(null=True, blank=True)
    """Where its standing is among all of them, the worst one 0; none where it has none."""
    overlap = models.JSONField(null=True, blank=True)
    """Keys that commands keep beside those that are wanted, until `overlap_until`: `{command: [shortcut]}`."""
    overlap_until = models.DateField(null=True, blank=True, db_index=True)
    backups = models.PositiveSmallIntegerField(null=True, blank=True)
    """How many of it lie on the machine, as its agent said last."""
    left = models.JSONField(null=True, blank=True)
    """Own keys that stay for a while: `{command: {"has": [shortcut], "reason", "until", "by", "at"}}`."""
    stands_on = models.CharField(max_length=64, blank=True, db_index=True)
    """The digest of everything that was released when `standing` was worked out; empty where it has to be worked out anew."""

    class Meta:
        constraints = (models.UniqueConstraint(fields=("agent", "program", "root", "path"), name="a_file_once_an_agent"),)
        indexes = (models.Index(fields=("machine", "rank"), name="files_by_rank"),)

    def __str__(self) -> str:
        return f"{self.path} of {self.program} on {self.machine_id}"

    @property
    def seen(self) -> bytes | None:
        """What the file held when it was seen last; None where it wasn't, or that isn't kept any more."""
        return self.content.data if self.content is not None else None


class Order(models.Model):
    """Write this content if the file still has that digest. One waits at a time for a file."""

    class State(models.TextChoices):
        WAITING = "waiting"
        DONE = "done"
        REFUSED = "refused"

    id = models.UUIDField(primary_key=True, default=uuid.uuid4)
    file = models.ForeignKey(MachineFile, on_delete=models.CASCADE, related_name="orders")
    number = models.PositiveIntegerField(default=0)
    expect = models.CharField(max_length=64)
    digest = models.CharField(max_length=64)
    content = models.ForeignKey(FileBytes, null=True, on_delete=models.SET_NULL, related_name="+")
    """What shall be in the file; it goes when it is old, `digest` stays."""
    wanted = models.ForeignKey(Body, on_delete=models.PROTECT, related_name="+")
    actor = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)
    state = models.CharField(max_length=10, choices=State.choices, default=State.WAITING)
    says = models.CharField(max_length=400, blank=True)
    given = models.ForeignKey(Body, null=True, on_delete=models.PROTECT, related_name="+")
    """The state of everything that was released when it was asked for."""
    before = models.ForeignKey(FileBytes, null=True, on_delete=models.SET_NULL, related_name="+")
    """What was in the file; it goes when it is old."""
    applied_before = models.ForeignKey(Body, null=True, on_delete=models.PROTECT, related_name="+")
    given_before = models.ForeignKey(Body, null=True, on_delete=models.PROTECT, related_name="+")
    read_before = models.ForeignKey(Body, null=True, on_delete=models.PROTECT, related_name="+")
    """What the file said before, as `{"entries": {...}}`: that is put back where it is taken back."""
    undoes = models.ForeignKey("self", null=True, on_delete=models.SET_NULL, related_name="undone_by")
    """The order that this one takes back."""
    asked_in = models.CharField(max_length=64, blank=True)
    """The id of the request that asked for it: what follows from it is logged under the same one."""

    class Meta:
        ordering = ("-at",)

    def __str__(self) -> str:
        return f"{self.state}: {self.file}"


class Survey(models.Model):
    """A look at what people have set for themselves, in files that agents have seen or that somebody brought.

    `given`: the zip file, until it was read. `found` says who has what that isn't the default, so that nothing else of the
    files is kept: `{"said": [{"person", "program", "platform", "said": {command: [shortcut]}}], "unread": [{"path", "says"}]}`.
    `dropped`: own changes, by their ids, that are to be nobody's.
    """

    class State(models.TextChoices):
        WORKING = "working"
        READY = "ready"
        FAILED = "failed"

    id = models.UUIDField(primary_key=True, default=uuid.uuid4)
    of = models.CharField(max_length=200)
    made_by = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)
    state = models.CharField(max_length=10, choices=State.choices, default=State.WORKING)
    says = models.CharField(max_length=400, blank=True)
    files = models.PositiveIntegerField(default=0)
    given = models.BinaryField(null=True)
    found = models.JSONField(default=dict)
    dropped = models.JSONField(default=list)

    class Meta:
        ordering = ("-at",)

    def __str__(self) -> str:
        return f"survey of {self.of}"

    @classmethod
    def fail(cls, survey_id: uuid.UUID, why: str) -> None:
        """Nothing came of it; what was brought goes."""
        cls.objects.filter(pk=survey_id).update(state=cls.State.FAILED, says=why[:400], given=None)


class HandWork(models.Model):
    """Somebody set one thing on a machine by hand. `content` is what they set it to: where something else is wanted by now, it
    is to be done again (see `core.exchange.worklist.ByHand`)."""

    machine = models.CharField(max_length=80, db_index=True)
    item = models.CharField(max_length=16)
    content = models.TextField()
    by = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = (models.UniqueConstraint(fields=("machine", "item"), name="set_once_a_machine"),)

    def __str__(self) -> str:
        return f"{self.item} on {self.machine}"
