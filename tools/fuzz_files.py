"""Hostile settings files for every container: read or refused in words, never a crash, never longer than a limit.

    PYTHONPATH=src python tools/fuzz_files.py [CASES] [SEED]

Takes the files of `tests/core/test_carrying.py`, cuts, doubles and breaks them, and puts things in that break readers. Prints
what took longest. A short run of the same stands in the tests.
"""

import pathlib
import random
import sys
import time

sys.path.insert(0, str(pathlib.Path(__file__).parents[1]))

from tests.core.test_carrying import SAMPLES, described

from amberkey.core.containers.errors import SettingsFileError
from amberkey.core.descriptions.carrying import read_file, write_file

LIMIT = 2.0  # seconds
BROKEN = [
    *(b"\x00", b"\xff\xfe", b"\xef\xbb\xbf", b"\r", b"\\", b'"', b"'", b"{", b"[", b"<", b"&", b"*a", b"&a", b"!!x ", b"%"),
    *(b"[" * 5000, b"{" * 5000, b"<a>" * 3000, b'{"a":' * 3000, b"- " * 2000, b"a.b." * 500, b"9" * 6000),
    *(b"\\u12", b"#", b"//", b"\t"),
    b"<!DOCTYPE a [<!ENTITY b 'c'>]>",
    b"a: &a [x,x]\nb: &b [*a,*a]\nc: &c [*b,*b]\n",
    b"\n" * 3000,
]


def hostile(rnd: random.Random, data: bytes) -> bytes:
    """A file with a few things done to it."""
    found = bytearray(data)
    for _ in range(rnd.randint(1, 4)):
        at = rnd.randint(0, len(found))
        what = rnd.random()
        if what < 0.4:
            found[at:at] = rnd.choice(BROKEN)
        elif what < 0.6:
            del found[at : at + rnd.randint(1, 20)]
        elif what < 0.8:
            found[at:at] = found[: rnd.randint(0, len(found))][-200:]
        elif found:
            found[at % len(found)] = rnd.randrange(256)
    return bytes(found)


def run(cases: int, seed: int) -> tuple[float, int, int]:
    """The longest time of one case, how many were read, and how many refused."""
    rnd = random.Random(seed)
    longest, read, refused = 0.0, 0, 0
    for n in range(cases):
        name = list(SAMPLES)[n % len(SAMPLES)]
        value, text, _ = SAMPLES[name]
        data, how = hostile(rnd, text.encode()), described(value)
        begun = time.perf_counter()
        try:
            reading = read_file(data, how)
            read += 1
            assert write_file(data, how, reading.shortcuts if not reading.unread else {}).data == data or reading.found
        except SettingsFileError as error:
            refused += 1 if error.says else cases  # one without words would be told by the count
        longest = max(longest, time.perf_counter() - begun)
    return longest, read, refused


def main() -> int:
    cases = int(sys.argv[1]) if len(sys.argv) > 1 else 10_000
    longest, read, refused = run(cases, int(sys.argv[2]) if len(sys.argv) > 2 else 1)
    print(
        f"{cases:,} files: {read:,} read, {refused:,} refused in words; the longest took {longest:.2f} s (at most {LIMIT:.0f})"
    )
    return int(longest > LIMIT)


if __name__ == "__main__":
    sys.exit(main())
