"""Machines, their agents, what is on them and what should be."""
