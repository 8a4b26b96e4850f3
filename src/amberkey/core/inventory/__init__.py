"""All commands of all programs at once: found by words and keys, in every state, in any order."""
