"""The directory and its imports."""
