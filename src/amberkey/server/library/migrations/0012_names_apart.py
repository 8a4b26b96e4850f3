from typing import Any

from django.db import migrations


def take_apart(apps: Any, schema_editor: Any) -> None:
    from amberkey.server.library.older_names import take_names_out

    take_names_out(apps)


class Migration(migrations.Migration):
    """Names of people go out of documents that an older version kept, into their table."""

    dependencies = [
        ("library", "0011_person_names"),
        ("catalogue", "0001_initial"),
        ("fleet", "0005_released_and_given"),
        ("organisation", "0002_headings_kept"),
        ("people", "0003_accounts"),
        ("records", "0001_initial"),
        ("standard", "0001_initial"),
    ]

    operations = [migrations.RunPython(take_apart, migrations.RunPython.noop)]
