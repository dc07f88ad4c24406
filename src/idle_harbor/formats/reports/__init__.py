"""What goes out to be read elsewhere."""
