"""Errors of the agent.

Exception
├── FileProblem        a settings file can't be read or written now, in words for the specialist
│   └── Changed        the file is not what the order expects; its present bytes
└── ServerProblem      the server can't be reached, or refuses
"""


class FileProblem(Exception):
    pass


class Changed(FileProblem):
    def __init__(self, content: bytes) -> None:
        super().__init__("The file has changed since it was last seen; nothing was written.")
        self.content = content


class ServerProblem(Exception):
    pass
