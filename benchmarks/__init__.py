"""Speed and quality figures, each against a named yardstick in the same run."""
