"""When hosts are started and let go."""
