"""Errors of putting a setup together.

LookupError
└── MissingPart       the setup, what kind of part, its id
ValueError
└── UnfitPart         the setup, the part that doesn't fit it, why
"""


class MissingPart(LookupError):
    def __init__(self, setup: str, kind: str, part: str) -> None:
        super().__init__(f"The setup {setup} names the {kind} {part}, which isn't here. Add it, or take it out of the setup.")
        self.setup = setup
        self.kind = kind
        self.part = part


class UnfitPart(ValueError):
    def __init__(self, setup: str, part: str, says: str) -> None:
        super().__init__(f"The setup {setup} doesn't go together: {says}")
        self.setup = setup
        self.part = part
        self.says = says
