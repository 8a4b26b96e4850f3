"""Names of setups in words: "Windows, German keyboard, no pad, Sales", and what more it takes to tell two apart."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

from amberkey.core.keys.platform import PLATFORM_NAMES
from amberkey.core.layouts.bodies import load_body
from amberkey.core.layouts.layout import load_layout
from amberkey.core.profiles.setup import Setup

_MANY = 2


@dataclass(frozen=True)
class Told:
    """What a name is made of beside the setup itself: names of its departments, roles and kits, and what is its own."""

    departments: tuple[str, ...]
    roles: tuple[str, ...]
    kits: tuple[str, ...]
    own: tuple[str, ...]


def name_setups(setups: Mapping[str, Setup], told: Mapping[str, Told], programs: Mapping[str, str]) -> dict[str, str]:
    """A name for each setup, no two the same: as short as the others allow. `programs`: names by id."""
    names = {i: ", ".join(filter(None, _base(s, told[i]))) for i, s in setups.items()}
    for differs in _differences(setups, told, programs):
        for group in _same(names):
            said = {i: differs(i) for i in group}
            if len(set(said.values())) > 1:
                names |= {i: f"{names[i]}, {words}" if words else names[i] for i, words in said.items()}
    for group in _same(names):
        for n, i in enumerate(sorted(group), 1):
            names[i] = f"{names[i]} ({n})"
    return names


def short_name(setup: Setup) -> str:
    """The name of a setup without its platform and keyboard, where both are told beside it."""
    name = setup.name
    for part in (PLATFORM_NAMES[setup.platform], _keyboard(setup), "no pad"):
        name = name.removeprefix(f"{part}, ")
    return name


def say_some(names: Sequence[str], kind: str) -> str:
    """Some names in few words: all of them up to two, else how many there are."""
    return " and ".join(names) if len(names) <= _MANY else f"{len(names)} {kind}"


def _base(setup: Setup, told: Told) -> tuple[str, ...]:
    pad = "" if load_body(setup.body).has_pad else "no pad"
    return PLATFORM_NAMES[setup.platform], _keyboard(setup), pad, say_some(told.departments, "departments")


def _keyboard(setup: Setup) -> str:
    layout = load_layout(setup.layout, setup.platform).name.removesuffix(" (Mac)")  # the platform says so already
    return f"{layout} keyboard"


def _same(names: Mapping[str, str]) -> list[list[str]]:
    found: dict[str, list[str]] = {}
    for i, name in names.items():
        found.setdefault(name, []).append(i)
    return [group for group in found.values() if len(group) > 1]


def _differences(
    setups: Mapping[str, Setup], told: Mapping[str, Told], programs: Mapping[str, str]
) -> list[Callable[[str], str]]:
    """What can tell two setups of one name apart, the plainest first."""

    def versions(i: str) -> str:
        group = [s for s in setups.values() if s.platform == setups[i].platform]
        several = {p.id for s in group for p in s.programs if any(_version(o, p.id) not in (p.version, None) for o in group)}
        return " and ".join(f"{programs.get(p.id, p.id)} {p.version}" for p in setups[i].programs if p.id in several)

    def without(i: str) -> str:
        mine = {p.id for p in setups[i].programs}
        others = {p.id for s in setups.values() if s.platform == setups[i].platform for p in s.programs} - mine
        return f"without {say_some(sorted(programs.get(p, p) for p in others), 'programs')}" if others else ""

    def add_ons(i: str) -> str:
        return " and ".join(a for p in setups[i].programs for a in p.add_ons)

    def ways(i: str) -> str:
        runs = [programs.get(p.id, p.id) for p in setups[i].programs if p.runs != "in a tab"]
        return f"{' and '.join(runs)} in a window" if runs else ""

    def special(i: str) -> str:
        setup = setups[i]
        found = [setup.remote.name if setup.remote else "", "" if setup.numlock else "NumLock off"]
        found += [setup.input_method.name if setup.input_method else "", setup.edition_version, *setup.has]
        found += [] if setup.top_row == "function keys" else [f"top row with {setup.top_row}"]
        return " and ".join(filter(None, found))

    return [
        lambda i: load_body(setups[i].body).name.split(",")[0],
        lambda i: setups[i].edition,
        lambda i: say_some(told[i].roles, "roles"),
        lambda i: f"with {say_some(told[i].own, 'own profiles')}" if told[i].own else "",
        lambda i: say_some(told[i].kits, "kits"),
        versions,
        add_ons,
        ways,
        special,
        without,
    ]


def _version(setup: Setup, program: str) -> str | None:
    return next((p.version for p in setup.programs if p.id == program), None)
