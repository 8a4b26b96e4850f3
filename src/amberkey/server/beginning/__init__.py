"""Beginning with an empty database: the first administrator, and what is still missing for the work."""
