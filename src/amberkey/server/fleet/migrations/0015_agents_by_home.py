"""A machine has an agent for each home: the one that it had is the first of them."""

import django.db.models.deletion
from django.db import migrations, models

# Every machine that has files or a token has an agent from now on; of a machine that only has a code, the code makes it.
TO_AGENTS = """
INSERT INTO fleet_agent (machine_id, serves, account, person, token_hash, enrolled_at, heard_at, mark, doubled_at)
SELECT id, 'home', '', '', token_hash, enrolled_at, heard_at, mark, doubled_at FROM fleet_machine m
WHERE token_hash <> '' OR EXISTS (SELECT 1 FROM fleet_machinefile f WHERE f.machine_id = m.id);
UPDATE fleet_machinefile f SET agent_id = a.id FROM fleet_agent a WHERE a.machine_id = f.machine_id;
"""
BACK = """
UPDATE fleet_machine m
SET token_hash = a.token_hash, enrolled_at = a.enrolled_at, heard_at = a.heard_at, mark = a.mark, doubled_at = a.doubled_at
FROM (SELECT DISTINCT ON (machine_id) * FROM fleet_agent WHERE serves = 'home' ORDER BY machine_id, id) a
WHERE a.machine_id = m.id;
"""


class Migration(migrations.Migration):
    dependencies = [("fleet", "0014_which_secret")]

    operations = [
        migrations.CreateModel(
            name="Agent",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                (
                    "serves",
                    models.CharField(choices=[("home", "Home"), ("machine", "Machine")], default="home", max_length=10),
                ),
                ("account", models.CharField(blank=True, max_length=80)),
                ("person", models.CharField(blank=True, max_length=80)),
                ("token_hash", models.CharField(blank=True, db_index=True, max_length=64)),
                ("enrolled_at", models.DateTimeField(blank=True, null=True)),
                ("heard_at", models.DateTimeField(blank=True, null=True)),
                ("mark", models.CharField(blank=True, max_length=32)),
                ("doubled_at", models.DateTimeField(blank=True, null=True)),
                (
                    "machine",
                    models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name="agents", to="fleet.machine"),
                ),
            ],
            options={
                "constraints": (models.UniqueConstraint(fields=("machine", "serves", "account"), name="an_agent_a_home"),),
            },
        ),
        migrations.AddField(
            model_name="machinefile",
            name="agent",
            field=models.ForeignKey(
                null=True, on_delete=django.db.models.deletion.CASCADE, related_name="files", to="fleet.agent"
            ),
        ),
        migrations.AlterField(
            model_name="machinefile",
            name="root",
            field=models.CharField(
                choices=[("home", "Home"), ("machine", "Machine"), ("store", "Store")], default="home", max_length=10
            ),
        ),
        migrations.RunSQL(TO_AGENTS, BACK),
        # What was put off until the end of the transaction is looked at now, so that the table can be changed.
        migrations.RunSQL("SET CONSTRAINTS ALL IMMEDIATE", "SET CONSTRAINTS ALL IMMEDIATE"),
        migrations.AlterField(
            model_name="machinefile",
            name="agent",
            field=models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name="files", to="fleet.agent"),
        ),
        migrations.RemoveConstraint(model_name="machinefile", name="a_file_once_a_machine"),
        migrations.AddConstraint(
            model_name="machinefile",
            constraint=models.UniqueConstraint(fields=("agent", "program", "root", "path"), name="a_file_once_an_agent"),
        ),
        migrations.RemoveField(model_name="machine", name="doubled_at"),
        migrations.RemoveField(model_name="machine", name="enrolled_at"),
        migrations.RemoveField(model_name="machine", name="heard_at"),
        migrations.RemoveField(model_name="machine", name="mark"),
        migrations.RemoveField(model_name="machine", name="token_hash"),
    ]
