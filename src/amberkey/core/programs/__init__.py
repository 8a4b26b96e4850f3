"""Program documents: what listens for keys, what it can do, how it reads keys and what it refuses."""
