"""Reading a bundle that somebody chose: one profile of it, checked from its first byte, and who signed it."""

from dataclasses import dataclass

from ninja.files import UploadedFile

from amberkey.core.compare.operations import Operation
from amberkey.core.exchange.bundle import DEFAULT_BUNDLE_LIMITS, Bundle, Part, read_bundle
from amberkey.core.exchange.errors import BundleError
from amberkey.core.exchange.signing import Signer
from amberkey.core.profiles.model import Profile
from amberkey.server.exchange.keys import signer_of


@dataclass(frozen=True)
class Opened:
    """A bundle, the profile of it that is brought in, and what the bundle says of that profile."""

    bundle: Bundle
    part: Part
    profile: Profile
    signer: Signer

    @property
    def profiles(self) -> tuple[Profile, ...]:
        """All profiles that are in it."""
        return _profiles(self.bundle)

    def speaks_of(self, one: Operation) -> bool:
        """Whether the bundle says anything of a difference: it may hold chosen sections only."""
        return self.part.sections is None or one.section in self.part.sections


def open_bundle(file: UploadedFile, profile_id: str = "") -> Opened:
    """`profile_id`: which of several profiles; else the first. Raises BundleError."""
    most = DEFAULT_BUNDLE_LIMITS.packed
    if (file.size or 0) > most:
        raise BundleError(f"The file has {(file.size or 0) / 1048576:.0f} MB, and {most // 1048576} MB is the most.")
    bundle = read_bundle(file.read())
    profiles = _profiles(bundle)
    if not profiles:
        raise BundleError("The bundle holds no profile.", cure="Export a profile.")
    found = next((p for p in profiles if p.id == profile_id), None) if profile_id else profiles[0]
    if found is None:
        raise BundleError(f"The bundle holds no profile {profile_id[:80]}.", cure="Choose one that it holds.")
    part = next(p for p in bundle.manifest.parts if (p.format, p.id) == (found.format, found.id))
    return Opened(bundle, part, found, signer_of(bundle.signature))


def _profiles(bundle: Bundle) -> tuple[Profile, ...]:
    return tuple(d for d in bundle.documents if isinstance(d, Profile))
