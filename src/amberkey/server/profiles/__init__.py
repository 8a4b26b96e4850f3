"""Profiles in full: what each holds beside shortcuts, found, changed with its consequences first, tidied, and what travels."""
