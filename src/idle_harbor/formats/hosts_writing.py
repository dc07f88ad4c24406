"""From core values of a plan's hosts back to values of its document."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from idle_harbor.core.plan import Profile

#: Digits of measured values that a document keeps: far below what any sample is worth.
_DIGITS = 6


def profile_values(like: Mapping[str, Any], measured: Profile, new: str) -> dict[str, Any]:
    """A profile's document values with CPU and memory as measured, under a new id."""
    found = measured.measured
    return {
        **like,
        "id": new,
        "cpu": {
            "mean": round(measured.cpu_mean, _DIGITS),
            "sd": round(measured.cpu_sd, _DIGITS),
            "idle": round(measured.cpu_idle, _DIGITS),
        },
        "memory_gib": {
            "active": round(measured.memory_active, _DIGITS),
            "idle": round(measured.memory_idle, _DIGITS),
            "disconnected": round(measured.memory_disconnected, _DIGITS),
        },
        "measured": None
        if found is None
        else {
            "sessions": found.sessions,
            "cpu_error": round(found.cpu_error, _DIGITS),
            "memory_error": round(found.memory_error, _DIGITS),
            "source": found.source,
        },
    }
