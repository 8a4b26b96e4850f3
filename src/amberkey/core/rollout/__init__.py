"""How a release goes out: which machines are in which wave, when a wave opens, and what is put back."""
