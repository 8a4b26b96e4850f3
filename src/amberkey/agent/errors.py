"""Errors of the agent.

Exception
├── FileProblem        a settings file can't be read or written now, in words for the specialist
│   ├── Changed        the file is not what the order expects; its present bytes
│   └── Running        the program that rewrites the file when it ends is still running
├── OrderRefused       an order that isn't to be carried out: not signed for this machine, altered, or done before
└── ServerProblem      the server can't be reached, refuses, or answers what nobody understands
"""


class FileProblem(Exception):
    pass


class Changed(FileProblem):
    def __init__(self, content: bytes) -> None:
        super().__init__("The file has changed since it was last seen; nothing was written.")
        self.content = content


class Running(FileProblem):
    pass


class OrderRefused(Exception):
    pass


class ServerProblem(Exception):
    """`status`: what the server answered with; 0 where there was no answer, or none that can be understood."""

    def __init__(self, says: str, status: int = 0) -> None:
        super().__init__(says)
        self.status = status

    @property
    def of_this_call(self) -> bool:
        """Whether the server refuses just what it was told, so that everything else can go on."""
        return 400 <= self.status < 500 and self.status not in (401, 403, 429)
