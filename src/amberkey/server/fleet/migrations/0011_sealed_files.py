"""Bytes of people's files are sealed. What was kept of them before goes: agents show their files again."""

import django.db.models.deletion
from django.apps.registry import Apps
from django.db import migrations, models
from django.db.backends.base.schema import BaseDatabaseSchemaEditor
from django.db.models import ProtectedError


def let_go(apps: Apps, schema_editor: BaseDatabaseSchemaEditor) -> None:
    file_model, order_model = apps.get_model("fleet", "MachineFile"), apps.get_model("fleet", "Order")
    digests = set(file_model.objects.exclude(content=None).values_list("content_id", flat=True))
    digests |= set(order_model.objects.values_list("content_id", flat=True))
    file_model.objects.update(content=None, stands_on="")
    order_model.objects.filter(state="waiting").update(state="refused", says="It was asked for before orders were signed.")
    for order in order_model.objects.only("pk", "content_id"):
        order_model.objects.filter(pk=order.pk).update(digest=order.content_id)
    apps.get_model("fleet", "Order").objects.update(content=None)
    bodies = apps.get_model("library", "Body")
    for digest in sorted(digests):
        try:
            bodies.objects.filter(digest=digest).delete()
        except ProtectedError:  # the same bytes are a document's too
            continue


class Migration(migrations.Migration):
    dependencies = [("fleet", "0010_machines_by_rank"), ("library", "0001_initial")]
    operations = [
        migrations.CreateModel(
            name="FileBytes",
            fields=[
                ("digest", models.CharField(max_length=64, primary_key=True, serialize=False)),
                ("sealed", models.BinaryField()),
                ("kept_at", models.DateTimeField(db_index=True)),
            ],
        ),
        migrations.AddField("order", "digest", models.CharField(max_length=64, default=""), preserve_default=False),
        migrations.AlterField(
            "order",
            "content",
            models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name="+", to="library.body"),
        ),
        migrations.RunPython(let_go, migrations.RunPython.noop),
    ]
