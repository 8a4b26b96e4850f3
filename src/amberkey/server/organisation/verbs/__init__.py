"""What changes the organisation: one verb a file, each with its permission and its audit entry."""
