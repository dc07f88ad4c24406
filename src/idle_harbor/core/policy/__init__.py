"""The policy: when hosts start, drain and stop."""
