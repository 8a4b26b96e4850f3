"""For whoever runs Amber Key: whether it lives and is ready, its figures, and its log."""
