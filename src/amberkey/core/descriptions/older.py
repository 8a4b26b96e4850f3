"""Descriptions as program documents had them at first, one list of objects in a JSON file, read as what they are now."""

from collections.abc import Mapping
from typing import Any

_MODIFIERS = ("Control", "Alt", "Shift", "Meta", "AltGraph")


def upgraded(old: Mapping[str, Any]) -> dict[str, Any]:
    """The description that says the same today. What isn't there is what it was by default then."""
    dialect = old.get("dialect") or {}
    separator = dialect.get("separator", "+")
    words = dialect.get("modifiers") or {m: m for m in _MODIFIERS}
    small = bool(dialect.get("lower_case"))
    keys = dict(dialect.get("keys") or {})
    keys.setdefault("+", "plus" if small else "Plus")
    return {
        "path": old.get("path", {}),
        "container": "json",
        "at": old.get("entries_at", ()),
        "command": old.get("command_field"),
        "keys": {"at": old.get("keys_field"), "form": old.get("keys_as", "list")},
        "dialect": {
            "modifiers": {m: [f"{word}{separator}"] for m, word in words.items()},
            "order": dialect.get("order", _MODIFIERS),
            "then": [dialect.get("then", " ")],
            "letters": "small" if small else "as they are",
            "keys": keys,
        },
    }
