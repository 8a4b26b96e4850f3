"""What would change for a setup if one of its layers were taken away."""

from dataclasses import dataclass

from amberkey.core.clashes.board import put_together
from amberkey.core.clashes.estate import Estate
from amberkey.core.clashes.finding import find_clashes
from amberkey.core.clashes.model import Clash
from amberkey.core.profiles.effective import EffectiveCommand
from amberkey.core.profiles.resolving import resolve_setup


@dataclass(frozen=True)
class Without:
    """`commands`: those whose shortcuts would be others, as they are and as they would be. `solves`, `makes`: clashes."""

    commands: tuple[tuple[EffectiveCommand, EffectiveCommand], ...]
    solves: tuple[Clash, ...]
    makes: tuple[Clash, ...]


def without_layer(estate: Estate, setup_id: str, layer: str) -> Without:
    """Computed by putting the setup together without the layer. Raises KeyError for a setup that isn't there."""
    setup = estate.setups[setup_id]
    bare = setup.model_copy(update={"layers": tuple(n for n in setup.layers if n != layer)})
    board = estate.board(setup_id)
    resolved = resolve_setup(bare, estate.programs, estate.profiles, estate.tasks, estate.shared.effective)
    ground = estate.shared.ground(resolved, estate.today)
    parts = {i: estate.shared.part(e, ground) for i, e in resolved.effective.items()}
    far = estate.shared.part(resolved.far, ground) if resolved.far else None
    now = {c.identity: c for c in estate.clashes(setup_id)}
    then = {c.identity: c for c in find_clashes(put_together(resolved, ground, parts, far))}
    changed = []
    for program_id, part in board.parts.items():
        other = parts[program_id].effective
        for command in part.effective.commands:
            place = other.places.get((command.command.id, command.arguments))
            after = other.commands[place] if place is not None else None
            if after is not None and after.now.shortcuts != command.now.shortcuts:
                changed.append((command, after))
            elif after is None and command.now.shortcuts:
                changed.append((command, command._replace(now=command.now._replace(shortcuts=()))))
    return Without(
        tuple(changed),
        tuple(c for i, c in now.items() if i not in then),
        tuple(c for i, c in then.items() if i not in now),
    )
