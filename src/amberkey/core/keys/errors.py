"""Errors of reading shortcuts.

ValueError
└── ShortcutError      the text, the span of the fault, what was expected, the nearest good guess
"""


class ShortcutError(ValueError):
    """A text that is no shortcut. `span` is (start, end) in characters of `text`; `guess` is a text that reads well."""

    def __init__(self, text: str, span: tuple[int, int], says: str, expected: str, guess: str | None = None) -> None:
        hint = f" Did you mean {guess}?" if guess else ""
        super().__init__(f"{says} Expected {expected}.{hint}")
        self.text = text
        self.span = span
        self.says = says
        self.expected = expected
        self.guess = guess
