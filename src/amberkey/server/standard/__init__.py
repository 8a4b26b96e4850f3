"""The organisation's standard: how far programs follow it, setting lines, what-if drafts, releasing it as a layer."""
