"""Getting documents in and out: bundles, and programs own settings files by description."""
