"""The made-up organisation Merrow Strait Ferries: its documents, people and simulated machines."""
