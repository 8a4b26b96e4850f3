"""Bundles, settings files and sheets of names, out and in, and whose keys are known."""

from ninja import Router

from amberkey.server.exchange import incoming, named, outgoing, setup_files, trusting

router = Router(tags=["exchange"])
for part in (outgoing, setup_files, incoming, named, trusting):
    router.add_router("", part.router)
