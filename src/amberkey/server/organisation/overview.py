"""The organisation in short, with everything that can be chosen in it."""

from collections import Counter
from collections.abc import Iterable
from typing import Any

from django.http import HttpRequest
from ninja import Router

from amberkey.core.keys.platform import PLATFORM_NAMES
from amberkey.core.layouts.bodies import body_ids, load_body
from amberkey.core.layouts.layout import layout_names
from amberkey.core.profiles.input_methods import known_methods
from amberkey.core.programs.model import Program
from amberkey.server.estate import current_derived, current_estate, current_organisation
from amberkey.server.library.documents import digests, parsed
from amberkey.server.people.sight import sees_personal
from amberkey.server.schema import NamedOut, Schema
from amberkey.server.workbench.keeping import kept

router = Router(tags=["organisation"])


class LayerNamedOut(NamedOut):
    """A profile, and how many people have it among their layers: each counted once."""

    people: int


class GroupingOut(Schema):
    """A department, role or kit with the item itself and how many it has: people, or machines for a kit."""

    id: str
    name: str
    item: dict[str, Any]
    count: int


class VersionsOut(Schema):
    id: str
    name: str
    kind: str
    versions: list[str]
    add_ons: list[NamedOut]
    turned_on: list[NamedOut]
    """What is off in it until somebody switches it on."""
    turned_off: list[NamedOut]
    """What can be switched off in it."""
    platforms: list[str]


class ReleaseOut(Schema):
    name: str
    edition: str
    also: list[str]


class MethodOut(Schema):
    """An input method that is known by name: what it takes whenever it is on, and further while a text is composed."""

    name: str
    source: str
    takes: list[str]
    composing: list[str]


class PlatformOut(Schema):
    id: str
    name: str
    editions: list[str]
    layouts: list[NamedOut]
    releases: list[ReleaseOut]
    """The versions that the system tables know, of one edition or of all."""
    input_methods: list[MethodOut]


class OrganisationOut(Schema):
    """What there is, and what may be chosen."""

    name: str
    profiles: list[str]
    departments: list[GroupingOut]
    roles: list[GroupingOut]
    kits: list[GroupingOut]
    people: int
    machines: int
    setups: int
    platforms: list[PlatformOut]
    bodies: list[NamedOut]
    programs: list[VersionsOut]
    all_profiles: list[LayerNamedOut]


@router.get("/organisation", response=OrganisationOut)
@kept
def organisation(request: HttpRequest) -> OrganisationOut:
    """The organisation in short, with everything that can be chosen in it."""
    found = current_organisation()
    documents = [parsed(d) for d in digests().values()]
    programs = [d for d in documents if isinstance(d, Program)]
    departments: Counter[str] = Counter()
    roles: Counter[str] = Counter()
    for person in found.people:
        if person.retired is None:
            for department in found.inward(person.department):
                departments[department.id] += person.stands_for
            roles.update(dict.fromkeys(person.roles, person.stands_for))
    kits = Counter(k for m in found.machines if m.retired is None for k in m.kits)
    return OrganisationOut(
        name=found.name,
        profiles=list(found.profiles),
        departments=[_grouping(d, departments[d.id]) for d in found.departments],
        roles=[_grouping(r, roles[r.id]) for r in found.roles],
        kits=[_grouping(k, kits[k.id]) for k in found.kits],
        people=sum(p.stands_for for p in found.people if p.retired is None),
        machines=sum(m.retired is None for m in found.machines),
        setups=len(current_derived().setups),
        platforms=[
            PlatformOut(
                id=platform,
                name=name,
                editions=_editions(platform, programs, (m.edition for m in found.machines if m.platform == platform)),
                layouts=[NamedOut(id=i, name=n) for i, n in layout_names(platform).items()],
                releases=[
                    ReleaseOut(name=r.name, edition=r.edition or "", also=[a for a in r.also if not a[0].isdigit()])
                    for p in programs
                    if p.kind == "system" and platform in p.platforms
                    for r in p.releases
                ],
                input_methods=[
                    MethodOut(
                        name=m.name,
                        source=m.source or "likely",
                        takes=[*map(str, m.takes)],
                        composing=[*map(str, m.composing)],
                    )
                    for m in known_methods(platform)
                ],
            )
            for platform, name in PLATFORM_NAMES.items()
        ],
        bodies=[NamedOut(id=i, name=load_body(i).name) for i in body_ids()],
        programs=_versions(programs),
        all_profiles=sorted(
            (
                LayerNamedOut(id=d.id, name=d.name, people=_people_under(d.id))
                for d in documents
                if d.format == "amberkey/profile@1" and (sees_personal() or d.id not in found.own_layers)
            ),
            key=lambda n: n.name,
        ),
    )


def _people_under(profile: str) -> int:
    estate = current_estate()
    return estate.people_of(s for s in estate.setups.values() if profile in s.layers)


def _grouping(item: Any, count: int) -> GroupingOut:
    return GroupingOut(id=item.id, name=item.name, item=item.model_dump(mode="json", exclude_defaults=True), count=count)


def _editions(platform: str, programs: Iterable[Program], in_use: Iterable[str]) -> list[str]:
    """The editions by the names that machines have, and those that the tables know besides."""
    names = set(in_use)
    tables = [p for p in programs if p.kind == "system" and platform in p.platforms]
    meant = {t.read_edition(n).name for t in tables for n in names}
    return sorted(names | ({e.name for t in tables for e in t.known_editions} - meant))


def _versions(programs: list[Program]) -> list[VersionsOut]:
    found: dict[str, VersionsOut] = {}
    for program in sorted(programs, key=lambda p: (p.name, p.version)):
        one = found.setdefault(
            program.id,
            VersionsOut(
                id=program.id,
                name=program.name,
                kind=program.kind,
                versions=[],
                add_ons=[],
                turned_on=[],
                turned_off=[],
                platforms=list(program.platforms),
            ),
        )
        one.versions.append(program.version)
        off = [NamedOut(id=c.id, name=c.name) for c in program.commands if c.off]
        could = [c for c in program.commands if program.kind == "system" and not c.off and c.grip != "fixed"]
        one.turned_on = off or one.turned_on
        off = [NamedOut(id=c.id, name=c.name) for c in could] + [NamedOut(id=s.id, name=s.name) for s in program.switches]
        one.turned_off = off or one.turned_off
        one.add_ons = [NamedOut(id=a.id, name=a.name) for a in program.add_ons] or one.add_ons
    return list(found.values())
