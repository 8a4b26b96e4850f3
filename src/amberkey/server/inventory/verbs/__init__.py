"""What changes commands: one verb a file, each with its permission and its audit entry."""
