"""The guide, read from `docs/guide`: pages for screens, with the words that they use explained where they stand."""
