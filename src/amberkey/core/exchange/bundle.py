"""`amberkey/bundle@1`: a zip file with a manifest and documents as canonical JSON.

Equal documents make equal bytes: fixed times, fixed order. A bundle that comes in is hostile until its paths, sizes, counts
and digests have been checked against the manifest.
"""

import io
import lzma
import zipfile
import zlib
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from types import MappingProxyType
from typing import Annotated, Literal

from pydantic import Field

from amberkey.core.documents.canonical import digest_of
from amberkey.core.documents.errors import DocumentError
from amberkey.core.documents.model import Document, Value, read_document
from amberkey.core.documents.reading import read_json
from amberkey.core.exchange.errors import BundleError
from amberkey.core.formats import read_any

MANIFEST = "manifest.json"
# What unpacking breaks with, whichever of its methods a zip file names.
_DAMAGED = (zipfile.BadZipFile, zlib.error, lzma.LZMAError, RuntimeError, NotImplementedError, EOFError, OSError, ValueError)
_EPOCH = (1980, 1, 1, 0, 0, 0)


@dataclass(frozen=True, slots=True)
class BundleLimits:
    """What a bundle may hold: bytes as a file, bytes unpacked, parts, and how far a part may blow up."""

    packed: int = 16 * 1024 * 1024
    unpacked: int = 64 * 1024 * 1024
    parts: int = 200
    ratio: int = 200


DEFAULT_BUNDLE_LIMITS = BundleLimits()


Digest = Annotated[str, Field(pattern=r"^[0-9a-f]{64}$")]
LINEAGE = 200
"""How many revisions a part names at most that it was made from."""


class Part(Value):
    """`lineage`: digests of earlier states that the document was made from, the newest first; where one of them is known too,
    what was changed since on both sides can be told apart.
    """

    path: Annotated[str, Field(pattern=r"^documents/[a-z0-9][a-z0-9.-]*\.json$", max_length=120)]
    format: str
    id: str
    name: str
    size: Annotated[int, Field(ge=2)]
    sha256: Digest
    lineage: Annotated[tuple[Digest, ...], Field(max_length=LINEAGE)] = ()


class Manifest(Document):
    """What travels in the bundle, from whom and when (ISO 8601), and what needs something at its destination first."""

    format: Literal["amberkey/bundle@1"] = "amberkey/bundle@1"
    made_by: str = ""
    made_at: str = ""
    parts: tuple[Part, ...]
    needs: tuple[str, ...] = ()


def write_bundle(
    documents: Sequence[Document],
    *,
    bundle_id: str,
    name: str,
    made_by: str = "",
    made_at: str = "",
    needs: tuple[str, ...] = (),
    lineages: Mapping[str, Sequence[str]] = MappingProxyType({}),
) -> bytes:
    """Pack documents; the same documents and words give the same bytes. `lineages`: by id what a document was made from."""
    bodies = sorted((f"documents/{d.id}.json", d, d.to_bytes()) for d in documents)
    manifest = Manifest(
        id=bundle_id,
        name=name,
        made_by=made_by,
        made_at=made_at,
        needs=needs,
        parts=tuple(
            Part(
                path=path,
                format=d.format,
                id=d.id,
                name=d.name,
                size=len(body),
                sha256=digest_of(body),
                lineage=tuple(lineages.get(d.id, ()))[:LINEAGE],
            )
            for path, d, body in bodies
        ),
    )
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for path, body in ((MANIFEST, manifest.to_bytes()), *((p, b) for p, _, b in bodies)):
            info = zipfile.ZipInfo(path, _EPOCH)
            info.compress_type = zipfile.ZIP_DEFLATED
            info.external_attr = 0o644 << 16
            archive.writestr(info, body)
    return out.getvalue()


def read_bundle(data: bytes, limits: BundleLimits = DEFAULT_BUNDLE_LIMITS) -> tuple[Manifest, tuple[Document, ...]]:
    """Unpack and check a bundle. Raises BundleError naming the part and the cure, before anything unfit is unpacked."""
    if len(data) > limits.packed:
        raise BundleError(f"The file has {len(data) / 1048576:.0f} MB, and {limits.packed // 1048576} MB is the most.")
    try:
        archive = zipfile.ZipFile(io.BytesIO(data))
    except (zipfile.BadZipFile, ValueError, NotImplementedError) as error:
        raise BundleError("This is not a bundle: it can't be opened as a zip file.", cure="Export it again.") from error
    with archive:
        entries = {info.filename: info for info in archive.infolist()}
        _check_outline(archive.infolist(), limits)
        if MANIFEST not in entries:
            raise BundleError("The bundle has no manifest.", MANIFEST, "Export it again.")
        manifest = _read_manifest(_unpack(archive, entries[MANIFEST], limits))
        named = {part.path for part in manifest.parts}
        stray = sorted(entries.keys() - named - {MANIFEST})
        if stray:
            raise BundleError("The manifest doesn't name this part.", stray[0], "Don't trust this file; ask for it again.")
        documents = [_read_part(archive, entries, part, limits) for part in manifest.parts]
    return manifest, tuple(documents)


def _check_outline(infos: list[zipfile.ZipInfo], limits: BundleLimits) -> None:
    if len(infos) > limits.parts:
        raise BundleError(f"The bundle has {len(infos)} parts, and {limits.parts} is the most.")
    seen: set[str] = set()
    for info in infos:
        path = info.filename
        if path.startswith(("/", "\\")) or ":" in path or "\\" in path or ".." in path.split("/"):
            raise BundleError("This path leads outside the bundle.", path[:120], "Don't trust this file.")
        if path in seen:
            raise BundleError("This part stands twice.", path[:120], "Don't trust this file.")
        seen.add(path)
    total = sum(i.file_size for i in infos)
    if total > limits.unpacked:
        raise BundleError(
            f"Unpacked, the bundle would have {total / 1048576:.0f} MB, and {limits.unpacked // 1048576} MB is the most."
        )


def _unpack(archive: zipfile.ZipFile, info: zipfile.ZipInfo, limits: BundleLimits) -> bytes:
    most = min(info.file_size, limits.unpacked)
    if info.file_size > limits.ratio * max(info.compress_size, 64):
        raise BundleError("This part blows up when it is unpacked.", info.filename, "Don't trust this file.")
    try:
        with archive.open(info) as stream:
            # One byte more than the header promises shows a header that lies.
            body = stream.read(most + 1)
    except _DAMAGED as error:
        raise BundleError("This part can't be unpacked.", info.filename, "Export the bundle again.") from error
    if len(body) > most:
        raise BundleError("This part is larger than it says.", info.filename, "Don't trust this file.")
    return body


def _read_manifest(body: bytes) -> Manifest:
    try:
        return read_document(read_json(body), {"amberkey/bundle@1": Manifest})
    except DocumentError as error:
        raise BundleError(str(error), MANIFEST) from error


def _read_part(archive: zipfile.ZipFile, entries: dict[str, zipfile.ZipInfo], part: Part, limits: BundleLimits) -> Document:
    info = entries.get(part.path)
    if info is None:
        raise BundleError("The manifest names this part, and it is missing.", part.path, "Export the bundle again.")
    body = _unpack(archive, info, limits)
    if digest_of(body) != part.sha256 or len(body) != part.size:
        raise BundleError(
            "This part is not what the manifest says: its digest is wrong.",
            part.path,
            "It was changed or damaged on the way; ask for the bundle again.",
        )
    try:
        document = read_any(body)
    except DocumentError as error:
        raise BundleError(str(error), part.path) from error
    if (document.format, document.id) != (part.format, part.id):
        raise BundleError("The part's format or id is not what the manifest says.", part.path, "Don't trust this file.")
    return document
