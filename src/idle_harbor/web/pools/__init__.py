"""Pools side by side, and drills."""
