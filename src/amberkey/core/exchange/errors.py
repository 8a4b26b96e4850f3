"""Errors of exchange.

ValueError
├── BundleError            what is wrong with the bundle, in which part, what to do
└── SettingsFileError      what is wrong with a settings file, at which place
"""


class BundleError(ValueError):
    def __init__(self, says: str, part: str = "", cure: str = "") -> None:
        super().__init__(" ".join(t for t in (f"{part}: {says}" if part else says, cure) if t))
        self.says = says
        self.part = part
        self.cure = cure


class SettingsFileError(ValueError):
    def __init__(self, says: str, position: int | None = None) -> None:
        super().__init__(says)
        self.says = says
        self.position = position
