"""Codes used by the compiled loop and by those who read its results."""

from __future__ import annotations

from enum import IntEnum

MICRO = 1_000_000
KIB_PER_GIB = 1_048_576
NEVER = -1
FAR = 2**31 - 2

# A person's one session in the pool
NONE, WAITING, LOGGING_ON, ACTIVE, IDLE, DISCONNECTED, RETURNING_IDLE, RETURNING_DISC = range(8)
PERSON_STATES = 8

# Hosts
OFF, STARTING, READY, DRAINING, STOPPING = range(5)
HOST_STATE_NAMES = ("off", "starting", "ready", "draining", "stopping")

# Current levels: what is integrated over time and kept in five-minute bins. ``active`` counts
# logons in progress, ``working`` does not; ``occupied`` counts hosts with a session; ``least_*``
# are the fewest hosts that could hold the active, or all, sessions; ``all`` counts sessions.
(L_ACTIVE, L_IDLE, L_DISCONNECTED, L_WAITING, L_READY, L_DRAINING, L_STARTING, L_STOPPING,
 L_ON_DRAINING, L_LOGONS, L_WORKING, L_STRAINED, L_OCCUPIED, L_LEAST_ACTIVE,
 L_LEAST_ALL, L_ALL) = range(16)  # fmt: skip
LEVELS = 16

# ``short`` of a world: an array was too small, and the run must be repeated with a larger one
SHORT_OF_DRAWS, SHORT_OF_HEAP, SHORT_OF_LOG = 1, 2, 4

# What became of a spell
OUT_PENDING, OUT_CONNECTED, OUT_REFUSED, OUT_RECONNECTED, OUT_LOST = range(5)

# How a person leaves
SIGN_OFF, DISCONNECT, WALK_AWAY = range(3)

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


class Action(IntEnum):
    """What the policy does to a host."""

    START = 1
    UNDRAIN = 2
    DRAIN = 3
    STOP = 4


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
