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


def after_remaps(stroke: Stroke, remaps: Remaps) -> Stroke:
    """What the system hears of a physical stroke. Modifiers of a stroke are those that are heard already."""
    if stroke.code is None or stroke.code not in remaps:
        return stroke
    becomes = remaps[stroke.code]
    if becomes in MODIFIER_CODES:
        return Stroke(None, stroke.modifiers | {MODIFIER_CODES[becomes]})
    return Stroke(becomes, stroke.modifiers)


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
