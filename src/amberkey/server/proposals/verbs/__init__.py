"""What is done with proposals: one verb a file, each with its permission and its audit entry."""
