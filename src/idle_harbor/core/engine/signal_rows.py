"""The signal of each load rule as the event loop needs it."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from idle_harbor.core.engine.kernel import codes
from idle_harbor.core.engine.kernel.world import SIGNAL
from idle_harbor.core.plan.load_rules import Signal
from idle_harbor.core.policy.in_force import Ruled, load_rules_of

#: Kind of each signal in the event loop, and its level if it is one.
_SIGNALS: dict[Signal, tuple[int, int]] = {
    "cpu": (codes.SIGNAL_CPU, 0),
    "memory": (codes.SIGNAL_MEMORY, 0),
    "slots in use": (codes.SIGNAL_SLOTS, 0),
    "free slots": (codes.SIGNAL_FREE, 0),
    "sessions per host": (codes.SIGNAL_PER_HOST, 0),
    "strained work": (codes.SIGNAL_STRAINED, 0),
    "logon time": (codes.SIGNAL_LOGON, 0),
    "people waiting": (codes.SIGNAL_LEVEL, codes.L_WAITING),
    "people at work": (codes.SIGNAL_LEVEL, codes.L_WORKING),
    "logons in progress": (codes.SIGNAL_LEVEL, codes.L_LOGONS),
    "idle sessions": (codes.SIGNAL_LEVEL, codes.L_IDLE),
    "disconnected sessions": (codes.SIGNAL_LEVEL, codes.L_DISCONNECTED),
    "hosts draining": (codes.SIGNAL_LEVEL, codes.L_DRAINING),
    "hosts without credits": (codes.SIGNAL_LEVEL, codes.L_SPENT),
    "network": (codes.SIGNAL_LEVEL, codes.L_NETWORK),
}


def signal_rows(setting: Ruled) -> NDArray[np.void]:
    """Return a row for the signal of each load rule, with empty sums."""
    rules = load_rules_of(setting)
    rows = np.zeros(len(rules), dtype=SIGNAL)
    for row, rule in zip(rows, rules, strict=True):
        row["kind"], row["level"] = _SIGNALS[rule.signal]
    return rows
