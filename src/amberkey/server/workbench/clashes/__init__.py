"""Clashes as the screens ask for them: the groups, the ways out of one, several at once, what was decided."""
