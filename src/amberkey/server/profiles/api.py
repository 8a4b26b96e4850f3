"""Profiles in full, in one router."""

from ninja import Router

from amberkey.server.profiles import contents, entries, found, items, travels

router = Router(tags=["profiles"])
for part in (found, contents, items, entries, travels):
    router.add_router("", part.router)
