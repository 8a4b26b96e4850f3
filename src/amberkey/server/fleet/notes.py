"""What others have to say of machines where these are listed: each says a sentence of those that it knows something of."""

from collections.abc import Callable, Collection, Mapping

notes: list[Callable[[Collection[str]], Mapping[str, str]]] = []
"""Given the ids of machines: a sentence by machine."""


def notes_of(machines: Collection[str]) -> dict[str, str]:
    """Everything that is said of some machines, by their ids."""
    found: dict[str, str] = {}
    for note in notes:
        for machine, says in note(machines).items():
            found[machine] = f"{found[machine]} {says}" if machine in found else says
    return found
