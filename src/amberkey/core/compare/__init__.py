"""Differences between two documents as operations by identity, each with a precondition and an inverse."""
