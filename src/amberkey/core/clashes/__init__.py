"""Where presses stop: strokes in use, clashes, the trace of a press."""
