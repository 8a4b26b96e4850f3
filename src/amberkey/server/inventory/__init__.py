"""The sheet of all commands: looked through, changed row by row or several at once."""
