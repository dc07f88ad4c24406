"""The event loop: hosts, sessions, logons, drills."""
