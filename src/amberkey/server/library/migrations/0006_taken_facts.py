import django.db.models.deletion
from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("library", "0005_kept_answers")]

    operations = [
        migrations.CreateModel(
            name="TakenFacts",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                (
                    "body",
                    models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name="+", to="library.body"),
                ),
                (
                    "change_set",
                    models.ForeignKey(
                        null=True, on_delete=django.db.models.deletion.CASCADE, related_name="+", to="library.changeset"
                    ),
                ),
                (
                    "document",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE, related_name="taken_facts", to="library.document"
                    ),
                ),
            ],
        ),
    ]
