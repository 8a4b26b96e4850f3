"""What is worth a look in the standard and in what people press."""

from django.http import HttpRequest
from ninja import Router

from amberkey.core.keys.platform import Platform
from amberkey.core.standard.findings import KIND_WORDS, Kind
from amberkey.server.schema import Schema
from amberkey.server.standard.state import current_findings

router = Router(tags=["standard"])


class FindingOut(Schema):
    kind: Kind
    says: str
    platform: Platform | None
    tasks: list[str]
    programs: list[str]
    keys: str | None
    people: int
    item: str
    allowed: str


class FindingsOut(Schema):
    kinds: list[tuple[str, str]]
    findings: list[FindingOut]


@router.get("/standard/findings", response=FindingsOut)
def found(request: HttpRequest) -> FindingsOut:
    """What is worth a look, by kind."""
    return FindingsOut(
        kinds=list(KIND_WORDS.items()),
        findings=[
            FindingOut(
                kind=f.kind,
                says=f.says,
                platform=f.platform,
                tasks=list(f.tasks),
                programs=list(f.programs),
                keys=str(f.shortcut) if f.shortcut else None,
                people=f.people,
                item=f.item,
                allowed=f.allowed,
            )
            for f in current_findings()
        ],
    )
