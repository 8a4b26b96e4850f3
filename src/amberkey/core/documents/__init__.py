"""What every document shares: canonical bytes, digests, careful reading, faults with their place."""
