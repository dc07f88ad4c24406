"""Codes of the policy: states of hosts, actions on them, and causes."""

from __future__ import annotations

from enum import IntEnum

#: Stands for a time that never ends.
NEVER = -1
(OFF, STARTING, READY, DRAINING, STOPPING, CREATING, RESETTING, QUEUED, ABSENT, FAILED) = range(10)
HOST_STATE_NAMES = (
    "off",
    "starting",
    "ready",
    "draining",
    "stopping",
    "creating",
    "resetting",
    "queued",
    "absent",
    "failed",
)


class Action(IntEnum):
    """An action on a host."""

    START = 1
    UNDRAIN = 2
    DRAIN = 3
    STOP = 4
    CREATE = 5
    RESET = 6
    FAIL = 7
    REPAIR = 8
    NOTICE = 9


class Cause(IntEnum):
    """The cause of an action."""

    HORIZON = 0
    FLOOR = 1
    CEILING = 2
    HEADROOM = 3
    EMPTY = 4
    RELEASE = 5
    DRAINED = 6
    KNOCK = 7
    ALWAYS = 8
    DRILL = 9
    LAST_DATE = 10
    CLEANED = 11
    READY_BY = 12
    FAILED_START = 13
    DRAIN_STEP = 14
    LOAD_RULE = 15
