"""Load rules: hosts that are asked for, or may go, by a figure that the hosts show."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal, get_args

from idle_harbor.core.plan.declare import OURS, About, Named, Tuned

Signal = Literal[
    "cpu",
    "memory",
    "slots in use",
    "free slots",
    "sessions per host",
    "strained work",
    "logon time",
    "people waiting",
    "people at work",
    "logons in progress",
    "idle sessions",
    "disconnected sessions",
    "hosts draining",
    "hosts without credits",
    "network",
]
SIGNALS: tuple[Signal, ...] = get_args(Signal)

#: What each signal tells, over the time since the last look of the policy.
SIGNAL_MEANINGS: dict[str, str] = {
    "cpu": "CPU wanted on the ready hosts as a share of what they have; it may pass 1",
    "memory": "memory wanted on the ready hosts as a share of what they have",
    "slots in use": "sessions on the ready hosts as a share of those that they take",
    "free slots": "sessions that the ready hosts could still take; it asks where it is low",
    "sessions per host": "sessions of a ready host, on average",
    "strained work": "share of the work done on strained hosts",
    "logon time": "seconds that the logons took which were done, without the wait for a host",
    "people waiting": "people without a session, on average",
    "people at work": "active sessions, on average",
    "logons in progress": "logons at once, on average",
    "idle sessions": "idle sessions, on average",
    "disconnected sessions": "disconnected sessions, on average",
    "hosts draining": "hosts that take nobody new, on average",
    "hosts without credits": "hosts that have spent their CPU credits, on average",
    "network": "Mbit/s that all sessions draw together, on average",
}
#: The unit of each.
SIGNAL_UNITS: dict[str, str] = {
    "cpu": "share",
    "memory": "share",
    "slots in use": "share",
    "strained work": "share",
    "free slots": "sessions",
    "sessions per host": "sessions",
    "logon time": "s",
    "people waiting": "people",
    "people at work": "people",
    "logons in progress": "logons",
    "idle sessions": "sessions",
    "disconnected sessions": "sessions",
    "hosts draining": "hosts",
    "hosts without credits": "hosts",
    "network": "Mbit/s",
}
#: Signals of which little is what asks for hosts, and much what lets them go.
ASKS_WHERE_LOW: frozenset[str] = frozenset({"free slots"})


_HOLD = About(
    "For how long it is beyond before.", "min", 0, 720, OURS, tuned=Tuned("load rules", 5, high=60)
)


@dataclass(frozen=True, slots=True)
class LoadRule(Named):
    """Hosts beyond the other rules while a signal is past a mark, or none let go until it is not.

    A rule with ``asks_at`` has an extra, from 0 on: it grows by ``adds`` while the signal has been
    past that mark for the hold, and shrinks by ``takes_back`` while it has been past
    ``permits_at``, the mark on the other side; without such a mark it returns to 0 when a band
    begins. A rule with ``permits_at`` alone asks for nothing: while its signal has not been past
    that mark for the hold, no host is let go.
    """

    signal: Annotated[
        Signal, About("What it goes by, since the last look.", choices=SIGNAL_MEANINGS)
    ]
    asks_at: Annotated[
        float | None,
        About(
            "Beyond this value of the signal it asks for hosts; none: it never does.",
            "as the signal",
            0,
            1_000_000,
            tuned=Tuned("load rules", 0.05),
        ),
    ] = None
    asks_hold_minutes: Annotated[int, _HOLD] = 10
    adds: Annotated[
        int,
        About("Hosts that it asks for each time.", "hosts", 1, 1_000, tuned=Tuned("load rules")),
    ] = 1
    permits_at: Annotated[
        float | None,
        About(
            "Beyond this value, on the other side, hosts may go; none: not by this rule.",
            "as the signal",
            0,
            1_000_000,
            tuned=Tuned("load rules", 0.05),
        ),
    ] = None
    permits_hold_minutes: Annotated[int, _HOLD] = 20
    takes_back: Annotated[
        int,
        About(
            "Hosts fewer that it asks for each time.", "hosts", 1, 1_000, tuned=Tuned("load rules")
        ),
    ] = 1
    pause_minutes: Annotated[
        int,
        About(
            "Between two changes of what it asks for.",
            "min",
            0,
            720,
            OURS,
            tuned=Tuned("load rules", 5, high=60),
        ),
    ] = 15

    @property
    def asks_where_low(self) -> bool:
        """Whether little of its signal asks for hosts."""
        return self.signal in ASKS_WHERE_LOW

    @property
    def in_order(self) -> bool:
        """Whether its two marks are on the right side of each other."""
        asks, permits = self.asks_at, self.permits_at
        if asks is None or permits is None:
            return True
        return asks < permits if self.asks_where_low else permits < asks

    @property
    def in_shares(self) -> bool:
        """Whether its signal is a share."""
        return SIGNAL_UNITS[self.signal] == "share"
