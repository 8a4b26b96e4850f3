"""What needs somebody today, and in which order."""
