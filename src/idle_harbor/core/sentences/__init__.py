"""A plan, its rules and what a study found, in sentences."""
