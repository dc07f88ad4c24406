"""Codes used by the compiled loop and by those who read its results."""

from __future__ import annotations

from enum import IntEnum

from idle_harbor.core.demand.kernel.leaving import DISCONNECT as DISCONNECT
from idle_harbor.core.demand.kernel.leaving import FAR as FAR
from idle_harbor.core.demand.kernel.leaving import SIGN_OFF as SIGN_OFF
from idle_harbor.core.demand.kernel.leaving import WALK_AWAY as WALK_AWAY

NEVER = -1

# A person's one session in the pool
NONE, WAITING, LOGGING_ON, ACTIVE, IDLE, DISCONNECTED, RETURNING_IDLE, RETURNING_DISC = range(8)
PERSON_STATES = 8

# Hosts
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

# Points of a host's start
POWERED, BOOTED, REGISTERED, SETTLED = range(4)

# Current levels: what is integrated over time and kept in five-minute bins. ``active`` counts
# logons in progress, ``working`` does not; ``occupied`` counts hosts with a session; ``least_*``
# are the fewest hosts that could hold the active, or all, sessions; ``all`` counts sessions.
# ``queued`` counts hosts that wait to be started, ``behind`` people at work behind a slow line on
# hosts that are not strained, ``network`` Mbit/s, ``spent`` hosts without CPU credits, and
# ``standing`` and ``surge`` the hosts that exist.
(L_ACTIVE, L_IDLE, L_DISCONNECTED, L_WAITING, L_READY, L_DRAINING, L_STARTING, L_STOPPING,
 L_ON_DRAINING, L_LOGONS, L_WORKING, L_STRAINED, L_OCCUPIED, L_LEAST_ACTIVE,
 L_LEAST_ALL, L_ALL, L_CREATING, L_RESETTING, L_QUEUED, L_BEHIND, L_NETWORK, L_SPENT,
 L_STANDING, L_SURGE) = range(24)  # fmt: skip
LEVELS = 24
#: Levels that count hosts on the bill.
POWERED_LEVELS = (L_READY, L_DRAINING, L_RESETTING, L_STARTING, L_STOPPING)

# ``short`` of a world: an array was too small, and the run must be repeated with a larger one
SHORT_OF_DRAWS, SHORT_OF_HEAP, SHORT_OF_LOG, SHORT_OF_QUEUE, SHORT_OF_STARTS = 1, 2, 4, 8, 16

# What became of a spell
OUT_PENDING, OUT_CONNECTED, OUT_REFUSED, OUT_RECONNECTED, OUT_LOST = range(5)

# Event classes: the order within one second
E_LOGON_DONE, E_TIMER, E_HOST, E_BACK = range(4)


class WaitCause(IntEnum):
    """Why a person did not have a desktop at once."""

    NONE = 0
    STARTING = 1
    NOT_ASKED = 2
    EXHAUSTED = 3
    DRAINING = 4
    RUSH = 5
    NO_HOST = 6
    RESETTING = 7
    CREATING = 8
    QUEUED = 9
    FAILED = 10


class Action(IntEnum):
    """What the policy does to a host."""

    START = 1
    UNDRAIN = 2
    DRAIN = 3
    STOP = 4
    CREATE = 5
    RESET = 6
    FAIL = 7
    REPAIR = 8


class Cause(IntEnum):
    """Why the policy does it."""

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
