"""Text formats in which programs keep entries: opened, and edited without touching anything else."""
