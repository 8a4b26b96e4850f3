"""Brings a database up to date before it is served: `python -m amberkey.server.beginning.prepare`.

Prints one line of JSON: `link`, the secret of a one-time link where there is no administrator yet, else null.
"""

import json
import os
import sys


def main() -> int:
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "amberkey.server.settings")
    import django
    from django.core.management import call_command

    django.setup()
    newer = _made_by_newer()
    if newer:
        print(f"This database was made by a newer Amber Key (it has {newer}). Serve it with that version.", file=sys.stderr)
        return 1
    # Its checks import every endpoint, which takes a second; the tests run them.
    call_command("migrate", interactive=False, verbosity=0, skip_checks=True)
    from amberkey.server.people.verbs.link import first_link

    print(json.dumps({"link": first_link()}))
    return 0


def _made_by_newer() -> str:
    """A migration of ours that the database has had and this version doesn't know; empty where there is none."""
    from django.db import connection
    from django.db.migrations.loader import MigrationLoader

    loader = MigrationLoader(connection)
    ours = {app for app, _ in loader.disk_migrations}
    unknown = sorted(k for k in loader.applied_migrations if k[0] in ours and k not in loader.disk_migrations)
    replaced = {r for m in loader.disk_migrations.values() for r in m.replaces}
    return next((f"{app} {name}" for app, name in unknown if (app, name) not in replaced), "")


if __name__ == "__main__":
    sys.exit(main())
