"""`amberkey bundle make | inspect | verify | key`: signed bundles from files, and what is in them."""

import os
import pathlib
from argparse import Namespace
from collections.abc import Sequence
from typing import cast

from amberkey.cli.answer import Answer, Facts, columns
from amberkey.cli.errors import Wrong
from amberkey.cli.files import read_one, shelf_of
from amberkey.core.documents.errors import DocumentError
from amberkey.core.documents.model import Document, read_document
from amberkey.core.documents.reading import read_json
from amberkey.core.exchange.account import account_of, fares_of
from amberkey.core.exchange.bundle import Bundle, Fares, Part, Signing, Stays, read_bundle, write_bundle
from amberkey.core.exchange.errors import BundleError, KeyFault
from amberkey.core.exchange.rendering import Rendered
from amberkey.core.exchange.signing import KeyCard, Signer, SigningKey, fingerprint, who_signed
from amberkey.core.exchange.travelling import needs_of, travel
from amberkey.core.exchange.zips import BUNDLE_LIMITS
from amberkey.core.profiles.model import Profile
from amberkey.core.programs.editions import figures_of
from amberkey.core.programs.model import Program


def bundle(asked: Namespace) -> tuple[list[Answer], int]:
    """Exit code 1: `verify` of a bundle that nobody signed, or nobody whose key was given."""
    match asked.what:
        case "make":
            return _made(asked), 0
        case "key":
            return _key(asked), 0
        case "inspect":
            found, signer = _opened(asked.file, asked.trust)
            return _inspected(found, signer), 0
        case _:
            found, signer = _opened(asked.file, asked.trust)
            facts: Facts = {"signer": _signer_facts(signer), "parts": len(found.manifest.parts)}
            whole = f"It is whole: {len(found.manifest.parts)} documents and {len(found.manifest.files)} settings files."
            return [Answer(f"{whole} {_say(signer)}", facts)], int(signer.state != "known")


def _made(asked: Namespace) -> list[Answer]:
    documents = [read_one(path, Document) for path in asked.document]  # type: ignore[type-abstract, unused-ignore]
    programs = _programs(asked.document, asked.more)
    chosen = [s for text in asked.sections for s in text.split(",")] or None
    packed: list[Document] = []
    stays: list[Stays] = []
    fares: list[Fares] = []
    files: dict[str, tuple[Rendered, ...]] = {}
    sections: dict[str, tuple[str, ...]] = {}
    silent: dict[str, tuple[str, ...]] = {}
    try:
        for document in documents:
            if not isinstance(document, Profile):
                packed.append(document)
                continue
            found = travel(document, programs, chosen, may_run=lambda _: bool(asked.vouch))
            packed.append(found.profile)
            stays += found.stays
            fares += fares_of(
                document.id, account_of(document, programs, chosen=found.sections, may_run=lambda _: bool(asked.vouch))
            )
            files[document.id] = found.files
            if found.sections:
                sections[document.id] = found.sections
            silent[document.id] = found.silent
        needs = needs_of([d for d in packed if isinstance(d, Profile)], programs)
        name = asked.name or documents[0].name
        data = write_bundle(
            packed,
            bundle_id=documents[0].id,
            name=name,
            needs=needs,
            stays=tuple(dict.fromkeys(stays)),
            fares=tuple(fares),
            files=files,
            sections=sections,
            silent=silent,
            signing=_signing(asked),
        )
        made = read_bundle(data)
    except BundleError as error:
        raise Wrong(str(error)) from error
    _keep(asked.to, data, mode=0o644)
    told = f"{len(made.manifest.parts)} documents and {len(made.manifest.files)} settings files are in {asked.to}"
    signer = f", signed with the key {fingerprint(made.signature.key)}." if made.signature else ", signed by nobody."
    return [Answer(told + signer, {"to": asked.to, **_facts(made)})]


def _programs(beside: Sequence[str], more: Sequence[str]) -> dict[str, Program]:
    """The newest version of each program in the files beside and in those given."""
    shelf = shelf_of(beside, more)
    newest = sorted(shelf.programs, key=lambda key: (figures_of(key[1]), key[1]))
    return {name: read_one(str(shelf.programs[name, version]), Program) for name, version in newest}


def _signing(asked: Namespace) -> Signing | None:
    if not asked.key:
        return None
    key = _secret(asked.key)
    handovers = tuple(_secret(path).hand_over(key) for path in asked.before)
    return Signing(key, asked.organisation or "An organisation without a name", handovers)


def _key(asked: Namespace) -> list[Answer]:
    """A new secret key, and its public card."""
    key = SigningKey(os.urandom(32))
    handovers = tuple(_secret(path).hand_over(key) for path in asked.before)
    card = key.card(asked.organisation or "An organisation without a name", handovers)
    seed = key.to_text()
    _keep(asked.to, seed.encode(), mode=0o600, new=True)
    if asked.card:
        _keep(asked.card, card.to_bytes(), mode=0o644)
    told = f"A new key is in {asked.to}; whoever has that file signs in your name. Others know it by {fingerprint(key.public)}."
    return [Answer(told, {"to": asked.to, "fingerprint": fingerprint(key.public), "card": card.to_json()})]


def _secret(path: str) -> SigningKey:
    try:
        return SigningKey.from_text(pathlib.Path(path).read_text("ascii"))
    except OSError as error:
        raise Wrong(f"{path} can't be read ({error.strerror}).") from error
    except (KeyFault, UnicodeDecodeError) as error:
        raise Wrong(f"{path}: {KeyFault.__doc__} A signing key has 64 hexadecimal digits.") from error


def _opened(path: str, cards: Sequence[str]) -> tuple[Bundle, Signer]:
    file = pathlib.Path(path)
    try:
        if file.stat().st_size > BUNDLE_LIMITS.packed:
            raise Wrong(f"{path} has more than {BUNDLE_LIMITS.packed // 1048576} MB. No bundle has.")
        found = read_bundle(file.read_bytes())
    except OSError as error:
        raise Wrong(f"{path} can't be read ({error.strerror}).") from error
    except BundleError as error:
        raise Wrong(f"{path}: {error}", {"file": path, "part": error.part}) from error
    trusted = {card.key: card.name for card in map(_card, cards)}
    return found, who_signed(found.signature, trusted)


def _card(path: str) -> KeyCard:
    try:
        data = pathlib.Path(path).read_bytes()
        return read_document(read_json(data), {"amberkey/key@1": KeyCard})
    except OSError as error:
        raise Wrong(f"{path} can't be read ({error.strerror}).") from error
    except DocumentError as error:
        raise Wrong(f"{path} is no public key: {error}") from error


def _inspected(found: Bundle, signer: Signer) -> list[Answer]:
    manifest = found.manifest
    lines = [
        f"{manifest.name}" + (f", made by {manifest.made_by}" if manifest.made_by else ""),
        _say(signer),
        "",
        columns([(p.format, p.name, f"revision {p.revision}" if p.revision else "", _only(p)) for p in manifest.parts]),
    ]
    if manifest.files:
        rows = [(f.path, f"{f.commands} {'command' if f.commands == 1 else 'commands'}") for f in manifest.files]
        lines += ["", "Settings files, as programs read them:", columns(rows)]
    if manifest.needs:
        lines += ["", "Needed first:", *(f"  {n}" for n in manifest.needs)]
    if manifest.fares:
        lines += ["", "Of the profiles:", columns([_fare(f) for f in manifest.fares])]
    if manifest.stays:
        lines += ["", "Stays:", *(f"  {s.what}: {s.why}" for s in manifest.stays)]
    return [Answer("\n".join(lines), {"signer": _signer_facts(signer), **_facts(found)})]


def _fare(one: Fares) -> tuple[str, ...]:
    lives = "of the organisation" if one.lives == "organisation" else f"with the {one.lives}"
    return one.what, f"lives {lives}", one.goes, f"{one.in_files} in settings files" if one.in_files else "", one.needs


def _only(part: Part) -> str:
    return f"only {', '.join(part.sections)}" if part.sections else ""


def _say(signer: Signer) -> str:
    match signer.state:
        case "unsigned":
            return "Nobody signed it."
        case "known":
            after = ", with a key that followed the one given" if signer.handed_over else ""
            return f"Signed by {signer.name}{after} ({signer.fingerprint})."
        case _:
            return f"Signed with a key that wasn't given ({signer.fingerprint}); it calls itself {signer.name}."


def _signer_facts(signer: Signer) -> dict[str, object]:
    return {"state": signer.state, "name": signer.name, "fingerprint": signer.fingerprint}


def _facts(found: Bundle) -> Facts:
    return {"manifest": cast(object, found.manifest.to_json())}


def _keep(to: str, data: bytes, *, mode: int, new: bool = False) -> None:
    """`new`: never in place of a file that is there."""
    flags = os.O_WRONLY | os.O_CREAT | (os.O_EXCL if new else os.O_TRUNC)
    try:
        with os.fdopen(os.open(to, flags, mode), "wb") as out:
            out.write(data)
    except OSError as error:
        raise Wrong(f"{to} can't be written ({error.strerror}).") from error
