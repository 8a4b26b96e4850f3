"""What a machine says of itself where the organisation's list says otherwise, and taking it into the list."""

from collections.abc import Sequence
from functools import partial
from typing import cast

from amberkey.core.compare.operations import JsonDocument, compare
from amberkey.core.exchange.lists.inventory import layout_of, systems_of
from amberkey.core.keys.platform import Platform
from amberkey.core.layouts.layout import layout_names, layouts_also_named
from amberkey.core.organisation.reported import Contradicted, Installed, Part, Reported, contradictions
from amberkey.server.estate import ORGANISATION, current_estate, current_organisation
from amberkey.server.fleet.models import Machine
from amberkey.server.library.models import ChangeSet
from amberkey.server.library.verbs.change import change
from amberkey.server.people.acting import Actor
from amberkey.server.people.models import Role
from amberkey.server.problems import NotFound, Problem


def contradicted(machines: Sequence[Machine]) -> dict[str, list[Contradicted]]:
    """Where the list says something else of machines, by their ids, than they themselves."""
    organisation = current_organisation()
    known = organisation.machines_by_id
    programs = list(current_estate().programs.values())
    tables = systems_of(programs)
    names = {p.id: p.name for p in programs if p.kind != "system"}
    versions: dict[str, list[str]] = {}
    for program in programs:
        versions.setdefault(program.id, []).append(program.version)
    found = {}
    for machine in machines:
        listed = known.get(machine.id)
        if listed is not None and machine.facts:
            facts = machine.facts
            said = Reported(facts.get("edition", ""), tuple(facts.get("layouts", ())), facts.get("programs", {}))
            installed = [
                Installed(names[used.id], used, tuple(versions[used.id]))
                for used in (organisation.programs_on(listed) if said.programs else ())
                if used.id in names
            ]
            layout = partial(_layout, platform=listed.platform)
            found[machine.id] = contradictions(listed, said, tables, layout, installed)
    return found


def _layout(name: str, platform: Platform) -> str | None:
    """By its id, else by a further name that systems give it, else by a language tag or a country."""
    if name in layout_names(platform):
        return name
    return layouts_also_named(platform).get(name) or layout_of(name, platform)


def take(actor: Actor, machine_id: str, part: Part) -> ChangeSet:
    """The list says from now on what the machine says. Raises NotFound, Problem."""
    actor.require(Role.EDITOR)
    machine = Machine.objects.filter(pk=machine_id).first()
    found = contradicted([machine]).get(machine.id, []) if machine is not None else []
    one = next((c for c in found if c.part == part), None)
    if one is None:
        raise NotFound(f"anything that {machine_id[:60]} says otherwise of its {part}")
    if one.taken is None:
        raise Problem(
            409, f"Nobody here knows what {one.said[:80]} is.", "It is the system's own word.", "Choose it in the list by hand."
        )
    organisation = current_organisation()
    machines = tuple(one.taken if m.id == machine_id else m for m in organisation.machines)
    after = organisation.model_copy(update={"machines": machines})
    operations = compare(cast(JsonDocument, organisation.to_json()), cast(JsonDocument, after.to_json()))
    return change(actor, f"{one.taken.name} has what it says itself: {one.said}", {ORGANISATION: list(operations)})
