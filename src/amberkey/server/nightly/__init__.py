"""Lists that other systems send by themselves, every night: who may send which, what came, what waits for a yes."""
