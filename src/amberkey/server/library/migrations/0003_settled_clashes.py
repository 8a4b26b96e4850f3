import django.db.models.deletion
from django.apps.registry import Apps
from django.db import migrations, models
from django.db.backends.base.schema import BaseDatabaseSchemaEditor


def keep_clashes(apps: Apps, schema_editor: BaseDatabaseSchemaEditor) -> None:
    """A change set decided one clash; from now on it may decide several."""
    changes, settled = apps.get_model("library", "ChangeSet"), apps.get_model("library", "SettledClash")
    known = ((one.pk, getattr(one, "clash", "")) for one in changes.objects.order_by("pk").iterator())
    settled.objects.bulk_create(settled(change_set_id=i, clash=c) for i, c in known if c)


class Migration(migrations.Migration):
    dependencies = [("library", "0002_initial")]

    operations = [
        migrations.AddField(
            "changeset", "reason", models.CharField(blank=True, default="", max_length=600), preserve_default=False
        ),
        migrations.CreateModel(
            "SettledClash",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("clash", models.CharField(db_index=True, max_length=16)),
                (
                    "change_set",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE, related_name="settled", to="library.changeset"
                    ),
                ),
            ],
        ),
        migrations.AddConstraint(
            "settledclash", models.UniqueConstraint(fields=("change_set", "clash"), name="a_clash_once_a_change")
        ),
        migrations.RunPython(keep_clashes, migrations.RunPython.noop),
        migrations.RemoveField("changeset", "clash"),
    ]
