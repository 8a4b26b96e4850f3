"""The lenses that can be chosen: setups in use, in words."""

from django.http import HttpRequest
from ninja import Router

from amberkey.core.keys.platform import PLATFORM_NAMES, Platform
from amberkey.core.organisation.naming import short_name
from amberkey.core.profiles.setup import Setup
from amberkey.core.programs.editions import ANY
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
    system: str
    """The system on which the programs run, with its edition and version as far as they are known."""
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


def system_of(setup: Setup) -> str:
    """The system on which a setup's programs run, in words: the far one of a session where that is another."""
    platform, far = PLATFORM_NAMES[setup.works_on], setup.remote
    said = (setup.edition, setup.edition_version)
    if far is not None and (far.edition or setup.works_on != setup.platform):
        said = (far.edition, "")
    edition = " ".join(part for part in said if part and part != ANY)
    # Linux desktops are known by their own names.
    named = edition and (setup.works_on == "linux" or platform.casefold() in edition.casefold())
    return edition if named else f"{platform} {edition}".strip()


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
                system=system_of(setup),
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
