"""What it looks like when the database isn't there."""

from django.db import InterfaceError, OperationalError

DATABASE_AWAY: tuple[type[Exception], ...] = (OperationalError, InterfaceError)
"""What Django raises where the database can't be reached, ends a connection, or is too busy to answer."""
