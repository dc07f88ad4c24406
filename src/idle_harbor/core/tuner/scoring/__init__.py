"""The score of a candidate on simulated weeks, and its value to the search."""
