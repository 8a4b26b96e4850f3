"""What comes in: a bundle's profile or a program's settings file, told first, then taken as far as somebody chose."""

from typing import Annotated, Literal

from django.http import HttpRequest
from ninja import File, Form, Router
from ninja.files import UploadedFile
from pydantic import Field

from amberkey.core.compare.views import Does
from amberkey.core.documents.reading import read_json
from amberkey.core.exchange.errors import BundleError
from amberkey.core.exchange.from_file import ReadAs
from amberkey.core.exchange.preview import How, Preview, preview_import
from amberkey.core.exchange.signing import Signer
from amberkey.core.exchange.telling import MEANINGS, Meaning
from amberkey.core.exchange.travelling import SECTION_WORDS
from amberkey.core.keys.platform import PLATFORM_NAMES
from amberkey.core.profiles.model import Profile
from amberkey.server.exchange.keys import own_keys
from amberkey.server.exchange.opening import Asked, Coming, open_coming
from amberkey.server.exchange.outgoing import StayingOut
from amberkey.server.exchange.verbs.take import chosen_of, take
from amberkey.server.library.documents import known_programs, load
from amberkey.server.library.sight import sees_document
from amberkey.server.people.acting import By, actor_of
from amberkey.server.people.models import Role
from amberkey.server.problems import NotFound, Problem
from amberkey.server.schema import NamedOut, Schema, Words
from amberkey.server.workbench.would import WouldOut, would

router = Router(tags=["exchange"])
_MOST_UNREAD = 200


class DifferenceOut(Schema):
    key: str
    does: Does
    says: str
    refused: str
    means: Meaning
    title: str
    """What that means, in words."""
    nothing: str
    against: str
    """What was done here with the same since both were the same: taking the difference gives that up."""


class SignerOut(Schema):
    """Who signed, in a sentence; `fingerprint` to compare by telephone, empty where nobody did."""

    state: Literal["unsigned", "known", "unknown"]
    says: str
    fingerprint: str


class _Asked(Schema):
    """`part`: which profile of a bundle, by id; `program` (id@version), `platform` and `number`: as what a settings file is
    read; else what fits best."""

    part: Words = ""
    program: Words = ""
    platform: Words = ""
    number: Annotated[int, Field(ge=0, le=100)] = 0

    @property
    def asked(self) -> Asked:
        return Asked(self.part, self.program, self.platform, self.number)


class LookIn(_Asked):
    """`how`: empty for the usual way."""

    how: Literal["", "add", "replace", "missing", "merge"] = ""


class BringIn(_Asked):
    """`chosen`: a JSON list of the keys of differences."""

    how: How = "add"
    chosen: str

    def keys_chosen(self) -> list[str]:
        """Raises BundleError where it is no such list."""
        keys = read_json(self.chosen.encode())
        if not isinstance(keys, list) or not all(isinstance(k, str) for k in keys):
            raise BundleError("The choice is not a list of differences.")
        return [str(k) for k in keys]


class WayOut(Schema):
    """How a settings file can be read: as that of a program (id@version) on a platform, the `number`th that it describes (from
    0). `commands`: how many it names."""

    program: str
    name: str
    platform: str
    number: int
    path: str
    commands: int


class PreviewOut(Schema):
    """`how`: the way that was asked for, or else the usual one. `made_from`: the revision here that it was made from; 0 where
    that isn't known, and then it can't be merged.

    Of a bundle: `signer`, its `profiles`, of which `part` is looked at, `sections` in words, where not all of the profile
    travelled. Of a settings file: `ways` to read it, the first of which was taken unless another was asked for (`way`), and
    what of it isn't read (`unread`, sentences with lines).
    """

    how: How
    made_from: int
    signer: SignerOut | None
    ways: list[WayOut]
    way: WayOut | None
    unread: list[str]
    part: str
    profiles: list[NamedOut]
    sections: list[str]
    needs: list[str]
    stays: list[StayingOut]
    files: int
    bundle: str
    made_by: str
    made_at: str
    profile: str
    into: str
    differences: list[DifferenceOut]
    unchanged: int


class TakenOut(Schema):
    id: int
    title: str


@router.post("/profiles/{profile_id}/import/preview", response=PreviewOut)
def preview(
    request: HttpRequest,
    profile_id: str,
    file: File[UploadedFile],
    given: Form[LookIn],
) -> PreviewOut:
    """What bringing in a bundle's profile, or a settings file, would add, change and remove. The usual way is to merge where
    both were made from something that is known, and to add otherwise.
    """
    into = _into(profile_id)
    coming = open_coming(file, given.asked, into)
    way = given.how or ("merge" if coming.origin else "add")
    found = _preview(into, coming, way)
    manifest = coming.opened.bundle.manifest if coming.opened else None
    return PreviewOut(
        how=way,
        made_from=coming.origin.number if coming.origin else 0,
        signer=_signer(coming.opened.signer) if coming.opened else None,
        ways=[_way(w) for w in coming.ways],
        way=_way(coming.read) if coming.read else None,
        unread=_unread(coming.read),
        part=coming.profile.id,
        profiles=[NamedOut(id=p.id, name=p.name) for p in (coming.opened.profiles if coming.opened else ())],
        sections=[SECTION_WORDS.get(s, s) for s in (coming.opened.part.sections or () if coming.opened else ())],
        needs=list(manifest.needs) if manifest else [],
        stays=[StayingOut(what=s.what, why=s.why) for s in manifest.stays] if manifest else [],
        files=len(manifest.files) if manifest else 0,
        bundle=coming.title,
        made_by=manifest.made_by if manifest else "",
        made_at=manifest.made_at if manifest else "",
        profile=coming.profile.name,
        into=into.name,
        differences=[
            DifferenceOut(
                key=d.key,
                does=d.does,
                says=d.says,
                refused=d.refused,
                means=d.means,
                title=MEANINGS[d.means],
                nothing=d.nothing,
                against=found.against.get(d.key, ""),
            )
            for d in found.differences
        ],
        unchanged=found.unchanged,
    )


@router.post("/profiles/{profile_id}/import/plan", response=WouldOut)
def plan_import(
    request: HttpRequest,
    profile_id: str,
    file: File[UploadedFile],
    given: Form[BringIn],
) -> WouldOut:
    """Which clashes the chosen differences (a JSON list of their keys) would solve and make. Nothing is written."""
    into = _into(profile_id)
    found = _preview(into, open_coming(file, given.asked, into), given.how)
    return would(profile_id, chosen_of(found, given.keys_chosen()))


@router.post("/profiles/{profile_id}/import", response=TakenOut, auth=By(Role.EDITOR))
def take_import(
    request: HttpRequest,
    profile_id: str,
    file: File[UploadedFile],
    given: Form[BringIn],
) -> TakenOut:
    """Take the chosen differences (a JSON list of their keys); the file is checked again from its first byte."""
    actor = actor_of(request)
    into = _into(profile_id)
    coming = open_coming(file, given.asked, into)
    change_set = take(actor, profile_id, coming, _preview(into, coming, given.how), given.keys_chosen())
    return TakenOut(id=change_set.id, title=change_set.title)


def _way(read: ReadAs) -> WayOut:
    return WayOut(
        program=f"{read.program.id}@{read.program.version}",
        name=f"{read.program.name} {read.program.version} on {PLATFORM_NAMES[read.platform]}",
        platform=read.platform,
        number=read.number,
        path=read.how.path.get(read.platform, ""),
        commands=read.known,
    )


def _unread(read: ReadAs | None) -> list[str]:
    if read is None:
        return []
    found = [f"Line {u.line} can't be read and is left alone: {u.says}" for u in read.settings.unread]
    found += [f"{name}: {read.program.name} {read.program.version} has no such command." for name in read.foreign]
    if read.settings.missing:
        found.append(f"The file has no {read.settings.missing}; the program may never have been started.")
    return found[:_MOST_UNREAD]


def _signer(signer: Signer) -> SignerOut:
    after = ", with a key that followed the one that is known" if signer.handed_over else ""
    says = {
        "unsigned": "Nobody signed it: whether it is what was sent can't be told.",
        "known": f"Signed by {signer.name}{after}.",
        "unknown": f"Signed with a key that nobody here knows. It calls itself {signer.name}, which proves nothing.",
    }[signer.state]
    if signer.key in own_keys():
        says = "Signed here, by your own organisation."
    return SignerOut(state=signer.state, says=says, fingerprint=signer.fingerprint)


def _into(profile_id: str) -> Profile:
    """The profile that something is brought into. A preview says what is in it, so it is for those who may see it."""
    if not sees_document(f"profile/{profile_id}"):
        raise NotFound(f"profile {profile_id[:80]}")
    return load(f"profile/{profile_id}", Profile)


def _preview(into: Profile, coming: Coming, how: How) -> Preview:
    if how == "merge" and coming.origin is None:
        raise Problem(
            409,
            f"What {coming.title} and {into.name} were made from isn't known here.",
            "So what was done there can't be told from what was done here.",
            "Add, replace, or take only what is missing.",
        )
    base = coming.origin.base if coming.origin else None
    return preview_import(into, coming.profile, known_programs(), how=how, base=base, speaks_of=coming.says_of)
