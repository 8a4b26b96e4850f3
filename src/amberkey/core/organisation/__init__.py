"""People, machines and who sits where, and the setups that follow from it."""
