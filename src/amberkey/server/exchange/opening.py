"""Reading a bundle that somebody chose: one profile, checked from its first byte."""

from ninja.files import UploadedFile

from amberkey.core.exchange.bundle import DEFAULT_BUNDLE_LIMITS, Manifest, Part, read_bundle
from amberkey.core.exchange.errors import BundleError
from amberkey.core.profiles.model import Profile


def open_bundle(file: UploadedFile) -> tuple[Manifest, Part, Profile]:
    """What the bundle says of itself and of its profile, and the profile. Raises BundleError."""
    most = DEFAULT_BUNDLE_LIMITS.packed
    if (file.size or 0) > most:
        raise BundleError(f"The file has {(file.size or 0) / 1048576:.0f} MB, and {most // 1048576} MB is the most.")
    manifest, documents = read_bundle(file.read())
    profiles = [d for d in documents if isinstance(d, Profile)]
    if len(profiles) != 1:
        raise BundleError(f"The bundle holds {len(profiles)} profiles, and one is wanted.", cure="Export one profile.")
    (profile,) = profiles
    return manifest, next(p for p in manifest.parts if (p.format, p.id) == (profile.format, profile.id)), profile
