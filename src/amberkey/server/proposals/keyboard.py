"""A proposed standard as a drawn keyboard: which key is whose task, and where that is another one than it is now."""

from collections import Counter
from collections.abc import Mapping

from amberkey.core.clashes.board import Board
from amberkey.core.documents.model import read_document
from amberkey.core.formats import FORMATS
from amberkey.core.keys.platform import Platform
from amberkey.core.layouts.stroke import Stroke
from amberkey.core.standard.looking import lines_on_keys
from amberkey.core.standard.model import NO_STANDARD, Standard
from amberkey.server.estate import board_of, current_derived, current_estate
from amberkey.server.library.models import Body
from amberkey.server.problems import Problem
from amberkey.server.proposals.models import ProposalPoint
from amberkey.server.schema import Schema
from amberkey.server.workbench.keyboard import HOLDABLE, KeyboardIn, KeyOut, keyboard_shown

_NONE = "alone"


class PlanHeldOut(Schema):
    """Modifiers with which `tasks` have a key; `held` with commas between, `caps` as the keyboard has them."""

    held: str
    caps: list[str]
    tasks: int


class PlanKeyboardOut(Schema):
    """The keyboard of a setup with some modifiers held: of each key the tasks that have it. `differs`: the codes of keys that
    other tasks have than now; `choices`: all modifiers with which a task has a key."""

    setup: str
    setup_name: str
    choices: list[PlanHeldOut]
    held: list[str]
    width: float
    rows: int
    keys: list[KeyOut]
    differs: list[str]


def plan_keyboard(point: ProposalPoint, setup: str, held: str | None, platform: Platform | None = None) -> PlanKeyboardOut:
    """See the API. Raises NotFound for a setup that isn't there, Problem for what is no modifier, or where nobody works on the
    platform any more."""
    board = _board(platform or point.proposal.asked["platform"], setup)
    then, now = (lines_on_keys(_standard(body), board) for body in (point.standard, point.proposal.base))
    tasks = Counter({_named(s): 0 for s in (*then, *now)})
    tasks.update(_named(s) for s, own in then.items() for _ in own)
    wanted = held if held is not None else max(tasks, key=lambda h: (tasks[h], h), default="")
    modifiers = [m for m in wanted.split(",") if m and m != _NONE]
    shown = keyboard_shown(KeyboardIn(setup=board.setup.setup.id, held=modifiers))
    here = frozenset(shown.held)
    names = {t.id: t.name for t in current_estate().tasks.tasks}
    keys, differs = [], []
    for key in shown.keys:
        stroke = Stroke(key.code, here)
        own, before = then.get(stroke, ()), now.get(stroke, ())
        keys.append(_key(key, own, before, names))
        if own != before:
            differs.append(key.code)
    return PlanKeyboardOut(
        setup=board.setup.setup.id,
        setup_name=board.setup.setup.name,
        choices=[
            PlanHeldOut(held=h, caps=[shown.modifier_caps[m] for m in h.split(",") if m != _NONE], tasks=n)
            for h, n in sorted(tasks.items(), key=lambda c: (-c[1], c[0]))
            if all(m in shown.modifier_caps for m in h.split(",") if m != _NONE)
        ],
        held=shown.held,
        width=shown.width,
        rows=shown.rows,
        keys=keys,
        differs=differs,
    )


def _board(platform: Platform, setup: str) -> Board:
    board = board_of(current_estate(), setup)
    if board.setup.setup.works_on == platform:
        return board
    personal = current_derived().personal
    others = [s for s in current_estate().setups.values() if s.works_on == platform and s.id not in personal]
    if not others:
        raise Problem(409, "Nobody works on this platform any more.", cure="Ask for another proposal.")
    return current_estate().board(max(others, key=lambda s: (s.people, s.id)).id)


def _standard(body: Body | None) -> Standard:
    if body is None:
        return NO_STANDARD
    found = read_document(body.json(), FORMATS)
    assert isinstance(found, Standard)
    return found


def _named(stroke: Stroke) -> str:
    return ",".join(m for m in HOLDABLE if m in stroke.modifiers) or _NONE


def _key(key: KeyOut, own: tuple[str, ...], before: tuple[str, ...], names: Mapping[str, str]) -> KeyOut:
    """The key as the plan has it: whose task it is instead of who takes it."""
    if key.modifier is not None:
        return key
    told = ", ".join(names.get(t, t) for t in own)
    left = ", ".join(names.get(t, t) for t in before if t not in own)
    says = [f"{told}." if told else "No task."]
    if left:
        says.append(f"{left} until now.")
    if own and own != before and not left:
        says.append("New here.")
    return key.model_copy(
        update={
            "owner": "program" if own else "free",
            "says": told,
            "short": told.split(" ")[0] if told else "",
            "sentence": " ".join(says),
            "source": "",
        }
    )
