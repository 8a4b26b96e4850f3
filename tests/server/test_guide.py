"""The guide beside the screens: a page for each, with the words that it uses."""

import re
from urllib.parse import quote

import pytest
from django.conf import settings

from amberkey.server.guide.pages import read_guide

GUIDE = read_guide(settings.GUIDE)
ROUTES = re.findall(r'path="([^"*]+)"', (settings.ROOT / "web/src/shell/App.tsx").read_text())


def screens():
    """The addresses of all screens for people who are signed in."""
    inside = ROUTES[ROUTES.index("organisation") + 1 : ROUTES.index("keys") + 1]
    yield from (f"/organisation/{route}" for route in inside)
    yield from (f"/{route.replace(':id', '7')}" for route in ROUTES if route not in inside or ROUTES.count(route) > 1)


def test_every_screen_has_its_part_of_the_guide():
    found = {screen: GUIDE.about(screen) for screen in screens() if not screen.startswith("/link")}
    assert len(found) > 25
    named = {at for page in GUIDE.pages.values() for part in page.parts for at in part.screens}
    without = [s for s, (_, part) in found.items() if not any(f"{s}/".startswith(f"{at}/") for at in part.screens)]
    assert without == []
    assert [at for at in named if at not in found] == []  # and nothing is said of screens that aren't there


@pytest.mark.parametrize("page", GUIDE.pages.values(), ids=lambda p: p.id)
def test_links_within_the_guide_lead_to_pages(page):
    links = [to for part in page.parts for to in re.findall(r"\]\(([^)]+)\)", part.text)]
    assert [to for to in links if to.removeprefix("#page-") not in GUIDE.pages] == []
    assert len({p.id for p in page.parts}) == len(page.parts)


def test_a_word_is_explained_where_it_first_stands_and_nowhere_else():
    page, words = GUIDE.explained(GUIDE.pages["clashes"])
    text = "\n".join(p.text for p in page.parts)
    assert words["Way out"] == GUIDE.words["Way out"]
    for word in words:
        assert len(re.findall(rf"\]\(#word-{word.lower().replace(' ', '-')}\)", text)) == 1
    assert "Line" not in words  # a plain word too
    assert not re.findall(r"`[^`]*#word-[^`]*`", text)


def test_the_page_of_a_screen_is_told(tove):
    status, found = tove.get("/guide?screen=/machines/releases/12/waves")
    assert (status, found["id"], found["part"]) == (200, "releases", "a-release-on-its-way")
    assert {p["id"] for p in found["pages"]} == set(GUIDE.pages)
    assert {w["word"] for w in found["words"]} <= set(GUIDE.words)
    assert tove.get("/guide?page=clashes&part=ways-out")[1]["part"] == "ways-out"
    assert tove.get("/guide?page=clashes&part=nothing")[1]["part"] == "where-presses-stop"
    assert tove.get("/guide?page=nothing")[0] == 404
    assert tove.get("/guide?page=../words")[0] == 404


@pytest.mark.parametrize(
    "words, name, to",
    [
        ("bring in a list", "Bring in a list", "?guide=lists.bring-in-a-list"),
        ("way out", "Way out", "?guide=words.words"),
        ("byte for bite", "How machines stand", "?guide=machines.how-machines-stand"),
        ("upgrade chek", "Upgrade check", "?guide=commands.upgrade-check"),
    ],
)
def test_the_guide_is_found_by_the_look_up(tove, words, name, to):
    groups = tove.get(f"/lookup?words={quote(words)}")[1]
    things = next(g["things"] for g in groups if g["kind"] == "guide")
    assert (name, to) in [(t["name"], t["to"]) for t in things[:3]]
