"""What changes profiles."""
