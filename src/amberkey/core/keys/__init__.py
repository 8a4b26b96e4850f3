"""Presses, shortcuts and sequences: reading what people write, one canonical text, words for people."""
