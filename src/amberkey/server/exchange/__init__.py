"""Bundles out and in."""
