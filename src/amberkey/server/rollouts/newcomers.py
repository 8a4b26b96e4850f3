"""Machines that come after a release has ended get it too: enrolled later, made anew, or given to somebody else."""

from amberkey.server.fleet.models import Agent
from amberkey.server.rollouts.models import Carried, Plan
from amberkey.server.rollouts.opening import give_rows
from amberkey.server.rollouts.reaching import reaches_setup
from amberkey.server.rollouts.world import World


def welcome() -> int:
    """Give machines that the last release which ended would reach, and hadn't, their rows in it. Returns how many."""
    plan = Plan.objects.filter(state=Plan.State.DONE).order_by("-number").first()
    if plan is None:
        return 0
    world = World(plan)
    known = set(plan.rows.values_list("machine_id", flat=True)) | {m for wave in plan.waves for m in wave}
    fresh = set()
    for agent in Agent.objects.exclude(token_hash="").exclude(machine__in=known).select_related("machine"):
        board = world.board_for(agent)
        if board is not None and agent.machine_id not in world.later and reaches_setup(plan.of, board.setup.setup):
            fresh.add(agent.machine_id)
    if fresh:
        give_rows(world, Carried.NEWCOMERS, sorted(fresh))
    return len(fresh)
