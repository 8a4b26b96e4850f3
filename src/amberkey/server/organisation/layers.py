"""What is set for a person at a machine: the layers with their reasons, each entry with the layer that it came from."""

from collections.abc import Mapping

from django.http import HttpRequest
from ninja import Router

from amberkey.core.clashes.board import Board
from amberkey.core.clashes.without import without_layer
from amberkey.core.layouts.layout import load_layout
from amberkey.core.organisation.layers import layers_of, say_because
from amberkey.core.profiles.effective import DEFAULT, EffectiveCommand, Set
from amberkey.core.profiles.guard import say_held
from amberkey.server.estate import board_of, current_derived, current_estate, current_organisation
from amberkey.server.people.acting import By
from amberkey.server.people.models import Role
from amberkey.server.problems import NotFound
from amberkey.server.schema import Schema
from amberkey.server.workbench.clashes.told import brief_clash
from amberkey.server.workbench.words import ShortcutOut, shortcut_out

router = Router(tags=["organisation"])


class AppliedLayerOut(Schema):
    """A layer, why it applies, and how many commands get their shortcuts from it; `vain`: how many it sets in vain."""

    profile: str
    name: str
    because: list[str]
    sets: int
    vain: int
    reserves: list[str]
    locks: int


class SaidOut(Schema):
    layer: str
    shortcuts: list[ShortcutOut]


class RefusedOut(SaidOut):
    why: str


class SettingOut(Schema):
    """A command that some layer says something of: what holds, what that hid, what was said in vain."""

    command: str
    name: str
    scope: str
    now: SaidOut
    hid: list[SaidOut]
    refused: list[RefusedOut]


class ProgramSettingsOut(Schema):
    program: str
    name: str
    version: str
    settings: list[SettingOut]
    untouched: int


class ChoiceOut(Schema):
    setup: str
    machine: str
    machine_name: str
    layout: str


class EffectiveOut(Schema):
    """`choices`: where else this person could be looked at. `setup` is the one shown."""

    person: str
    person_name: str
    machine: str
    machine_name: str
    setup: str
    setup_name: str
    choices: list[ChoiceOut]
    layers: list[AppliedLayerOut]
    programs: list[ProgramSettingsOut]


class WithoutOut(Schema):
    """What would change if a layer were taken away."""

    commands: list[str]
    solves: list[str]
    makes: list[str]


@router.get("/organisation/effective", response=EffectiveOut, auth=By(Role.EDITOR))
def effective(request: HttpRequest, person: str, machine: str = "", setup: str = "") -> EffectiveOut:
    """The effective settings of a person at a machine: without one, at the first where the person sits."""
    organisation = current_organisation()
    derived = current_derived()
    somebody = organisation.people_by_id.get(person)
    if somebody is None:
        raise NotFound(f"person {person[:60]}")
    seats = [s for s in derived.seated if s.person == person]
    if not seats:
        raise NotFound(f"machine at which {somebody.name} sits")
    fitting = [s for s in seats if machine in ("", s.machine) and setup in ("", s.setup)]
    if not fitting:
        raise NotFound("such seat")
    seat = fitting[0]
    at = organisation.machines_by_id[seat.machine]
    estate = current_estate()
    board = board_of(estate, seat.setup)
    names = {DEFAULT: "default", **{p.id: p.name for p in estate.profiles.values()}}
    commands = [c for part in board.parts.values() for c in part.effective.commands]
    return EffectiveOut(
        person=person,
        person_name=somebody.name,
        machine=at.id,
        machine_name=at.name,
        setup=seat.setup,
        setup_name=derived.setups[seat.setup].name,
        choices=[
            ChoiceOut(
                setup=s.setup,
                machine=s.machine,
                machine_name=organisation.machines_by_id[s.machine].name,
                layout=load_layout(s.layout, organisation.machines_by_id[s.machine].platform).name,
            )
            for s in seats
        ],
        layers=[
            AppliedLayerOut(
                profile=layer.profile,
                name=names[layer.profile],
                because=[say_because(b) for b in layer.because],
                sets=sum(c.now.layer == layer.profile for c in commands),
                vain=sum(r.said.layer == layer.profile for c in commands for r in c.refused),
                reserves=[
                    shortcut_out(r.keys, board).words
                    for r in estate.profiles[layer.profile].reserved
                    if r.holds_on(board.ground.platform, board.ground.layout.id)
                ],
                locks=sum(e.locked and e.platform == board.ground.platform for e in estate.profiles[layer.profile].entries),
            )
            for layer in layers_of(organisation, somebody, at)
        ],
        programs=[
            ProgramSettingsOut(
                program=part.program.id,
                name=part.program.name,
                version=part.program.version,
                settings=[_setting(c, board, names) for c in part.effective.commands if c.hid or c.refused],
                untouched=sum(not (c.hid or c.refused) for c in part.effective.commands),
            )
            for part in board.parts.values()
        ],
    )


def _setting(found: EffectiveCommand, board: Board, names: Mapping[str, str]) -> SettingOut:
    part = board.parts[found.program]

    def said(one: Set) -> SaidOut:
        return SaidOut(layer=names[one.layer], shortcuts=[shortcut_out(s, board) for s, _ in one.shortcuts])

    return SettingOut(
        command=found.command.id,
        name=found.command.name,
        scope=part.program.scope(found.command.scope).name,
        now=said(found.now),
        hid=[said(s) for s in found.hid],
        refused=[RefusedOut(**said(r.said).model_dump(), why=say_held(r.held, names)) for r in found.refused],
    )


@router.get("/organisation/without", response=WithoutOut, auth=By(Role.EDITOR))
def without(request: HttpRequest, setup: str, layer: str) -> WithoutOut:
    """What would change for a setup if one of its layers were taken away."""
    estate = current_estate()
    board = board_of(estate, setup)
    if layer not in estate.setups[setup].layers:
        raise NotFound(f"layer {layer[:60]} in this setup")
    found = without_layer(estate, setup, layer)

    def keys(one: EffectiveCommand) -> str:
        return " and ".join(shortcut_out(s, board).words for s, _ in one.now.shortcuts) or "no shortcut"

    return WithoutOut(
        commands=[
            f"{a.command.name} in {board.parts[a.program].program.name} has {keys(b)} instead of {keys(a)}."
            for a, b in found.commands
        ],
        solves=[brief_clash(c, board) for c in found.solves],
        makes=[brief_clash(c, board) for c in found.makes],
    )
