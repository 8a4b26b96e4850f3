"""The endpoints of this part: the line of revisions, and two states held against each other."""

from ninja import Router

from amberkey.server.comparing import compared, line

router = Router(tags=["comparing"])
router.add_router("", line.router)
router.add_router("", compared.router)
