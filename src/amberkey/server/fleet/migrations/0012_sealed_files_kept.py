"""What is kept of people's files from now on is sealed (see 0011)."""

import django.db.models.deletion
from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("fleet", "0011_sealed_files")]
    operations = [
        migrations.RemoveField("machinefile", "content"),
        migrations.RemoveField("order", "content"),
        migrations.AddField(
            "machinefile",
            "content",
            models.ForeignKey(null=True, on_delete=django.db.models.deletion.SET_NULL, related_name="+", to="fleet.filebytes"),
        ),
        migrations.AddField(
            "order",
            "content",
            models.ForeignKey(null=True, on_delete=django.db.models.deletion.SET_NULL, related_name="+", to="fleet.filebytes"),
        ),
    ]
