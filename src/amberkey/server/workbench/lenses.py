"""The lenses that can be chosen: setups in use, in words."""

from django.http import HttpRequest
from ninja import Router

from amberkey.core.keys.platform import PLATFORM_NAMES, Platform
from amberkey.core.organisation.naming import short_name
from amberkey.server.estate import current_estate, in_sight, layer_names
from amberkey.server.schema import Schema
from amberkey.server.workbench.keeping import kept

router = Router(tags=["workbench"])


class ScopeOut(Schema):
    id: str
    name: str
    takes_text: bool


class FocusOut(Schema):
    program: str
    name: str
    scopes: list[ScopeOut]


class LensOut(Schema):
    """`short`: the name without platform and keyboard, for a sentence that says them anyway."""

    setup: str
    name: str
    short: str
    place: str
    platform: Platform
    platform_name: str
    layout: str
    layout_name: str
    body_name: str
    language: str
    people: int
    machines: int
    unknown: list[str]
    layers: list[str]
    layer_ids: list[str]
    focuses: list[FocusOut]


@router.get("/lenses", response=list[LensOut])
@kept
def lenses(request: HttpRequest) -> list[LensOut]:
    """Every setup in use as a lens, the most people first."""
    estate = current_estate()
    found = []
    names = layer_names(estate)
    for setup in sorted(filter(lambda s: in_sight(s.id), estate.setups.values()), key=lambda s: (-s.people, s.id)):
        resolved = estate.board(setup.id).setup
        focuses = [
            FocusOut(
                program=p.id,
                name=p.name,
                scopes=[ScopeOut(id=s.id, name=s.name, takes_text=s.takes_text) for s in p.scopes],
            )
            for p in resolved.programs
            if p.kind != "system" and (p.kind != "utility" or len(p.scopes) > 1)  # hotkeys alone are nothing to focus on
        ]
        found.append(
            LensOut(
                setup=setup.id,
                name=setup.name,
                short=short_name(setup),
                place=setup.place,
                platform=setup.works_on,
                platform_name=PLATFORM_NAMES[setup.works_on],
                layout=setup.reads_by,
                layout_name=resolved.layout.name,
                body_name=resolved.body.name,
                language=resolved.layout.language,
                people=setup.people,
                machines=setup.machines,
                unknown=list(resolved.unknown),
                layers=[names[i] for i in setup.layers],
                layer_ids=list(setup.layers),
                focuses=focuses,
            )
        )
    return found
