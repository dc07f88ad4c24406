"""What would make a morning fail: one file per family of checks."""
