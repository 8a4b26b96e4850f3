"""Preferences: settings of programs that belong to a person's way of working, set in layers like keys and locked likewise."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from amberkey.core.documents.field import Id
from amberkey.core.documents.model import Flag, Value
from amberkey.core.documents.sections import preference_key
from amberkey.core.keys.platform import Platform
from amberkey.core.profiles.defaults import DEFAULT
from amberkey.core.programs.model import Program
from amberkey.core.programs.offers import PreferencePlace, Scalar


class Preference(Value):
    """What a profile sets a preference of a program to: on one platform, or on all. `locked`: no nearer layer may set it
    otherwise."""

    program: Id
    preference: Id
    platform: Platform | None = None
    value: Scalar
    locked: Flag = False

    @property
    def key(self) -> str:
        """What makes it the same preference in every revision: program, preference, platform."""
        return preference_key(self.model_dump(mode="json"))


@dataclass(frozen=True, slots=True)
class Preferred:
    """A preference in effect: its value, the layer that set it (`default`: none did), what that hid (nearest first), and the
    layers that said otherwise in vain, with the one that locked it."""

    place: PreferencePlace
    value: Scalar
    layer: str
    hid: tuple[tuple[str, Scalar], ...] = ()
    refused: tuple[tuple[str, Scalar, str], ...] = ()


def why_not(program: Program, preference: Preference) -> str:
    """Why a preference can't be set so in a program, in words; empty where it can."""
    place = program.offers.preference(preference.preference)
    if place is None:
        return f"{program.name} has no preference {preference.preference}"
    if preference.platform is not None and place.platforms and preference.platform not in place.platforms:
        return f"{place.name} of {program.name} isn't there on {preference.platform}"
    return place.why_not(preference.value)


def preferred(program: Program, platform: Platform, said: Iterable[tuple[str, Sequence[Preference]]]) -> tuple[Preferred, ...]:
    """All preferences of a program on a platform under some layers, the farthest first. In one layer a word for the platform
    beats one for all; what can't be set so is left out."""
    words: dict[str, list[tuple[str, Preference]]] = {}
    for layer, preferences in said:
        own = {p.preference: p for p in preferences if p.program == program.id and p.platform is None}
        own |= {p.preference: p for p in preferences if p.program == program.id and p.platform == platform}
        for one in own.values():
            if not why_not(program, one):
                words.setdefault(one.preference, []).append((layer, one))
    found = []
    for place in program.offers.preferences:
        if place.platforms and platform not in place.platforms:
            continue
        value, by, locked = place.default, DEFAULT, ""
        hid: list[tuple[str, Scalar]] = []
        refused = []
        for layer, one in words.get(place.id, ()):
            if locked:
                refused.append((layer, one.value, locked))
                continue
            hid.append((by, value))
            value, by = one.value, layer
            locked = layer if one.locked else ""
        found.append(Preferred(place, value, by, tuple(reversed(hid)), tuple(refused)))
    return tuple(found)
