"""Documents and what is found of them as rows of a sheet: profiles and the standard, which come back, commands, coverage and
clashes."""
