"""What is wrong with a value of a document, in our words: never in those of the library that checks it."""

from collections.abc import Callable, Mapping
from typing import Any

UNION_MEMBERS = frozenset({"constrained-str", "int", "str", "float"})
"""Parts of a place that only say which kind of value was tried."""

Error = Mapping[str, Any]


def say_fault(error: Error) -> tuple[str, str]:
    """What is wrong, and what to do, for one error of the models: its `type`, `input`, `ctx` and `msg`."""
    made = _SAYS.get(error["type"])
    if UNION_MEMBERS.intersection(error["loc"]) and error["type"] in ("string_type", "int_type"):
        return f"{_shown(error)} is neither a text nor a whole number.", "Write one of these."
    if made is not None:
        return made(error)
    return f"{error['msg'].removeprefix('Value error, ').rstrip('.')}.", ""


def _shown(error: Error) -> str:
    """The value as it stands in the document, shortened."""
    value = error["input"]
    if isinstance(value, dict):
        return "An object"
    if isinstance(value, list | tuple):
        return "A list"
    text = {True: "true", False: "false", None: "null"}.get(value) if isinstance(value, bool | None) else None
    text = text or (f"{value!r}" if isinstance(value, str) else str(value))
    return text if len(text) <= 60 else f"{text[:57]}..."


def _wanted(what: str, cure: str = "") -> Callable[[Error], tuple[str, str]]:
    return lambda error: (f"{_shown(error)} is not {what}.", cure)


def _one_of(error: Error) -> tuple[str, str]:
    return f"{_shown(error)} is not known here.", f"Use {error['ctx']['expected']}."


def _too_small(error: Error) -> tuple[str, str]:
    return f"{_shown(error)} is too small.", f"Use {error['ctx']['ge']} or more."


def _too_large(error: Error) -> tuple[str, str]:
    return f"{_shown(error)} is too large.", f"Use at most {error['ctx']['le']}."


def _too_short(error: Error) -> tuple[str, str]:
    least = error["ctx"]["min_length"]
    says = f"{_shown(error)} is too short." if error["input"] else "There is nothing here."
    return says, f"Write at least {least} characters." if least > 1 else "Write something."


def _too_long(error: Error) -> tuple[str, str]:
    return f"This text has {len(error['input'])} characters.", f"Use at most {error['ctx']['max_length']}."


def _few(error: Error) -> tuple[str, str]:
    least = error["ctx"]["min_length"]
    return f"This list has {error['ctx']['actual_length']} items.", f"Give {least} or more."


def _many(error: Error) -> tuple[str, str]:
    return "This list has too many items.", f"Give at most {error['ctx']['max_length']}."


_TEXT = _wanted("a text", "Put it in quotes.")
_NUMBER = _wanted("a whole number", "Write it with digits, without quotes.")
_FLAG = _wanted("true or false", "Write true or false, without quotes.")
_LIST = _wanted("a list", "Put it in [ and ].")
_OBJECT = _wanted("an object with fields", "Put it in { and }.")
_DAY = _wanted("a day", 'Write it as "2026-11-24".')
_SAYS: Mapping[str, Callable[[Error], tuple[str, str]]] = {
    "extra_forbidden": lambda _: ("There is no such field here.", "Take it out, or check its spelling."),
    "missing": lambda _: ("This field is missing.", "Add it."),
    "literal_error": _one_of,
    "string_type": _TEXT,
    "int_type": _NUMBER,
    "int_parsing": _NUMBER,
    "int_parsing_size": _NUMBER,
    "int_from_float": _NUMBER,
    "bool_type": _FLAG,
    "bool_parsing": _FLAG,
    "tuple_type": _LIST,
    "list_type": _LIST,
    "dict_type": _OBJECT,
    "model_type": _OBJECT,
    "model_attributes_type": _OBJECT,
    "date_type": _DAY,
    "date_parsing": _DAY,
    "date_from_datetime_parsing": _DAY,
    "date_from_datetime_inexact": _DAY,
    "greater_than_equal": _too_small,
    "less_than_equal": _too_large,
    "string_too_short": _too_short,
    "string_too_long": _too_long,
    "string_pattern_mismatch": _wanted("in the right form", "Use small letters and digits, with - or . between words."),
    "too_short": _few,
    "too_long": _many,
}
