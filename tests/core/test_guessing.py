"""Descriptions that are guessed from a sample of a settings file, on files drawn by a generator of their own."""

import json
import pathlib
import random

import pytest

import amberkey.demo
from amberkey.core.containers.errors import SettingsFileError
from amberkey.core.descriptions.carrying import read_file, write_file
from amberkey.core.descriptions.guessing import Guess, guess
from amberkey.core.descriptions.records import MOST_BYTES, Wanted
from amberkey.core.documents.model import read_document
from amberkey.core.formats import FORMATS
from amberkey.core.keys.reading import read_shortcut
from amberkey.core.programs.model import Program
from amberkey.demo.settings import SETTINGS
from tests.core.drawn_files import Drawn, drawn_file

FIRST_RIGHT = 0.75
"""The share of drawn files whose first proposal has to read what the file says."""


def _is_right(proposed: Guess, drawn: Drawn) -> bool:
    said = {w.command: keys for w, keys in proposed.reading.shortcuts.items() if keys}
    return {c: keys for c, keys in said.items() if c in drawn.says} == drawn.says and set(said) <= {*drawn.says, "title"}


def test_three_of_four_drawn_files_are_read_right_by_the_first_proposal() -> None:
    drawn = [drawn_file(random.Random(seed)) for seed in range(1000, 1200)]
    proposals = [guess(d.text, d.commands, d.defaults) for d in drawn]
    wrong = [d.told for d, found in zip(drawn, proposals, strict=True) if not found or not _is_right(found[0], d)]
    assert len(wrong) <= (1 - FIRST_RIGHT) * len(drawn), wrong
    nowhere = [d.told for d, found in zip(drawn, proposals, strict=True) if not any(_is_right(g, d) for g in found)]
    assert len(nowhere) <= 0.1 * len(drawn), nowhere


def test_what_is_proposed_writes_what_it_reads() -> None:
    for seed in range(60):
        drawn = drawn_file(random.Random(seed))
        best = guess(drawn.text, drawn.commands, drawn.defaults)[0]
        here = {what: keys for what, keys in best.reading.shortcuts.items() if keys}
        assert write_file(drawn.text, best.described, here).data == drawn.text, drawn.told


@pytest.mark.parametrize("program", sorted(SETTINGS))
def test_programs_of_the_example_are_read_right_from_one_or_two_entries(program: str) -> None:
    folder = pathlib.Path(amberkey.demo.__file__).parent / "documents"
    value = read_document(json.loads((folder / f"program-{program}.json").read_text()), FORMATS)
    assert isinstance(value, Program)
    data, how = SETTINGS[program].encode(), value.settings_files[0]
    called = {c.in_file or c.id: c.defaults_on(value.platforms[0]) for c in value.commands}
    best = guess(data, called, called)[0]
    assert {w.command: keys for w, keys in best.reading.shortcuts.items()} == {
        w.command: keys for w, keys in read_file(data, how).shortcuts.items()
    }


def test_a_long_file_of_lines_is_read_to_its_end() -> None:
    rows = "".join(f"command.number{n}=Ctrl+{chr(65 + n % 26)}\n" for n in range(5_000))
    best = guess(f"[keys]\n{rows}".encode())[0]
    assert len(best.reading.found) == 5_000
    assert best.why == ("5000 of 5000 texts read as keys",)


def test_two_sections_that_both_look_like_keys_are_two_proposals() -> None:
    text = b"""[menu]
save.sheet=Ctrl+S
open.sheet=Ctrl+O
find.row=Ctrl+F

[other]
next.row=F5
print.sheet=Ctrl+P
show.log=Ctrl+L
"""
    found = guess(text)
    alone = [g for g in found if g.described.at in (("menu",), ("other",))]
    assert {g.described.at for g in alone} == {("menu",), ("other",)}
    by_place = {g.described.at: {w.command for w in g.reading.shortcuts} for g in alone}
    assert by_place["menu",] == {"save.sheet", "open.sheet", "find.row"}
    assert by_place["other",] == {"next.row", "print.sheet", "show.log"}


def test_known_commands_decide_between_two_places() -> None:
    text = b'{"old": {"a": "Ctrl+1", "b": "Ctrl+2", "c": "Ctrl+3"}, "now": {"keys": {"save": "Ctrl+S", "open": "Ctrl+O"}}}'
    assert guess(text)[0].described.at == ("old",)
    assert guess(text, {"save", "open"})[0].described.at == ("now", "keys")


def test_defaults_that_are_met_count_and_are_told() -> None:
    text = b'{"first": {"save": "Ctrl+S", "open": "Ctrl+O"}, "now": {"keys": {"save": "Ctrl+1", "open": "Ctrl+2"}}}'
    defaults = {"save": [read_shortcut("Control+1")], "open": [read_shortcut("Control+2")]}
    best = guess(text, {"save", "open"}, defaults)[0]
    assert best.described.at == ("now", "keys")
    assert best.why == ("2 of 2 texts read as keys", "2 commands are known", "2 say what is so by default")


def test_a_proposal_writes_keys_that_the_sample_did_not_have() -> None:
    text = b"[keys]\nsave.sheet=Ctrl+S\nopen.sheet=Ctrl+O\nfind.row=F3\n"
    best = guess(text)[0]
    other = write_file(text, best.described, {Wanted("save.sheet"): (read_shortcut("Control+Alt+Shift+F8"),)}).data
    assert other == text.replace(b"Ctrl+S", b"Ctrl+Alt+Shift+F8")


@pytest.mark.parametrize("text", [b"", b"\n\n", b"Dear all, the boat leaves at nine.\n", b"{}", b"[window]\nwide=yes\n"])
def test_where_nothing_reads_as_keys_nothing_is_proposed(text: bytes) -> None:
    assert guess(text) == []


def test_what_is_too_large_is_refused() -> None:
    with pytest.raises(SettingsFileError, match="the most"):
        guess(b" " * (MOST_BYTES + 1))


HOSTILE = (
    b"{" * 200,
    b"[" * 500,
    b"<a>" * 300,
    b"\n- " * 100,
    b"&a [*a, *a]",
    b"Ctrl+" * 40,
    b'"""',
    b"[[x]]\n",
    b"\x00\xff",
    b"\r\n",
)


@pytest.mark.parametrize("seed", range(60))
def test_broken_and_hostile_samples_are_refused_or_read(seed: int) -> None:
    """Whatever is proposed for one can be written back; nothing else than a refusal is raised."""
    rnd = random.Random(seed)
    drawn = drawn_file(rnd)
    data = bytearray(drawn.text)
    for _ in range(rnd.randint(1, 12)):
        at = rnd.randrange(len(data) + 1)
        if rnd.random() < 0.4:
            del data[at : at + rnd.randint(1, 8)]
        else:
            data[at:at] = rnd.choice(HOSTILE)
    try:
        found = guess(bytes(data), drawn.commands, drawn.defaults)
    except SettingsFileError:
        return
    assert all(g.reading.found and g.score <= found[0].score for g in found)
