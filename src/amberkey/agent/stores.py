"""Settings stores: what a desktop's own tool takes out as text and puts in again.

The command lines are those that whoever runs the machine gave the agent; a server never sends one. Of the text only sections
that are asked for leave the machine.
"""

import subprocess
from collections.abc import Collection, Mapping

from amberkey.agent.errors import Changed, FileProblem
from amberkey.agent.files import digest_of

LONGEST = 30  # seconds
MOST = 4 * 1024 * 1024


def read_store(stores: Mapping[str, Mapping[str, list[str]]], called: str, sections: Collection[str]) -> bytes:
    """The sections of a store's text export. Raises FileProblem."""
    return only_sections(_run(_of(stores, called)["get"], b""), sections)


def swap_store(
    stores: Mapping[str, Mapping[str, list[str]]], called: str, sections: Collection[str], expect: str, content: bytes
) -> str:
    """Put a text into a store if its export still has the digest `expect`. Raises Changed or FileProblem."""
    current = read_store(stores, called, sections)
    if digest_of(current) == digest_of(content):
        return "already"
    if digest_of(current) != expect:
        raise Changed(current)
    _run(_of(stores, called)["put"], content)
    return "written"


def only_sections(text: bytes, sections: Collection[str]) -> bytes:
    """Of a text in sections those of some names, as they stand there, with a blank line between two: what else stands in the
    text makes no difference."""
    wanted = {s.encode() for s in sections}
    kept: list[list[bytes]] = []
    inside = False
    for line in text.splitlines(keepends=True):
        bare = line.strip()
        if bare.startswith(b"[") and bare.endswith(b"]"):
            inside = bare[1:-1] in wanted
            if inside:
                kept.append([])
        if inside and bare:
            kept[-1].append(line)
    return b"\n".join(b"".join(lines) for lines in kept)


def _of(stores: Mapping[str, Mapping[str, list[str]]], called: str) -> Mapping[str, list[str]]:
    if called not in stores:
        raise FileProblem(f"This machine's agent doesn't know {called[:100]}.")
    return stores[called]


def _run(command: list[str], given: bytes) -> bytes:
    try:
        done = subprocess.run(command, input=given, capture_output=True, timeout=LONGEST, check=False)
    except (OSError, subprocess.TimeoutExpired) as error:
        raise FileProblem(f"{command[0]} can't be run: {error}") from error
    if done.returncode != 0:
        raise FileProblem(f"{command[0]} failed: {done.stderr.decode('utf-8', 'replace').strip()[:200]}")
    if len(done.stdout) > MOST:
        raise FileProblem(f"{command[0]} gave more than {MOST // 1048576} MB.")
    return done.stdout
