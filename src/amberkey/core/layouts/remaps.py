"""Key remaps: one simultaneous step before everything else, so that two keys can change places."""

from collections.abc import Iterable, Mapping

from amberkey.core.keys.codes import ALL_CODES, MODIFIER_CODES
from amberkey.core.layouts.bodies import Body
from amberkey.core.layouts.errors import RemapError
from amberkey.core.layouts.stroke import Stroke

Remaps = Mapping[str, str]
NO_REMAPS: Remaps = {}


def check_remaps(pairs: Iterable[tuple[str, str]]) -> dict[str, str]:
    """Physical key to the key that it becomes. Raises RemapError naming the key that is wrong.

    Swaps and longer rings are fine, as all happen at once; a key that becomes two keys, or itself, is not.
    """
    found: dict[str, str] = {}
    for physical, becomes in pairs:
        for code in (physical, becomes):
            if code not in ALL_CODES:
                raise RemapError(code, f"{code[:40]} is not the code of a key. Use a W3C code such as CapsLock or ControlLeft.")
        if physical == becomes:
            raise RemapError(physical, f"{physical} becomes itself. Take the remap out.")
        if physical in found:
            raise RemapError(
                physical, f"{physical} is remapped twice, to {found[physical]} and to {becomes}. Keep one of them."
            )
        found[physical] = becomes
    return found


def after_remaps(stroke: Stroke, body: Body, remaps: Remaps) -> Stroke:
    """What the system hears of what the fingers do.

    A modifier whose keys are all remapped acts as what the first of them becomes; one of which a key is left stays, as people
    take that one. A modifier may stand under the code of the key that is held, and of one that acts as a modifier it is known
    which.
    """
    if not remaps:
        return stroke
    held: set[str] = set()
    key = stroke.code
    for modifier in stroke.modifiers:
        becomes = _acts_as(modifier, body, remaps)
        if becomes in MODIFIER_CODES or becomes not in ALL_CODES:
            held.add(becomes)
        elif key is None and len(stroke.modifiers) == 1:
            return Stroke(becomes, frozenset())  # tapped alone, it is the key that it became
    if key is not None:
        key = remaps.get(key, key)
    if key in MODIFIER_CODES:
        return Stroke(None, frozenset(held | {key}))
    return Stroke(key, frozenset(held))


def _acts_as(modifier: str, body: Body, remaps: Remaps) -> str:
    """The modifier, or the code of the key, that a held modifier acts as."""
    if modifier in ALL_CODES:
        return remaps.get(modifier, modifier)
    keys = ["AltRight"] if modifier == "AltGraph" else [c for c, m in MODIFIER_CODES.items() if m == modifier]
    keys = [c for c in keys if c in body.codes]
    return modifier if not keys or any(c not in remaps for c in keys) else remaps[keys[0]]


def makers_of(code: str, body: Body, remaps: Remaps) -> tuple[str, ...]:
    """The keys of a body that make a code after the remaps."""
    own = (code,) if code in body.codes and code not in remaps else ()
    return (*own, *(k for k, becomes in remaps.items() if becomes == code and k in body.codes))


def unmade_keys(body: Body, remaps: Remaps) -> frozenset[str]:
    """Keys that nothing makes any more: remapped away, and no other key became them."""
    return frozenset(k for k in remaps if k in body.codes and not makers_of(k, body, remaps))


def makeable_codes(body: Body, remaps: Remaps) -> frozenset[str]:
    """Every code that can be made on a body after the remaps."""
    kept = body.codes - remaps.keys()
    return kept | {becomes for k, becomes in remaps.items() if k in body.codes}
