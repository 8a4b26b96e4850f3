"""Worth in sentences, rounded to what the assumptions bear: never to seconds."""

from amberkey.core.worth.weighing import FEWEST, Weighed, Worth

_HOURS_FROM = 600  # minutes


def say_minutes(minutes: float) -> str:
    """`about 11 minutes`: to the nearest minute below 100, then to ten minutes, then to hours; `less than a minute`."""
    minutes = abs(minutes)
    if minutes < 0.5:
        return "less than a minute"
    if minutes >= _HOURS_FROM:
        return f"about {round(minutes / 60)} hours"
    rounded = int(minutes + 0.5) if minutes < 100 else int(minutes / 10 + 0.5) * 10
    return f"about {rounded} minute{'s' if rounded != 1 else ''}"


def say_worth(worth: Worth, *, habits: bool = True) -> list[str]:
    """What a change is worth, in sentences: a week, and (`habits`) until old ones are gone. Of too few people, that and nothing
    else."""
    if not worth.weighed:
        return []
    if not worth.told:
        return [f"No figure is told of fewer than {FEWEST} people."]
    known = any(w.known for w in worth.weighed)
    found = []
    if known:
        found.append(f"{'Saves' if worth.minutes >= 0 else 'Costs'} {say_minutes(worth.minutes)} a week.")
        if habits and worth.minutes_lost >= 0.5:
            found.append(f"Old habits cost {say_minutes(worth.minutes_lost)} until they are gone.")
    if any(not w.known for w in worth.weighed):
        points, lost = round(worth.points), round(worth.points_lost)
        verb = "worth" if points >= 0 else "costs"
        against = f", {_points(lost)} against it for old habits" if habits and lost else ""
        says = f"{verb} {_points(abs(points))} a week{against}: assumed."
        found.append(f"Beside that, {says}" if known else says.capitalize())
    return found


def _points(points: int) -> str:
    return "1 point" if points == 1 else f"{points:,} points"


def say_weighed(one: Weighed) -> str:
    """One command of it: `1.9 s instead of 6.0 s, 300 times a week`."""
    uses = f"{round(one.uses):,} times a week" if one.known else f"assumed {round(one.uses):,} times a week"
    return f"{one.after:.1f} s instead of {one.before:.1f} s, {uses}"
