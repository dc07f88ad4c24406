"""What cannot be in a plan: faults with their remedies, a file per subject."""
