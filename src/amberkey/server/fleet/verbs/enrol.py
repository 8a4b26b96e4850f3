"""Enrolling machines: a code for one use, exchanged by the agent for a token that is kept only as a hash."""

import datetime
import hashlib
import secrets

from django.db import transaction
from django.utils import timezone

from amberkey.server.estate import current_estate, current_organisation
from amberkey.server.fleet.models import EnrolCode, Machine, MachineFile
from amberkey.server.fleet.setups import setup_of
from amberkey.server.library.approving import may_lie
from amberkey.server.people.acting import Actor
from amberkey.server.people.models import AuditEntry, Role
from amberkey.server.problems import NotFound, Problem

CODE_LIVES = datetime.timedelta(days=7)


def hashed(secret: str) -> str:
    """Tokens and codes are long and random, so one round is enough."""
    return hashlib.sha256(secret.encode()).hexdigest()


@transaction.atomic
def make_code(actor: Actor, machine_id: str) -> str:
    """A new code for a machine; it is shown once and never again, and one that was made before doesn't work any more."""
    actor.require(Role.RELEASER)
    machine = Machine.objects.select_for_update().filter(id=machine_id).first() or _from_organisation(machine_id)
    EnrolCode.objects.filter(machine=machine, used_at=None).delete()
    # Letters and digits only: a code that begins with a hyphen would be read as an option on the agent's command line.
    code = secrets.token_hex(18)
    EnrolCode.objects.create(
        code_hash=hashed(code), machine=machine, made_by=actor.user, expires_at=timezone.now() + CODE_LIVES
    )
    actor.record("made an enrolment code", f"machine/{machine.id}")
    return code


def _from_organisation(machine_id: str) -> Machine:
    """A first record of a machine that the organisation has. Raises NotFound, or Problem where nobody sits at it."""
    known = current_organisation().machines_by_id.get(machine_id)
    if known is None or known.retired is not None:
        raise NotFound(f"machine {machine_id}")
    machine = Machine(id=known.id, name=known.name)
    if not setup_of(machine):
        raise Problem(
            409, f"Nobody sits at {known.name}.", "So nothing says what its settings should be.", "Seat somebody first."
        )
    machine.save()
    return machine


@transaction.atomic
def enrol(code: str) -> tuple[Machine, str]:
    """The machine of a code and its new token. A code works once; raises Problem otherwise."""
    now = timezone.now()
    found = EnrolCode.objects.select_for_update().select_related("machine").filter(code_hash=hashed(code)).first()
    if found is None or found.used_at is not None or found.expires_at < now:
        raise Problem(403, "This enrolment code doesn't work.", "It is unknown, used or too old.", "Ask for a new one.")
    token = secrets.token_urlsafe(32)
    machine = found.machine
    machine.token_hash = hashed(token)
    machine.enrolled_at = machine.heard_at = now
    machine.save()
    found.used_at = now
    found.save(update_fields=["used_at"])
    watch_files(machine)
    AuditEntry.objects.create(machine=machine.id, action="enrolled", subject=f"machine/{machine.id}")
    return machine, token


def watch_files(machine: Machine) -> None:
    """The settings files that programs of the machine's setup keep, by their descriptions, where a releaser approved the path.

    Those of programs that were described or installed since are watched too; of a path that was changed the one before stays
    until the new one is approved. Does nothing for a machine that is in no setup.
    """
    estate, setup_id = current_estate(), setup_of(machine)
    if setup_id not in estate.setups:
        return
    setup = estate.board(setup_id).setup
    platform, approved = setup.setup.works_on, may_lie()
    known = dict(machine.files.values_list("program", "path"))
    for program in setup.programs:
        path = program.settings_file.path.get(platform) if program.settings_file else None
        if path and known.get(program.id) != path and approved(program, platform, path):
            MachineFile.objects.update_or_create(machine=machine, program=program.id, defaults={"path": path})
