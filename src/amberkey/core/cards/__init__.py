"""Cards: the few keys that somebody is handed, true to what holds at every desk that the card is for."""
