"""Profiles in full, in one router."""

from ninja import Router

from amberkey.server.profiles import contents, entries, found, items, travels, worth

router = Router(tags=["profiles"])
for part in (found, contents, items, entries, travels, worth):
    router.add_router("", part.router)
