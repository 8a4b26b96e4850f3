"""The `amberkey` command."""

import argparse
import signal
import sys
from types import FrameType

from amberkey.launcher.answers import ANSWERS, answer
from amberkey.launcher.keeping import backup, forget, restore, today
from amberkey.launcher.processes import stop_running
from amberkey.launcher.say import Stop
from amberkey.launcher.sending import KINDS, send
from amberkey.launcher.serve import demo, start, work
from amberkey.launcher.tests import test


def _end(number: int, frame: FrameType | None) -> None:
    """Being told to end is like Ctrl+C: what was started is stopped."""
    raise KeyboardInterrupt


def main() -> int:
    signal.signal(signal.SIGTERM, _end)
    parser = argparse.ArgumentParser(prog="amberkey", description="Keyboard shortcuts of an organisation, kept in order.")
    verbs = parser.add_subparsers(dest="verb", required=True)
    verb = verbs.add_parser("demo", help="set up what is missing and start the example organisation")
    verb.add_argument("--port", type=int, help="the port to serve on (8470, or a free one)")
    verb = verbs.add_parser("start", help="start with your own data, or on the database server of environment variables")
    verb.add_argument("--port", type=int, help="the port to serve on (8470, or a free one)")
    verb = verbs.add_parser("backup", help="everything of your organisation in one sealed file")
    verb.add_argument("file", help="where to write it; a file that is there is never written over")
    verb.add_argument("--passphrase-file", metavar="FILE", help="the passphrase, in a file that only you can read")
    verb = verbs.add_parser("restore", help="everything out of a sealed file again")
    verb.add_argument("file", help="the backup")
    verb.add_argument("--passphrase-file", metavar="FILE", help="the passphrase, in a file that only you can read")
    verb.add_argument("--over", action="store_true", help="instead of everything that is there now")
    verb.add_argument("--look", action="store_true", help="only look whether the backup is whole")
    verb = verbs.add_parser("send", help="give a list to a server with a token, for every night")
    verb.add_argument("kind", choices=KINDS)
    verb.add_argument("file", help="a sheet, or a table in any of the forms that lists come in")
    verb.add_argument("--server", required=True, metavar="URL", help="where Amber Key is served")
    verb.add_argument("--token-file", metavar="FILE", help="the token, in a file that only you can read")
    verb.add_argument("--patience", type=float, default=600, metavar="SECONDS", help="how long to wait for the outcome")
    verb = verbs.add_parser("forget", help="take a person's name out of everything that is kept, for good")
    verb.add_argument("person", help="the id, a name, or the id that other lists have for them")
    verb = verbs.add_parser("today", help="what needs somebody today")
    verb.add_argument("account", nargs="?", help="whose day it is, by the name with which they sign in")
    verb.add_argument("--json", action="store_true", help="as JSON")
    verbs.add_parser("work", help="do the jobs of a real database; on as many hosts as wanted")
    verbs.add_parser("stop", help="stop a demo that runs in another terminal")
    verb = verbs.add_parser("test", help="set up what tests need and run all of them")
    verb.add_argument("part", nargs="*", help="only these checks, for instance core or browser")
    for name in ANSWERS:
        verbs.add_parser(name, help=ANSWERS[name], add_help=False)
    try:
        if sys.argv[1:2] and sys.argv[1] in ANSWERS:
            answer(sys.argv[1:])
    except Stop as stop:
        print(f"amberkey: {stop}", file=sys.stderr)
        return 2
    given = parser.parse_args()
    try:
        match given.verb:
            case "demo":
                demo(given.port)
            case "start":
                start(given.port)
            case "backup":
                backup(given.file, given.passphrase_file)
            case "restore":
                restore(given.file, given.passphrase_file, over=given.over, look=given.look)
            case "send":
                return send(given.kind, given.file, given.server, given.token_file, given.patience)
            case "forget":
                forget(given.person)
            case "today":
                return today(given.account, as_json=given.json)
            case "work":
                work()
            case "stop":
                print("Stopped." if stop_running() else "Nothing was running.")
            case "test":
                test(given.part)
    except Stop as stop:
        print(f"amberkey: {stop}", file=sys.stderr)
        return 1
    except KeyboardInterrupt:
        return 130
    return 0


if __name__ == "__main__":
    sys.exit(main())
