"""Simulated outside services that ship with the application; each answers as a real one would."""
