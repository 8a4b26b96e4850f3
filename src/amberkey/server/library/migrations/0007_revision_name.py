from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("library", "0006_taken_facts")]

    operations = [
        migrations.AddField(
            model_name="revision",
            name="name",
            field=models.CharField(blank=True, default="", max_length=80),
            preserve_default=False,
        ),
    ]
