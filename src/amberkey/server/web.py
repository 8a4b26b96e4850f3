"""The page of the application: Vite's index.html with the style nonce of this answer."""

from functools import lru_cache

from csp.constants import NONCE
from csp.decorators import csp_update
from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.views.decorators.cache import never_cache
from django.views.decorators.csrf import ensure_csrf_cookie

_PLACE = "__STYLE_NONCE__"


@lru_cache(maxsize=1)
def _index() -> str | None:
    file = settings.WEB_BUILD / "index.html"
    return file.read_text(encoding="utf-8") if file.is_file() else None


@never_cache
@ensure_csrf_cookie
@csp_update({"style-src": ["'self'", NONCE]})
def page(request: HttpRequest) -> HttpResponse:
    """Any address of the application: the front end reads it."""
    html = _index()
    if html is None:
        return HttpResponse("The front end is not built. Run ./amberkey demo.", status=503, content_type="text/plain")
    return HttpResponse(html.replace(_PLACE, str(getattr(request, "csp_nonce", ""))))
