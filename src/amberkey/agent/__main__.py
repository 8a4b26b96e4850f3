"""The agent's command line.

python -m amberkey.agent enrol --server URL --code CODE --home DIR
python -m amberkey.agent run --home DIR [--every SECONDS] [--once]
"""

import argparse
import json
import os
import pathlib
import random
import sys
import time

from amberkey.agent.client import Client
from amberkey.agent.errors import ServerProblem
from amberkey.agent.work import work_once

LONGEST_PAUSE = 300.0  # seconds


def main() -> int:
    parser = argparse.ArgumentParser(prog="amberkey-agent", description="Keeps a machine's settings in step with its profile.")
    verbs = parser.add_subparsers(dest="verb", required=True)
    enrol = verbs.add_parser("enrol", help="exchange a one-time code for this machine's token")
    enrol.add_argument("--server", required=True)
    enrol.add_argument("--code", required=True)
    run = verbs.add_parser("run", help="watch the settings files and carry out orders")
    run.add_argument("--every", type=float, default=60.0, help="seconds between rounds")
    run.add_argument("--once", action="store_true")
    for verb in (enrol, run):
        verb.add_argument("--home", type=pathlib.Path, required=True)
    given = parser.parse_args()
    try:
        return _enrol(given) if given.verb == "enrol" else _run(given)
    except ServerProblem as problem:
        print(problem, file=sys.stderr)
        return 1
    except KeyboardInterrupt:
        return 0


def state_of(home: pathlib.Path) -> pathlib.Path:
    return home / ".amberkey"


def _enrol(given: argparse.Namespace) -> int:
    answer = Client(given.server).call("POST", "/enrol", {"code": given.code})
    folder = state_of(given.home)
    folder.mkdir(parents=True, exist_ok=True)
    file = folder / "agent.json"
    handle = os.open(file, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600)
    with os.fdopen(handle, "w") as out:
        json.dump({"server": given.server, "token": answer["token"]}, out)
    print(f"Enrolled as {answer['machine']}.")
    return 0


def _run(given: argparse.Namespace) -> int:
    folder = state_of(given.home)
    try:
        known = json.loads((folder / "agent.json").read_text())
    except (OSError, ValueError):
        print("This machine is not enrolled. Run `enrol` with a code first.", file=sys.stderr)
        return 1
    client = Client(known["server"], known["token"])
    pause = given.every
    while True:
        try:
            work_once(client, given.home, folder / "backups")
            pause = given.every
        except ServerProblem as problem:
            print(problem, file=sys.stderr)
            pause = min(LONGEST_PAUSE, pause * 2)
            if given.once:
                return 1
        if given.once:
            return 0
        # Jitter keeps thousands of machines from asking in the same second.
        time.sleep(pause * random.uniform(0.8, 1.2))  # noqa: S311


if __name__ == "__main__":
    sys.exit(main())
