"""What fields mean, and whether all is well."""
