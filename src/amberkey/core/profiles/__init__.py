"""Profiles, layers, setups and the settings that are in effect for one of them."""
