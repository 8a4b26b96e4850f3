"""How a row of a release comes to stand otherwise."""

import datetime

from django.utils import timezone

from amberkey.server.rollouts.models import Carried

AGAIN_AFTER = datetime.timedelta(minutes=5)


def stand(row: Carried, state: Carried.State, says: str = "") -> None:
    """From now on it stands so, for the reason given; what stopped is tried again after a while."""
    if row.state != state:
        row.state, row.since = state, timezone.now()
    if state == Carried.State.STOPPED and (row.again_at is None or row.again_at <= timezone.now()):
        row.again_at = timezone.now() + AGAIN_AFTER
    row.says = says[:400]
