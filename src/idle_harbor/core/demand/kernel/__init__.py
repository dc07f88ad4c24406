"""The compiled loops that draw spells and count presence."""
