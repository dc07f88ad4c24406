"""The search: candidates raced over common seeds, and what it begins with."""
