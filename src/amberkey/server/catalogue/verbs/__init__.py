"""What people do with lists of commands and proposals."""
