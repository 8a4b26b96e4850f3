"""Keeping how far everybody is, whenever the standard gets another revision or is released."""

from amberkey.core.standard.coverage import Coverage
from amberkey.server.estate import STANDARD
from amberkey.server.library.documents import find, newest_of
from amberkey.server.standard.models import CoveragePoint


def keep_point(coverage: Coverage, *, released: bool = False) -> None:
    revision = newest_of(find(STANDARD))
    whole = coverage.whole()
    CoveragePoint.objects.create(
        revision=revision,
        released=released,
        agree=whole.plain.agree,
        could=whole.plain.could,
        people_agree=whole.people.agree,
        people_could=whole.people.could,
    )
