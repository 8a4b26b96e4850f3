"""Which tables hold what an organisation can't do without, and at which migrations they stand."""

from django.db import connection
from django.db.migrations.loader import MigrationLoader

# What is worked out again, holds for a moment, or is made by migrating.
_LEFT = ("django_", "auth_", "axes_", "procrastinate_", "kept_answers", "people_signedin", "people_user_groups")
_LEFT_TOO = ("people_user_user_permissions",)


def tables() -> list[str]:
    """The names of the tables that a backup has, in order."""
    with connection.cursor() as cursor:
        found = connection.introspection.table_names(cursor)
    return sorted(t for t in found if not t.startswith((*_LEFT, *_LEFT_TOO)))


def columns(table: str) -> list[str]:
    """The names of a table's columns, in their order."""
    with connection.cursor() as cursor:
        return [c.name for c in connection.introspection.get_table_description(cursor, table)]


def newest_migrations() -> dict[str, str]:
    """By app, the newest migration that the database has had."""
    loader = MigrationLoader(connection)
    found: dict[str, str] = {}
    for app, name in loader.applied_migrations:
        if (app, name) in loader.graph.nodes and not any(
            child.key in loader.applied_migrations and child.key[0] == app
            for child in loader.graph.node_map[app, name].children
        ):
            found[app] = name
    return dict(sorted(found.items()))
