"""The sections of documents: lists whose items are told apart, kept in order, compared and carried one by one.

One table says of each what makes an item the same one, whether its order means something, and what an item is called.
Everything not named here is a field, taken as a whole.
"""

import json
from collections.abc import Callable, Mapping
from dataclasses import dataclass

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


def shelf_key(item: Item) -> str:
    """Identity of a shelf: program, row."""
    return f"{item['shelf']} in {item['program']}"


def menu_group_key(item: Item) -> str:
    """Identity of a group in a program's menus: program, id."""
    return f"{item['id']} in {item['program']}"


def macro_key(item: Item) -> str:
    """Identity of a macro: program, id."""
    return f"{item['id']} in {item['program']}"


def preference_key(item: Item) -> str:
    """Identity of a preference: program, preference, platform."""
    where = f" on {item['platform']}" if item.get("platform") else ""
    return f"{item['preference']} in {item['program']}{where}"


def line_key(item: Item) -> str:
    """Identity of a line of a standard: task, platform, layouts."""
    return f"{item['task']} on {item['platform']}{_for_layouts(item)}"


def exception_key(item: Item) -> str:
    """Identity of an exception from a standard: task, program, platform, layouts."""
    return f"{item['task']} in {item['program']} on {item['platform']}{_for_layouts(item)}"


def meaning_key(item: Item) -> str:
    """Identity of a key that is allowed to mean several things: the key, its platform."""
    return f"{item['keys']} on {item['platform']}"


def room_key(item: Item) -> str:
    """Identity of a command that makes room for a standard: command, program, platform."""
    return f"{item['command']} in {item['program']} on {item['platform']}"


def seat_key(item: Item) -> str:
    """Identity of a seat: who sits at which machine."""
    return f"{item['person']} at {item['machine']}"


def use_key(item: Item) -> str:
    """Identity of what is known of a role's use of a command."""
    return f"{item['role']} uses {item['program']}/{item['command']}"


def _id_of(item: Item) -> str:
    return str(item["id"])


@dataclass(frozen=True, slots=True)
class Section:
    """`key_of` tells an item of the JSON value apart, `by` names the same thing on the item's model. `called`: an item in a
    sentence, before its key. `ordered`: the order of the items means something, so it is kept as it is."""

    called: str
    key_of: KeyOf = _id_of
    by: str = "id"
    ordered: bool = False


def _own(name: str) -> KeyOf:
    return lambda item: str(item[name])


SECTIONS: Mapping[str, Mapping[str, Section]] = {
    "amberkey/profile@1": {
        "entries": Section("entry", entry_key, "key"),
        "launchers": Section("launcher"),
        "remaps": Section("remap of", _own("key"), "key"),
        "translations": Section("translation", translation_key, "key"),
        "reserved": Section("reserved press", reserved_key, "key"),
        "sets": Section("set"),
        "shelves": Section("shelf", shelf_key, "key"),
        "menu_groups": Section("menu group", menu_group_key, "key"),
        "abbreviations": Section("abbreviation"),
        "macros": Section("macro", macro_key, "key"),
        "preferences": Section("preference", preference_key, "key"),
    },
    "amberkey/standard@1": {
        "lines": Section("line", line_key, "key"),
        "exceptions": Section("exception", exception_key, "key"),
        "meanings": Section("key with two meanings", meaning_key, "key"),
        "makes_room": Section("command that makes room", room_key, "key"),
    },
    "amberkey/tasks@1": {"tasks": Section("task"), "families": Section("family")},
    "amberkey/decisions@1": {
        "allowances": Section("allowance of", _own("clash"), "clash"),
        "meant": Section("word on", _own("clash"), "clash"),
    },
    "amberkey/program@1": {
        "commands": Section("command", ordered=True),
        "scopes": Section("scope", ordered=True),
        "caret": Section("caret press", ordered=True),
        "switches": Section("switch", ordered=True),
        "add_ons": Section("add-on", ordered=True),
    },
    "amberkey/organisation@1": {
        "departments": Section("department"),
        "roles": Section("role"),
        "kits": Section("kit"),
        "people": Section("person"),
        "machines": Section("machine"),
        "seats": Section("seat", seat_key, "key"),
        "uses": Section("use", use_key, "key"),
    },
}
NO_SECTIONS: Mapping[str, Section] = {}


def is_ordered(document: Item) -> bool:
    """Whether the lists of a document mean something by their order; all others are kept in the order of their keys."""
    return any(section.ordered for section in sections_of(document).values())


def sections_of(document: Item) -> Mapping[str, Section]:
    """The sections of a JSON document, by the format that it names."""
    return SECTIONS.get(str(document.get("format")), NO_SECTIONS)


def called(section: str) -> str:
    """What an item of a section is called, whichever format has it."""
    return next((found[section].called for found in SECTIONS.values() if section in found), section)
