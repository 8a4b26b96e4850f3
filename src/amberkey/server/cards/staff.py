"""The page of a card for those whom it is for: read by an address that can't be guessed, without signing in.

Nothing is written by a visit, and nobody is asked who they are; what somebody finds out in the self-test stays in their
browser.
"""

from django.http import HttpRequest, HttpResponse
from django.template import Context
from django.views.decorators.http import require_safe

from amberkey.core.cards.wish import CardWish
from amberkey.core.cards.words import WORDS, word
from amberkey.server.cards.printing import PAPER, engine
from amberkey.server.cards.verbs import card_at
from amberkey.server.people.addresses import address_of
from amberkey.server.people.tries import Tries

visits = Tries(most=120, back_after=0.5)
"""Of one address: a room full of people behind one router may read at once, and guessing comes to nothing."""
_FILES = {"card.js": "text/javascript; charset=utf-8", "staff.css": "text/css; charset=utf-8"}
_PACE = 3
"""New keys at a time, where the card has no weeks."""
_SAID = ("find", "test", "which", "right", "not it", "again", "done", "nobody", "browser", "next", "all sit", "week")


@require_safe
def card_page(request: HttpRequest, token: str) -> HttpResponse:
    """A card as it was handed out. What isn't there, or not any more, and too many visits are told in a few words."""
    left = visits.take(address_of(request))
    if left is not None:
        answer = HttpResponse("Too many visits from where you are. Wait a little.", status=429, content_type="text/plain")
        answer["Retry-After"] = str(visits.seconds(left))
        return answer
    given = card_at(token)
    if given is None:
        gone = "There is no card at this address, or not any more."
        return _closed(HttpResponse(gone, status=404, content_type="text/plain"))
    wish = CardWish.model_validate(given.wish)
    language = wish.language
    told = {
        "language": language,
        "title": given.title,
        "parts": given.parts,
        "foot": word("card", language, number=given.number),
        "or": word("or", language),
        "said": {name.replace(" ", "_"): WORDS[name][language] for name in _SAID},
        "told": {"said": {name: WORDS[name][language] for name in _SAID}, "number": given.number, "pace": wish.pace or _PACE},
    }
    return _closed(HttpResponse(engine().get_template("staff.html").render(Context(told))))


@require_safe
def card_part(request: HttpRequest, name: str) -> HttpResponse:
    """What the page is drawn and found with."""
    if name not in _FILES:
        return HttpResponse(status=404)
    answer = HttpResponse((PAPER / name).read_bytes(), content_type=_FILES[name])
    answer["Cache-Control"] = "public, max-age=3600"
    return answer


def _closed(answer: HttpResponse) -> HttpResponse:
    """For nobody but who has the address: not for search engines, not for caches, not for the places that it links to."""
    answer["X-Robots-Tag"] = "noindex, nofollow"
    answer["Cache-Control"] = "private, no-store"
    answer["Referrer-Policy"] = "no-referrer"
    return answer
