"""Worth in sentences, rounded to what the assumptions bear: never to seconds."""

from collections.abc import Iterator

from amberkey.core.worth.weighing import FEWEST, Weighed, Worth

_HOURS_FROM = 600  # minutes


def say_minutes(minutes: float) -> str:
    """`about 11 minutes`: to the nearest minute below 100, then to ten minutes, then to hours; `less than a minute`."""
    minutes = abs(minutes)
    if minutes < 0.5:
        return "less than a minute"
    if minutes >= _HOURS_FROM:
        return f"about {round(minutes / 60)} hours"
    rounded = round(minutes) if minutes < 100 else round(minutes / 10) * 10
    return f"about {rounded} minute{'s' if rounded != 1 else ''}"


def say_worth(worth: Worth) -> list[str]:
    """What a change is worth, in sentences: a week, and over the first weeks. Of too few people, that and nothing else."""
    if not worth.weighed:
        return []
    if not worth.told:
        return [f"No figure is told of fewer than {FEWEST} people."]
    return [*_minutes(worth), *_points(worth)]


def _minutes(worth: Worth) -> Iterator[str]:
    if not any(w.known for w in worth.weighed):
        return
    verb = "Saves" if worth.minutes >= 0 else "Costs"
    yield f"{verb} {say_minutes(worth.minutes)} a week."
    if worth.minutes_lost >= 0.5:
        yield f"Old habits cost {say_minutes(worth.minutes_lost)} until they are gone."


def _points(worth: Worth) -> Iterator[str]:
    if all(w.known for w in worth.weighed):
        return
    points, lost = round(worth.points), round(worth.points_lost)
    also = ", besides," if any(w.known for w in worth.weighed) else ""
    against = f", {lost} against it for old habits" if lost else ""
    yield f"Worth {points} points a week{also}{against}: assumed, since nobody has said how often people use it."


def say_weighed(one: Weighed) -> str:
    """One command of it: `1.9 s instead of 6.0 s, 300 times a week`."""
    uses = f"{round(one.uses)} times a week" if one.known else f"assumed {round(one.uses)} times a week"
    return f"{one.after:.1f} s instead of {one.before:.1f} s, {uses}"
