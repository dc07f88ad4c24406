"""What the policy speaks of: states of hosts, what is done to them, and why."""

from __future__ import annotations

from enum import IntEnum

#: In place of seconds that never are over.
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
    """What is done to a host."""

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
    """Why it is done."""

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
