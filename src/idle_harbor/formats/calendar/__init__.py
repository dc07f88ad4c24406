"""Calendars in and out."""
