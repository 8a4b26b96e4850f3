"""What goes wrong with a backup, in one line that says what to do."""


class BackupError(Exception):
    """The text is one line: what is wrong, where, and what to do."""
