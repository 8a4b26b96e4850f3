"""Benchmarks of the engine, as ratios against a floor measured in the same run.

    PYTHONPATH=src .venv/bin/python tools/bench_engine.py [--quick]

The floor is one Python pass that groups the same strokes in a dict. Every time is the best of several runs with caches of what
is measured emptied before each; what programs are without any layer is kept with their documents, as in a running server, and
the first time is printed beside it. Prints one line a target, and exits with 1 where one is missed.
"""

import argparse
import gc
import json
import pathlib
import random
import subprocess
import sys
import time
import tracemalloc
from collections.abc import Callable, Iterator
from itertools import chain

ROOT = pathlib.Path(__file__).resolve().parent.parent
sys.path.insert(0, str(ROOT / "src"))

from targets import Target, best, ratio, told

from amberkey.core.clashes.estate import Estate
from amberkey.core.clashes.finding import find_clashes
from amberkey.core.clashes.trace import Focus, trace
from amberkey.core.keys import shortcut as shortcut_module
from amberkey.core.keys.reading import read_shortcut
from amberkey.core.layouts import layout as layout_module
from amberkey.core.profiles.model import Entry, Given, Profile
from amberkey.core.profiles.setup import Setup
from amberkey.core.programs.model import Command, Program, Scope
from amberkey.core.programs.reference import system_tables
from amberkey.core.ways.proposing import ways_out

MODIFIERS = ("Control", "Control+Shift", "Alt", "Control+Alt", "Alt+Shift", "Shift", "")
LETTERS = [*"ABCDEFGHIJKLMNOPQRSTUVWXYZ0123456789", ",", ".", "-", "+"]
NAMED = [*(f"F{n}" for n in range(1, 13)), "Enter", "Home", "End", "PageUp", "PageDown", "ArrowUp", "ArrowDown", "Insert"]
LAYOUTS = ("de", "us", "gb", "fr(azerty)", "se", "es", "it", "pl", "dk", "no")


def shortcuts(rnd: random.Random) -> Iterator[str]:
    """Shortcuts as programs have them: mostly Control and a letter, some sequences."""
    while True:
        held = rnd.choices(MODIFIERS, (38, 22, 10, 8, 6, 4, 12))[0]
        key = rnd.choice(LETTERS if held not in ("", "Shift") and rnd.random() < 0.75 else NAMED)
        press = f"{held}+{'Plus' if key == '+' else key}" if held else key
        yield f"Control+K then {press}" if rnd.random() < 0.06 else press


def program(rnd: random.Random, number: int, bindings: int) -> Program:
    """A program with its bindings spread over a tree of scopes: a third in the window, the rest in panels and editors."""
    scopes = [Scope(id="window", name="Window")]
    for n in range(max(2, bindings // 40)):
        scopes.append(Scope(id=f"panel-{n}", name=f"Panel {n}", parent="window"))
        scopes.append(Scope(id=f"editor-{n}", name=f"Editor {n}", parent=f"panel-{n}", takes_text=n % 2 == 0))
    inner = [s.id for s in scopes[1:]]
    keys = shortcuts(rnd)
    taken: set[tuple[str, str]] = set()
    commands = []
    for n in range(bindings):
        scope = "window" if rnd.random() < 0.3 and len(taken) < 150 else rnd.choice(inner)
        key = next(keys)
        while (scope, key) in taken and rnd.random() < 0.9:  # makers look before they take a key, mostly
            key = next(keys)
        taken.add((scope, key))
        commands.append(Command(id=f"do-{n}", name=f"Do thing {n}", scope=scope, defaults={"windows": (read_shortcut(key),)}))
    return Program(
        id=f"program-{number}",
        name=f"Program {number}",
        version="1",
        kind="office",
        platforms=("windows",),
        limits={"sequence_length": 3},
        scopes=tuple(scopes),
        commands=tuple(commands),
    )


def estate(bindings: int, programs: int, *, changed: int = 0, setups: int = 1) -> Estate:
    """Setups with `programs` programs of together `bindings` bindings, of which `changed` are set by a profile."""
    rnd = random.Random(bindings)
    windows = next(t for t in system_tables() if t.id == "windows")
    made = [program(rnd, n, bindings // programs) for n in range(programs)]
    keys = shortcuts(rnd)
    entries = []
    for n in range(changed):
        one = made[n % programs]
        command = one.commands[n // programs]
        given = Given(keys=read_shortcut(next(keys)))
        entries.append(Entry(program=one.id, command=command.id, platform="windows", shortcuts=(given,)))
    used = [{"id": p.id, "version": p.version} for p in (windows, *made)]
    found = {}
    for n in range(setups):
        setup = {
            "id": f"setup-{n}", "name": f"Setup {n}", "place": "here", "platform": "windows", "edition": "Pro",
            "layout": LAYOUTS[n % len(LAYOUTS)], "body": "iso" if n % 2 else "iso-no-pad", "programs": used,
            "layers": ["house"], "people": 1, "machines": 1, "numlock": n % 3 > 0,
            "mouse_hand": ("left", "right", None)[n // 4 % 3],
        }  # fmt: skip
        found[f"setup-{n}"] = Setup.model_validate(setup)
    house = Profile(id="house", name="House", entries=tuple(entries))
    return Estate(found, {(p.id, p.version): p for p in (windows, *made)}, {"house": house})


def fresh(like: Estate) -> Estate:
    """The same documents with nothing computed yet."""
    return Estate(like.setups, like.programs, like.profiles)


def clash_targets(tries: int) -> Iterator[Target]:
    costs = []
    for size, programs in ((3_000, 10), (30_000, 10)):
        documents = estate(size, programs, changed=size // 20)
        board = documents.board("setup-0")
        strokes = [b.ways[0][0] for b in board.bindings if b.live]

        def floor(strokes=strokes) -> dict:
            groups: dict = {}
            for n, stroke in enumerate(strokes):
                groups.setdefault(stroke, []).append(n)
            return groups

        def find(board=board) -> list:
            for part in board.parts.values():
                part.within = None
            return find_clashes(board)

        def find_anew(board=board) -> list:
            for part in board.parts.values():
                if part.since is not None:
                    part.since.base.within = None
            return find(board)

        def cold(documents=documents) -> list:
            return fresh(documents).clashes("setup-0")

        def first_time(documents=documents) -> list:
            for one in documents.programs.values():
                one.laid.clear()
            return cold()

        clashes = len(find())
        finding, ground = ratio(find, floor, tries)
        whole, ground_too = ratio(cold, floor, tries)
        ground = min(ground, ground_too)
        costs.append(whole / (len(strokes) + clashes))
        print(
            f"     {len(strokes)} bindings, {clashes} clashes: floor {ground * 1e3:.2f} ms, finding {finding * 1e3:.1f} ms, "
            f"from the documents {whole * 1e3:.1f} ms; the first time {best(first_time, tries) * 1e3:.1f} ms"
        )
        if size == 3_000:
            yield Target("all clashes of a laid-out setup with 3,000 bindings, in floors", finding / ground, 12)
            yield Target("the same from the documents, in floors", whole / ground, 30)
            yield from _ways_and_trace(documents, find_anew, tries)
    yield Target("time per (binding + clash), 30,000 against 3,000, from the documents", costs[1] / costs[0], 2.5)


def _ways_and_trace(documents: Estate, find: Callable[[], object], tries: int) -> Iterator[Target]:
    board = documents.board("setup-0")
    kinds = {g.clash.kind: g for g in reversed(documents.groups())}
    tried = []
    for kind, group in kinds.items():
        seconds, finding = ratio(lambda group=group: ways_out(documents, group, "house"), find, tries)
        tried.append((seconds / finding, kind))
    print("     ways out, in findings: " + ", ".join(f"{kind} {cost:.2f}" for cost, kind in sorted(tried)))
    yield Target("ways out of one clash, in findings of all clashes of the setup", max(tried)[0], 1)
    bound = [b for b in board.bindings if b.live][::7]

    def walk() -> None:
        for binding in bound:
            trace(board, binding.ways[0], Focus(binding.program.id, binding.scope))

    seconds, finding = ratio(walk, find, tries)
    yield Target("one trace, in findings of all clashes of the setup", seconds / len(bound) / finding, 0.01)


def reading_target(tries: int) -> Target:
    rnd = random.Random(7)
    held = (("ctrl", "Strg", "Control"), ("Umschalt", "shift", "maj", "skift"), ("alt", "option"), ("cmd", "Super", "win"))
    keys = ["u", "7", "F5", "Entf", "page up", "pos1", "Suppr", "left", "ö", "enter", "/", "Space", "Bild ab", "num 7", "é"]
    texts: set[str] = set()
    while len(texts) < 10_000:
        presses = []
        for _ in range(rnd.choice((1, 1, 1, 2))):
            sign = rnd.choice(("+", "-", " ", " + "))
            presses.append(sign.join([*(rnd.choice(m) for m in rnd.sample(held, rnd.randint(0, 3))), rnd.choice(keys)]))
        texts.add(" then ".join(presses))
    ordered = sorted(texts)

    def floor() -> None:
        for text in ordered:
            text.split()

    def read() -> None:
        read_shortcut.cache_clear()
        shortcut_module._in_order.cache_clear()
        for text in ordered:
            read_shortcut(text)

    reading, ground = ratio(read, floor, tries)
    return Target("10,000 distinct forgiving texts read, uncached, in str.split of them", reading / ground, 60)


def loading_targets(tries: int) -> Iterator[Target]:
    def load() -> None:
        layout_module.load_layout.cache_clear()
        layout_module._data.cache_clear()
        layout_module.load_layout("de", "windows")

    yield Target("loading a layout, its data file read anew", best(load, tries) * 1e3, 20, "ms")
    modules = "amberkey.core.ways.proposing, amberkey.core.formats"
    program = (
        f"import time; b = time.perf_counter(); import {modules}; import sys; "
        "print(time.perf_counter() - b, 'django' in sys.modules)"
    )
    found = []
    for _ in range(tries):
        done = subprocess.run([sys.executable, "-c", program], capture_output=True, text=True, check=True, cwd=ROOT / "src")
        seconds, django = done.stdout.split()
        assert django == "False"
        found.append(float(seconds))
    yield Target("importing core, without Django", min(found), 0.5, "s")


def memory_target() -> Target:
    documents = estate(3_000, 10, changed=150, setups=100)
    gc.collect()
    tracemalloc.start()
    for setup_id in documents.setups:
        documents.clashes(setup_id)
    gc.collect()
    used, _ = tracemalloc.get_traced_memory()
    tracemalloc.stop()
    return Target("100 distinct setups of 3,000 bindings with their clashes", used / 1e6, 150, "MB")


def command_line_target(tries: int) -> Iterator[Target]:
    for name, most, words in (
        ("press", 0.1, ["press", "Control+/", "--layout", "de", "--json"]),
        ("layout", 0.1, ["layout", "de", "--platform", "windows", "--json"]),
        ("check", 0.3, ["check", str(ROOT / "tests/example/setup-ticket-counters.json"), "--json"]),
    ):
        times = []
        for _ in range(tries):
            begun = time.perf_counter()
            done = subprocess.run([str(ROOT / "amberkey"), *words], capture_output=True, text=True, stdin=subprocess.DEVNULL)
            times.append(time.perf_counter() - begun)
            assert done.returncode < 2, done.stderr
            json.loads(done.stdout)
        yield Target(f"the command line's answer: {name}", min(times), most, "s")


def main() -> int:
    parser = argparse.ArgumentParser()
    parser.add_argument("--quick", action="store_true", help="fewer runs, for a first look")
    tries = 3 if parser.parse_args().quick else 9
    found = (
        clash_targets(tries),
        iter([reading_target(tries)]),
        loading_targets(tries),
        iter([memory_target()]),
        command_line_target(tries),
    )
    return told(chain.from_iterable(found))


if __name__ == "__main__":
    sys.exit(main())
