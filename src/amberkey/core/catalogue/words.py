"""Words for comparing names of commands and tasks in four languages: stems, opposites, numbers."""

import re
from functools import lru_cache

from amberkey.core.catalogue.headings import plain_words

_STOP = frozenset(
    """
    the a an of to it its this that and or for with at by is be der die das den dem des ein eine einen einem einer
    und oder zu le la les l un une du de d et ou au aux det ett en och att av till som command function befehl
    commande kommando
    """.split()  # noqa: SIM905
)
# Words that say little by themselves, though few tasks have them.
_PARTICLES = frozenset(
    """
    on off up down in out it over away back again all whole last first other another own as under before after above below an
    aus auf ab zu alle sur tout på av upp ner alla
    """.split()  # noqa: SIM905
)
_ENDINGS = ("ungen", "ung", "ingar", "ing", "ern", "ier", "en", "er", "ed", "es", "ez", "ar", "or", "e", "s", "n", "a")
_NUMBER_WORDS = "zero null|one eins un ett|two zwei deux två|three drei trois tre|four vier quatre fyra|five fünf cinq fem"
_NUMBERS = {w: str(n) for n, words in enumerate(_NUMBER_WORDS.split("|")) for w in words.split() if w not in _STOP}
# Two poles of one thing each. What is at the one is never at the other.
_OPPOSITES = """
next following nächste nächster nächstes weiter suivant suivante nästa onward onwards forward
| previous before prior last vorige voriger zurück précédent précédente föregående back backward backwards

up upwards above higher raise oben hoch hinauf haut monter upp uppåt ovan ovanför over
| down downwards below lower under unten runter hinunter bas descendre ner nedåt nedan nedanför

left links gauche vänster
| right rechts droite höger

in larger bigger nearer größer vergrößern agrandir större enlarge increase more mehr plus mer inzoomen
| out smaller farther kleiner verkleinern réduire mindre shrink decrease less weniger moins auszoomen

first erste erster premier première första top begin beginning start anfang début början
| last letzte letzter dernier dernière sista bottom end ende fin slut

open öffnen ouvrir öppna show zeigen anzeigen afficher visa unfold expand aufklappen
| close schließen fermer stäng hide verbergen ausblenden masquer dölj fold collapse zuklappen

on ein activé på
| off aus désactivé av

undo rückgängig annuler ångra
| redo again wiederholen rétablir

all everything alle alles tout tous allt alla whole
| none nothing nichts rien inget

lock sperren verrouiller lås
| unlock entsperren déverrouiller

rows row zeile zeilen ligne lignes rad rader
| columns column spalte spalten colonne colonnes kolumn kolumner

insert einfügen insérer infoga add
| delete löschen supprimer radera remove entfernen ta
"""


@lru_cache(maxsize=50_000)
def stem(word: str) -> str:
    """A word without its simple ending; what is left has at least three letters."""
    for ending in _ENDINGS:
        if word.endswith(ending) and len(word) - len(ending) >= 3:
            return word[: -len(ending)]
    return word


def is_particle(word: str) -> bool:
    """Whether a stemmed word says little by itself."""
    return word in _PARTICLE_STEMS


@lru_cache(maxsize=50_000)
def stems(text: str) -> tuple[str, ...]:
    """The words of a text that say something, stemmed, in their order."""
    words = plain_words(re.sub(r"(?<=[a-z])(?=[A-Z])", " ", text)).split()
    return tuple(dict.fromkeys(stem(w) for w in words if w not in _STOP or len(words) == 1))


@lru_cache(maxsize=50_000)
def telling_words(text: str) -> tuple[str, ...]:
    """The words of a text that say something, as they stand but for case and accents; all of them where none does."""
    words = plain_words(text).split()
    return tuple(w for w in words if w not in _STOP) or tuple(words)


@lru_cache(maxsize=50_000)
def numbers(text: str) -> frozenset[str]:
    """The numbers in a text, as digits or words."""
    words = plain_words(text).split()
    return frozenset(w.lstrip("0") or "0" for w in words if w.isdigit()) | {_NUMBERS[w] for w in words if w in _NUMBERS}


_PARTICLE_STEMS = frozenset(stem(w) for w in _PARTICLES)
_POLES: dict[str, frozenset[tuple[int, int]]] = {}
for _axis, _line in enumerate(_OPPOSITES.strip().split("\n\n")):
    for _pole, _side in enumerate(_line.split("|")):
        for _word in _side.split():
            _key = stem(plain_words(_word))
            _POLES[_key] = _POLES.get(_key, frozenset()) | {(_axis, _pole)}


@lru_cache(maxsize=50_000)
def poles(text: str) -> frozenset[tuple[int, int]]:
    """Where a text stands on the axes of opposites: (axis, 0 or 1)."""
    words = plain_words(text).split()
    return frozenset(p for w in words for p in _POLES.get(stem(w), ()))


def are_opposite(one: str, other: str) -> bool:
    """Whether two texts stand at opposite poles of something, and nowhere together on that axis."""
    a, b = poles(one), poles(other)
    return any((axis, 1 - pole) in b and (axis, pole) not in b and (axis, 1 - pole) not in a for axis, pole in a)
