"""What a key is worth: seconds by the Keystroke-Level Model, minutes a week for people, and what relearning costs."""
