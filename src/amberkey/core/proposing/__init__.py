"""Choosing the keys of all tasks of a platform at once: the best for so much relearning, and how good that is."""
