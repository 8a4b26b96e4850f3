"""A card as plain text: what stands on paper, line by line."""

from collections.abc import Iterator

from amberkey.core.cards.model import Card, CardLine
from amberkey.core.cards.words import word
from amberkey.core.documents.field import Language


def say_card(card: Card, title: str, language: Language) -> str:
    """The title, and under each part its lines: what to do, where, its keys, and what has to be known of them."""
    return "\n".join([title, "=" * len(title), *_parts(card, language)]) + "\n"


def say_line(line: CardLine, language: Language) -> str:
    """One line: `Find (Quaysheet): Strg F [not at Pier 3]`."""
    either = f" {word('or', language)} "
    where = f" ({', '.join(line.where)})" if line.where else ""
    old = f"{either.join(k.words for k in line.old)} -> " if line.old else ""
    notes = f" [{'; '.join(line.said)}]" if line.said else ""
    return f"{line.name}{where}: {old}{either.join(k.words for k in line.keys) or '-'}{notes}"


def _parts(card: Card, language: Language) -> Iterator[str]:
    for part in card.parts:
        yield ""
        yield part.title
        for line in part.lines:
            yield f"  {say_line(line, language)}"
