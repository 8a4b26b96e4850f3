"""What a settings file says of a program's preferences, by their ids; and writing that."""

from collections.abc import Mapping

from amberkey.core.containers.tree import Edit
from amberkey.core.descriptions.described import Described
from amberkey.core.descriptions.values import read_values, value_edits, write_values
from amberkey.core.programs.model import Program
from amberkey.core.programs.offers import PreferencePlace, Scalar


def in_the_file(program: Program, number: int) -> tuple[PreferencePlace, ...]:
    """The preferences that stand in one settings file of a program, by its number."""
    return tuple(p for p in program.offers.preferences if p.at and p.in_file == number)


def read_preferences(data: bytes, program: Program, number: int) -> dict[str, Scalar]:
    """What a file says of preferences; those that it doesn't name, or has otherwise than they can be, are left out. Raises
    SettingsFileError where it isn't such a file."""
    places = {p.at: p for p in in_the_file(program, number)}
    if not places:
        return {}
    found: dict[str, Scalar] = {}
    for way, value in read_values(data, program.settings_files[number], list(places)).items():
        place = places[way]
        read = _read(place, value)
        if read is not None and not place.why_not(read):
            found[place.id] = read
    return found


def _read(place: PreferencePlace, value: object) -> Scalar | None:
    """A value of a file as a preference of that kind; None where it is none."""
    if place.kind == "yes or no" and isinstance(value, str):
        return {"true": True, "false": False}.get(value.lower())
    if place.kind == "number" and isinstance(value, str):
        return int(value) if value.lstrip("-").isdecimal() and len(value) < 19 else None
    return value if isinstance(value, bool | int | str) else None


def preference_edits(data: bytes, program: Program, number: int, wanted: Mapping[str, Scalar]) -> list[Edit]:
    """The spans of a file's text that would become others where preferences are set. Raises SettingsFileError."""
    ways = {p.at: wanted[p.id] for p in in_the_file(program, number) if p.id in wanted}
    return value_edits(data, program.settings_files[number], ways, make_parts=True) if ways else []


def write_preferences(
    data: bytes, program: Program, how: Described, number: int, wanted: Mapping[str, Scalar], *, make_parts: bool = False
) -> bytes:
    """A file with preferences set, by their ids; those that stand elsewhere are left out. `make_parts`: parts of the file that
    aren't there are made. Raises SettingsFileError."""
    ways = {p.at: wanted[p.id] for p in in_the_file(program, number) if p.id in wanted}
    return write_values(data, how, ways, make_parts=make_parts) if ways else data
