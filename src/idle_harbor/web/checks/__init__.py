"""What would make a build or a morning fail."""
