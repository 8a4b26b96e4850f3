"""Errors of layouts.

LookupError
├── UnknownLayout      the asked name and those that exist
└── UnknownBody        likewise
"""


class UnknownLayout(LookupError):
    def __init__(self, name: str, known: tuple[str, ...]) -> None:
        super().__init__(f"There is no keyboard layout {name!r} here. Known are {', '.join(known)}.")
        self.name = name
        self.known = known


class UnknownBody(LookupError):
    def __init__(self, name: str, known: tuple[str, ...]) -> None:
        super().__init__(f"There is no keyboard body {name!r} here. Known are {', '.join(known)}.")
        self.name = name
        self.known = known
