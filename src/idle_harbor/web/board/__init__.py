"""The Board: simulated weeks of one pool."""
