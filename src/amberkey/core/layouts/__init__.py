"""What each key types, which stroke makes a press, where keys lie, how well they are reached."""
