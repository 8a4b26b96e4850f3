import uuid

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("library", "0007_revision_name"), migrations.swappable_dependency(settings.AUTH_USER_MODEL)]

    operations = [
        migrations.CreateModel(
            name="Thinning",
            fields=[
                ("id", models.UUIDField(default=uuid.uuid4, primary_key=True, serialize=False)),
                ("rule", models.JSONField()),
                ("now", models.DateTimeField()),
                (
                    "state",
                    models.CharField(
                        choices=[("waiting", "Waiting"), ("done", "Done"), ("failed", "Failed")],
                        default="waiting",
                        max_length=10,
                    ),
                ),
                ("dropped", models.PositiveIntegerField(default=0)),
                ("freed", models.PositiveBigIntegerField(default=0)),
                ("says", models.CharField(blank=True, max_length=400)),
                (
                    "actor",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT, related_name="+", to=settings.AUTH_USER_MODEL
                    ),
                ),
            ],
            options={"ordering": ("-now",)},
        ),
    ]
