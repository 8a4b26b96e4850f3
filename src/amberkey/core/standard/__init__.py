"""The organisation's standard: lines, how far programs follow them, the layer that makes them, what a change would do."""
