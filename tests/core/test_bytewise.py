"""Sign by sign: what differs is told, and nothing of what stands around it."""

import random

import pytest

from amberkey.core.descriptions.bytewise import Differs, bytewise


@pytest.mark.parametrize(
    "before, after, told",
    [
        (b"a=1\nb=2\n", b"a=1\nb=2\n", []),
        (b"secret=x\nkey=ctl-a\n", b"secret=x\nkey=ctl-b\n", [Differs(2, "a", "b")]),
        (b"a\nc\n", b"a\nb\nc\n", [Differs(2, "", "b")]),
        (b"a\nb\nc\n", b"a\nc\n", [Differs(2, "b", "")]),
        (b'{"secret": 1, "on": ["f9"]}', b'{"secret": 1, "on": ["f9", "f8"]}', [Differs(1, "", ', "f8"')]),
        (b"", b"a=1\n", [Differs(1, "", "a=1")]),
        (b"k=\xff\n", b"k=a\n", [Differs(1, "\\xff", "a")]),
        (b"aa\n", b"aaa\n", [Differs(1, "", "a")]),
    ],
)
def test_what_differs_is_told_with_its_line(before, after, told):
    assert bytewise(before, after, "utf-8") == told


@pytest.mark.parametrize("seed", range(20))
def test_what_is_told_is_enough_and_no_more(seed):
    rnd = random.Random(seed)
    lines = [f"line {n} is of somebody else" for n in range(rnd.randint(1, 30))]
    changed = {n: f"{line[:5]}{rnd.randint(100, 999)}{line[5:]}" for n, line in enumerate(lines) if rnd.random() < 0.3}
    after = [changed.get(n, line) for n, line in enumerate(lines)]
    found = bytewise("\n".join(lines).encode(), "\n".join(after).encode(), "utf-8")
    assert [d.line for d in found] == [n + 1 for n in changed]
    assert all("somebody" not in d.before + d.after for d in found)


def test_it_ends_after_two_hundred_places():
    before, after = ("".join(f"{w}{n}\n" for n in range(500)).encode() for w in "ab")
    assert len(bytewise(before, after, "utf-8")) == 200
