"""Amber Key's own shortcuts: what they are, what each person made of them, and what they clash with."""
