"""What was chosen as a standard, and what the engine says of it: nothing is shown that was not recomputed."""

from collections import Counter
from collections.abc import Iterable, Mapping, Sequence, Set
from dataclasses import dataclass
from typing import NamedTuple

from amberkey.core.clashes.binding import Binding
from amberkey.core.clashes.estate import Estate
from amberkey.core.clashes.part import Part
from amberkey.core.keys.platform import PLATFORM_NAMES, Platform
from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.layouts.keyboard import Way
from amberkey.core.proposing.costs import line_cost, reach_points
from amberkey.core.proposing.ground import Ground, Place, Post
from amberkey.core.proposing.instance import Choice
from amberkey.core.proposing.options import Candidate, Options, Wanted
from amberkey.core.standard.compiling import Compiler, with_layer
from amberkey.core.standard.model import Exempt, Line, MakesRoom, Standard


class Points(NamedTuple):
    """What a standard costs people, each kind of trouble for itself: see `Weights`."""

    relearned: int = 0
    first: int = 0
    not_agreeing: int = 0
    lost: int = 0
    cleared: int = 0
    lines: int = 0
    """Reach, letters and changed lines."""
    moved: int = 0
    """The reach of the keys of commands that make room."""
    clashes: int = 0
    meanings: int = 0
    """Keys that people have for several tasks."""
    shapes: int = 0
    """Tasks that have different shapes on platforms that were chosen together."""

    @property
    def total(self) -> int:
        """All together."""
        return sum(self)


@dataclass(frozen=True, slots=True)
class Judged:
    """A standard as the engine finds it. `relearned`: keys over all people; `agree`, `could`: programs times people that have
    the line's key, and all; `worst`: blocker and high clashes times people."""

    points: Points
    relearned: int
    agree: int
    could: int
    worst: int


def together(judged: Sequence[Judged], shapes: int) -> Judged:
    """What the engine finds on several platforms, summed up. `shapes`: points for what differs between them."""
    points = Points(*map(sum, zip(*(j.points for j in judged), strict=True)))
    figures = [sum(getattr(j, name) for j in judged) for name in ("relearned", "agree", "could", "worst")]
    return Judged(points._replace(shapes=shapes), *figures)


LEFT_ALONE = "The program was left alone."


def standard_of(
    options: Options,
    lines: Iterable[tuple[Wanted, Candidate]],
    choices: Iterable[Choice],
    reasons: Mapping[str, str],
    before: Standard,
) -> Standard:
    """What a standard becomes by some choices for one platform: lines, exceptions where a program keeps its own, commands that
    make room. `reasons`: by the name of a post, why it keeps its own key or makes room."""
    platform = options.question.platform
    found = {v.key: v for v in before.lines}
    keys: dict[tuple[str, tuple[str, ...]], Line] = {}
    for wanted, candidate in lines:
        for task in wanted.tasks:
            line = Line(task=task.id, platform=platform, layouts=wanted.layouts, keys=candidate.keys[task.id])
            old = found.get(line.key)
            if old is None or old.shortcut != line.shortcut:
                found[line.key] = line
            keys[task.id, wanted.layouts] = line
    exceptions = {e.key: e for e in before.exceptions}
    rooms: dict[int, tuple[Post, list[Choice]]] = {}
    lent: list[MakesRoom] = []
    for choice in choices:
        post = choice.post
        if choice.does in ("moves", "loses", "clears"):
            rooms.setdefault(id(post), (post, []))[1].append(choice)
            continue
        kept = keys.get((post.task or "", post.layouts)) if choice.does == "keeps" else None
        if kept is not None and any(not place.why_not(kept.shortcut) for place in post.free):
            made = _let_off(post, platform, reasons.get(post.name) or f"It keeps its own key on {PLATFORM_NAMES[platform]}.")
            exceptions.setdefault(made.key, made)
    spared = [p for p in options.ground.posts if p.program in options.question.spared and (p.task or "", p.layouts) in keys]
    for post in spared:
        line = keys[post.task or "", post.layouts]
        if any(set(place.ways(line.shortcut)).isdisjoint(_ways(post.now(place))) for place in post.free):
            made = _let_off(post, platform, LEFT_ALONE)
            exceptions.setdefault(made.key, made)
            now = [b.shortcut for b in post.now(post.free[0])]
            if now != [b.shortcut for b in post.bindings(post.free[0])]:
                lent.append(_with_keys(post, now, LEFT_ALONE))
    making: dict[str, MakesRoom] = {}
    for room in (*(_room(post, own, reasons.get(post.name, "")) for post, own in rooms.values()), *lent):
        # A command has the same by itself on all layouts: only what it may have on each of them.
        other = making.get(room.key, room)
        making[room.key] = room.model_copy(update={"keys": tuple(k for k in room.keys if k in other.keys)})
    value = {
        **dict(before),
        "lines": tuple(found.values()),
        "exceptions": tuple(exceptions.values()),
        "makes_room": (*(r for r in before.makes_room if r.platform != platform), *making.values()),
    }
    return Standard.model_validate(value).normal()


def _let_off(post: Post, platform: Platform, reason: str) -> Exempt:
    """A program that needn't follow the line of a command's task, where that is asked for."""
    layouts = post.layouts or post.among
    return Exempt(task=post.task or "", program=post.program, platform=platform, layouts=layouts, reason=reason)


def _room(post: Post, own: Iterable[Choice], reason: str) -> MakesRoom:
    """What a command has by itself from then on."""
    place = post.free[0]
    shortcuts = [b.shortcut for b in post.bindings(place)]
    for choice in own:
        if choice.does == "clears":
            shortcuts = [s for s in shortcuts if s != choice.shortcut]
        elif choice.does == "moves":
            shortcuts[:1] = [choice.shortcut]
        else:
            del shortcuts[:1]
    return _with_keys(post, shortcuts, reason)


def _with_keys(post: Post, shortcuts: Iterable[Shortcut], reason: str) -> MakesRoom:
    platform, keys = post.places[0].part.ground.platform, tuple(dict.fromkeys(shortcuts))
    return MakesRoom(program=post.program, command=post.command.id, platform=platform, keys=keys, reason=reason)


def estate_under(ground: Ground, standard: Standard, compiler: Compiler | None = None) -> Estate:
    """The estate as it would be under a standard."""
    return with_layer(ground.base, (compiler or Compiler()).compile(standard, ground.base))


def judge(options: Options, standard: Standard, after: Estate) -> Judged:
    """A standard in points and figures, everything read from the boards that it leads to."""
    ground = options.ground
    weights = ground.question.weights
    parts = {id(p): after.board(p.setups[0].id).parts[p.program.id] for p in ground.places}
    relearned = first = agree = could = people_relearning = lost = cleared = not_agreeing = moved = 0
    lined = {id(p) for w in options.lines for p in w.followers}
    for post in ground.posts:
        if post.task is None and post.free:
            moved += _moved(options, post, parts)
        for place in post.free:
            weight = post.factor * place.people
            now = [b for b in parts[id(place)].commanded(post.in_place(place).id) if not b.arguments]
            before, bare = _ways(post.now(place)), post.bindings(place)
            ways = _ways(now)
            key = _key_of_line(standard, post, place)
            agrees = key is not None and not ways.isdisjoint(key)
            # What people press for a task from then on is the line's key, whatever else goes on working.
            pressed = key if agrees and key is not None else ways
            if not now and bare:
                lost += weights.lost * weight
            elif ways and before.isdisjoint(pressed):
                if before:
                    people_relearning += place.people
                    relearned += weights.relearned * weight
                else:
                    first += weights.first * weight
            if now:
                had = {b.shortcut for b in now}
                # The first is replaced by a line's or another key, unless there is none instead.
                replaced = post.task is not None or not had <= {b.shortcut for b in bare}
                cleared += weights.cleared * weight * sum(b.shortcut not in had for b in bare[replaced:])
            if id(post) in lined:
                could += place.people
                if agrees:
                    agree += place.people
                else:
                    not_agreeing += weights.not_agreeing * weight
    clashes = worst = 0
    for setup_id in sorted({s.id for p in ground.places for s in p.setups}):
        people = after.people_of([after.setups[setup_id]])
        for clash in after.clashes(setup_id):
            clashes += weights.clashes[clash.severity] * people
            worst += people * (clash.severity in ("blocker", "high"))
    lines = sum(_line_points(options, standard, wanted) for wanted in options.lines)
    meanings = _meanings(options, standard)
    points = Points(relearned, first, not_agreeing, lost, cleared, lines, moved, clashes, meanings)
    return Judged(points, people_relearning, agree, could, worst)


def _moved(options: Options, post: Post, parts: Mapping[int, Part]) -> int:
    """The reach of a key that a command without a line got instead of its own."""
    place = post.free[0]
    now = parts[id(place)].commanded(post.in_place(place).id)
    bare = {b.shortcut for b in post.bindings(place)}
    if not now or not bare or now[0].arguments or now[0].shortcut in bare:
        return 0
    return reach_points(options.ground, post, now[0].shortcut)


def _ways(bindings: Iterable[Binding]) -> set[Way]:
    return {way for b in bindings if b.live for way in b.ways}


def _key_of_line(standard: Standard, post: Post, place: Place) -> Set[Way] | None:
    """The ways of the key that a command's line has in a place; None without a line."""
    ruling = standard.rulings(place.part.ground.platform, place.layout).get(post.task or "")
    return set(place.ways(ruling.line.shortcut)) if ruling is not None else None


def _meanings(options: Options, standard: Standard) -> int:
    """What lines with one key cost those who have both tasks."""
    platform = options.question.platform
    keys = {
        (id(wanted), task.id): line.shortcut
        for wanted in options.lines
        for task in wanted.tasks
        for line in standard.lines_of(task.id, platform)
        if line.layouts == wanted.layouts
    }
    found = 0
    for people, tasks in options.audiences:
        had = Counter(keys[one] for one in tasks if one in keys)
        found += people * sum(n - 1 for n in had.values())
    return options.question.weights.two_meanings * found


def _line_points(options: Options, standard: Standard, wanted: Wanted) -> int:
    """What the keys of a line cost; nothing where it has none yet."""
    platform = options.question.platform
    keys = {
        task.id: line.shortcut
        for task in wanted.tasks
        for line in standard.lines_of(task.id, platform)
        if line.layouts == wanted.layouts
    }
    return line_cost(options.ground, wanted, keys) if keys else 0
