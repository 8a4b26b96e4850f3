"""Newer facts of the systems, as they ship with a newer Amber Key."""

from django.http import HttpRequest
from ninja import Router

from amberkey.core.compare.views import as_sentences
from amberkey.server.library.verbs.take_facts import News, news, take_facts
from amberkey.server.people.acting import By, actor_of
from amberkey.server.people.models import Role
from amberkey.server.schema import Schema

router = Router(tags=["library"])
_SHOWN = 40


class FactsOut(Schema):
    """`says`: the first changes in words; `stays`: what the organisation corrected, and the newer facts say otherwise."""

    key: str
    program: str
    version: str
    name: str
    changes: int
    says: list[str]
    stays: list[str]


class FactsTakenOut(Schema):
    id: int
    title: str


@router.get("/facts", response=list[FactsOut])
def newer_facts(request: HttpRequest) -> list[FactsOut]:
    """The system tables of which newer facts ship with this Amber Key than the organisation has taken in."""
    return [_out(n) for n in news()]


@router.post("/facts/{program}/{version}", response=FactsTakenOut, auth=By(Role.EDITOR))
def take_newer_facts(request: HttpRequest, program: str, version: str) -> FactsTakenOut:
    """Take them in, as one change that can be undone. What the organisation corrected itself stays as it is."""
    done = take_facts(actor_of(request), f"program/{program}@{version}")
    return FactsTakenOut(id=done.id, title=done.title)


def _out(one: News) -> FactsOut:
    return FactsOut(
        key=one.document.key,
        program=one.shipped.id,
        version=one.shipped.version,
        name=one.document.name,
        changes=len(one.operations),
        says=as_sentences(one.operations[:_SHOWN]),
        stays=[c.key for c in one.stays],
    )
