"""From what a search found to an answer: fresh weeks, the front, what each change does."""
