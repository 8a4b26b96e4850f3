"""Amber Key: keyboard shortcuts of an organisation, standardised, checked and carried to its machines."""

__version__ = "0.1.0"
