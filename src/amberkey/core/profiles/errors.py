"""Errors of putting a setup together.

LookupError
└── MissingPart       the setup, what kind of part, its id
"""


class MissingPart(LookupError):
    def __init__(self, setup: str, kind: str, part: str) -> None:
        super().__init__(f"The setup {setup} names the {kind} {part}, which isn't here. Add it, or take it out of the setup.")
        self.setup = setup
        self.kind = kind
        self.part = part
