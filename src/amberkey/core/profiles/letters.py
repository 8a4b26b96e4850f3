"""Letters for the names on one level of a menu, none twice, as many of them first letters as there can be.

A best assignment, found by growing paths of least cost (the Hungarian method): first as many first letters as possible, then as
many first letters of further words, then as many letters of the name at all. Ties fall to what stands earlier.
"""

import unicodedata
from collections.abc import Sequence
from functools import lru_cache

_FIRST, _OF_A_WORD, _WITHIN, _ANY = range(4)


@lru_cache(maxsize=20_000)
def plain_letters(name: str) -> str:
    """A name in capitals, marks on letters left out: É is reached by E."""
    return "".join(c for c in unicodedata.normalize("NFD", name.upper()) if not unicodedata.combining(c))


def rank(name: str, letter: str) -> int:
    """How well a letter stands for a name: 0 its first letter, 1 that of another word, 2 within it, 3 not in it."""
    plain = plain_letters(name)
    words = plain.replace("-", " ").split()
    if words and words[0].startswith(letter):
        return _FIRST
    if any(w.startswith(letter) for w in words):
        return _OF_A_WORD
    return _WITHIN if letter in plain else _ANY


def letters_for(names: Sequence[str], alphabet: str, taken: str = "") -> tuple[str | None, ...]:
    """A letter for each name, none twice and none of those `taken`; None for the last names where letters run out."""
    return _letters_for(tuple(names), alphabet, taken)


@lru_cache(maxsize=2_000)  # the same menus are met again and again while somebody tries a profile
def _letters_for(names: tuple[str, ...], alphabet: str, taken: str) -> tuple[str | None, ...]:
    free = [c for c in alphabet if c not in taken]
    if not names:
        return ()
    if len(free) < len(names):
        return (*_letters_for(names[: len(free)], alphabet, taken), *([None] * (len(names) - len(free))))
    many = len(names) + 1
    gains = (many**3, many**2, many, 0)  # one of a better rank outweighs all names of the next
    finely = len(names) * (len(free) + 1) + 1
    costs = [
        [(gains[0] - gains[rank(name, letter)]) * finely + min(_place(name, letter), len(free)) for letter in free]
        for name in names
    ]
    return tuple(free[n] for n in _assign(costs))


def _place(name: str, letter: str) -> int:
    """Among equal ones the letter that stands earlier in the name."""
    found = plain_letters(name).find(letter)
    return found if found >= 0 else 1_000


def _assign(costs: Sequence[Sequence[int]]) -> list[int]:
    """For each row a column of its own, at the least sum. At least as many columns as rows."""
    rows, columns = len(costs), len(costs[0])
    of_row, of_column = [0] * (rows + 1), [0] * (columns + 1)
    row_of = [0] * (columns + 1)  # counted from 1; 0: free
    for row in range(1, rows + 1):
        row_of[0] = row
        at = 0
        least = [-1] * (columns + 1)
        before, done = [0] * (columns + 1), [False] * (columns + 1)
        while row_of[at]:
            done[at] = True
            here, delta, then = row_of[at], -1, 0
            for column in range(1, columns + 1):
                if done[column]:
                    continue
                cost = costs[here - 1][column - 1] - of_row[here] - of_column[column]
                if least[column] < 0 or cost < least[column]:
                    least[column], before[column] = cost, at
                if delta < 0 or least[column] < delta:
                    delta, then = least[column], column
            for column in range(columns + 1):
                if done[column]:
                    of_row[row_of[column]] += delta
                    of_column[column] -= delta
                elif least[column] >= 0:
                    least[column] -= delta
            at = then
        while at:
            row_of[at] = row_of[before[at]]
            at = before[at]
    found = [0] * rows
    for column in range(1, columns + 1):
        if row_of[column]:
            found[row_of[column] - 1] = column - 1
    return found
