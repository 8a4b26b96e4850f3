"""The ways out of clashes: what could be done, and what each would solve, make and change; computed, never guessed."""
