"""Benchmarks of settings files, as ratios within one run.

    PYTHONPATH=src python tools/bench_files.py

For each container a file of 5,000 entries: reading it, and writing one shortcut into it, against what its own library (where
there is none, Python's own way over the same bytes) takes to read the file; and writing into one of 10,000, in seconds.
"""

import configparser
import csv
import io
import json
import sys
import time
import tomllib
import xml.etree.ElementTree as ElementTree
from collections.abc import Callable

import yaml
from targets import Target, ratio, told

from amberkey.core.descriptions.carrying import Wanted, read_file, write_file
from amberkey.core.descriptions.described import Described
from amberkey.core.keys.reading import read_shortcut

ENTRIES = 5_000
DIALECT = {"modifiers": {"Control": ["Ctrl+"], "Alt": ["Alt+"], "Shift": ["Shift+"], "Meta": ["Win+"]}}
KEYS = [f"{m}{chr(65 + n)}" for n in range(26) for m in ("Ctrl+", "Alt+", "Ctrl+Shift+")]
ROWS = [(f"command.{n}", KEYS[n % len(KEYS)]) for n in range(ENTRIES)]
LIST = {"at": ["keys"], "command": "do", "keys": {"at": "on"}, "dialect": DIALECT}
NAMED = {"at": ["keys"], "command": "name", "keys": {"at": "value"}, "dialect": DIALECT}


def _ini(text: str) -> None:
    parser = configparser.ConfigParser(interpolation=None)
    parser.read_string(text)


def _lines(text: str) -> list[list[str]]:
    return [line.split(" <- ") for line in text.splitlines()]


def _store(text: str) -> list[list[str]]:
    return [line.split("=", 1) for line in text.splitlines()]


Floor = Callable[[str], object]
FILES: dict[str, tuple[dict[str, object], str, Floor, float]] = {
    "json": (LIST, json.dumps({"keys": [{"do": c, "on": k} for c, k in ROWS]}, indent=1), json.loads, 6),
    "yaml": (NAMED, "keys:\n" + "".join(f"  {c}: {k}\n" for c, k in ROWS), lambda t: yaml.compose(t, yaml.CSafeLoader), 2),
    "toml": (LIST, "".join(f'[[keys]]\ndo = "{c}"\non = "{k}"\n\n' for c, k in ROWS), tomllib.loads, 2),
    "xml": (
        {"at": ["root", "keys"], "record": "key", "command": "@do", "keys": {"at": "@on"}, "dialect": DIALECT},
        "<root><keys>\n" + "".join(f'  <key do="{c}" on="{k}"/>\n' for c, k in ROWS) + "</keys></root>\n",
        ElementTree.fromstring,
        3,
    ),
    "ini": (NAMED, "[keys]\n" + "".join(f"{c}={k}\n" for c, k in ROWS), _ini, 3),
    "properties": ({**NAMED, "at": []}, "".join(f"{c}={k}\n" for c, k in ROWS), lambda t: _ini("[keys]\n" + t), 3),
    "table": (
        {"command": "do", "keys": {"at": "on"}, "dialect": DIALECT},
        "do,on\n" + "".join(f"{c},{k}\n" for c, k in ROWS),
        lambda t: list(csv.DictReader(io.StringIO(t))),
        3,
    ),
    "lines": (
        {
            "options": {"template": "{command} <- {keys:rest}"},
            "command": "command",
            "keys": {"at": "keys"},
            "dialect": DIALECT,
        },
        "".join(f"{c} <- {k}\n" for c, k in ROWS),
        _lines,
        3,
    ),
    "store": (
        {"command": "name", "keys": {"at": "value", "form": "list"}, "dialect": DIALECT},
        "[keys]\n" + "".join(f"{c}=['{k}']\n" for c, k in ROWS),
        _store,
        3,
    ),
}


def main() -> int:
    found = []
    for name, (value, text, floor, most) in FILES.items():
        how = Described.model_validate({"container": name, **value}, strict=False)
        data = text.encode()
        wanted = {Wanted("keys/command.7" if name == "store" else "command.7"): (read_shortcut("F9"),)}
        assert len(read_file(data, how).found) == ENTRIES
        reads, least = ratio(lambda: read_file(data, how), lambda: floor(text), 5)  # noqa: B023
        found.append(Target(f"{name}: reading {ENTRIES:,} entries ({1000 * reads:.0f} ms)", reads / least, most))
        writes, least = ratio(lambda: write_file(data, how, wanted), lambda: floor(text), 3)  # noqa: B023
        found.append(Target(f"{name}: writing one of them ({1000 * writes:.0f} ms)", writes / least, most))
    for name, (value, text, _, _) in FILES.items():
        how = Described.model_validate({"container": name, **value}, strict=False)
        most_entries = "command.7" if name != "store" else "keys/command.7"
        data = _grown(name, text)
        begun = time.perf_counter()
        write_file(data, how, {Wanted(most_entries): (read_shortcut("F9"),)})
        took = time.perf_counter() - begun
        found.append(Target(f"{name}: writing into 10,000 entries, seconds", took, 2))
    return told(found)


def _grown(name: str, text: str) -> bytes:
    """The same file with twice as many entries."""
    more = [text.replace("command.", f"again{n}.") for n in range(1)]
    match name:
        case "json":
            whole = [json.loads(t)["keys"] for t in (text, *more)]
            return json.dumps({"keys": [e for part in whole for e in part]}, indent=1).encode()
        case "xml":
            inner = [t.removeprefix("<root><keys>\n").removesuffix("</keys></root>\n") for t in (text, *more)]
            return f"<root><keys>\n{''.join(inner)}</keys></root>\n".encode()
        case "yaml" | "ini" | "store" | "table":
            return (text + "".join(t.partition("\n")[2] for t in more)).encode()
        case _:
            return "".join([text, *more]).encode()


if __name__ == "__main__":
    sys.exit(main())
