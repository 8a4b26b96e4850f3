"""The pages of the guide and its words, as the Markdown files in `docs/guide` have them.

A heading names the screens that its part is about in a comment: `## Try a press <!-- /try -->`. A word of `words.md` that is a
plain word too, such as "line", has a comment behind it and is explained there only.
"""

import pathlib
import re
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass
from functools import cached_property, lru_cache

from amberkey.core.documents.ids import id_from

WORDS = "words"
_HEADING = re.compile(r"^(#{1,2}) (?P<title>.*?)(?: <!-- (?P<screens>[^>]*) -->)?$")
_WORD = re.compile(r"^- \*\*(?P<word>[^*]+)\*\*: (?P<meaning>.*?)(?P<plain> <!-- also a plain word -->)?$")
_LINK = re.compile(r"\[(?P<text>[^\]]+)\]\((?P<to>[^)]+)\)")
# What is not looked through for words: code, links, and what is set apart because it stands on the screen so.
_SET_APART = re.compile(r"`[^`]*`|\[[^\]]*\]\([^)]*\)|\*[^*\n]+\*(?!\*)")


@dataclass(frozen=True, slots=True)
class Part:
    """A part of a page, in Markdown without its heading; `screens`: the addresses of those that it is about."""

    id: str
    title: str
    text: str
    screens: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class Page:
    """A page; its first part has the page's own title and what stands before the first heading."""

    id: str
    title: str
    parts: tuple[Part, ...]


@dataclass(frozen=True)
class Guide:
    """`pages` by id in the order in which the guide lists them; `words` with their meanings; `plain`: those of them that people
    use in another sense too."""

    pages: Mapping[str, Page]
    words: Mapping[str, str]
    plain: frozenset[str]

    def about(self, screen: str) -> tuple[Page, Part]:
        """The part about a screen, by the longest beginning of its address that any part names; else the first page."""
        found = [
            (len(at), page, part)
            for page in self.pages.values()
            for part in page.parts
            for at in part.screens
            if f"{screen}/".startswith(f"{at}/")
        ]
        if not found:
            page = next(iter(self.pages.values()))
            return page, page.parts[0]
        _, page, part = max(found, key=lambda f: f[0])
        return page, part

    def explained(self, page: Page) -> tuple[Page, dict[str, str]]:
        """A page on which each word that is explained links to its meaning where it first stands (`#word-way-out`), and those
        words with their meanings."""
        used: dict[str, str] = {}

        def mark(found: re.Match[str]) -> str:
            word = self._forms[found.group().lower()]
            if word in used:
                return found.group()
            used[word] = self.words[word]
            return f"[{found.group()}](#word-{id_from(word)})"

        parts = tuple(
            part if page.id == WORDS else Part(part.id, part.title, "".join(self._marked(part.text, mark)), part.screens)
            for part in page.parts
        )
        return Page(page.id, page.title, parts), used

    def _marked(self, text: str, mark: Callable[[re.Match[str]], str]) -> Iterator[str]:
        at = 0
        for apart in _SET_APART.finditer(text):
            yield self._pattern.sub(mark, text[at : apart.start()])
            yield apart.group()
            at = apart.end()
        yield self._pattern.sub(mark, text[at:])

    @cached_property
    def _forms(self) -> Mapping[str, str]:
        """The words in small letters, in one and in several, by each form."""
        found: dict[str, str] = {}
        for word in self.words:
            if word in self.plain:
                continue
            one = word.lower()
            many = f"{one[:-1]}ies" if one.endswith("y") else f"{one}es" if one.endswith(("ss", "sh")) else f"{one}s"
            found |= {one: word, many: word}
            if one.endswith("s") and not one.endswith("ss"):
                found[one[:-1]] = word
        return {**found, "ways out": "Way out"}

    @cached_property
    def _pattern(self) -> re.Pattern[str]:
        forms = "|".join(re.escape(f) for f in sorted(self._forms, key=len, reverse=True))
        return re.compile(rf"(?<![\w-])(?:{forms})(?![\w-])", re.IGNORECASE)


@lru_cache
def read_guide(folder: pathlib.Path) -> Guide:
    """The guide in a folder. Raises OSError where a page that its README lists isn't there."""
    listed = re.findall(r"^- \[[^\]]*\]\((\w+)\.md\)", (folder / "README.md").read_text("utf-8"), re.MULTILINE)
    pages = {i: _page(i, (folder / f"{i}.md").read_text("utf-8")) for i in listed}
    words: dict[str, str] = {}
    plain: set[str] = set()
    for line in (folder / f"{WORDS}.md").read_text("utf-8").splitlines():
        found = _WORD.match(line)
        if found:
            words[found["word"]] = found["meaning"]
            if found["plain"]:
                plain.add(found["word"])
    return Guide(pages, words, frozenset(plain))


def _page(page_id: str, text: str) -> Page:
    title = page_id
    parts: list[Part] = []
    lines: list[str] = []
    part = page_id
    screens: tuple[str, ...] = ()
    for line in [*text.splitlines(), "## "]:
        heading = _HEADING.match(line)
        if heading is None:
            lines.append(line.removesuffix(" <!-- also a plain word -->"))
            continue
        if heading[1] == "#":
            title = part = heading["title"]
            continue
        body = _LINK.sub(_inside, "\n".join(lines)).strip()
        if body or parts:
            parts.append(Part(id_from(part), part, body, screens))
        lines, part = [], heading["title"]
        screens = tuple(s.strip() for s in (heading["screens"] or "").split(",") if s.strip())
    return Page(page_id, title, tuple(parts))


def _inside(link: re.Match[str]) -> str:
    """A link to another page of the guide; of one to elsewhere only its words stay."""
    to = link["to"]
    return f"[{link['text']}](#page-{to.removesuffix('.md')})" if re.fullmatch(r"\w+\.md", to) else link["text"]
