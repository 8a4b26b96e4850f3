"""What the `amberkey` command runs before anything is installed: standard library only."""
