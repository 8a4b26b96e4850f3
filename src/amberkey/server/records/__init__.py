"""Test records: what people pressed on real machines, what should have come of it, and what they saw."""
