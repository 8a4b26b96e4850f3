"""Other people's tables to programs: cells with their places, headings, keys as people write them, and commands to tasks."""
