"""Makes an organisation of any size, always the same one for the same numbers: programs, profiles, people and machines.

    PYTHONPATH=src .venv/bin/python tools/make_organisation.py FOLDER [--machines 10000] [--setups 200] [--programs 60]
        [--commands 20000] [--tasks 0] [--kits 5] [--seed 1]

writes its documents into a folder, for benchmarks and for trying screens with much in them. With tasks, seven of ten commands
of a program do one, as in the example, and nearly all have a key of their own, half of them the one that most programs have.
"""

import argparse
import pathlib
import random
import sys
from collections.abc import Iterator
from dataclasses import dataclass
from itertools import product

ROOT = pathlib.Path(__file__).resolve().parent.parent
sys.path.insert(0, str(ROOT / "src"))

from amberkey.core.documents.model import Document, read_document
from amberkey.core.formats import FORMATS
from amberkey.core.keys.platform import Platform
from amberkey.core.programs.reference import system_tables

PLATFORMS: tuple[Platform, ...] = ("windows", "linux", "macos")
KEYBOARDS: dict[Platform, list[tuple[str, str]]] = {
    "windows": [("de", "iso"), ("gb", "iso-no-pad"), ("fr(azerty)", "iso"), ("us", "ansi"), ("se", "iso-laptop")],
    "linux": [("us", "ansi"), ("de", "iso"), ("se", "iso-no-pad")],
    "macos": [("us(mac)", "mac-ansi"), ("de(mac)", "mac-iso-laptop")],
}
WORDS = ("Open", "Close", "Turn", "Move", "Join", "Split", "Mark", "Sort", "Send", "Keep", "Draw", "Count")
THINGS = ("page", "row", "list", "berth", "route", "fare", "note", "panel", "picture", "line", "block", "group")
MODIFIERS = {
    "windows": ("Control", "Control+Shift", "Alt+Shift", "Control+Alt"),
    "linux": ("Control", "Control+Shift", "Alt+Shift", "Control+Alt"),
    "macos": ("Meta", "Shift+Meta", "Alt+Meta", "Control+Meta"),
}
LETTERS = [*"ABCDEFGHIJKLMNOPQRSTUVWXYZ0123456789"]
NAMED = [*(f"F{n}" for n in range(2, 13)), "Home", "End", "PageUp", "PageDown", "Insert"]
_PROGRAMS_A_KIT = 12


@dataclass(frozen=True)
class Size:
    machines: int = 10_000
    setups: int = 200
    programs: int = 60
    commands: int = 20_000
    tasks: int = 0
    kits: int = 5
    seed: int = 1


def make(size: Size) -> list[Document]:
    """The documents of an organisation of that size, the system tables included."""
    rnd = random.Random(size.seed)
    tasks = _tasks(rnd, size.tasks) if size.tasks else None
    programs = [_program(rnd, n, size.commands // size.programs, tasks) for n in range(size.programs)]
    values = [*programs, *_profiles(rnd, programs), _organisation(rnd, size, programs), *([tasks] if tasks else [])]
    return [*system_tables(), *(read_document(v, FORMATS) for v in values)]


def _tasks(rnd: random.Random, count: int) -> dict:
    """Tasks, every twentieth pair of them a family; what most programs have for a task is its usual press."""
    tasks = []
    for n in range(count):
        name = f"{rnd.choice(WORDS)} the {rnd.choice(THINGS)} {n}"
        usual = {p: [_press(rnd, p)] for p in PLATFORMS}
        tasks.append({"id": f"task-{n}", "name": name, "usual": usual, "protected": n < count // 200})
    families = [
        {"id": f"family-{n}", "name": f"Family {n}", "step": "shift", "members": [f"task-{n}", f"task-{n + 1}"]}
        for n in range(count // 4, count - 1, 40)
    ]
    return {"format": "amberkey/tasks@1", "id": "tasks", "name": "Tasks", "tasks": tasks, "families": families}


def _press(rnd: random.Random, platform: Platform) -> str:
    return rnd.choice(NAMED) if rnd.random() < 0.1 else f"{rnd.choice(MODIFIERS[platform])}+{rnd.choice(LETTERS)}"


def _program(rnd: random.Random, number: int, commands: int, tasks: dict | None) -> dict:
    scopes = [{"id": "window", "name": "Whole window"}, {"id": "text", "name": "Text", "parent": "window", "takes_text": True}]
    scopes += [{"id": f"panel-{n}", "name": f"Panel {n}", "parent": "window"} for n in range(1, 4)]
    return {
        "format": "amberkey/program@1",
        "id": f"program-{number}",
        "name": f"Program {number}",
        "version": "1.0",
        "kind": "office",
        "platforms": list(PLATFORMS),
        "limits": {"sequence_length": 2, "bare_keys": True},
        "on_tie": rnd.choice(("first", "last", "either")),
        "scopes": scopes,
        "commands": [_command(rnd, n, scopes) for n in range(commands)]
        if tasks is None
        else list(_commands_of_tasks(rnd, commands, scopes, tasks["tasks"])),
    }


def _commands_of_tasks(rnd: random.Random, count: int, scopes: list[dict], tasks: list[dict]) -> Iterator[dict]:
    """Commands that do tasks, those at the front of the list more often, each key once in a program."""
    own = iter(_some_of(rnd, tasks, count * 7 // 10))
    taken: dict[Platform, set[str]] = {p: set() for p in PLATFORMS}
    for n in range(count):
        found = _command(rnd, n, scopes)
        found.pop("defaults", None)
        if (task := next(own, None)) is not None:
            found |= {"name": task["name"], "task": task["id"], "scope": "window"}
        defaults = {}
        for platform in PLATFORMS:
            usual = task["usual"][platform] if task is not None and (task["protected"] or rnd.random() < 0.5) else []
            drawn = [*usual, *(_press(rnd, platform) for _ in range(20))]
            key = next((k for k in drawn if k not in taken[platform]), None)
            if key is not None:
                taken[platform].add(key)
                defaults[platform] = [key]
        yield {**found, "defaults": defaults}


def _some_of(rnd: random.Random, tasks: list[dict], count: int) -> list[dict]:
    """Of many tasks, some that are well known and some of every kind: the first half of them from the front."""
    front = max(1, min(len(tasks), count * 2))
    found = {t["id"]: t for t in rnd.sample(tasks[:front], min(front, count // 2))}
    for task in rnd.sample(tasks, min(len(tasks), count * 2)):
        if len(found) >= count:
            break
        found.setdefault(task["id"], task)
    return list(found.values())


def _command(rnd: random.Random, number: int, scopes: list[dict]) -> dict:
    name = f"{rnd.choice(WORDS)} the {rnd.choice(THINGS)} {number}"
    bound = rnd.random() < 0.4  # most commands of large programs have no shortcut
    defaults = {p: [_shortcut(rnd, p)] for p in PLATFORMS} if bound else {}
    return {
        "id": f"do-{number}",
        "name": name,
        "scope": rnd.choice(scopes)["id"],
        "description": f"{name}, as it says.",
        **({"defaults": defaults} if defaults else {}),
    }


def _shortcut(rnd: random.Random, platform: Platform) -> str | list[str]:
    if rnd.random() < 0.25:
        return rnd.choice(NAMED)
    press = f"{rnd.choice(MODIFIERS[platform])}+{rnd.choice(LETTERS)}"
    return ["F8", press] if rnd.random() < 0.5 else press


def _profiles(rnd: random.Random, programs: list[dict]) -> Iterator[dict]:
    names = ["house", *(f"department-{n}" for n in range(8)), "role-0", "role-1", "own"]
    for name in names:
        entries = {}
        for _ in range(8 if name == "own" else 60):
            program = rnd.choice(programs)
            command = rnd.choice(program["commands"])["id"]
            platform = rnd.choice(PLATFORMS)
            shortcuts = [{"keys": f"{rnd.choice(MODIFIERS[platform])}+{rnd.choice(LETTERS)}"}]
            entry = {"program": program["id"], "command": command, "platform": platform, "shortcuts": shortcuts}
            entries[program["id"], command, platform] = entry
        yield {"format": "amberkey/profile@1", "id": name, "name": name.title(), "entries": list(entries.values())}


def _organisation(rnd: random.Random, size: Size, programs: list[dict]) -> dict:
    systems = {p.platforms[0]: {"id": p.id, "version": p.version} for p in system_tables()}
    ids = [p["id"] for p in programs]
    kits = []
    for platform in PLATFORMS:
        for n in range(size.kits):
            used = rnd.sample(ids, min(_PROGRAMS_A_KIT, len(ids)))
            kits.append(
                {
                    "id": f"kit-{platform}-{n}",
                    "name": f"Kit {n} on {platform}",
                    "programs": [systems[platform], *({"id": i, "version": "1.0"} for i in used)],
                }
            )
    different = [
        (platform, keyboard, kit, department, role)
        for platform in PLATFORMS
        for keyboard, kit, department, role in product(KEYBOARDS[platform], range(size.kits), range(8), range(2))
    ]
    rnd.shuffle(different)
    chosen = different[: size.setups]
    if len(chosen) < size.setups:
        raise SystemExit(f"At most {len(different)} different setups can be made.")
    people, machines, seats = [], [], []
    for n in range(size.machines):
        platform, (layout, body), kit, department, role = chosen[n % len(chosen)]
        machines.append(
            {
                "id": f"machine-{n}",
                "name": f"Desk {n}",
                "platform": platform,
                "edition": "any",
                "layouts": [layout],
                "body": body,
                "kits": [f"kit-{platform}-{kit}"],
            }
        )
        people.append(
            {"id": f"person-{n}", "name": f"Person {n}", "department": f"department-{department}", "roles": [f"role-{role}"]}
        )
        seats.append({"person": f"person-{n}", "machine": f"machine-{n}"})
    return {
        "format": "amberkey/organisation@1",
        "id": "organisation",
        "name": f"An organisation of {size.machines} machines",
        "profiles": ["house"],
        "departments": [
            {"id": f"department-{n}", "name": f"Department {n}", "profiles": [f"department-{n}"]} for n in range(8)
        ],
        "roles": [{"id": f"role-{n}", "name": f"Role {n}", "profiles": [f"role-{n}"]} for n in range(2)],
        "kits": kits,
        "people": people,
        "machines": machines,
        "seats": seats,
    }


def main() -> None:
    parser = argparse.ArgumentParser(description="Make an organisation of any size.")
    parser.add_argument("folder", type=pathlib.Path)
    for name, default in vars(Size()).items():
        parser.add_argument(f"--{name}", type=int, default=default)
    given = vars(parser.parse_args())
    folder = given.pop("folder")
    folder.mkdir(parents=True, exist_ok=True)
    for document in make(Size(**given)):
        kind = document.format.split("/")[1].split("@")[0]
        (folder / f"{kind}-{document.id}.json").write_bytes(document.to_bytes())
    print(f"{len(list(folder.glob('*.json')))} documents in {folder}")


if __name__ == "__main__":
    main()
