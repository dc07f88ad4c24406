"""First guesses: what theory says before anything is simulated."""
