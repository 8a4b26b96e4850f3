"""What changes a release plan: each in one transaction, and each may be done again."""
