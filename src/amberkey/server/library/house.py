"""The profile that everybody has: where nobody has any profile, the first decision makes it, or brings it back, and gives it to
all.

Until then everybody is taken to have it, empty: so ways out have a layer to be kept in, and what they would do can be told.
"""

from collections.abc import Mapping

from amberkey.core.organisation.model import Organisation
from amberkey.core.profiles.model import Profile
from amberkey.server.library.models import Document

HOUSE = Profile(id="house", name="House", description="What everybody has.")
HOUSE_KEY = f"profile/{HOUSE.id}"


def house_begins(state: Mapping[str, str]) -> bool:
    """Whether there is no house profile, in a state of the documents (key to digest) or beside it: it may be unreleased."""
    return HOUSE_KEY not in state and not Document.objects.filter(key=HOUSE_KEY, deleted_at=None).exists()


def has_nothing(organisation: Organisation) -> bool:
    """Whether an organisation gives nobody a profile."""
    given = (organisation.departments, organisation.roles, organisation.people, organisation.machines)
    return not organisation.profiles and not any(one.profiles for group in given for one in group)


def with_house(organisation: Organisation) -> Organisation:
    """An organisation in which everybody has the house profile, where nobody has any."""
    return organisation.model_copy(update={"profiles": (HOUSE.id,)}) if has_nothing(organisation) else organisation
