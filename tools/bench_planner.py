"""What a proposal costs and reaches: PYTHONPATH=src .venv/bin/python tools/bench_planner.py [PLATFORM | large [as] [crowded]]

The example organisation: how long its instance takes, the first plan and the proof, the ten points of the curve, all platforms
together, and what the same points say of the standard as it is and of two plans that choose task by task. `large`: two made
organisations of 1,000 tasks and 60 programs, one as dense as the example, one crowded. Seconds; points of `docs/proposing.md`.
"""

import gc
import math
import resource
import sys
import time
from collections.abc import Sequence
from typing import cast

from make_organisation import Size, make
from targets import Target, told

from amberkey.core.clashes.estate import Estate
from amberkey.core.documents.model import Document
from amberkey.core.formats import read_any
from amberkey.core.keys.platform import PLATFORMS, Platform
from amberkey.core.organisation.deriving import derive
from amberkey.core.organisation.model import Organisation
from amberkey.core.profiles.model import Profile
from amberkey.core.programs.model import Program
from amberkey.core.programs.reference import system_tables
from amberkey.core.proposing.apart import Apart
from amberkey.core.proposing.options import Options
from amberkey.core.proposing.proposal import estate_under, judge
from amberkey.core.proposing.propose import Proposer
from amberkey.core.proposing.question import Question
from amberkey.core.standard.model import NO_STANDARD, Line, Standard
from amberkey.core.tasks.model import Tasks
from amberkey.demo.load import DOCUMENTS

POINTS = 10


def example() -> tuple[Estate, Standard]:
    documents = [*system_tables(), *(read_any(p.read_bytes()) for p in sorted(DOCUMENTS.glob("*.json")))]
    return estate_of(documents), next(d for d in documents if isinstance(d, Standard))


def estate_of(documents: Sequence[Document]) -> Estate:
    programs = {(p.id, p.version): p for p in documents if isinstance(p, Program)}
    organisation = next(d for d in documents if isinstance(d, Organisation))
    derived = derive(organisation, {p.id: p.name for p in programs.values()})
    profiles = {p.id: p for p in documents if isinstance(p, Profile)}
    tasks = next(d for d in documents if isinstance(d, Tasks))
    return Estate(derived.setups, programs, profiles, tasks, census=derived.census)


def greedy(options: Options, *, by_reach: bool) -> Standard:
    """Task by task, those of most people first, the easiest or the cheapest key that no task before took."""
    ground, platform = options.ground, options.question.platform
    taken: set[object] = set()
    lines = {v.key: v for v in ground.standard.lines if v.platform != platform}
    for wanted in sorted(options.lines, key=lambda w: (-sum(p.people for f in w.followers for p in f.free), w.name)):
        ordered = wanted.candidates
        if by_reach:
            places = [p for f in wanted.followers for p in f.free]
            ordered = tuple(sorted(ordered, key=lambda c: max((p.hearing.reach(c.shortcut) for p in places), default=0)))
        chosen = next((c for c in ordered if taken.isdisjoint(c.keys.values())), None)
        if chosen is None:
            continue
        taken.update(chosen.keys.values())
        for task, keys in chosen.keys.items():
            line = Line(task=task, platform=platform, layouts=wanted.layouts, keys=keys)
            lines[line.key] = line
    return ground.standard.model_copy(update={"lines": tuple(lines.values())}).normal()


def made_organisations() -> int:
    targets = []
    chosen = sys.argv[2:]
    for name, commands in (("as dense as the example", 3_720), ("crowded", 9_000)):
        if chosen and name.split()[0] not in chosen:
            continue
        estate = estate_of(make(Size(machines=1_000, setups=120, commands=commands, tasks=1_000, kits=10)))
        begun = time.monotonic()
        is_dense = commands < 5_000
        proposer = Proposer(Question("windows", seconds=60), estate, NO_STANDARD, Apart())
        read = time.monotonic() - begun
        found = proposer.propose()
        (options,) = proposer.options
        rows = [greedy(options, by_reach=by_reach) for by_reach in (True, False)]
        others = [judge(options, made, estate_under(proposer.ground, made)).points.total for made in rows]
        print(
            f"{name}: {len(options.lines)} lines, {sum(len(w.candidates) for w in options.lines):,} keys; "
            f"{found.cost:,.0f} points, bound {found.bound:,.0f}{'' if found.over_all else ' among the cheapest keys'}; "
            f"judged {found.judged.points.total:,}, as it is {proposer.today.points.total:,}, task by task {min(others):,}"
        )
        targets += [
            Target(f"{name}: read", read, 120, "s"),
            Target(f"{name}: proposed and judged", time.monotonic() - begun - read, 120 if is_dense else 400, "s"),
            Target(f"{name}: gap", 100 * found.gap, 3 if is_dense else math.inf, "%"),
            Target(f"{name}: memory of the larger process so far", _peak(), 3, "GB"),
            Target(f"{name}: points to those of the better one task by task", found.judged.points.total / min(others), 1),
        ]
    return told(targets)


def _peak() -> float:
    """The most memory that this process or one that it started had, in GB."""
    return max(resource.getrusage(who).ru_maxrss for who in (resource.RUSAGE_SELF, resource.RUSAGE_CHILDREN)) / 1024**2


def main() -> int:
    if sys.argv[1:2] == ["large"]:
        return made_organisations()
    gc.set_threshold(100_000, 50, 1_000)  # as in the server
    platform = cast(Platform, sys.argv[1] if sys.argv[1:] else "windows")
    estate, standard = example()
    begun = time.monotonic()
    first: list[float] = []

    def note(doing: str, cost: float | None, bound: float) -> None:
        if cost is not None and not first:
            first.append(time.monotonic() - begun)

    proposer = Proposer(Question(platform), estate, standard, Apart(), told=note)
    (options,) = proposer.options
    few = proposer.searcher.joined(proposer.question.few)
    instance = time.monotonic() - begun
    best = proposer.propose()
    whole = time.monotonic() - begun
    least = proposer.least_relearned() or 0
    curve = time.monotonic()
    below = list(proposer.curve([least + (best.relearned - least) * n // (POINTS - 1) for n in range(POINTS - 1)]))
    curve = time.monotonic() - curve
    large = proposer.searcher.joined(None)
    print(
        f"{platform}: {len(options.lines)} lines, {sum(len(w.candidates) for w in options.lines):,} keys, "
        f"{len(large.program.costs):,} variables, {len(large.program.rows):,} rows; {len(few.program.costs):,} over a few"
    )
    print(f"objective {best.cost:,.0f}, bound {best.bound:,.0f}, gap {100 * best.gap:.2f} %, {best.status}")
    print(f"{'':34}{'points':>12}{'relearned':>11}{'agreeing':>10}{'clashes':>9}")
    rows = [("as it is", proposer.today), ("the proposal", best.judged)]
    for name, by_reach in (("task by task, the easiest", True), ("task by task, the cheapest", False)):
        made = greedy(options, by_reach=by_reach)
        rows.append((name, judge(options, made, estate_under(proposer.ground, made))))
    for name, judged in rows:
        print(f"{name:34}{judged.points.total:12,}{judged.relearned:11,}{judged.agree:10,}{judged.worst:9,}")
    for point in below:
        figures = f"{point.judged.points.total:12,}{point.relearned:11,}"
        print(f"{f'at most {point.relearned:,} relearned':34}{figures}   gap over all keys {100 * point.gap:.2f} %")
    together = time.monotonic()
    others = tuple(p for p in PLATFORMS if p != platform)
    every = Proposer(Question(platform, others), estate, standard, Apart()).propose()
    together = time.monotonic() - together
    print(f"all platforms: {every.cost:,.0f} points, bound {every.bound:,.0f}, shapes apart {every.judged.points.shapes:,}")
    greedy_best = min(j.points.total for name, j in rows if name.startswith("task"))
    return told(
        [
            Target("instance over a few keys of each line", instance, 6, "s"),
            Target("first plan", first[0] if first else math.inf, 10, "s"),
            Target("proven over all keys, judged", whole, 45, "s"),
            Target("the other points of the curve", curve, 60, "s"),
            Target("all platforms together, judged", together, 120, "s"),
            Target("gap of all platforms together", 100 * every.gap, 0.5, "%"),
            Target("memory of the larger process", _peak(), 3, "GB"),
            Target("points of the better one task by task, to the proposal's", best.judged.points.total / greedy_best, 1),
        ]
    )


if __name__ == "__main__":
    sys.exit(main())
