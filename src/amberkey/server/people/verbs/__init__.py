"""What changes a person's own settings: one verb a file."""
