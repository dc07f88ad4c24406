"""Calendars in."""
