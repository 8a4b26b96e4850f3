"""Giving a command its shortcuts in the profile that the lens stands on, or taking its own entry away again."""

from collections.abc import Mapping, Sequence

from amberkey.core.clashes.estate import Estate
from amberkey.core.compare.operations import Operation
from amberkey.core.keys.reading import read_shortcut
from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.profiles.effective import Arguments
from amberkey.core.programs.limits import why_not
from amberkey.core.programs.model import Command, Program
from amberkey.core.ways.consequences import Consequences
from amberkey.core.ways.proposing import assign as compute
from amberkey.server.estate import board_of, target_of
from amberkey.server.library.models import ChangeSet
from amberkey.server.library.verbs.change import change
from amberkey.server.people.acting import Actor
from amberkey.server.people.models import Role
from amberkey.server.problems import NotFound, Problem

NO_ARGUMENTS: Mapping[str, str | int] = {}
_LEAST_REASON = 3
"""Signs."""


def checked(
    estate: Estate, setup_id: str, program_id: str, command_id: str, texts: Sequence[str]
) -> tuple[Program, Command, tuple[Shortcut, ...]]:
    """A command of a setup and the shortcuts that it is to have. Raises Problem where the program can't take one."""
    board = board_of(estate, setup_id)
    program = board.setup.program(program_id)
    command = program.command(command_id) if program else None
    if program is None or command is None:
        raise NotFound(f"command {program_id}/{command_id}")
    if program.kind == "system" and command.grip == "fixed":
        raise Problem(409, f"{program.name} keeps this press for itself.", f"{command.name} can't be told otherwise.")
    if program.card_only:
        raise Problem(
            409,
            f"{program.name} takes no shortcuts from outside.",
            "It is known for cards only.",
            "Change that under How it behaves, if it can be set after all.",
        )
    platform = board.setup.setup.works_on
    shortcuts = tuple(dict.fromkeys(read_shortcut(t).resolve(platform) for t in texts))
    if len(shortcuts) > program.limits.shortcuts_per_command:
        raise Problem(400, f"{program.name} takes at most {program.limits.shortcuts_per_command} shortcuts for a command.")
    for shortcut in shortcuts:
        why = why_not(program, shortcut, board.ground.keyboard)
        if why:
            raise Problem(400, f"{program.name} can't take {shortcut}.", f"As a rule, {why}.", "Choose another shortcut.")
    return program, command, shortcuts


def arguments_of(command: Command, given: Mapping[str, str | int]) -> Arguments:
    """Arguments for a command in the order of their names. Raises Problem where it doesn't take them."""
    if given and not command.arguments:
        raise Problem(400, f"{command.name} takes no values.", "It is no template.", "Give it its keys without any.")
    why = command.why_not_with(given)
    if why:
        takes = "; ".join(f"{a.name}: {a.told or 'any'}" for a in command.arguments)
        raise Problem(400, f"{why}.", f"It takes {takes}.", "Choose another value.")
    return tuple(sorted(given.items()))


def planned(
    estate: Estate,
    setup_id: str,
    program_id: str,
    command_id: str,
    texts: Sequence[str],
    asked: str | None = None,
    given: Mapping[str, str | int] = NO_ARGUMENTS,
) -> tuple[dict[str, tuple[Operation, ...]], Consequences, str]:
    """What setting the shortcuts of a command (of a template with some arguments) would change and cause, and its title for the
    history. Raises Problem as `checked` and `arguments_of`."""
    program, command, shortcuts = checked(estate, setup_id, program_id, command_id, texts)
    arguments = arguments_of(command, given)
    target = target_of(board_of(estate, setup_id).setup.setup, asked)
    wanted = tuple((s, None) for s in shortcuts)
    changes, consequences = compute(estate, (program_id, command.id), setup_id, wanted, target, arguments)
    return dict(changes), consequences, title_of(program, command, shortcuts, arguments)


def title_of(program: Program, command: Command, shortcuts: Sequence[Shortcut], arguments: Arguments = ()) -> str:
    told = " and ".join(map(str, shortcuts)) or "no shortcut"
    return f"Gave {command.told_with(arguments)} in {program.name} {told}"


def assign(
    actor: Actor,
    estate: Estate,
    setup_id: str,
    program_id: str,
    command_id: str,
    texts: Sequence[str],
    target: str | None = None,
    reason: str = "",
    given: Mapping[str, str | int] = NO_ARGUMENTS,
) -> ChangeSet:
    """Give a command (a template with some arguments) its shortcuts in a layer of a setup (None: in the one that `target_of`
    says). Raises Problem where a key for a risky command has no reason."""
    actor.require(Role.EDITOR)
    _, command, _ = checked(estate, setup_id, program_id, command_id, texts)
    if command.risky and texts and len(reason.strip()) < _LEAST_REASON:
        cure = "Write in a few words why it shall have that key."
        raise Problem(400, f"{command.name} is risky, so a key for it needs a reason.", cure=cure)
    changes, _, title = planned(estate, setup_id, program_id, command_id, texts, target, given)
    return change(actor, title, {f"profile/{p}": ops for p, ops in changes.items()}, reason=reason.strip())
