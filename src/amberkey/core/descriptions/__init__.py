"""How programs keep their shortcuts in files, said by description instead of code: the words of shortcuts, the shape of
entries, and reading and editing such files."""
