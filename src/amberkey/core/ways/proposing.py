"""Ways out of a clash: what each would change, and what that would solve and make, found by computing it.

move         the newcomer gets another shortcut
move_family  so do the rest of its family, which keeps its shape
take_over    the holder is cleared
narrow       the shortcut is live in fewer scopes, where it takes nothing
translate    where a program can't take a key: in its window that press becomes one that it takes
tidy         an entry that means nothing, or a shortcut that stands twice, is taken out
begin        a shelf begins with another press
on_key       an abbreviation is set off on a key, and never unasked
take_off     a command leaves its shelf or group, a macro its key; an abbreviation is taken out
allow        nothing changes; with a reason and an end
"""

from collections.abc import Mapping

from amberkey.core.clashes.estate import Estate, Group
from amberkey.core.compare.operations import Operation
from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.profiles.effective import Arguments
from amberkey.core.ways.changes import operations_of
from amberkey.core.ways.consequences import NO_CONSEQUENCES, Consequences, consequences_of
from amberkey.core.ways.moving import can_move, family_moves, move, moves
from amberkey.core.ways.placing import is_placed, move_placed, placed_ways
from amberkey.core.ways.wayout import Shortcuts, WayOut, entry_change
from amberkey.core.ways.yielding import is_used_less, narrow, take_over, tidy, translate


def ways_out(estate: Estate, group: Group, target: str, most: int = 3) -> list[WayOut]:
    """The ways out of a clash, entries landing in the profile `target` unless a nearer layer set the shortcut.

    Taking over stands first where the holder is used less than the one that loses.
    """
    move_away = [*moves(estate, group, target, most), *family_moves(estate, group, target)]
    take = list(take_over(estate, group, target))
    return [
        *(take + move_away if is_used_less(estate, group) else move_away + take),
        *narrow(estate, group, target),
        *translate(estate, group, target),
        *tidy(estate, group),
        *placed_ways(estate, group),
        WayOut("allow", "allow", group.clash.subject, None, None, None, (), {}, NO_CONSEQUENCES),
    ]


def move_to(estate: Estate, group: Group, shortcut: Shortcut, target: str) -> WayOut | None:
    """Moving a clash's subject to a shortcut of the specialist's own choice, with its consequences; None where nothing can give
    it another one."""
    if is_placed(group.clash.subject):
        return move_placed(estate, group, shortcut)
    return move(estate, group, shortcut, None, (), target) if can_move(group.clash) else None


def assign(
    estate: Estate, binding_of: tuple[str, str], setup_id: str, shortcuts: Shortcuts, target: str, arguments: Arguments = ()
) -> tuple[Mapping[str, tuple[Operation, ...]], Consequences]:
    """Giving a command (a template with some arguments) its shortcuts (none: unbinding it) in a profile; the operations and
    their consequences."""
    changes = entry_change(estate, *binding_of, setup_id, shortcuts, target, arguments)
    return operations_of(changes), consequences_of(estate, changes)
