"""Entries of a profile that change nothing: they say what holds without them."""

from collections.abc import Iterator
from dataclasses import dataclass

from amberkey.core.clashes.estate import Estate
from amberkey.core.profiles.effective import DEFAULT, EffectiveCommand
from amberkey.core.profiles.model import Entry, Profile


@dataclass(frozen=True, slots=True)
class Spare:
    """An entry that can go: `same_as` is the layer that says the same beneath it everywhere, `default` for the maker's."""

    entry: Entry
    same_as: str


def spare_entries(estate: Estate, profile: Profile) -> Iterator[Spare]:
    """The profile's own entries without which nothing changes on any setup that has it.

    Locked ones stay, since they hold nearer layers back; so do those that a nearer layer overrules everywhere, as what they say
    may be wanted again. Where no setup has the profile, nothing is known of what lies beneath, and only the makers' defaults
    count.
    """
    setups = [i for i, s in estate.setups.items() if profile.id in s.layers]
    for entry in profile.entries:
        if entry.locked:
            continue
        beneath = _beneath(estate, profile, entry, setups) if setups else _default(estate, entry)
        if beneath is not None:
            yield Spare(entry, beneath)


def _beneath(estate: Estate, profile: Profile, entry: Entry, setups: list[str]) -> str | None:
    """The layer that says the same beneath an entry on every setup on which the entry counts; None where one says otherwise."""
    found: set[str] = set()
    for setup_id in setups:
        board = estate.board(setup_id)
        part = board.parts.get(entry.program)
        if part is None or board.setup.setup.works_on != entry.platform:
            continue
        if entry.layouts and part.ground.layout.id not in entry.layouts:
            continue
        command = part.program.command(entry.command)
        place = part.effective.places.get((command.id, tuple(sorted(entry.arguments.items())))) if command else None
        if place is None:
            return None
        one = part.effective.commands[place]
        if one.now.layer == profile.id:
            same = _same_beneath(one)
        elif any(s.layer == profile.id for s in one.hid):
            continue  # a nearer layer's word counts here
        else:
            return None
        if same is None:
            return None
        found.add(same)
    return next(iter(sorted(found, key=lambda layer: layer == DEFAULT)), None)


def _same_beneath(one: EffectiveCommand) -> str | None:
    below = one.hid[0]  # what a layer says hides the maker's at least
    return below.layer if set(below.shortcuts) == set(one.now.shortcuts) else None


def _default(estate: Estate, entry: Entry) -> str | None:
    for (program_id, _), program in estate.programs.items():
        command = program.command(entry.command) if program_id == entry.program else None
        if command is None or entry.arguments:
            continue
        given = {(g.keys, g.scope or command.scope) for g in entry.shortcuts}
        if given != {(s, command.scope) for s in command.defaults_on(entry.platform)}:
            return None
    return DEFAULT if any(i == entry.program for i, _ in estate.programs) else None
