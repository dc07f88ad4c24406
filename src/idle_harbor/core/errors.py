"""What can be wrong with a plan, said once for every edge.

HarborError
├── PlanError            the plan cannot be: carries one Fault per thing that is wrong
├── TooMuchError         a simulation beyond a stated bound
├── UnknownNameError     a name that the plan does not contain
├── NotWantedError       nobody waits for the result any more
└── EngineError          the engine is at fault: what it computed is void
"""

from __future__ import annotations

from bisect import bisect
from collections.abc import Collection, Sequence
from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Fault:
    """One thing that is wrong: where (JSON pointer), what, and how to mend it."""

    pointer: str
    message: str
    remedy: str

    def line(self) -> str:
        """The fault as one line for a terminal."""
        return f"{self.pointer or '/'}: {self.message}; {self.remedy}"


#: So many names are listed where one is wrong: a plan has hundreds.
_LISTED = 8


def some_of(names: Collection[str], near: str = "") -> str:
    """Names in order as a sentence lists them: of many the few that stand around one."""
    listed = sorted(names)
    if len(listed) > _LISTED:
        first = min(max(bisect(listed, near) - _LISTED // 2, 0), len(listed) - _LISTED)
        around = listed[first : first + _LISTED]
        return f"{', '.join(around)} and {len(listed) - _LISTED:,} others"
    return ", ".join(listed) if listed else "none"


class HarborError(Exception):
    """Base of every error that Idle Harbor raises on purpose."""


class PlanError(HarborError):
    """The plan cannot be; ``faults`` says why, one entry per fault."""

    def __init__(self, faults: Sequence[Fault]) -> None:
        self.faults = tuple(faults)
        super().__init__("\n".join(fault.line() for fault in self.faults))


class TooMuchError(HarborError):
    """The work asked for passes a bound; the message names the bound and the remedy."""

    def __init__(self, fault: Fault) -> None:
        self.fault = fault
        super().__init__(fault.line())


class UnknownNameError(HarborError):
    """A pool, group or other thing of that name is not in the plan."""

    def __init__(self, kind: str, name: str, known: Sequence[str]) -> None:
        self.kind, self.name, self.known = kind, name, tuple(known)
        has = some_of(known, name)
        super().__init__(f"there is no {kind} called '{name}' in this plan; it has: {has}")


class NotWantedError(HarborError):
    """Nobody waits for the result of this work any more, and it was given up."""


class EngineError(HarborError):
    """The engine itself is at fault; nothing that the run left is true."""
