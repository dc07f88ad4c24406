"""Codes of the compiled event loop, and of those who read its results."""

from __future__ import annotations

from enum import IntEnum

from idle_harbor.core.demand.kernel.leaving import DISCONNECT as DISCONNECT
from idle_harbor.core.demand.kernel.leaving import FAR as FAR
from idle_harbor.core.demand.kernel.leaving import SIGN_OFF as SIGN_OFF
from idle_harbor.core.demand.kernel.leaving import WALK_AWAY as WALK_AWAY
from idle_harbor.core.policy.codes import ABSENT as ABSENT
from idle_harbor.core.policy.codes import CREATING as CREATING
from idle_harbor.core.policy.codes import DRAINING as DRAINING
from idle_harbor.core.policy.codes import FAILED as FAILED
from idle_harbor.core.policy.codes import HOST_STATE_NAMES as HOST_STATE_NAMES
from idle_harbor.core.policy.codes import NEVER as NEVER
from idle_harbor.core.policy.codes import OFF as OFF
from idle_harbor.core.policy.codes import QUEUED as QUEUED
from idle_harbor.core.policy.codes import READY as READY
from idle_harbor.core.policy.codes import RESETTING as RESETTING
from idle_harbor.core.policy.codes import STARTING as STARTING
from idle_harbor.core.policy.codes import STOPPING as STOPPING
from idle_harbor.core.policy.codes import Action as Action
from idle_harbor.core.policy.codes import Cause as Cause

# States of a person's one session in the pool
NONE, WAITING, LOGGING_ON, ACTIVE, IDLE, DISCONNECTED, RETURNING_IDLE, RETURNING_DISC = range(8)
PERSON_STATES = 8

# Points of a start from which a host counts as capacity (as in plan.COUNTS_FROM); all later points
# are READY
POWERED, BOOTED = range(2)

# Levels: quantities that are integrated over time into five-minute bins. ``active`` counts
# logons in progress, ``working`` does not; ``occupied`` counts hosts with a session; ``least_*``
# are the fewest hosts that could hold the active, or all, sessions; ``all`` counts sessions.
# ``queued`` counts hosts that wait to be started, ``behind`` people at work behind a slow line on
# hosts that are not strained, ``network`` mean Mbit/s, ``spent`` hosts without CPU credits, and
# ``standing`` and ``surge`` the hosts that exist.
(
    L_ACTIVE,
    L_IDLE,
    L_DISCONNECTED,
    L_WAITING,
    L_READY,
    L_DRAINING,
    L_STARTING,
    L_STOPPING,
    L_ON_DRAINING,
    L_LOGONS,
    L_WORKING,
    L_STRAINED,
    L_OCCUPIED,
    L_LEAST_ACTIVE,
    L_LEAST_ALL,
    L_ALL,
    L_CREATING,
    L_RESETTING,
    L_QUEUED,
    L_BEHIND,
    L_NETWORK,
    L_SPENT,
    L_STANDING,
    L_SURGE,
) = range(24)
LEVELS = 24
#: Levels of hosts that are billed.
POWERED_LEVELS = (L_READY, L_DRAINING, L_RESETTING, L_STARTING, L_STOPPING)

#: Kinds of drill: hosts fail; hosts start and their agents do not register.
DRILL_FAILS, DRILL_MUTES = 0, 1

# ``short`` of a world: a table was too small, and the run has to be repeated with a larger one
SHORT_OF_DRAWS, SHORT_OF_HEAP, SHORT_OF_LOG, SHORT_OF_QUEUE, SHORT_OF_STARTS = 1, 2, 4, 8, 16

# Outcomes of a spell
OUT_PENDING, OUT_CONNECTED, OUT_REFUSED, OUT_RECONNECTED, OUT_LOST = range(5)

# What a person finds who returns on the same working day: they had left nothing, their session, or
# what has ended it (LostCause)
RETURN_NONE, RETURN_FOUND, RETURN_TIMEOUT, RETURN_FORCED, RETURN_FAILED = range(5)

# Kinds of signals of load rules: a level, or a figure computed from several levels
(
    SIGNAL_LEVEL,
    SIGNAL_CPU,
    SIGNAL_MEMORY,
    SIGNAL_SLOTS,
    SIGNAL_FREE,
    SIGNAL_PER_HOST,
    SIGNAL_STRAINED,
    SIGNAL_LOGON,
) = range(8)

#: A session that ends without its person so many seconds after work in it takes work along that
#: may not be saved.
UNSAVED_SECONDS = 1_800

# Event classes, in the order within one second
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
    LID = 11
    QUOTA = 12


class LostCause(IntEnum):
    """What ended a session before its person came back."""

    TIMEOUT = RETURN_TIMEOUT
    FORCED = RETURN_FORCED
    FAILED = RETURN_FAILED
