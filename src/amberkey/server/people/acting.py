"""Who acts, with what right: every verb that writes takes an Actor and asks it first."""

from dataclasses import dataclass

from django.http import HttpRequest
from ninja.errors import HttpError
from ninja.security import SessionAuth

from amberkey.server.people.models import AuditEntry, Role, User
from amberkey.server.people.sight import look_as
from amberkey.server.problems import NotAllowed, Problem, too_old_to_write


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


class By(SessionAuth):
    """Who may call an endpoint: somebody signed in with a role or a higher one. Asked before the request is read; what changes
    something asks its actor once more."""

    def __init__(self, role: Role) -> None:
        super().__init__()
        self.role = role

    def __call__(self, request: HttpRequest) -> User | None:
        try:
            user = super().__call__(request)
        except HttpError as error:  # the page's token
            raise too_old_to_write() from error
        if not isinstance(user, User):
            return None
        Actor(user).require(self.role)
        look_as(user.acting_role)
        return user
