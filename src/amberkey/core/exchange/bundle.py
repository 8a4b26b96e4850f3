"""`amberkey/bundle@1`: a zip file with a manifest, documents as canonical JSON, settings files made from them, and a signature.

Equal contents make equal bytes: fixed times, fixed order. A bundle that comes in is hostile until its paths, sizes, counts
and digests have been checked against the manifest, and the manifest against its signature.
"""

import io
import zipfile
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from itertools import pairwise
from types import MappingProxyType
from typing import Annotated, Literal

from pydantic import Field

from amberkey.core.documents.canonical import digest_of
from amberkey.core.documents.errors import DocumentError
from amberkey.core.documents.model import Document, Value, read_document
from amberkey.core.documents.reading import read_json
from amberkey.core.exchange.errors import BundleError
from amberkey.core.exchange.rendering import Rendered
from amberkey.core.exchange.signing import HandOver, Signature, SigningKey
from amberkey.core.exchange.zips import BUNDLE_LIMITS, ZipLimits, check_outline, unpacked, zipped
from amberkey.core.formats import read_any
from amberkey.core.keys.platform import Platform
from amberkey.core.programs.model import Program

MANIFEST = "manifest.json"
SIGNATURE = "signature.json"
_ARCHIVES = (b"PK\x03\x04", b"PK\x05\x06", b"\x1f\x8b", b"BZh", b"\xfd7zXZ\0", b"7z\xbc\xaf\x27\x1c", b"Rar!")


Digest = Annotated[str, Field(pattern=r"^[0-9a-f]{64}$")]
LINEAGE = 200
"""How many revisions a part names at most that it was made from."""


Says = Annotated[str, Field(max_length=600)]


class Part(Value):
    """`revision`: the number that the document had where it was made, 0 where it has none. `sections`: those of a document that
    travel, where not all do; `silent`: items ("section: key") that stay all the same. `lineage`: digests of earlier states that
    it was made from, the newest first; where one of them is known too, what was changed since can be told apart on both sides.
    """

    path: Annotated[str, Field(pattern=r"^documents/[a-z0-9][a-z0-9.-]*\.json$", max_length=120)]
    format: str
    id: str
    name: str
    size: Annotated[int, Field(ge=2)]
    sha256: Digest
    revision: Annotated[int, Field(ge=0)] = 0
    sections: tuple[str, ...] | None = None
    silent: Annotated[tuple[str, ...], Field(max_length=1000)] = ()
    lineage: Annotated[tuple[Digest, ...], Field(max_length=LINEAGE)] = ()


class FilePart(Value):
    """A settings file as a program reads it, made from one profile alone. `below_home`: where it lies on a machine; `commands`:
    how many it sets."""

    path: Annotated[
        str,
        Field(
            max_length=500,
            pattern=r"^files/[a-z0-9.-]+/(?:windows|macos|linux)/[a-z0-9.-]+(?:/\.?[A-Za-z0-9][A-Za-z0-9 ._-]*)+$",
        ),
    ]
    profile: str
    program: str
    version: str
    platform: Platform
    below_home: str
    commands: Annotated[int, Field(ge=0)]
    size: Annotated[int, Field(ge=0)]
    sha256: Digest


class Stays(Value):
    """What doesn't travel (or not in every form), and why."""

    what: Says
    why: Says


Lives = Literal["document", "person", "machine", "organisation"]
Goes = Literal["goes", "waits", "stays"]


class Fares(Value):
    """How items of one section of a profile fare: `what`, how many of which in words; where they live once people have them;
    whether this bundle takes them, and if not `why`; how many of them a settings file says; what they need first."""

    profile: str
    section: str
    what: Says
    lives: Lives
    goes: Goes
    why: Says = ""
    in_files: Annotated[int, Field(ge=0)] = 0
    needs: Says = ""


class Manifest(Document):
    """What travels in the bundle, from whom and when (ISO 8601), what needs something at its destination first, what stays.
    `fares`: the same of every item of the profiles, those that fare alike together."""

    format: Literal["amberkey/bundle@1"] = "amberkey/bundle@1"
    made_by: str = ""
    made_at: str = ""
    parts: tuple[Part, ...]
    files: tuple[FilePart, ...] = ()
    needs: tuple[Says, ...] = ()
    stays: tuple[Stays, ...] = ()
    fares: tuple[Fares, ...] = ()


@dataclass(frozen=True, slots=True)
class Signing:
    """With what a bundle is signed: the key, what its organisation calls itself, and who handed over to whom before."""

    key: SigningKey
    name: str
    handovers: tuple[HandOver, ...] = ()


@dataclass(frozen=True)
class Bundle:
    """A bundle that was checked. `files`: settings files by their path in it. `signature`: if there is one, it fits; whose it
    is says `who_signed`."""

    manifest: Manifest
    documents: tuple[Document, ...]
    files: Mapping[str, bytes] = field(default_factory=dict)
    signature: Signature | None = None


def _place_of(document: Document) -> str:
    kind = document.format.partition("/")[2].partition("@")[0]
    # A profile stands under its id alone, as it always did.
    named = document.id if kind == "profile" else f"{kind}-{document.id}"
    version = f"-{document.version.lower()}" if isinstance(document, Program) else ""
    return f"documents/{named}{version}.json"


def path_of(profile: str, file: Rendered) -> str:
    """Where a settings file that was made from a profile (by its id) stands in a bundle."""
    return f"files/{profile}/{file.platform}/{file.program.id}/{file.path}"


def write_bundle(
    documents: Sequence[Document],
    *,
    bundle_id: str,
    name: str,
    made_by: str = "",
    made_at: str = "",
    needs: tuple[str, ...] = (),
    stays: tuple[Stays, ...] = (),
    fares: tuple[Fares, ...] = (),
    files: Mapping[str, Sequence[Rendered]] = MappingProxyType({}),
    lineages: Mapping[str, Sequence[str]] = MappingProxyType({}),
    revisions: Mapping[str, int] = MappingProxyType({}),
    sections: Mapping[str, tuple[str, ...]] = MappingProxyType({}),
    silent: Mapping[str, tuple[str, ...]] = MappingProxyType({}),
    signing: Signing | None = None,
) -> bytes:
    """Pack documents; the same documents and words give the same bytes. By a document's id: `files`, settings files made from
    it; `lineages`, what it was made from; `revisions`, its number; `sections`, those that travel, where not all do; `silent`,
    items of them that stay.

    Raises BundleError for a document given twice."""
    bodies = sorted(((_place_of(d), d, d.to_bytes()) for d in documents), key=lambda one: one[0])
    doubled = next((a[0] for a, b in pairwise(bodies) if a[0] == b[0]), None)
    if doubled is not None:
        raise BundleError("Two of the documents are the same one.", doubled, "Pack each once.")
    rendered = {path_of(profile, f): (profile, f) for profile, those in files.items() for f in those if f.data}
    manifest = Manifest(
        id=bundle_id,
        name=name,
        made_by=made_by,
        made_at=made_at,
        needs=needs,
        stays=stays,
        fares=fares,
        parts=tuple(
            Part(
                path=path,
                format=d.format,
                id=d.id,
                name=d.name,
                size=len(body),
                sha256=digest_of(body),
                revision=revisions.get(d.id, 0),
                sections=sections.get(d.id),
                silent=silent.get(d.id, ()),
                lineage=tuple(lineages.get(d.id, ()))[:LINEAGE],
            )
            for path, d, body in bodies
        ),
        files=tuple(
            FilePart(
                path=path,
                profile=profile,
                program=f.program.id,
                version=f.program.version,
                platform=f.platform,
                below_home=f.path,
                commands=len(f.commands),
                size=len(f.data),
                sha256=digest_of(f.data),
            )
            for path, (profile, f) in sorted(rendered.items(), key=lambda one: one[0])
        ),
    )
    head = manifest.to_bytes()
    packed = [(MANIFEST, head)]
    if signing is not None:
        packed.append((SIGNATURE, signing.key.sign(head, signing.name, signing.handovers).to_bytes()))
    packed += [(path, body) for path, _, body in bodies] + [(path, rendered[path][1].data) for path in sorted(rendered)]
    return zipped(packed)


def read_bundle(data: bytes, limits: ZipLimits = BUNDLE_LIMITS) -> Bundle:
    """Unpack and check a bundle. Raises BundleError naming the part and the cure, before anything unfit is unpacked; also for a
    signature that isn't of this manifest. Where there is none, or one of an unknown key, it is read all the same."""
    if len(data) > limits.packed:
        raise BundleError(f"The file has {len(data) / 1048576:.0f} MB, and {limits.packed // 1048576} MB is the most.")
    try:
        archive = zipfile.ZipFile(io.BytesIO(data))
    except (zipfile.BadZipFile, ValueError, NotImplementedError) as error:
        raise BundleError("This is not a bundle: it can't be opened as a zip file.", cure="Export it again.") from error
    with archive:
        entries = {info.filename: info for info in archive.infolist()}
        check_outline(archive.infolist(), limits)
        if MANIFEST not in entries:
            raise BundleError("The bundle has no manifest.", MANIFEST, "Export it again.")
        head = unpacked(archive, entries[MANIFEST], limits)
        signature = _read_signature(unpacked(archive, entries[SIGNATURE], limits), head) if SIGNATURE in entries else None
        manifest = _read_manifest(head)
        named = {p.path for p in manifest.parts} | {p.path for p in manifest.files}
        stray = sorted(entries.keys() - named - {MANIFEST, SIGNATURE})
        if stray:
            raise BundleError("The manifest doesn't name this part.", stray[0], "Don't trust this file; ask for it again.")
        documents = tuple(_read_part(archive, entries, part, limits) for part in manifest.parts)
        files = {part.path: _read_file(archive, entries, part, limits) for part in manifest.files}
    return Bundle(manifest, documents, files, signature)


def _read_signature(body: bytes, manifest: bytes) -> Signature:
    try:
        signature = read_document(read_json(body), {"amberkey/signature@1": Signature})
    except DocumentError as error:
        raise BundleError(str(error), SIGNATURE) from error
    if not signature.fits(manifest):
        raise BundleError(
            "The signature is not of this bundle: something was changed after it was signed.",
            SIGNATURE,
            "Don't trust this file; ask for it again.",
        )
    return signature


def _read_manifest(body: bytes) -> Manifest:
    try:
        return read_document(read_json(body), {"amberkey/bundle@1": Manifest})
    except DocumentError as error:
        raise BundleError(str(error), MANIFEST) from error


def _read_part(archive: zipfile.ZipFile, entries: Mapping[str, zipfile.ZipInfo], part: Part, limits: ZipLimits) -> Document:
    body = _body_of(archive, entries, part, limits)
    try:
        document = read_any(body)
    except DocumentError as error:
        raise BundleError(str(error), part.path) from error
    if (document.format, document.id) != (part.format, part.id):
        raise BundleError("The part's format or id is not what the manifest says.", part.path, "Don't trust this file.")
    return document


def _read_file(archive: zipfile.ZipFile, entries: Mapping[str, zipfile.ZipInfo], part: FilePart, limits: ZipLimits) -> bytes:
    if part.path != f"files/{part.profile}/{part.platform}/{part.program}/{part.below_home}":
        raise BundleError("The settings file stands elsewhere than the manifest says.", part.path, "Don't trust this file.")
    body = _body_of(archive, entries, part, limits)
    if body.startswith(_ARCHIVES):
        raise BundleError("There is an archive where a settings file should be.", part.path, "Don't trust this file.")
    return body


def _body_of(
    archive: zipfile.ZipFile, entries: Mapping[str, zipfile.ZipInfo], part: Part | FilePart, limits: ZipLimits
) -> bytes:
    info = entries.get(part.path)
    if info is None:
        raise BundleError("The manifest names this part, and it is missing.", part.path, "Export the bundle again.")
    body = unpacked(archive, info, limits)
    if digest_of(body) != part.sha256 or len(body) != part.size:
        raise BundleError(
            "This part is not what the manifest says: its digest is wrong.",
            part.path,
            "It was changed or damaged on the way; ask for the bundle again.",
        )
    return body
