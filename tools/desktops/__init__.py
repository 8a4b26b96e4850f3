"""What Linux desktops do with presses, read from the packages of Debian: facts and their places only, in our own words."""
