"""Answers computed through a lens from the documents in the library."""
