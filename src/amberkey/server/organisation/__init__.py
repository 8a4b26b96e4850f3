"""People, machines, departments, roles and kits: seen, changed one by one or many at once, brought in from sheets."""
