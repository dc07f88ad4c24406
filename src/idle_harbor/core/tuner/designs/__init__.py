"""Designs: what a search may vary of a pool, and how one design becomes another."""
