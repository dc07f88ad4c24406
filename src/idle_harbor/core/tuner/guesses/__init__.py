"""First guesses from theory, before anything is simulated."""
