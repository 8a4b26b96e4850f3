"""How often people of a role use commands: seen by role, and entered one by one (lists bring in many)."""

from django.http import HttpRequest
from ninja import Router

from amberkey.core.documents.errors import DocumentError
from amberkey.core.exchange.lists.reading import Known, ListReader
from amberkey.core.exchange.sheets import Row
from amberkey.server.estate import current_estate, current_organisation
from amberkey.server.organisation.verbs.edit import edit
from amberkey.server.people.acting import By, actor_of
from amberkey.server.people.models import Role
from amberkey.server.problems import NotFound, Problem
from amberkey.server.schema import Schema, Words

router = Router(tags=["organisation"])
_COLUMNS = ("role", "program", "command", "weekly")


class UseOut(Schema):
    """`item` as it stands in the document, for removing it."""

    item: dict[str, str | int]
    program: str
    command: str
    weekly: int


class UseIn(Schema):
    """Program and command by id or name, as in a list."""

    program: Words
    command: Words
    weekly: int


class UseSavedOut(Schema):
    id: int
    title: str


@router.get("/organisation/roles/{role}/uses", response=list[UseOut])
def uses(request: HttpRequest, role: str) -> list[UseOut]:
    """What one person of a role uses in a week, the most used first."""
    organisation = current_organisation()
    if role not in organisation.roles_by_id:
        raise NotFound(f"role {role[:60]}")
    named = {i: p for (i, _), p in sorted(current_estate().programs.items())}
    found = []
    for use in sorted((u for u in organisation.uses if u.role == role), key=lambda u: (-u.weekly, u.key)):
        program = named.get(use.program)
        command = program.command(use.command) if program else None
        found.append(
            UseOut(
                item=use.model_dump(mode="json"),
                program=program.name if program else use.program,
                command=command.name if command else use.command,
                weekly=use.weekly,
            )
        )
    return found


@router.post("/organisation/roles/{role}/uses", response=UseSavedOut, auth=By(Role.EDITOR))
def enter_use(request: HttpRequest, role: str, given: UseIn) -> UseSavedOut:
    """Enter how often one person of a role uses a command in a week: read as a row of a list would be."""
    actor = actor_of(request)
    estate = current_estate()
    known = Known(estate.programs, {p.id: p.name for p in estate.profiles.values()})
    reader = ListReader("uses", {c: n for n, c in enumerate(_COLUMNS)}, current_organisation(), known)
    read = reader.read(Row(1, (role, given.program.strip(), given.command.strip(), str(given.weekly))))
    if read.faults:
        raise DocumentError([*read.faults])
    if not read.operations:
        raise Problem(409, "That is known already.", "Nothing is different.")
    done = edit(actor, f"Entered how often {given.command} is used", list(read.operations))
    return UseSavedOut(id=done.id, title=done.title)
