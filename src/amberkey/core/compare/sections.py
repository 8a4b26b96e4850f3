"""Which lists of which documents are compared item by item, and what makes an item the same one.

Everything not named here is compared as a whole field.
"""

import json
from collections.abc import Callable, Mapping

from amberkey.core.documents.canonical import Json

Item = Mapping[str, Json]
KeyOf = Callable[[Item], str]


def entry_key(entry: Item) -> str:
    """Identity of a profile entry: program, command, arguments, platform, layouts."""
    key = f"{entry['program']}/{entry['command']} on {entry['platform']}"
    if entry.get("arguments"):
        key += f" with {json.dumps(entry['arguments'], sort_keys=True, ensure_ascii=False)}"
    return key + _for_layouts(entry)


def _for_layouts(item: Item) -> str:
    layouts = item.get("layouts")
    return f" for {', '.join(sorted(map(str, layouts)))}" if isinstance(layouts, list) and layouts else ""


def translation_key(item: Item) -> str:
    """Identity of a per-window translation: program, scope, platform, press."""
    where = f"{item['program']}/{item['scope']}" if item.get("scope") else str(item["program"])
    return f"{item['keys']} in {where} on {item['platform']}"


def reserved_key(item: Item) -> str:
    """Identity of a reserved press: the press, its platform, the program that it is reserved in, layouts."""
    where = f" in {item['program']}" if item.get("program") else ""
    return f"{item['keys']}{where} on {item['platform']}{_for_layouts(item)}"


def line_key(item: Item) -> str:
    """Identity of a line of a standard: task, platform, layouts."""
    return f"{item['task']} on {item['platform']}{_for_layouts(item)}"


def exception_key(item: Item) -> str:
    """Identity of an exception from a standard: task, program, platform, layouts."""
    return f"{item['task']} in {item['program']} on {item['platform']}{_for_layouts(item)}"


def meaning_key(item: Item) -> str:
    """Identity of a key that is allowed to mean several things: the key, its platform."""
    return f"{item['keys']} on {item['platform']}"


def seat_key(item: Item) -> str:
    """Identity of a seat: who sits at which machine."""
    return f"{item['person']} at {item['machine']}"


def use_key(item: Item) -> str:
    """Identity of what is known of a role's use of a command."""
    return f"{item['role']} uses {item['program']}/{item['command']}"


def _remap_key(item: Item) -> str:
    return str(item["key"])


def _id_key(item: Item) -> str:
    return str(item["id"])


def _clash_key(item: Item) -> str:
    return str(item["clash"])


SECTIONS: dict[str, dict[str, KeyOf]] = {
    "amberkey/profile@1": {
        "entries": entry_key,
        "launchers": _id_key,
        "remaps": _remap_key,
        "translations": translation_key,
        "reserved": reserved_key,
        "sets": _id_key,
    },
    "amberkey/standard@1": {"lines": line_key, "exceptions": exception_key, "meanings": meaning_key},
    "amberkey/tasks@1": {"tasks": _id_key, "families": _id_key},
    "amberkey/decisions@1": {"allowances": _clash_key, "meant": _clash_key},
    "amberkey/program@1": {"commands": _id_key, "scopes": _id_key, "caret": _id_key, "switches": _id_key, "add_ons": _id_key},
    "amberkey/organisation@1": {
        "departments": _id_key,
        "roles": _id_key,
        "kits": _id_key,
        "people": _id_key,
        "machines": _id_key,
        "seats": seat_key,
        "uses": use_key,
    },
}


ORDERED = frozenset({"amberkey/program@1"})
"""Documents whose lists mean something by their order; the lists of all others are kept in the order of their keys."""


def is_ordered(document: Item) -> bool:
    return str(document.get("format")) in ORDERED


def sections_of(document: Item) -> dict[str, KeyOf]:
    return SECTIONS.get(str(document.get("format")), {})
