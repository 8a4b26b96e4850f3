"""A plan's own world: what it wants on each machine, from the state of the documents that it brings."""

import datetime
from dataclasses import dataclass
from functools import cached_property

from django.utils import timezone

from amberkey.core.clashes.board import Board
from amberkey.core.descriptions.described import Described, place_of
from amberkey.core.programs.model import Program
from amberkey.core.rollout.model import Window
from amberkey.server.estate import board_of, derived_of, estate_of
from amberkey.server.fleet.models import Agent, MachineFile, Root
from amberkey.server.fleet.setups import setup_in
from amberkey.server.fleet.verbs.watch import described_by
from amberkey.server.library.approving import may_lie
from amberkey.server.rollouts.models import Carried, Plan

SILENT_AFTER = datetime.timedelta(minutes=5)
SETTLED = (Carried.State.IN_STEP, Carried.State.LEFT_OUT, Carried.State.TAKEN_BACK)


@dataclass(frozen=True, slots=True)
class Wanted:
    """A file as the plan's state describes it."""

    board: Board
    program: Program
    how: Described


class World:
    """Everything that moving a plan's rows asks, worked out once."""

    def __init__(self, plan: Plan) -> None:
        self.plan, self.document = plan, plan.document
        self.estate, self.derived = estate_of(plan.documents), derived_of(plan.documents)
        self._may_lie = may_lie()

    @property
    def now(self) -> datetime.datetime:
        """By the clock of the organisation."""
        return timezone.localtime()

    def board_for(self, agent: Agent) -> Board | None:
        """What holds where an agent works; None where nothing of the plan's state does."""
        setup_id = setup_in(self.derived, agent)
        return board_of(self.estate, setup_id) if setup_id in self.estate.setups else None

    def wanted(self, file: MachineFile) -> Wanted | None:
        """How a file is described in the plan's state; None where it isn't."""
        board = self.board_for(file.agent)
        program = board.setup.program(file.program) if board is not None else None
        described = (
            described_by(file, program, board.setup.setup.works_on) if board is not None and program is not None else None
        )
        if board is None or program is None or described is None:
            return None
        return Wanted(board, program, described[1])

    def may_lie(self, file: MachineFile, wanted: Wanted) -> bool:
        """Whether somebody approved where the file lies."""
        platform = wanted.board.setup.setup.works_on
        return file.root == Root.STORE or self._may_lie(wanted.program, platform, place_of(file.root, file.path))

    def window(self, wave: int) -> Window:
        """When the machines of a wave may be written to; newcomers when those of the last wave may."""
        waves = self.document.waves
        return waves[min(wave, len(waves) - 1)].window

    def overlap_until(self, wave: int) -> datetime.date | None:
        """The day from which keys that were given up don't work any more on the machines of a wave; None where they don't at
        once."""
        days, opened = self.document.overlap_days, self.plan.opened.get(str(wave))
        if not days or opened is None:
            return None
        until = timezone.localdate(datetime.datetime.fromisoformat(opened)) + datetime.timedelta(days=days)
        return until if until > timezone.localdate() else None

    @cached_property
    def waits_for(self) -> dict[str, int]:
        """The machines that an earlier release has in hand, with its number."""
        found: dict[str, int] = {}
        earlier = Plan.objects.filter(number__lt=self.plan.number, state__in=("running", "paused", "going back"))
        for plan in earlier.order_by("number"):
            for machine in in_hand(plan):
                found.setdefault(machine, plan.number)
        return found

    @cached_property
    def later(self) -> frozenset[str]:
        """The machines that a later release has brought something to, or will: this one lets them be."""
        found: set[str] = set()
        for plan in Plan.objects.filter(number__gt=self.plan.number).exclude(state=Plan.State.TAKEN_BACK):
            found.update(m for wave in plan.waves for m in wave)
        return frozenset(found)

    def silent(self, agent: Agent) -> bool:
        """Whether an agent hasn't been heard for a while."""
        return agent.heard_at is None or agent.heard_at < self.now - SILENT_AFTER


def in_hand(plan: Plan) -> set[str]:
    """The machines that a plan under way may still write to."""
    machines = {m for wave in plan.waves for m in wave}
    opened = {m for n, wave in enumerate(plan.waves) if str(n) in plan.opened for m in wave}
    rows = plan.rows.exclude(state__in=SETTLED).values_list("machine_id", flat=True)
    return (machines - opened) | (set(rows) & machines)
