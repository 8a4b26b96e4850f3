"""`amberkey press`, `layout`, `check` and the other verbs that answer from files: exit code 0 fine, 1 findings, 2 wrong use."""

import argparse
import gc
import json
import os
import sys
from collections.abc import Sequence
from typing import NoReturn

from amberkey.cli.errors import Wrong
from amberkey.core.keys.platform import PLATFORMS

FINE, FINDINGS, WRONG = 0, 1, 2
READINGS = ("character", "key", "position")


class Parser(argparse.ArgumentParser):
    def error(self, message: str) -> NoReturn:
        raise Wrong(f"{message[:300].capitalize()}. See {self.prog} --help.")


def main(words: Sequence[str] | None = None) -> int:
    given = list(sys.argv[1:] if words is None else words)
    if words is None:
        _hurry()
    as_json = "--json" in given
    try:
        return _answer(_parser().parse_args(given), as_json)
    except Wrong as wrong:
        print(f"amberkey: {wrong.says}", file=sys.stderr)
        if as_json:
            print(json.dumps({"error": {"says": wrong.says, **wrong.facts}}, ensure_ascii=False))
        return WRONG
    except BrokenPipeError:  # the reader has seen enough
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
        return FINE
    except KeyboardInterrupt:
        return 130


def _hurry() -> None:
    """For a process that answers once: nothing it makes is worth collecting, and no plug-ins are looked for."""
    gc.disable()
    os.environ.setdefault("PYDANTIC_DISABLE_PLUGINS", "1")


def _answer(asked: argparse.Namespace, as_json: bool) -> int:
    # Each verb brings its own modules: what reads keys only answers at once, and without anything installed.
    match asked.verb:
        case "press":
            from amberkey.cli.press import press

            answers, code = press(asked)
        case "layout":
            from amberkey.cli.layout import layout

            answers, code = layout(asked)
        case "check":
            from amberkey.cli.check import check

            answers, code = check(asked)
        case "coverage":
            from amberkey.cli.coverage import coverage

            answers, code = coverage(asked)
        case "compare":
            from amberkey.cli.compare import compare

            answers, code = compare(asked)
        case "upgrade":
            from amberkey.cli.upgrade import upgrade

            answers, code = upgrade(asked)
        case "propose":
            from amberkey.cli.propose import propose

            answers, code = propose(asked)
        case "bundle":
            from amberkey.cli.bundle import bundle

            answers, code = bundle(asked)
        case "convert":
            from amberkey.cli.convert import convert

            answers, code = convert(asked)
        case _:
            from amberkey.cli.trace import trace

            answers, code = trace(asked)
    if as_json:
        shapes = [a.facts for a in answers]
        print(json.dumps(shapes[0] if len(shapes) == 1 else shapes, ensure_ascii=False, indent=1))
    else:
        print("\n\n".join(a.text for a in answers))
    return code


def _parser() -> Parser:
    parser = Parser(prog="amberkey", description="Answers about keys and documents, from files alone.")
    verbs = parser.add_subparsers(dest="verb", required=True)

    verb = verbs.add_parser("press", help="read shortcuts and say what makes them on a keyboard")
    verb.add_argument("shortcut", nargs="+", help="for instance Control+/ or 'F8 then ctrl l'")
    _keyboard_options(verb)
    verb.add_argument("--reads", choices=READINGS, default="character", help="how the program reads keys")
    verb.add_argument("--body", help="the keyboard body, for instance iso-no-pad")
    verb.add_argument("--json", action="store_true", help="answer as JSON")

    verb = verbs.add_parser("layout", help="what the keys of layouts type")
    verb.add_argument("layout", nargs="*", help="for instance de or 'us(mac)'; none lists them")
    verb.add_argument("--platform", choices=PLATFORMS, help="the platform; else the first that has the layout")
    verb.add_argument("--json", action="store_true", help="answer as JSON")

    verb = verbs.add_parser("check", help="the clashes of setups")
    verb.add_argument("setup", nargs="+", help="setup documents; what they name is looked for beside them")
    _document_options(verb)
    verb.add_argument("--before", metavar="PROFILE", help="an earlier state of a profile: only clashes that are new since")
    verb.add_argument("--ways", action="store_true", help="with the ways out of each clash")
    verb.add_argument("--sarif", metavar="PATH", help="write the clashes there as SARIF 2.1.0 as well")
    verb.add_argument("--today", help="judge keys given up as on this day (YYYY-MM-DD; else this machine's day)")
    verb.add_argument("--json", action="store_true", help="answer as JSON")

    verb = verbs.add_parser("trace", help="the way of presses through a setup")
    verb.add_argument("setup", help="a setup document; what it names is looked for beside it")
    verb.add_argument("shortcut", nargs="+", help="for instance Control+Alt+8")
    verb.add_argument("--focus", action="append", default=[], metavar="PROGRAM/SCOPE", help="where people are; several allowed")
    _document_options(verb)
    verb.add_argument("--json", action="store_true", help="answer as JSON")

    verb = verbs.add_parser("coverage", help="how far setups follow a standard")
    verb.add_argument("standard", help="a standard document")
    verb.add_argument("setup", nargs="+", help="setups, or an organisation; what they name is looked for beside them")
    verb.add_argument("--compiled", action="store_true", help="as if the standard's layer lay under all others")
    verb.add_argument("--tasks", action="store_true", help="a figure for each task as well")
    verb.add_argument("--cells", action="store_true", help="everything that doesn't agree, with the reason")
    verb.add_argument("--today", help="judge exceptions as on this day (YYYY-MM-DD; else this machine's day)")
    _document_options(verb)
    verb.add_argument("--json", action="store_true", help="answer as JSON")

    verb = verbs.add_parser("compare", help="what differs between two documents")
    verb.add_argument("one", help="a document of any kind")
    verb.add_argument("other", help="another one of the same kind")
    verb.add_argument("--table", action="store_true", help="as a table, a row for each field that differs")
    verb.add_argument(
        "--take", action="append", default=[], metavar="ID", help="take this difference into one; several allowed"
    )
    verb.add_argument("--take-all", action="store_true", help="take all differences into one")
    verb.add_argument("--base", help="what both were made from: merges what one changed into the other")
    verb.add_argument("--to", metavar="PATH", help="where to write the document with what was taken or merged")
    verb.add_argument("--json", action="store_true", help="answer as JSON")

    verb = verbs.add_parser("convert", help="a settings file as a profile, or with what a profile says")
    verb.add_argument("file", help="the settings file")
    verb.add_argument("--program", required=True, help="the program document that describes it")
    verb.add_argument("--number", type=int, default=1, help="which of the files that the program describes (1)")
    verb.add_argument("--platform", choices=PLATFORMS, help="the platform; else the program's first")
    verb.add_argument("--profile", help="write what this profile says; without it, read what the file says")
    verb.add_argument("--to", metavar="PATH", help="where to write the profile, or the settings file")
    verb.add_argument("--json", action="store_true", help="answer as JSON")

    verb = verbs.add_parser("upgrade", help="what a new version of a program changes, and for whom")
    verb.add_argument("old", help="the program document of the version that people have")
    verb.add_argument("new", help="that of the new version")
    verb.add_argument("--setup", action="append", default=[], help="a setup or an organisation; several allowed")
    verb.add_argument("--standard", help="a standard document: which of its tasks the program gains and loses")
    verb.add_argument(
        "--take", action="append", default=[], metavar="ID", help="take the proposed renaming of this old command as true"
    )
    verb.add_argument("--take-all", action="store_true", help="take all proposed renamings as true")
    verb.add_argument("--today", help="judge keys given up as on this day (YYYY-MM-DD; else this machine's day)")
    _document_options(verb)
    verb.add_argument("--json", action="store_true", help="answer as JSON")

    verb = verbs.add_parser("propose", help="keys for all tasks of a platform at once, and how good they are at least")
    verb.add_argument("setup", nargs="+", help="an organisation, or setups; what they name is looked for beside them")
    verb.add_argument("--standard", help="the standard as it is: its lines, exceptions and keys with several meanings")
    verb.add_argument("--platform", choices=PLATFORMS, required=True, help="the platform that keys are chosen for")
    verb.add_argument(
        "--together", action="append", default=[], choices=PLATFORMS, help="choose for this platform in the same go; several"
    )
    verb.add_argument(
        "--pin", action="append", default=[], metavar="[PLATFORM:]TASK=KEYS", help="a key that a task must have; several"
    )
    verb.add_argument(
        "--ban",
        action="append",
        default=[],
        metavar="[PLATFORM:][TASK=]KEYS",
        help="a key that no line may get, or not one task; several",
    )
    verb.add_argument("--spare", action="append", default=[], metavar="PROGRAM", help="leave this program alone; several")
    verb.add_argument(
        "--alone", action="append", default=[], metavar="DEPARTMENT", help="its people relearn nothing; several departments"
    )
    verb.add_argument("--budget", type=_number, metavar="N", help="the most keys relearned, over all people; else any number")
    verb.add_argument("--seconds", type=_number, default=60, metavar="N", help="how long the solver may look (60)")
    verb.add_argument("--gap", type=float, default=0.01, help="exit code 1 where others might be better by more (0.01)")
    verb.add_argument("--to", metavar="PATH", help="where to write the standard that is proposed")
    verb.add_argument("--today", help="judge exceptions as on this day (YYYY-MM-DD; else this machine's day)")
    _document_options(verb)
    verb.add_argument("--json", action="store_true", help="answer as JSON")

    whats = verbs.add_parser("bundle", help="make, inspect and verify signed bundles").add_subparsers(
        dest="what", required=True
    )
    what = whats.add_parser("make", help="pack documents, with the settings files that follow from profiles")
    what.add_argument("document", nargs="+", help="documents; the programs of profiles are looked for beside them")
    _document_options(what)
    what.add_argument("--to", required=True, metavar="PATH", help="where to write the bundle")
    what.add_argument("--name", help="what the bundle is called; else as its first document")
    what.add_argument("--sections", action="append", default=[], metavar="NAMES", help="only these sections of profiles")
    what.add_argument("--vouch", action="store_true", help="take launchers along: you vouch for what they run")
    what.add_argument("--key", metavar="FILE", help="the key to sign with; without it nobody signs")
    _key_options(what)
    for name, says in (("inspect", "say what is in a bundle"), ("verify", "say whether a bundle is whole, and whose")):
        what = whats.add_parser(name, help=says)
        what.add_argument("file", help="the bundle")
        what.add_argument("--trust", action="append", default=[], metavar="CARD", help="a public key; several allowed")
        what.add_argument("--json", action="store_true", help="answer as JSON")
    what = whats.add_parser("key", help="make a key to sign with")
    what.add_argument("--to", required=True, metavar="FILE", help="where to keep the secret key; never written over")
    what.add_argument("--card", metavar="FILE", help="where to write the public key, to give to others")
    _key_options(what)
    return parser


def _key_options(verb: argparse.ArgumentParser) -> None:
    verb.add_argument("--organisation", help="what whoever signs calls itself")
    verb.add_argument("--before", action="append", default=[], metavar="FILE", help="an earlier key, which hands over")
    verb.add_argument("--json", action="store_true", help="answer as JSON")


def _keyboard_options(verb: argparse.ArgumentParser) -> None:
    verb.add_argument(
        "--layout", action="append", default=[], help="the keyboard layout (us); several allowed, also with commas"
    )
    verb.add_argument("--platform", choices=PLATFORMS, help="the platform; else the first that has the layout")


def _number(text: str) -> int:
    """A whole number that isn't below nothing."""
    if not text.isdecimal() or len(text) > 9:
        raise argparse.ArgumentTypeError(f"{text[:40]!r} is no number from 0 to 999999999")
    return int(text)


def _document_options(verb: argparse.ArgumentParser) -> None:
    verb.add_argument(
        "--with", action="append", default=[], dest="more", metavar="PATH", help="further documents: files, or folders of them"
    )


if __name__ == "__main__":
    code = main()
    sys.stdout.flush()
    sys.stderr.flush()
    os._exit(code)  # nothing is open that wants closing, and taking everything apart takes time
