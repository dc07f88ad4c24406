"""One case through one or several weeks: puts the rooms together."""
