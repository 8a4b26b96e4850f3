"""The agent to take along: a zip file for machines like the server's, and its digest, shown beside the code that enrols it."""

from dataclasses import dataclass
from functools import lru_cache

from django.http import HttpRequest, HttpResponse
from django.utils.http import content_disposition_header
from ninja import Router

from amberkey.core.documents.canonical import digest_of
from amberkey.core.exchange.zips import zipped
from amberkey.server.fleet.packing import files, made_for
from amberkey.server.schema import Schema

router = Router(tags=["fleet"])


class AgentPackageOut(Schema):
    """`made_for`: the platform and the Python that it runs on; `digest`: SHA-256 of the zip file."""

    made_for: str
    digest: str
    size: int


@dataclass(frozen=True, slots=True)
class _Package:
    data: bytes
    digest: str


@lru_cache(maxsize=1)
def _package() -> _Package:
    data = zipped(list(files()))
    return _Package(data, digest_of(data))


@router.get("/agents/package", response=AgentPackageOut)
def agent_package(request: HttpRequest) -> AgentPackageOut:
    """What the agent's zip file is."""
    package = _package()
    return AgentPackageOut(made_for=made_for(), digest=package.digest, size=len(package.data))


@router.get("/agents/package.zip", response={200: bytes})
def agent_package_zip(request: HttpRequest) -> HttpResponse:
    """The agent with everything that it needs but Python: unpacked, `python -m amberkey.agent` runs in its folder."""
    package = _package()
    headers = {"Content-Disposition": content_disposition_header(as_attachment=True, filename="amberkey-agent.zip")}
    return HttpResponse(package.data, content_type="application/zip", headers={k: v for k, v in headers.items() if v})
