from typing import Any

from django.db import migrations


def approve(apps: Any, schema_editor: Any) -> None:
    from amberkey.server.library.older_approvals import approve_released

    approve_released(apps)


class Migration(migrations.Migration):
    """What was released before approvals began goes out as it did."""

    dependencies = [("library", "0013_approvals")]

    operations = [migrations.RunPython(approve, migrations.RunPython.noop)]
