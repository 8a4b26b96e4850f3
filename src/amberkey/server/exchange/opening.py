"""Reading what somebody chose to bring in: a bundle, checked from its first byte, or a program's settings file."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from ninja.files import UploadedFile

from amberkey.core.compare.operations import Operation
from amberkey.core.documents.texts import unfit_for_a_name
from amberkey.core.exchange.as_sheets.profile import NEEDED, profile_from
from amberkey.core.exchange.as_sheets.standard import NEEDED as STANDARD_NEEDED
from amberkey.core.exchange.as_sheets.standard import standard_from
from amberkey.core.exchange.bundle import Bundle, Part, read_bundle
from amberkey.core.exchange.errors import BundleError, SheetError
from amberkey.core.exchange.from_file import ReadAs, as_profile, readings, speaks_of, speaks_of_preference
from amberkey.core.exchange.sheets import Sheet, is_packed, read_heads, read_sheet, too_large
from amberkey.core.exchange.signing import Signer
from amberkey.core.exchange.zips import BUNDLE_LIMITS
from amberkey.core.profiles.model import Entry, Profile
from amberkey.core.profiles.preferences import Preference
from amberkey.core.standard.model import Standard
from amberkey.server.estate import current_standard
from amberkey.server.exchange.keys import signer_of
from amberkey.server.exchange.origin import Origin, origin_of
from amberkey.server.exchange.setup_files import LARGEST_FILE
from amberkey.server.library.documents import known_programs, programs_by_key
from amberkey.server.problems import Problem
from amberkey.server.sheets import WHILE_WAITING

_SHEETS = (".csv", ".ods", ".xlsx")
_LONGEST_TITLE = 100
_ZIP = b"PK\x03\x04"


@dataclass(frozen=True)
class Coming:
    """What is to be brought into a profile. `says_of`: whether it says anything of a difference. `origin`: what both were made
    from, where that is known. `opened` is the bundle, or `read` how a settings file was read, one of `ways`; neither of a
    sheet.
    """

    title: str
    profile: Profile
    says_of: Callable[[Operation], bool]
    origin: Origin | None = None
    opened: "Opened | None" = None
    read: ReadAs | None = None
    ways: tuple[ReadAs, ...] = ()


@dataclass(frozen=True, slots=True)
class Asked:
    """Which profile of a bundle (by id), or which program (id@version), platform and file of its description; empty: whatever
    fits best."""

    part: str = ""
    program: str = ""
    platform: str = ""
    number: int = 0


def open_coming(file: UploadedFile, asked: Asked, into: Profile) -> Coming:
    """A bundle where it is one, or a profile's own sheet, else a settings file. Raises BundleError, SheetError and Problem."""
    begins = file.read(len(_ZIP))
    file.seek(0)
    name = (file.name or "").lower()
    if name.endswith(_SHEETS) and not asked.program:
        sheet = _sheet(file, NEEDED)
        if sheet is not None:
            title = _title(_called(file), into.name)
            return Coming(title, profile_from(sheet, into), lambda one: one.section in ("entries", "sets"))
    if begins != _ZIP and not name.endswith(".zip"):
        return _settings_file(file, asked, into)
    opened = open_bundle(file, asked.part)
    return Coming(
        _title(opened.bundle.manifest.name, opened.profile.name),
        opened.profile,
        opened.speaks_of,
        origin=origin_of(into.id, opened.part),
        opened=opened,
    )


def standard_sheet(file: UploadedFile) -> Standard | None:
    """The standard with what a sheet of it says; None for a file that is no such sheet. Raises SheetError."""
    if not (file.name or "").lower().endswith(_SHEETS):
        return None
    sheet = _sheet(file, STANDARD_NEEDED)
    return standard_from(sheet, current_standard()) if sheet is not None else None


def _sheet(file: UploadedFile, needed: Sequence[str]) -> Sheet | None:
    """The sheet, where it has some columns."""
    if (file.size or 0) > WHILE_WAITING.packed:
        raise SheetError([too_large(file.size or 0, WHILE_WAITING)])
    data = file.read()
    file.seek(0)
    try:
        heads, _ = read_heads(data, limits=WHILE_WAITING)
    except SheetError:
        if is_packed(data):
            raise
        return None  # a settings file may be a table too
    if not {h.casefold() for h in needed} <= {h.casefold() for h in heads}:
        return None
    return read_sheet(data, WHILE_WAITING)


def _called(file: UploadedFile) -> str:
    return (file.name or "").replace("\\", "/").rpartition("/")[2]


def _settings_file(file: UploadedFile, asked: Asked, into: Profile) -> Coming:
    if (file.size or 0) > LARGEST_FILE:
        raise Problem(413, "The settings file is too large.", f"{LARGEST_FILE // 1048576} MB is the most.")
    called = _called(file)
    programs = list(known_programs().values())
    if asked.program:
        wanted = programs_by_key().get(f"program/{asked.program}")
        programs = [wanted] if wanted is not None else []
    ways = readings(file.read(), called, programs)
    fitting = [w for w in ways if asked.platform in ("", w.platform) and (not asked.program or w.number == asked.number)]
    if not fitting:
        raise Problem(
            400,
            "Nothing here reads this file.",
            "It is no bundle, and no described program finds its commands in it.",
            "Describe where its program keeps its keys, or choose another file.",
        )
    read = fitting[0]

    def says_of(one: Operation) -> bool:
        value = one.after if one.after is not None else one.before
        if one.section == "preferences" and isinstance(value, dict):
            return speaks_of_preference(read, Preference.model_validate(value))
        return one.section == "entries" and isinstance(value, dict) and speaks_of(read, Entry.model_validate(value))

    title = _title(called, read.program.name)
    return Coming(title, as_profile(read, title, into), says_of, read=read, ways=tuple(ways))


def _title(text: str, otherwise: str) -> str:
    """What a file or bundle calls itself, where that can stand in a sentence."""
    return otherwise if not text.strip() or unfit_for_a_name(text) else text[:_LONGEST_TITLE]


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
        """Whether the bundle says anything of a difference: it may hold chosen sections only, and items may have stayed."""
        travelled = self.part.sections is None or one.section in self.part.sections
        return travelled and f"{one.section}: {one.key}" not in self.part.silent


def open_bundle(file: UploadedFile, profile_id: str = "") -> Opened:
    """`profile_id`: which of several profiles; else the first. Raises BundleError."""
    most = BUNDLE_LIMITS.packed
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
