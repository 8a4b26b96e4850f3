"""The endpoints of this part: one-time links, and the line of the work on the first day."""

from ninja import Router

from amberkey.server.beginning import links, steps

router = Router(tags=["beginning"])
router.add_router("", links.router)
router.add_router("", steps.router)
