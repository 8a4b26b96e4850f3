"""Enrolling machines: a code for one use, or a key for many, exchanged for a token that is kept only as a hash."""

import datetime
import hashlib
import secrets

from django.db import transaction
from django.utils import timezone

from amberkey.server.estate import current_organisation
from amberkey.server.fleet.homes import Home, seated, whose
from amberkey.server.fleet.kept import forget
from amberkey.server.fleet.models import Agent, EnrolCode, EnrolKey, Machine, Serves
from amberkey.server.fleet.setups import setup_of
from amberkey.server.fleet.verbs.watch import watch_files
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
def enrol(code: str, home: Home) -> tuple[Machine, str]:
    """The machine of a code and the new token of the agent that works in a home there. A code works once; raises Problem
    otherwise."""
    now = timezone.now()
    found = EnrolCode.objects.select_for_update().select_related("machine").filter(code_hash=hashed(code)).first()
    if found is None or found.used_at is not None or found.expires_at < now:
        raise Problem(403, "This enrolment code doesn't work.", "It is unknown, used or too old.", "Ask for a new one.")
    found.used_at = now
    found.save(update_fields=["used_at"])
    return found.machine, _given_token(_agent(found.machine, home), "enrolled")


KEY_LIVES = datetime.timedelta(days=30)
MOST_BY_KEY = 10_000


@transaction.atomic
def make_key(actor: Actor, note: str, limit: int, days: int) -> tuple[EnrolKey, str]:
    """A key for installing many agents. It is shown once; what is kept only knows it again."""
    actor.require(Role.RELEASER)
    key = secrets.token_hex(24)
    ends = timezone.now() + datetime.timedelta(days=days)
    made = EnrolKey.objects.create(key_hash=hashed(key), note=note, made_by=actor.user, expires_at=ends, limit=limit)
    actor.record("made an enrolment key", f"enrolment key {made.pk}", f"for {limit} machines and {days} days. {note}".strip())
    return made, key


@transaction.atomic
def withdraw_key(actor: Actor, key_id: int, *, back: bool = False) -> EnrolKey:
    """A key enrols nobody any more, or does so again. Machines that were enrolled with it stay."""
    actor.require(Role.RELEASER)
    key = EnrolKey.objects.select_for_update().filter(pk=key_id).first()
    if key is None:
        raise NotFound(f"enrolment key {key_id}")
    if (key.withdrawn_at is None) != back:
        key.withdrawn_at = None if back else timezone.now()
        key.save(update_fields=["withdrawn_at"])
        actor.record("gave back an enrolment key" if back else "withdrew an enrolment key", f"enrolment key {key.pk}", key.note)
    return key


@transaction.atomic
def enrol_many(key: str, called: str, home: Home) -> tuple[Machine, str]:
    """One of the organisation's machines, by its id or name, and the token of an agent there. Raises Problem.

    A home that has an agent isn't enrolled again by a key: who holds the key could take its place. Nor has a machine more
    homes by it than people who sit there.
    """
    found = EnrolKey.objects.select_for_update().filter(key_hash=hashed(key)).first()
    if found is None or found.state in ("withdrawn", "too old"):
        raise Problem(403, "This enrolment key doesn't work.", "It is unknown, withdrawn or too old.", "Ask for a new one.")
    known = current_organisation().machines
    wanted = called.strip().casefold()
    fitting = [m for m in known if m.retired is None and wanted in (m.id.casefold(), m.name.casefold())]
    if len(fitting) != 1:
        raise Problem(
            403,
            f"The organisation has {'no' if not fitting else 'more than one'} machine called {called[:80]}.",
            "Only machines that it has can be enrolled.",
            "Say what the organisation calls it, or add it there first.",
        )
    machine = Machine.objects.select_for_update().filter(id=fitting[0].id).first() or _from_organisation(fitting[0].id)
    agent = _agent(machine, home)
    working = machine.agents.exclude(token_hash="").filter(serves=home.serves)
    most = max(1, len(seated(machine.id))) if home.serves == Serves.HOME else 1
    if agent.token_hash or working.count() >= most:
        raise Problem(
            403,
            f"{machine.name} has an agent already."
            if agent.token_hash or most == 1
            else f"{machine.name} has agents in {most} homes already, as many as people sit there.",
            "A key for many doesn't take its place.",
            "Make a code for this machine where its agent is to be replaced.",
        )
    if not machine.agents.exclude(token_hash="").exists():  # a second home of a machine is no second machine
        if found.state == "used up":
            made_for = f"It was made for {found.limit} machines."
            raise Problem(403, "This enrolment key is used up.", made_for, "Ask for one for more machines.")
        found.used += 1
        found.save(update_fields=["used"])
    return machine, _given_token(agent, "enrolled by a key for many")


def _agent(machine: Machine, home: Home) -> Agent:
    """The agent of a home, a new one where none works there. One that never said in which home it is turns out to be the
    first that says so."""
    found = machine.agents.filter(serves=home.serves, account=home.account).first()
    if found is None and home.account:
        found = machine.agents.filter(serves=home.serves, account="").first()
    agent = found or Agent(machine=machine, serves=home.serves)
    agent.account = home.account
    agent.person = agent.person or whose(machine.id, home)
    return agent


def stay_on(agent: Agent, mark: str | None) -> None:
    """The machine on which a token was used first is the one that it is for: a copy of it, or of the home in which it lies,
    gets nothing elsewhere. So a home that two machines reach has one writer. Raises Problem."""
    if not mark or agent.mark == mark:
        return
    if not agent.mark:
        Agent.objects.filter(pk=agent.pk, mark="").update(mark=mark)
        return
    Agent.objects.filter(pk=agent.pk).update(doubled_at=timezone.now())
    raise Problem(
        403,
        f"The token of {agent.machine.name} is used on another machine.",
        "It works on the first one only, so that nobody's files have two writers.",
        "Enrol this machine with a code of its own, or this one anew where it was put on new hardware.",
    )


@transaction.atomic
def take_off(actor: Actor, agent_id: int) -> Agent:
    """An agent's token is worth nothing any more: its home is gone, or the machine is. What was seen of its files stays."""
    actor.require(Role.RELEASER)
    agent = _found(agent_id)
    if agent.token_hash:
        Agent.objects.filter(pk=agent.pk).update(token_hash="")
        agent.token_hash = ""
        actor.record("took off an agent", f"machine/{agent.machine_id}")
    return agent


@transaction.atomic
def give_home(actor: Actor, agent_id: int, person: str) -> Agent:
    """Say whose home an agent works in; nobody's in particular where `person` is empty. Raises Problem for who doesn't sit
    there."""
    actor.require(Role.RELEASER)
    agent = _found(agent_id)
    if agent.serves != Serves.HOME:
        raise Problem(409, "This agent works in what is the machine's own.", "That is nobody's home.")
    if person and person not in [p.id for p in seated(agent.machine_id)]:
        raise Problem(409, f"They don't sit at {agent.machine.name}.", "So no settings of theirs go there.", "Seat them first.")
    if agent.person != person:
        agent.person, agent.person_at = person, timezone.now()
        agent.save(update_fields=["person", "person_at"])
        forget(agent.files.all())
        actor.record("said whose home it is", f"machine/{agent.machine_id}")
    return agent


def _found(agent_id: int) -> Agent:
    found = Agent.objects.select_for_update(of=("self",)).select_related("machine").filter(pk=agent_id).first()
    if found is None:
        raise NotFound(f"agent {agent_id}")
    return found


@transaction.atomic
def leave(agent: Agent) -> None:
    """The agent is gone from its machine; what was seen of its files stays."""
    Agent.objects.filter(pk=agent.pk).update(token_hash="")
    machine = agent.machine_id
    AuditEntry.objects.create(machine=machine, action="left", subject=f"machine/{machine}")


def _given_token(agent: Agent, how: str) -> str:
    token, machine = secrets.token_urlsafe(32), agent.machine
    agent.token_hash = hashed(token)
    agent.mark, agent.doubled_at = "", None
    agent.enrolled_at = agent.heard_at = timezone.now()
    agent.save()
    watch_files(agent)
    AuditEntry.objects.create(machine=machine.id, action=how, subject=f"machine/{machine.id}")
    return token
