"""Documents as immutable revisions, and the change sets that move them: one mechanism for all that is edited."""
