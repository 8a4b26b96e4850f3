"""The agent's command line. Everything is about one home; a person runs it for their own. What is the machine's own has an
agent of its own, which the machine's administrator runs; it keeps what it needs below --home too.

python -m amberkey.agent enrol --home DIR --server URL --code CODE
python -m amberkey.agent enrol --home DIR --server URL --key KEY --machine NAME
python -m amberkey.agent enrol --home DIR --for-the-machine ... (what is the machine's own, and nobody's home)
python -m amberkey.agent run --home DIR [--every SECONDS] [--once]
python -m amberkey.agent serve --home DIR --config FILE
python -m amberkey.agent status | pause | go-on | uninstall --home DIR
python -m amberkey.agent allow --home DIR FOLDER_OR_FILE
python -m amberkey.agent store --home DIR --called NAME --get "COMMAND" --put "COMMAND"
python -m amberkey.agent restore --home DIR FILE
"""

import argparse
import json
import pathlib
import random
import shlex
import socket
import sys
import time

from amberkey.agent.client import Client
from amberkey.agent.errors import FileProblem, ServerProblem
from amberkey.agent.files import backups_of, digest_of, read_file, swap
from amberkey.agent.folders import own_folder
from amberkey.agent.paths import STATE, machine_root, sound_parts
from amberkey.agent.running import account
from amberkey.agent.state import Config, State, Work, alone
from amberkey.agent.work import work_once

LONGEST_PAUSE = 300.0  # seconds


def main() -> int:
    given = _parser().parse_args()
    try:
        return int(given.act(given) or 0)
    except (ServerProblem, FileProblem) as problem:
        print(problem, file=sys.stderr)
        return 1
    except KeyboardInterrupt:
        return 0


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(prog="amberkey-agent", description="Keeps a machine's settings in step with its profile.")
    verbs = parser.add_subparsers(required=True)

    def verb(name: str, act: object, says: str) -> argparse.ArgumentParser:
        own = verbs.add_parser(name, help=says, description=says)
        own.add_argument("--home", type=pathlib.Path, required=True, help="the home folder that it works in")
        own.set_defaults(act=act)
        return own

    enrol = verb("enrol", _enrol, "Exchange a code, or an enrolment key of many machines, for this machine's token.")
    enrol.add_argument("--server", required=True)
    how = enrol.add_mutually_exclusive_group(required=True)
    how.add_argument("--code", help="a code of this machine, for one use")
    how.add_argument("--key", help="an enrolment key")
    enrol.add_argument("--machine", default=socket.gethostname(), help="what the organisation calls it (its name here)")
    enrol.add_argument("--account", default=account(), help="whose home it is, as the system calls them")
    _for_the_machine(enrol)
    enrol.add_argument("--allow", action="append", default=[], help="a folder or file with a dot that it may work in")
    run = verb("run", _run, "Watch the settings files and carry out orders.")
    run.add_argument("--every", type=float, default=60.0, help="seconds between rounds")
    run.add_argument("--once", action="store_true")
    serve = verb("serve", _serve, "Enrol by the key of an installer's file where that wasn't done yet, and run.")
    serve.add_argument(
        "--config", type=pathlib.Path, required=True, help='a JSON file: {"server": ..., "key": ..., "machine": ...}'
    )
    serve.add_argument("--account", default=account(), help="whose home it is, as the system calls them")
    _for_the_machine(serve)
    serve.add_argument("--every", type=float, default=60.0, help="seconds between rounds")
    serve.add_argument("--once", action="store_true")
    verb("status", _status, "What it does, for which server, and how its files stand.")
    verb("pause", _pause, "Neither read nor write until it goes on.")
    verb("go-on", _go_on, "Go on after a pause.")
    allow = verb("allow", _allow, "Open a folder or file whose name begins with a dot.")
    allow.add_argument("path")
    store = verb("store", _store, "Say with which commands a settings store is read and written.")
    store.add_argument("--called", required=True)
    store.add_argument("--get", required=True)
    store.add_argument("--put", required=True)
    restore = verb("restore", _restore, "Put a file's newest backup back.")
    restore.add_argument("path")
    verb("uninstall", _uninstall, "Tell the server, and forget everything but the backups.")
    return parser


def _for_the_machine(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("--for-the-machine", action="store_true", help="work in what is the machine's own")
    parser.add_argument("--machine-root", default=machine_root(), help="the folder in which the machine keeps that")


def _enrol(given: argparse.Namespace) -> None:
    for path in given.allow:
        sound_parts(path, [path])
    asked = {"code": given.code} if given.code else {"key": given.key, "machine": given.machine}
    whole = given.for_the_machine
    asked |= {"serves": "machine"} if whole else {"account": given.account}
    answer = Client(given.server).call("POST", "/enrol" if given.code else "/enrol-many", asked)
    try:
        before = State.of(given.home)
        stores, work = before.config.stores, before.work
    except FileProblem:
        stores, work = {}, Work()
    if work.done and before.config.machine != answer["machine"]:
        work = Work()
    config = Config(given.server, answer["token"], answer["machine"], answer["key"], sorted(set(given.allow)), stores)
    config.account, config.machine_root = ("", given.machine_root) if whole else (given.account, "")
    state = State(given.home, config, work)
    state.keep_config()
    state.keep_work()
    print(f"Enrolled as {answer['machine']}. Its organisation's key is {answer['fingerprint']}.")


def _serve(given: argparse.Namespace) -> int:
    try:
        State.of(given.home)
    except FileProblem:
        try:
            said = json.loads(given.config.read_text("utf-8"))
            server, key = str(said["server"]), str(said["key"])
        except (OSError, ValueError, KeyError, TypeError) as error:
            raise FileProblem(f"{given.config} says no server and key: {error}") from error
        given.server, given.code, given.key = server, None, key
        given.machine = str(said.get("machine") or socket.gethostname())
        given.allow = [str(one) for one in said.get("allow") or ()]
        _enrol(given)
    return _run(given)


def _run(given: argparse.Namespace) -> int:
    with alone(given.home):
        return _rounds(given)


def _rounds(given: argparse.Namespace) -> int:
    pause = given.every
    while True:
        try:
            state = State.of(given.home)
            work_once(Client(state.config.server, state.config.token), state)
            pause = given.every
        except (ServerProblem, FileProblem) as problem:
            print(problem, file=sys.stderr)
            pause = min(LONGEST_PAUSE, pause * 2)
            if given.once:
                return 1
        if given.once:
            return 0
        # Jitter keeps thousands of machines from asking in the same second.
        time.sleep(pause * random.uniform(0.8, 1.2))  # noqa: S311


def _status(given: argparse.Namespace) -> None:
    state = State.of(given.home)
    config, work = state.config, state.work
    print(f"{config.machine}, for {config.server}{' (paused)' if config.paused else ''}")
    for file, says in sorted(work.files.items()):
        path = file.partition(":")[2]
        kept = 0 if file.startswith("store:") else len(backups_of(given.home, path))
        print(f"  {path}: {says} {kept} backup{'' if kept == 1 else 's'}.")
    if work.reports:
        print(f"  {len(work.reports)} reports wait for the server.")


def _pause(given: argparse.Namespace) -> None:
    _set_paused(given.home, paused=True)
    print("Paused: nothing is read or written.")


def _go_on(given: argparse.Namespace) -> None:
    _set_paused(given.home, paused=False)
    print("It goes on.")


def _set_paused(home: pathlib.Path, *, paused: bool) -> None:
    state = State.of(home)
    state.config.paused = paused
    state.keep_config()


def _allow(given: argparse.Namespace) -> None:
    state = State.of(given.home)
    sound_parts(given.path, [given.path])
    state.config.allowed = sorted({*state.config.allowed, given.path})
    state.keep_config()
    print(f"{given.path} is open to the agent.")


def _store(given: argparse.Namespace) -> None:
    state = State.of(given.home)
    try:
        lines = {"get": shlex.split(given.get), "put": shlex.split(given.put)}
    except ValueError as error:
        raise FileProblem(f"This is no command line: {error}.") from error
    if not all(lines.values()):
        raise FileProblem("A command line is empty.")
    state.config.stores[given.called] = lines
    state.keep_config()
    print(f"{given.called} is open to the agent.")


def _restore(given: argparse.Namespace) -> None:
    state = State.of(given.home)
    now = read_file(state.base, given.path, state.config.allowed)
    found = next((data for _, data in backups_of(given.home, given.path) if data != now), None)
    if found is None:
        raise FileProblem(f"There is no other backup of {given.path}.")
    swap(given.home, given.path, digest_of(now), found, state.config.allowed, base=state.base)
    print(f"{given.path} is as it was before it was written last; what was there is kept as a backup.")


def _uninstall(given: argparse.Namespace) -> None:
    state = State.of(given.home)
    try:
        Client(state.config.server, state.config.token).call("POST", "/leave", {})
        print("The server knows.")
    except ServerProblem as problem:
        print(f"The server couldn't be told: {problem}", file=sys.stderr)
    with own_folder(given.home, STATE) as folder:
        for name in ("agent.json", "state.json", "lock"):
            folder.remove(name)
    print(f"Forgotten. Backups stay in {STATE}/backups.")


if __name__ == "__main__":
    sys.exit(main())
