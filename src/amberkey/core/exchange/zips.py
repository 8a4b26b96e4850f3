"""Zip files from elsewhere: nothing is unpacked that lies outside, stands twice, or blows up."""

import io
import lzma
import stat
import zipfile
import zlib
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from amberkey.core.exchange.errors import BundleError

# What unpacking breaks with, whichever of its methods a zip file names.
_DAMAGED = (zipfile.BadZipFile, zlib.error, lzma.LZMAError, RuntimeError, NotImplementedError, EOFError, OSError, ValueError)
_EPOCH = (1980, 1, 1, 0, 0, 0)


@dataclass(frozen=True, slots=True)
class ZipLimits:
    """What a zip file may hold: bytes as a file, bytes unpacked, parts, how far a part may blow up. `called`: what it is."""

    packed: int = 16 * 1024 * 1024
    unpacked: int = 64 * 1024 * 1024
    parts: int = 200
    ratio: int = 200
    called: str = "bundle"


BUNDLE_LIMITS = ZipLimits()


def zipped(parts: Sequence[tuple[str, bytes]]) -> bytes:
    """A zip file of some parts in this order; the same parts give the same bytes."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for path, body in parts:
            info = zipfile.ZipInfo(path, _EPOCH)
            info.compress_type = zipfile.ZIP_DEFLATED
            info.external_attr = 0o644 << 16
            archive.writestr(info, body)
    return out.getvalue()


def check_outline(infos: Sequence[zipfile.ZipInfo], limits: ZipLimits) -> None:
    """Look at what a zip file says it holds. Raises BundleError for what isn't sound, before anything is unpacked."""
    if len(infos) > limits.parts:
        raise BundleError(f"The {limits.called} has {len(infos)} parts, and {limits.parts} is the most.")
    seen: set[str] = set()
    for info in infos:
        path = info.filename
        if path.startswith(("/", "\\")) or ":" in path or "\\" in path or ".." in path.split("/"):
            raise BundleError(f"This path leads outside the {limits.called}.", path[:120], "Don't trust this file.")
        if stat.S_ISLNK(info.external_attr >> 16):
            raise BundleError("This is a link to somewhere else.", path[:120], "Don't trust this file.")
        # Two names that differ by case only are one file on many machines.
        if path.casefold() in seen:
            raise BundleError("This part stands twice.", path[:120], "Don't trust this file.")
        seen.add(path.casefold())
    total = sum(i.file_size for i in infos)
    if total > limits.unpacked:
        most = f"{limits.unpacked // 1048576} MB is the most"
        raise BundleError(f"Unpacked, the {limits.called} would have {total / 1048576:.0f} MB, and {most}.")


def unpacked(archive: zipfile.ZipFile, info: zipfile.ZipInfo, limits: ZipLimits) -> bytes:
    """The bytes of one part. Raises BundleError."""
    most = min(info.file_size, limits.unpacked)
    if info.file_size > limits.ratio * max(info.compress_size, 64):
        raise BundleError("This part blows up when it is unpacked.", info.filename, "Don't trust this file.")
    try:
        with archive.open(info) as stream:
            # One byte more than the header promises shows a header that lies.
            body = stream.read(most + 1)
    except _DAMAGED as error:
        raise BundleError("This part can't be unpacked.", info.filename, "Make it anew.") from error
    if len(body) > most:
        raise BundleError("This part is larger than it says.", info.filename, "Don't trust this file.")
    return body


def files_in(data: bytes, limits: ZipLimits) -> Iterator[tuple[str, bytes | BundleError]]:
    """The files of a zip file by their paths, in its order; of one that can't be unpacked, why.

    Raises BundleError where it is no zip file, or isn't sound as a whole.
    """
    if len(data) > limits.packed:
        raise BundleError(f"The file has {len(data) / 1048576:.0f} MB, and {limits.packed // 1048576} MB is the most.")
    try:
        archive = zipfile.ZipFile(io.BytesIO(data))
    except (zipfile.BadZipFile, ValueError, NotImplementedError, OSError) as error:
        raise BundleError(f"This is not a {limits.called}: it can't be opened.", cure="Make it anew.") from error
    with archive:
        check_outline(archive.infolist(), limits)
        for info in archive.infolist():
            if info.is_dir():
                continue
            try:
                yield info.filename, unpacked(archive, info, limits)
            except BundleError as error:
                yield info.filename, error
