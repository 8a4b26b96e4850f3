"""What a new version of a program changes, and what that means for everybody who has it."""
