"""The command line's verbs on files: answers of the core, with no server."""
