"""What of a profile's items its programs can't take, told before it is saved."""

from collections.abc import Iterator, Mapping

from amberkey.core.documents.errors import Fault
from amberkey.core.keys.platform import PLATFORM_NAMES
from amberkey.core.profiles import macros, menu_groups, preferences
from amberkey.core.profiles.model import Profile
from amberkey.core.profiles.shelves import Shelf
from amberkey.core.programs.model import Program


def faults_in(profile: Profile, programs: Mapping[str, Program]) -> Iterator[Fault]:
    """Everything of its sections that its programs (by id, the newest version of each) can't take."""
    for n, shelf in enumerate(profile.shelves):
        yield from _of_shelf(f"shelves[{n}]", shelf, programs.get(shelf.program))
    for n, group in enumerate(profile.menu_groups):
        program = programs.get(group.program)
        if program is None:
            yield _no_program(f"menu_groups[{n}].program", group.program)
        elif why := menu_groups.why_not(program, group):
            yield Fault(f"menu_groups[{n}]", f"{_start(why)}.", "Choose something that the program can do.")
        else:
            yield from _commands(f"menu_groups[{n}].commands", group.commands, program)
    for n, macro in enumerate(profile.macros):
        program = programs.get(macro.program)
        if program is None:
            yield _no_program(f"macros[{n}].program", macro.program)
        elif why := macros.why_not(program, macro):
            yield Fault(f"macros[{n}]", f"{_start(why)}.", "Name it otherwise, or keep it elsewhere.")
        else:
            for why in macros.faults_of(macro, program):
                yield Fault(f"macros[{n}].steps", f"{_start(why)}.", "Choose a command that is there.")
    for n, one in enumerate(profile.preferences):
        program = programs.get(one.program)
        if program is None:
            yield _no_program(f"preferences[{n}].program", one.program)
        elif why := preferences.why_not(program, one):
            yield Fault(f"preferences[{n}].value", f"{_start(why)}.", "Choose a value within these limits.")
    for n, abbreviation in enumerate(profile.abbreviations):
        for program_id in abbreviation.programs:
            if program_id not in programs:
                yield _no_program(f"abbreviations[{n}].programs", program_id)
    for n, translation in enumerate(profile.translations):
        program = programs.get(translation.program)
        if program is None:
            yield _no_program(f"translations[{n}].program", translation.program)
        elif translation.scope is not None and not program.has_scope(translation.scope):
            says = f"{program.name} has no part {translation.scope}."
            yield Fault(f"translations[{n}].scope", says, "Choose a part that is there.")
        elif translation.platform not in program.platforms:
            says = f"{program.name} doesn't run on {PLATFORM_NAMES[translation.platform]}."
            yield Fault(f"translations[{n}].platform", says, "Choose a platform that it runs on.")


def _of_shelf(where: str, shelf: Shelf, program: Program | None) -> Iterator[Fault]:
    if program is None:
        yield _no_program(f"{where}.program", shelf.program)
        return
    row = program.offers.shelf(shelf.shelf)
    if row is None:
        yield Fault(f"{where}.shelf", f"{program.name} has no shelf {shelf.shelf}.", "Choose one that it has.")
        return
    most = max(len(keys) for keys in row.keys.values())
    if len(shelf.commands) > most:
        says = f"{row.name} of {program.name} has {most} places, and this shelf has {len(shelf.commands)} commands."
        yield Fault(f"{where}.commands", says, f"Take {len(shelf.commands) - most} of them off.")
    if shelf.begin is not None and not row.begin_chosen:
        yield Fault(f"{where}.begin", f"The keys of {row.name} begin as {program.name} says.", "Leave it out.")
    doubled = next((c for n, c in enumerate(shelf.commands) if c in shelf.commands[:n]), None)
    if doubled is not None:
        yield Fault(f"{where}.commands", f"{doubled} stands on it twice.", "Keep one of them.")
    yield from _commands(f"{where}.commands", shelf.commands, program)


def _commands(where: str, commands: tuple[str, ...], program: Program) -> Iterator[Fault]:
    for n, command_id in enumerate(commands):
        command = program.command(command_id)
        if command is None or command.retired:
            yield Fault(f"{where}[{n}]", f"{program.name} has no command {command_id}.", "Choose one that it has.")


def _no_program(where: str, program: str) -> Fault:
    return Fault(where, f"There is no program {program} here.", "Choose one that is there.")


def _start(text: str) -> str:
    return text[:1].upper() + text[1:]
