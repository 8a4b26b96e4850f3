"""What is wrong with a binding whatever else there is, and with entries that mean nothing."""

from collections.abc import Iterator, Sequence

from amberkey.core.clashes.binding import Binding
from amberkey.core.clashes.model import Clash
from amberkey.core.clashes.part import Part, placeholder
from amberkey.core.clashes.winners import focus_of
from amberkey.core.layouts.keyboard import Keyboard
from amberkey.core.layouts.reach import reach_of
from amberkey.core.layouts.stroke import Stroke

_FAR_STRETCH = 1.5  # key widths beyond an easy span


def orphans(part: Part) -> Iterator[Clash]:
    """Entries that name a command or a scope that the program doesn't have."""
    for orphan in part.effective.orphans:
        lost = placeholder(orphan, part.effective, part.ground.platform)
        yield Clash("orphan", "medium", part.ground.platform, None, None, lost, None, why=orphan.what)
    for one in part.effective.placed:
        if one.lost:
            binding = Binding(
                *(part.program, one.command, (), one.scope, one.shortcut, one.layer, 0, ()), asleep=one.lost, placed=one
            )
            yield Clash("orphan", "medium", part.ground.platform, None, None, binding, None, why=one.lost)


def alone(part: Part, binding: Binding) -> Iterator[Clash]:
    """What is wrong with a binding whatever else there is."""
    platform = part.ground.platform
    if binding.unreachable:
        why = binding.unreachable
        yield Clash("out_of_reach", "blocker", platform, None, None, binding, None, why=why, focus=focus_of(binding))
    elif binding.refused:
        yield Clash("cannot", "blocker", platform, None, None, binding, None, why=binding.refused, focus=focus_of(binding))
    elif binding.ways and not binding.asleep:
        for stroke in binding.ways[0]:
            why = why_awkward(stroke, part)
            if why:
                yield Clash("awkward", "low", platform, stroke, binding, None, None, why=why, focus=focus_of(binding))
                return


def why_awkward(stroke: Stroke, part: Part) -> str:
    """Why a stroke is hard to press, in words; empty where it isn't."""
    return awkward_on(stroke, part.ground.keyboard)


def awkward_on(stroke: Stroke, keyboard: Keyboard) -> str:
    """Why a stroke is hard to press on a keyboard, in words; empty where it isn't."""
    found = keyboard.awkward.get(stroke)
    if found is None:
        found = keyboard.awkward[stroke] = _why_awkward(stroke, keyboard)
    return found


def _why_awkward(stroke: Stroke, keyboard: Keyboard) -> str:
    mods = stroke.modifiers
    if not mods:
        return ""
    if "AltGraph" in mods and len(mods) > 1:
        return "AltGr with another modifier"
    if len(mods) >= 3:
        return f"{len(mods)} modifiers at once"
    reach = reach_of(stroke, keyboard.body, keyboard.remaps)
    if reach.stretch > _FAR_STRETCH:
        return f"one hand stretches {reach.stretch:.0f} key widths too far"
    if len(mods) == 2 and "far" in reach.flags:
        return "two modifiers and a far key"
    return ""


def doubled(part: Part, bindings: Sequence[Binding]) -> Iterator[Clash]:
    """The same shortcut twice on one command; one that says the side of a modifier is in one that doesn't."""
    seen: dict[tuple[object, ...], Binding] = {}
    for binding in sorted(bindings, key=lambda b: -len(b.ways)) if part.ground.keyboard.sides else bindings:
        if not binding.live:
            continue
        at = (binding.arguments, binding.scope)
        first = seen.get((*at, binding.ways[0])) if part.ground.keyboard.sides else seen.get((*at, binding.ways))
        for way in (binding.ways, *(binding.ways if part.ground.keyboard.sides else ())):
            seen.setdefault((*at, way), binding)
        if first is not None:
            meet = first.shortcut != binding.shortcut
            stroke = binding.ways[0][0]
            yield Clash(
                *("duplicate", "low", part.ground.platform, stroke, first, binding, None),
                spellings_meet=meet,
                focus=focus_of(binding),
            )
