"""Derives the word lists against which abbreviations are held: the commonest short words of each language.

    pip install wordfreq==3.1.1   (somewhere outside of the project)
    python tools/derive_words.py DICTIONARIES

`DICTIONARIES`: a folder with one list of words a language (`en.txt` ...), UTF-8, one word a line, for instance those of a
distribution's packages of word lists. They only say whether a word is one: so no names of people, firms or places get in.
"""

import pathlib
import sys

from wordfreq import top_n_list

LANGUAGES = ("en", "de", "fr", "sv")
OUT = pathlib.Path(__file__).parents[1] / "src/amberkey/core/profiles/words"
SHORTEST, LONGEST, MOST = 2, 7, 4_000
# What dictionaries have as words, and everybody reads as names.
NAMES = frozenset({"anna", "apple", "google", "kai", "peter", "twitter", "windows"})


def words_of(language: str, dictionary: pathlib.Path) -> list[str]:
    """The commonest words of a few letters that the dictionary has in small letters; of German, nouns too."""
    said = set(dictionary.read_text(encoding="utf-8").split())
    if language == "de":  # a noun is the end of other nouns, as hardly any name is
        ends = {w[n:] for w in said for n in range(2, len(w) - 1)}
        said |= {w.lower() for w in said if w.istitle() and w.lower() in ends}
    said -= NAMES
    found = (w for w in top_n_list(language, 60_000) if SHORTEST <= len(w) <= LONGEST and w.isalpha() and w in said)
    return sorted([w for w, _ in zip(found, range(MOST), strict=False)])


if __name__ == "__main__":
    for tongue in LANGUAGES:
        words = words_of(tongue, pathlib.Path(sys.argv[1]) / f"{tongue}.txt")
        (OUT / f"{tongue}.txt").write_text("\n".join(words) + "\n", encoding="utf-8")
        print(tongue, len(words))
