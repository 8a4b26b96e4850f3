"""What an organisation names elsewhere and isn't there: programs, versions, add-ons, profiles, layouts, keyboards."""

from collections.abc import Collection, Iterable, Iterator, Mapping

from amberkey.core.documents.errors import Fault
from amberkey.core.keys.platform import PLATFORM_NAMES
from amberkey.core.layouts.bodies import load_body
from amberkey.core.layouts.errors import LayoutNotThere, UnknownBody, UnknownLayout
from amberkey.core.layouts.layout import load_layout
from amberkey.core.organisation.model import Machine, Organisation
from amberkey.core.profiles.setup import ProgramUsed
from amberkey.core.programs.model import Program

Programs = Mapping[tuple[str, str], Program]


def faults_in(organisation: Organisation, programs: Programs, profiles: Collection[str]) -> list[Fault]:
    """Every fault that the document itself can't know, with its place. Machines that agree are looked at once."""
    found = list(_profiles(organisation, profiles))
    for n, kit in enumerate(organisation.kits):
        found += _known(f"kits[{n}]", kit.programs, programs)
    looked: dict[tuple[object, ...], list[Fault]] = {}
    for n, machine in enumerate(organisation.machines):
        key = (machine.platform, machine.layouts, machine.body, machine.top_row, machine.remote, machine.kits, machine.programs)
        faults = looked.get(key)
        if faults is None:
            faults = looked[key] = faults_of_machine(machine, organisation, programs)
        found += [Fault(f"machines[{n}].{f.place}", f.says, f.cure) for f in faults]
    return found


def faults_of_machine(machine: Machine, organisation: Organisation, programs: Programs) -> list[Fault]:
    """The faults of one machine, with their place below it."""
    found = [*_known("", machine.programs, programs), *keyboard_faults(machine)]
    running = [programs[p.id, p.version] for p in organisation.programs_on(machine) if (p.id, p.version) in programs]
    far = (machine.remote.platform if machine.remote else None) or machine.platform
    for program in running:
        on = machine.platform if program.kind == "system" else far
        if on not in program.platforms:
            says = f"{program.name} doesn't run on {PLATFORM_NAMES[on]}."
            found.append(Fault("programs", says, "Take it out, or choose another kit."))
    where = PLATFORM_NAMES[machine.platform]
    found += _of_the_session(machine, programs)
    systems = [p.name for p in running if p.kind == "system"]
    if len(systems) != 1:
        says = f"There are {len(systems)} systems on it" if systems else "There is no system on it"
        found.append(Fault("programs", f"{says}.", f"Give it the system table of {where}, by a kit or by itself."))
    return found


def keyboard_faults(machine: Machine) -> Iterator[Fault]:
    """What is wrong with a machine's keyboard, here and on the far machine of a remote session: without one that is known,
    nothing can be said of who sits there."""
    for n, layout in enumerate(machine.layouts):
        try:
            load_layout(layout, machine.platform)
        except (UnknownLayout, LayoutNotThere) as error:
            yield Fault(f"layouts[{n}]", str(error), "Choose a layout of that platform.")
    try:
        body = load_body(machine.body)
        if machine.top_row == "special keys" and not body.has_special_row:
            says = f"The top row of the {body.name} body is function keys only."
            yield Fault("top_row", says, "Choose function keys, or a laptop's or Mac's body.")
    except UnknownBody as error:
        yield Fault("body", str(error), "Choose a keyboard body.")
    remote = machine.remote
    if remote is None:
        return
    for layout in (remote.layout,) if remote.layout else machine.layouts:
        try:
            load_layout(layout, remote.platform or machine.platform)
        except LayoutNotThere as error:
            yield Fault("remote.layout", str(error), "Say which layout the far machine reads the keys by.")
        except UnknownLayout:
            pass  # told of the machine's own layouts


def _of_the_session(machine: Machine, programs: Programs) -> Iterator[Fault]:
    """The far machine's system, where the programs run in a remote session."""
    remote = machine.remote
    if remote is None:
        return
    platform = remote.platform or machine.platform
    table = programs.get((remote.system.id, remote.system.version))
    if table is None:
        says = f"There is no program {remote.system.id} {remote.system.version}."
        yield Fault("remote.system", says, "Choose the table of the far machine's system.")
    elif table.kind != "system" or platform not in table.platforms:
        says = f"{table.name} is no system of {PLATFORM_NAMES[platform]}."
        yield Fault("remote.system", says, "Choose the table of the far machine's system, and its platform.")


def _known(where: str, used: Iterable[ProgramUsed], programs: Programs) -> Iterator[Fault]:
    versions: dict[str, list[str]] = {}
    for program_id, version in programs:
        versions.setdefault(program_id, []).append(version)
    for n, one in enumerate(used):
        place = f"{where}.programs[{n}]" if where else f"programs[{n}]"
        if one.id not in versions:
            yield Fault(place, f"There is no program {one.id}.", "Add its document first, or check its spelling.")
        elif one.version not in versions[one.id]:
            there = " and ".join(sorted(versions[one.id]))
            yield Fault(place, f"{one.id} {one.version} isn't here; there is {there}.", "Choose one of these versions.")
        else:
            known = {a.id for a in programs[one.id, one.version].add_ons}
            for add_on in one.add_ons:
                if add_on not in known:
                    yield Fault(place, f"{one.id} {one.version} knows no add-on {add_on}.", "Check its spelling.")


def _profiles(organisation: Organisation, profiles: Collection[str]) -> Iterator[Fault]:
    def missing(place: str, named: Iterable[str]) -> Iterator[Fault]:
        for n, profile in enumerate(named):
            if profile not in profiles:
                yield Fault(f"{place}profiles[{n}]", f"There is no profile {profile}.", "Make it first, or check its spelling.")

    yield from missing("", organisation.profiles)
    for section in ("departments", "roles", "people", "machines"):
        for n, item in enumerate(getattr(organisation, section)):
            yield from missing(f"{section}[{n}].", item.profiles)
