"""What a change is worth, as screens show it where the change is decided."""

from amberkey.core.clashes.estate import Estate
from amberkey.core.worth.telling import say_weighed, say_worth
from amberkey.core.worth.weighing import FEWEST, Weighed, Worth, worth_between
from amberkey.server.schema import Schema

_SHOWN = 8


class WeighedOut(Schema):
    """One command of it: its seconds and uses in words; minutes a week that it saves (less than 0: costs), and minutes that old
    habits cost; points where `assumed`."""

    program_name: str
    name: str
    people: int
    says: str
    gained: float
    lost: float
    assumed: bool


class WorthOut(Schema):
    """`says`: in sentences, none where nothing changes; `weighed`: what weighs most, of five people at least each."""

    says: list[str]
    weighed: list[WeighedOut]


NO_WORTH_OUT = WorthOut(says=[], weighed=[])


def worth_out(worth: Worth, *, habits: bool = True) -> WorthOut:
    """Worth in the words of the API, with what old `habits` cost or without."""
    told = [_weighed_out(w) for w in worth.weighed if w.people >= FEWEST] if worth.told else []
    return WorthOut(says=say_worth(worth, habits=habits), weighed=told[:_SHOWN])


def worth_of(before: Estate, after: Estate, *, habits: bool = True) -> WorthOut:
    """What one state is worth against another."""
    return worth_out(worth_between(before, after), habits=habits)


def _weighed_out(one: Weighed) -> WeighedOut:
    return WeighedOut(
        program_name=one.program.name,
        name=one.command.told_with(one.arguments),
        people=one.people,
        says=say_weighed(one),
        gained=round(one.gained, 1),
        lost=round(one.lost, 1),
        assumed=not one.known,
    )
