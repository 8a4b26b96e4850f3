import django.db.models.deletion
from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("library", "0008_thinning")]

    operations = [
        migrations.AddField(
            model_name="revision",
            name="brought",
            field=models.ForeignKey(
                null=True, on_delete=django.db.models.deletion.PROTECT, related_name="+", to="library.body"
            ),
        ),
    ]
