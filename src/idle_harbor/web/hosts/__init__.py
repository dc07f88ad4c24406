"""Hosts: sizing, kinds, places, measured profiles."""
