"""Errors of containers.

ValueError
└── SettingsFileError      what is wrong with a settings file, at which place
"""


class SettingsFileError(ValueError):
    """`position` counts characters of the file's text."""

    def __init__(self, says: str, position: int | None = None) -> None:
        super().__init__(says)
        self.says = says
        self.position = position
