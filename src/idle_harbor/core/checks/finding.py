"""What a check finds: how bad, where, why it matters, and a way to mend it."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

#: ``harm`` makes people wait or be turned away, ``doubt`` makes a figure less true than it looks.
Severity = Literal["harm", "doubt"]


@dataclass(frozen=True, slots=True)
class Finding:
    """One thing found: ``pointer`` is a JSON pointer into the plan."""

    check: str
    severity: Severity
    pointer: str
    message: str
    matters: str
    mend: str
