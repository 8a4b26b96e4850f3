"""The API, and the one page that holds the application."""

from django.urls import path, re_path

from amberkey.server.api import api
from amberkey.server.cards.staff import card_page, card_part
from amberkey.server.web import page

urlpatterns = [
    path("api/", api.urls),
    path("c/<str:token>/", card_page),
    path("c/<str:name>", card_part),
    re_path(r"^(?!api/|assets/|c/).*$", page),
]

handler400 = "amberkey.server.problems.bad_request"
handler404 = "amberkey.server.problems.no_such_page"
handler500 = "amberkey.server.problems.failed"
