"""Clashes as SARIF 2.1.0 (OASIS), the form in which build systems and editors take findings."""

import pathlib
from collections.abc import Iterable, Mapping
from functools import cache
from typing import Literal

from amberkey import __version__
from amberkey.core.clashes.binding import Binding
from amberkey.core.clashes.model import CLASH_KINDS, Clash
from amberkey.core.clashes.wording import KIND_WORDS
from amberkey.core.containers.errors import SettingsFileError
from amberkey.core.containers.json_tree import JsonTree
from amberkey.core.containers.tree import Node
from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.profiles.decisions import Severity
from amberkey.core.profiles.effective import DEFAULT
from amberkey.core.profiles.setup import Setup

Level = Literal["error", "warning", "note"]
LEVELS: Mapping[Severity, Level] = {"blocker": "error", "high": "error", "medium": "warning", "low": "note"}
SCHEMA = "https://docs.oasis-open.org/sarif/sarif/v2.1.0/errata01/os/schemas/sarif-schema-2.1.0.json"


Files = Mapping[str, pathlib.Path]
"""By the id of a profile, or id@version of a program, the file that holds it."""


def sarif_log(results: Iterable[dict[str, object]]) -> dict[str, object]:
    """A log with one run."""
    rules = [{"id": kind, "shortDescription": {"text": KIND_WORDS[kind]}} for kind in CLASH_KINDS]
    driver = {"name": "Amber Key", "semanticVersion": __version__, "rules": rules}
    run = {"tool": {"driver": driver}, "columnKind": "unicodeCodePoints", "results": list(results)}
    return {"$schema": SCHEMA, "version": "2.1.0", "runs": [run]}


def sarif_result(clash: Clash, says: str, setup: Setup, setup_path: str, files: Files) -> dict[str, object]:
    """One clash on one setup. It stands where the binding is said that would be moved first; the others are its related
    locations.
    """
    others = [b for b in clash.parties if b is not clash.subject]
    related = [{**_location(b, files, setup_path), "message": {"text": _named(b)}} for b in others]
    return {
        "ruleId": clash.kind,
        "ruleIndex": CLASH_KINDS.index(clash.kind),
        "level": LEVELS[clash.severity],
        "message": {"text": f"{setup.name}: {says}"},
        "locations": [_location(clash.subject, files, setup_path)],
        **({"relatedLocations": related} if related else {}),
        "partialFingerprints": {"clashIdentity/v1": clash.identity, "setup/v1": setup.id},
        "properties": {"severity": clash.severity, "setup": setup.id},
    }


def _named(binding: Binding) -> str:
    return f"{binding.command.name}, in {binding.program.name}: {binding.shortcut}"


def _location(binding: Binding, files: Files, setup_path: str) -> dict[str, object]:
    program = f"{binding.program.id}@{binding.program.version}"
    path = files.get(program if binding.layer == DEFAULT else binding.layer)
    artifact = path if path is not None else pathlib.Path(setup_path)
    line = _line(artifact, binding) if path is not None else None
    physical: dict[str, object] = {"artifactLocation": {"uri": _uri(artifact)}}
    if line is not None:
        physical["region"] = {"startLine": line}
    return {
        "physicalLocation": physical,
        "logicalLocations": [{"fullyQualifiedName": f"{binding.program.id}/{binding.command.id}", "kind": "member"}],
    }


def _uri(path: pathlib.Path) -> str:
    """Relative to where the command was given, where that is above; percent-encoded as RFC 3986 wants."""
    full = path.resolve()
    here = pathlib.Path.cwd()
    if full.is_relative_to(here):
        return full.relative_to(here).as_posix().replace("%", "%25").replace(" ", "%20")
    return full.as_uri()


def _line(path: pathlib.Path, binding: Binding) -> int | None:
    """The line in which a document says a binding: that of its entry (with this very shortcut, if there is one), or of its
    command. None where it can't be found."""
    text, root = _tree(path)
    if root is None:
        return None
    section, name = ("commands", "id") if binding.layer == DEFAULT else ("entries", "command")
    items = root.get(section)
    found = [i for i in (items.items or () if items else ()) if _said(i, name) == binding.command.id]
    if binding.layer != DEFAULT:
        found = [i for i in found if _said(i, "program") == binding.program.id] or found
    exact = [i for i in found if _has(i, binding.shortcut)]
    node = next(iter(exact or found), None)
    return None if node is None else text.count("\n", 0, node.start) + 1


def _said(node: Node, name: str) -> object:
    member = node.get(name)
    return member.value if member is not None and member.is_scalar else None


def _has(node: Node, shortcut: Shortcut) -> bool:
    return any(_said(one, "keys") == str(shortcut) for one in ((node.get("shortcuts") or node).items or ()))


@cache
def _tree(path: pathlib.Path) -> tuple[str, Node | None]:
    try:
        text = path.read_text("utf-8")
        return text, JsonTree().open(text, {}).root
    except (OSError, UnicodeDecodeError, SettingsFileError):
        return "", None
