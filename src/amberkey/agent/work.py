"""One round of the agent: show files that changed, carry out orders that wait, report.

Every step may be the last one: an order whose write was done but not reported is found done in the next round.
"""

import base64
import pathlib
from typing import Any

from amberkey.agent.client import Client
from amberkey.agent.errors import Changed, FileProblem
from amberkey.agent.files import Step, digest_of, no_step, read_file, swap


def work_once(client: Client, home: pathlib.Path, backups: pathlib.Path, step: Step = no_step) -> int:
    """Returns the number of things that were told to the server. Raises ServerProblem."""
    told = 0
    for file in client.call("GET", "/work"):
        order = file["order"]
        if order is not None:
            _carry_out(client, file, order, home, backups, step)
            told += 1
        else:
            told += _show(client, file, home)
    return told


def _carry_out(
    client: Client, file: dict[str, Any], order: dict[str, Any], home: pathlib.Path, backups: pathlib.Path, step: Step
) -> None:
    content = base64.b64decode(order["content"])
    if digest_of(content) != order["digest"]:
        _report(client, order, "refused", "The order arrived damaged; nothing was written.")
        return
    try:
        outcome = swap(home, file["path"], order["expect"], content, backups, step)
    except Changed as changed:
        _report(client, order, "refused", str(changed))
        _tell(client, file["program"], changed.content)
        return
    except FileProblem as problem:
        _report(client, order, "refused", str(problem))
        client.call("POST", "/seen", {"program": file["program"], "problem": str(problem)})
        return
    _report(client, order, "written", "Written." if outcome == "written" else "It was written already.")


def _show(client: Client, file: dict[str, Any], home: pathlib.Path) -> int:
    try:
        content = read_file(home, file["path"])
    except FileProblem as problem:
        client.call("POST", "/seen", {"program": file["program"], "problem": str(problem)})
        return 1
    if digest_of(content) == file["digest"] and not file["problem"]:
        return 0
    _tell(client, file["program"], content)
    return 1


def _tell(client: Client, program: str, content: bytes) -> None:
    client.call("POST", "/seen", {"program": program, "content": base64.b64encode(content).decode()})


def _report(client: Client, order: dict[str, Any], outcome: str, says: str) -> None:
    client.call("POST", f"/orders/{order['id']}", {"outcome": outcome, "says": says}, order.get("asked_in", ""))
