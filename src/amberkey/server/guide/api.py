"""The guide beside the screens."""

from django.conf import settings
from django.http import HttpRequest
from ninja import Router

from amberkey.core.documents.ids import id_from
from amberkey.server.guide.pages import Page, read_guide
from amberkey.server.problems import NotFound
from amberkey.server.schema import NamedOut, Schema, Words

router = Router(tags=["guide"])


class GuidePartOut(Schema):
    """`text`: Markdown; a link to `#word-` and an id leads to a word, one to `#page-` and an id to another page."""

    id: str
    title: str
    text: str


class GuideWordOut(Schema):
    id: str
    word: str
    meaning: str


class GuidePageOut(Schema):
    """A page of the guide; `part`: the one to begin with; `words`: those that it uses; `pages`: all that there are."""

    id: str
    title: str
    part: str
    parts: list[GuidePartOut]
    words: list[GuideWordOut]
    pages: list[NamedOut]


@router.get("/guide", response=GuidePageOut)
def guide_page(request: HttpRequest, screen: Words = "", page: Words = "", part: Words = "") -> GuidePageOut:
    """A page by its id, or the one about a screen by its address."""
    guide = read_guide(settings.GUIDE)
    if page:
        found = guide.pages.get(page)
        if found is None:
            raise NotFound(f"page {page[:60]} of the guide")
        begin = part if any(p.id == part for p in found.parts) else found.parts[0].id
    else:
        found, at = guide.about(screen)
        begin = at.id
    told, words = guide.explained(found)
    return GuidePageOut(
        id=told.id,
        title=told.title,
        part=begin,
        parts=[GuidePartOut(id=p.id, title=p.title, text=p.text) for p in told.parts],
        words=[GuideWordOut(id=id_from(word), word=word, meaning=meaning) for word, meaning in words.items()],
        pages=[_named(p) for p in guide.pages.values()],
    )


def _named(page: Page) -> NamedOut:
    return NamedOut(id=page.id, name=page.title)
