"""The program on a staff machine: reads and writes settings files as the server says. Standard library only, no rules."""
