"""Tasks: what people want to do, whatever the program; families of tasks, and tasks whose press nothing may take."""
