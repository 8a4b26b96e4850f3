"""Who acts, with what right: every verb that writes takes an Actor and asks it first."""

from dataclasses import dataclass

from django.http import HttpRequest

from amberkey.server.people.models import AuditEntry, Role, User
from amberkey.server.problems import NotAllowed, Problem


@dataclass(frozen=True)
class Actor:
    user: User

    @property
    def name(self) -> str:
        return self.user.display_name

    def require(self, role: Role) -> None:
        """Raises NotAllowed unless the actor has the role or a higher one."""
        own = self.user.acting_role
        if own.rank < role.rank:
            raise NotAllowed(str(own.label), str(role.label))

    def record(self, action: str, subject: str, detail: str = "") -> None:
        AuditEntry.objects.create(actor=self.user, action=action, subject=subject[:200], detail=detail[:600])


def actor_of(request: HttpRequest) -> Actor:
    user = request.user
    if not isinstance(user, User):
        raise Problem(401, "You are not signed in.", cure="Sign in and do it again.")
    return Actor(user)
