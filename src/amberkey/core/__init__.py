"""The rules of the job: documents and values only. No screen, database, file system or clock."""
