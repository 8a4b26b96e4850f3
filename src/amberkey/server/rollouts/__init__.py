"""Releases that go out in waves, stay there, and come back."""
