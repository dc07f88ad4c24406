"""What weeks say of a candidate, and what it is worth."""
