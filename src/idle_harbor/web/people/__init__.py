"""People: who comes, when and to what."""
