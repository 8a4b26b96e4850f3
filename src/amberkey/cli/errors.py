"""Errors of the command line.

Exception
└── Wrong       wrong use or wrong input: one line of what is wrong and what to do, and the facts for programs
"""

from collections.abc import Mapping


class Wrong(Exception):
    """Ends the command with exit code 2. `facts` go into the answer where JSON was asked for."""

    def __init__(self, says: str, facts: Mapping[str, object] | None = None) -> None:
        super().__init__(says)
        self.says = says
        self.facts = dict(facts or {})
