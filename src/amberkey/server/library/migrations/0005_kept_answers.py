from django.db import migrations

# As Django's createcachetable makes it, but unlogged: what is lost in it is worked out again.
TABLE = """
CREATE UNLOGGED TABLE IF NOT EXISTS kept_answers (
    cache_key varchar(255) NOT NULL PRIMARY KEY,
    value text NOT NULL,
    expires timestamp with time zone NOT NULL
);
CREATE INDEX IF NOT EXISTS kept_answers_expires ON kept_answers (expires);
"""


class Migration(migrations.Migration):
    dependencies = [("library", "0004_released_and_given")]

    operations = [migrations.RunSQL(TABLE, "DROP TABLE kept_answers")]
