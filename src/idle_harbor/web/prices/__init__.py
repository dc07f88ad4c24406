"""Price sheets in and out."""
