"""The search: candidates are raced over common seeds, from several starting points."""
