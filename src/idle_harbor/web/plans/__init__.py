"""Plans and their revisions."""
