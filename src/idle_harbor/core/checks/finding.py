"""What a check finds: how bad, where, why it matters, and a way to mend it."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass
from typing import Literal

from idle_harbor.core.plan import Plan

#: ``harm`` makes people wait or be turned away, ``doubt`` makes a figure less true than it looks.
Severity = Literal["harm", "doubt"]


@dataclass(frozen=True, slots=True)
class Mend:
    """A value to put where a JSON pointer leads, which mends what was found.

    A value that somebody else has ``to_grant`` is asked for; it is not there by being written down.
    """

    pointer: str
    value: str | int | float | bool | None
    to_grant: bool = False


@dataclass(frozen=True, slots=True)
class Finding:
    """One thing found: ``pointer`` is a JSON pointer into the plan.

    ``mend`` says what to do; where a single value does it, ``does`` has it.
    """

    check: str
    severity: Severity
    pointer: str
    message: str
    matters: str
    mend: str
    does: Mend | None = None


@dataclass(frozen=True, slots=True)
class Family:
    """Checks of one subject: what they are about, and what finds.

    ``find`` looks at the plan as a whole; ``find_in_pool`` at its k-th pool, where each of them
    takes a while.
    """

    id: str
    about: str
    find: Callable[[Plan], Iterable[Finding]]
    find_in_pool: Callable[[Plan, int], Iterable[Finding]] | None = None
