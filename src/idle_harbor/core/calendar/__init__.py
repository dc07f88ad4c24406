"""Local time into seconds; holidays, events and workdays of a month."""
