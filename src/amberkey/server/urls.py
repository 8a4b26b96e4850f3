"""The API, and the one page that holds the application."""

from django.urls import path, re_path

from amberkey.server.api import api
from amberkey.server.web import page

urlpatterns = [
    path("api/", api.urls),
    re_path(r"^(?!api/|assets/).*$", page),
]
