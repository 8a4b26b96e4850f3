"""Reading JSON that may be hostile: bounded in bytes and depth, no doubled names, no broken text."""

import json
from dataclasses import dataclass
from typing import NoReturn, cast

from amberkey.core.documents.canonical import Json
from amberkey.core.documents.errors import Fault, NotReadable, TooLarge


@dataclass(frozen=True, slots=True)
class Limits:
    """How much one document may hold. The largest real ones (20,000 entries) stay far below."""

    size: int = 8 * 1024 * 1024
    depth: int = 24


DEFAULT_LIMITS = Limits()
_LONGEST_NUMBER = 100  # digits; Python itself refuses to read more than 4300


def read_json(data: bytes, limits: Limits = DEFAULT_LIMITS) -> Json:
    """Parse UTF-8 JSON. Raises NotReadable (with line and column) or TooLarge; never exhausts the stack."""
    if len(data) > limits.size:
        raise TooLarge(
            [
                Fault(
                    "",
                    f"The document has {len(data) / 1048576:.1f} MB, and {limits.size // 1048576} MB is the most.",
                    "Split it.",
                )
            ]
        )
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise NotReadable(
            [Fault(f"byte {error.start}", "This is not UTF-8 text.", "Save it as UTF-8 and try again.")]
        ) from error
    try:
        value = json.loads(text, object_pairs_hook=_no_doubles, parse_constant=_no_constants, parse_int=_integer)
    except json.JSONDecodeError as error:
        raise NotReadable(
            [Fault(f"line {error.lineno}, column {error.colno}", f"This is not JSON: {error.msg}.", "Mend it there.")]
        ) from error
    except RecursionError as error:
        raise _too_deep(limits) from error
    if _is_deeper(value, limits.depth):
        raise _too_deep(limits)
    _no_lone_surrogates(text, value)
    return cast(Json, value)


def _no_doubles(pairs: list[tuple[str, Json]]) -> dict[str, Json]:
    found: dict[str, Json] = {}
    for name, value in pairs:
        if name in found:
            raise NotReadable([Fault(name, "This name stands twice in one object.", "Keep one of them.")])
        found[name] = value
    return found


def _integer(digits: str) -> int:
    if len(digits) > _LONGEST_NUMBER:
        raise NotReadable([Fault("", f"A number has {len(digits)} digits: {digits[:12]} ...", "No field holds such a number.")])
    return int(digits)


def _no_constants(name: str) -> NoReturn:
    raise NotReadable([Fault("", f"{name} is not a JSON number.", "Use a plain number.")])


def _no_lone_surrogates(text: str, value: object) -> None:
    # Only an escape can bring one in, so plain documents pay nothing.
    if "\\ud" not in text and "\\uD" not in text:
        return
    try:
        json.dumps(value, ensure_ascii=False).encode()
    except UnicodeEncodeError as error:
        raise NotReadable(
            [Fault("", "A text holds half of a character (a lone surrogate).", "Write the whole character.")]
        ) from error


def _too_deep(limits: Limits) -> TooLarge:
    return TooLarge(
        [
            Fault(
                "",
                f"The document nests deeper than {limits.depth} levels.",
                "No Amber Key document does; check where it came from.",
            )
        ]
    )


def _is_deeper(value: object, most: int) -> bool:
    """Whether objects and lists nest deeper than that, level by level and without recursion."""
    level = [value] if isinstance(value, dict | list) else []
    for _ in range(most):
        level = [
            inner
            for outer in level
            for inner in (outer.values() if isinstance(outer, dict) else outer)
            if type(inner) is dict or type(inner) is list
        ]
        if not level:
            return False
    return bool(level)
