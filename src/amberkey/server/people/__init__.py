"""Sign-in, roles, and the record of who did what."""
