"""What the words of differences need to know of the organisation."""

from amberkey.core.programs.model import Program
from amberkey.server.library.documents import digests, parsed


def known_programs() -> dict[str, Program]:
    """The programs that there are, by id: of several versions the last one by name."""
    found = (parsed(digest) for key, digest in sorted(digests().items()) if key.startswith("program/"))
    return {p.id: p for p in found if isinstance(p, Program)}
