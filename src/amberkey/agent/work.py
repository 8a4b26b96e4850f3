"""One round of the agent: report what it couldn't before, carry out orders that wait, show files that changed.

Every step may be the last one: an order whose write was done but not reported is found done in the next round. What goes wrong
with one file is told of that file and keeps no other from its turn.
"""

import base64
import contextlib
from collections.abc import Callable
from functools import partial
from typing import Any, Protocol

from amberkey.agent.errors import Changed, FileProblem, OrderRefused, Running, ServerProblem
from amberkey.agent.facts import facts
from amberkey.agent.files import Step, backups_of, digest_of, no_step, read_file, swap
from amberkey.agent.orders import Order, checked, led_to
from amberkey.agent.running import machine_mark, running
from amberkey.agent.state import State
from amberkey.agent.stores import read_store, swap_store


class Server(Protocol):
    def call(self, method: str, path: str, body: dict[str, Any] | None = None, asked_in: str = "") -> Any: ...


def work_once(
    server: Server,
    state: State,
    step: Step = no_step,
    runs: Callable[[], frozenset[str]] = running,
    mark: Callable[[], str] = machine_mark,
) -> int:
    """Returns the number of things that were told to the server. Raises ServerProblem."""
    told = _tell_again(server, state)
    if state.config.paused:
        return told
    answer = server.call("POST", "/work", {"stores": sorted(state.config.stores), "machine": mark()})
    if not isinstance(answer, dict) or not isinstance(answer.get("files"), list):
        raise ServerProblem("The server's answer can't be understood.")
    _follow_key(answer, state)
    if answer.get("facts") is True:
        asked = answer.get("programs")
        server.call("POST", "/facts", facts([n for n in asked if isinstance(n, str)] if isinstance(asked, list) else ()))
        told += 1
    known: dict[str, str] = {}
    ordered = set()
    for given in _maps(answer.get("orders")):
        ordered.add(given.get("file"))
        told += _each(partial(_carry_out, server, given, state, step, runs), known, str(given.get("id")))
    for file in _maps(answer["files"]):
        name = f"{file.get('root')}:{file.get('path')}"
        if file.get("id") not in ordered:
            told += _each(partial(_show, server, file, state, known), known, name)
        else:
            known[name] = "An order was heard."
    if known != state.work.files:
        state.work.files = known
        _try(state.keep_work)
    return told


def _each(act: Callable[[], int], known: dict[str, str], name: str) -> int:
    """What the server refuses of one file keeps no other from its turn."""
    try:
        return act()
    except ServerProblem as problem:
        if not problem.of_this_call:
            raise
        known[name] = str(problem)
        return 1


def _maps(value: Any) -> list[dict[str, Any]]:
    return [one for one in value if isinstance(one, dict)] if isinstance(value, list) else []


def _try(act: Callable[[], None]) -> None:
    """What is only of use later may fail, as on a full disk."""
    with contextlib.suppress(FileProblem):
        act()


def _follow_key(answer: dict[str, Any], state: State) -> None:
    """The organisation signs with a newer key: it is pinned from now on if the one before handed over to it."""
    newest, handovers = answer.get("key"), answer.get("handovers")
    if not isinstance(newest, str) or not newest or newest == state.config.key or not isinstance(handovers, list):
        return
    if state.config.key and led_to(state.config.key, handovers, newest):
        state.config.key = newest
        state.keep_config()


def _tell_again(server: Server, state: State) -> int:
    told = 0
    for report in list(state.work.reports):
        try:
            _report(server, state, report)
        except ServerProblem as problem:
            if not problem.of_this_call:
                raise
            _try(partial(state.heard, report))  # the server knows of no such order any more
        told += 1
    return told


def _carry_out(server: Server, given: dict[str, Any], state: State, step: Step, runs: Callable[[], frozenset[str]]) -> int:
    try:
        order = checked(given, state.config.machine, state.config.account, state.config.key)
        outcome, says, content = _done(order, state, step, runs)
    except OrderRefused as refused:
        outcome, says, content, order = "refused", str(refused), None, None
    report: dict[str, Any] = {"order": str(given.get("id")), "outcome": outcome, "says": says}
    report["asked_in"] = str(given.get("asked_in") or "")
    if order is not None and outcome == "written" and (many := _backups(state, order.root, order.path)) is not None:
        report["backups"] = many
    if outcome == "waiting" and given.get("says") == says:
        return 0
    if order is not None and outcome == "written":
        _try(partial(state.end, order.file, order.number, report))  # not kept, it is found done in the next round
    elif outcome != "waiting":
        _try(partial(state.keep_report, report))
    _report(server, state, report)
    if content is not None:
        _tell(server, given.get("file"), content)
    elif order is not None and outcome == "refused":
        _problem(server, given.get("file"), says)
    return 1


def _done(order: Order, state: State, step: Step, runs: Callable[[], frozenset[str]]) -> tuple[str, str, bytes | None]:
    """What came of an order, in a word and a sentence, and the file's bytes where they are others than it expects."""
    try:
        repeated = order.number <= state.work.done.get(order.file, 0)
        if repeated or order.number < state.work.begun.get(order.file, 0):
            if digest_of(_now(state, order.root, order.path, order.sections)) == order.digest:
                return "written", "It was written already.", None
            raise OrderRefused("The order is an older one, or was carried out before; nothing was written.")
        _wait_for(order, runs)
        state.begin(order.file, order.number)
        if order.root == "store":
            wrote = swap_store(state.config.stores, order.path, order.sections, order.expect, order.content)
        elif order.root == state.config.root:
            allowed = state.config.allowed
            wrote = swap(state.home, order.path, order.expect, order.content, allowed, step, state.base)
        else:
            raise OrderRefused(f"The order is for a place that this agent doesn't write to ({order.root[:20]}).")
    except Running as waits:
        return "waiting", str(waits), None
    except Changed as changed:
        return "refused", str(changed), changed.content
    except FileProblem as problem:
        return "refused", str(problem), None
    return "written", "Written." if wrote == "written" else "It was written already.", None


def _wait_for(order: Order, runs: Callable[[], frozenset[str]]) -> None:
    if not order.waits_for:
        return
    there = runs()
    found = next((p for p in order.waits_for if p.casefold().removesuffix(".exe") in there), None)
    if found is not None:
        raise Running(f"{found} is running and would write its file anew when it ends; it is written after that.")


def _now(state: State, root: str, path: str, sections: tuple[str, ...]) -> bytes:
    if root == "store":
        return read_store(state.config.stores, path, sections)
    if root != state.config.root:
        raise FileProblem(f"This agent doesn't work below such a place ({root[:20]}).")
    return read_file(state.base, path, state.config.allowed)


def _show(server: Server, file: dict[str, Any], state: State, known: dict[str, str]) -> int:
    name = f"{file.get('root')}:{file.get('path')}"
    try:
        sections = tuple(str(s) for s in file.get("sections") or ())
        content = _now(state, str(file.get("root")), str(file.get("path")), sections)
    except (FileProblem, OSError, RecursionError) as problem:
        known[name] = str(problem)
        if file.get("problem") == str(problem):
            return 0
        _problem(server, file.get("id"), str(problem))
        return 1
    known[name] = "Read."
    if digest_of(content) == file.get("digest") and not file.get("problem"):
        return 0
    _tell(server, file.get("id"), content, _backups(state, str(file.get("root")), str(file.get("path"))))
    return 1


def _tell(server: Server, file: Any, content: bytes, backups: int | None = None) -> None:
    said = {} if backups is None else {"backups": backups}
    server.call("POST", "/seen", {"file": file, "content": base64.b64encode(content).decode(), **said})


def _backups(state: State, root: str, path: str) -> int | None:
    """How many of a file lie here; None where that can't be said."""
    if root == "store":
        return None
    with contextlib.suppress(FileProblem, OSError):
        return len(backups_of(state.home, path))
    return None


def _problem(server: Server, file: Any, says: str) -> None:
    server.call("POST", "/seen", {"file": file, "problem": says[:400]})


def _report(server: Server, state: State, report: dict[str, Any]) -> None:
    body = {name: value for name, value in report.items() if name in ("outcome", "says", "backups")}
    server.call("POST", f"/orders/{report['order']}", body, report.get("asked_in", ""))
    if report in state.work.reports:
        _try(partial(state.heard, report))
