"""The same documents give the same answers, in the same words and order, in every process and after any history."""

import json
import os
import pathlib
import subprocess
import sys
import threading
from dataclasses import replace
from types import SimpleNamespace

from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from amberkey.core.clashes.estate import Estate, Shared
from amberkey.core.clashes.grouping import Grouping
from amberkey.core.clashes.wording import say_clash
from amberkey.core.ways.proposing import ways_out
from amberkey.core.ways.several import with_operations
from tests.core.estates import drawings, drawn, put_up

ROOT = pathlib.Path(__file__).parents[2]
few = settings(max_examples=40, derandomize=True, deadline=None, suppress_health_check=list(HealthCheck))


def told(estate: Estate, *, ways: bool = False) -> list:
    """Everything that people see of an estate's clashes, in the order in which they see it."""
    lines = []
    for group in (*estate.groups(), *estate.meant_groups()):
        board = estate.board(group.setups[0].id)
        clash = group.clash
        seen = [clash.identity, clash.severity, say_clash(clash, board), clash.text, str(clash.stroke), clash.focus]
        seen += [[b.participant for b in clash.parties], [s.id for s in group.setups], group.people]
        if ways:
            found = ways_out(estate, replace(group, clash=clash), "house")
            seen += [[w.key, list(w.reasons), [g.clash.identity for g in w.consequences.makes]] for w in found]
        lines.append(seen)
    return lines


def in_another_process(number: int, seed: str) -> list:
    """What another process tells of a drawn estate; sets have another order in it."""
    code = (
        "import json, random\nfrom tests.core.estates import drawn, put_up\nfrom tests.core.test_same_everywhere import told\n"
    )
    code += f"print(json.dumps([told(put_up(*drawn(random.Random(n))), ways=True) for n in range({number}, {number} + 12)]))"
    env = {**os.environ, "PYTHONHASHSEED": seed, "PYTHONPATH": f"{ROOT / 'src'}{os.pathsep}{ROOT}"}
    done = subprocess.run([sys.executable, "-c", code], env=env, cwd=ROOT, capture_output=True, text=True, check=True)
    return json.loads(done.stdout)


def test_two_processes_tell_the_same():
    assert in_another_process(500, "1") == in_another_process(500, "2")


@few
@given(drawings)
def test_what_was_worked_out_before_changes_no_word(documents):
    """An estate that stands on what earlier ones shared tells what one tells that was made anew."""
    estate = put_up(*documents)
    told(estate)
    group = next((g for g in estate.groups() if any(w.changes for w in ways_out(estate, g, "house"))), None)
    if group is None:
        return
    way = next(w for w in ways_out(estate, group, "house") if w.changes)
    after = with_operations(estate, way.changes)
    anew = Estate(after.setups, after.programs, after.profiles, after.tasks, after.today)
    assert told(after) == told(anew)
    back = replace(estate)
    assert told(back) == told(put_up(*documents))


@settings(max_examples=6, derandomize=True, deadline=None, suppress_health_check=list(HealthCheck))
@given(st.integers(0, 1_000))
def test_eight_threads_share_what_they_work_out(number):
    """Estates come and go in several threads at once, and all of them tell the same as one that shares nothing."""
    import random

    several = [drawn(random.Random(number + n)) for n in range(4)]
    expected = [told(put_up(*documents)) for documents in several]
    shared = Shared()
    start = threading.Barrier(8)
    wrong: list[object] = []

    def work(own: int) -> None:
        start.wait()
        for n in range(6):
            which = (own + n) % len(several)
            estate = replace(put_up(*several[which]), shared=shared)
            try:
                shared.prune(estate.setups)
                found = told(estate)
            except Exception as error:  # whatever it is, it is what this test is for
                wrong.append(error)
                return
            if found != expected[which]:
                wrong.append(which)

    threads = [threading.Thread(target=work, args=(n,)) for n in range(8)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert wrong == []


def test_what_was_counted_of_a_board_is_taken_back_whatever_was_found_of_it_since():
    """Another thread may put a board together anew, or find its clashes again, between the counting and the next one."""
    boards = {name: SimpleNamespace(clashes=None) for name in "abcde"}
    found = {name: [SimpleNamespace(identity=of) for of in ("all", name)] for name in boards}
    first = Grouping.made(boards, found, None)
    assert set(first.copies["all"]) == set("abcde")
    fewer = {name: board for name, board in boards.items() if name != "e"}
    second = Grouping.made(fewer, found, first)
    assert (second.origin, set(second.copies["all"]), "e" in second.copies) == (first.token, set("abcd"), False)
    # And so on from there, where one has another board and nothing else.
    third = Grouping.made({**fewer, "d": SimpleNamespace(clashes=None)}, {**found, "d": []}, second)
    assert (set(third.copies["all"]), set(third.copies)) == (set("abc"), {"all", "a", "b", "c"})
