"""``decide()`` for everyone but the simulator: asked with plain values, answered with decisions."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from idle_harbor.core.base.arena import Arena, Table
from idle_harbor.core.policy.codes import (
    CREATING,
    DRAINING,
    HOST_STATE_NAMES,
    QUEUED,
    READY,
    RESETTING,
    STARTING,
    Action,
    Cause,
)
from idle_harbor.core.policy.decide import decide
from idle_harbor.core.policy.view import (
    LONG_AGO,
    NEW_RULE,
    NOBODY,
    ROW,
    RULE,
    SETTINGS,
    TARGET,
    VIEW,
)


@dataclass(frozen=True, slots=True)
class Decision:
    """One action on one host and its cause."""

    host: int
    action: Action
    cause: Cause


@dataclass(frozen=True, slots=True)
class Seen:
    """What the policy is to see: state (of ``HOST_STATE_NAMES``) and sessions of each host, and
    the people waiting.

    ``overdue`` of the hosts that are coming should have come by now. ``since`` has the second at
    which each had started (none given: long ago), ``now`` the second of this look. Of a dedicated
    pool, ``owners`` has each host's person (-1: nobody's; none given: all are), ``waits`` whether
    that person waits for it. ``knocking`` is the host whose person asks for it now, or SOMEBODY who
    finds no room. ``targets`` are (from which second, until which, hosts), and ``leads`` the
    seconds until the last of 0, 1, ... hosts that start is ready. ``stepping`` hosts were had when
    drain steps began. ``rules`` are load rules, fields of :class:`RuleRow` by name, and
    ``band_begins`` is the second at which the band of the last look began.
    """

    states: Sequence[str]
    sessions: Sequence[int]
    waiting: int = 0
    overdue: int = 0
    owners: Sequence[int] = ()
    waits: Sequence[bool] = ()
    knocking: int = NOBODY
    since: Sequence[int] = ()
    now: int = 0
    tick: int = 300
    targets: Sequence[tuple[int, int, int]] = ()
    leads: Sequence[int] = ()
    stepping: int = 0
    rules: Sequence[Mapping[str, float]] = ()
    band_begins: int = 0


_COMING = (STARTING, QUEUED, CREATING, RESETTING)


def decide_for(seen: Seen, **settings: float) -> list[Decision]:
    """:func:`decide` over plain Python values.

    ``settings`` are those of :class:`Settings` by name; what is not given is 0, but for the limit,
    the ceiling and the margin (1), a pool that is there, and hosts that all stand, may be on and
    may drain.
    """
    hosts = len(seen.states)
    given: dict[str, float] = {
        "limit": 1,
        "ceiling": 1.0,
        "exists": 1,
        "standing": hosts,
        "lid": hosts,
        "margin": 1,
        "draining": hosts,
        "draining_share": 1.0,
    } | settings
    holds = max(int(given["limit"]), *seen.sessions, 1)
    arena = Arena(
        {
            "state_at": Table(np.dtype(np.int64), hosts),
            "sessions_at": Table(np.dtype(np.int64), hosts),
            "owner_at": Table(np.dtype(np.int32), hosts),
            "waits_at": Table(np.dtype(np.int64), hosts),
            "rows_at": Table(ROW, hosts),
            "since_at": Table(np.dtype(np.int64), hosts),
            "scratch_at": Table(np.dtype(np.int64), hosts + holds + 1),
            "target_at": Table(TARGET, len(seen.targets)),
            "lead_at": Table(np.dtype(np.int64), 4 * (hosts + 1)),
            "rule_at": Table(RULE, len(seen.rules)),
        }
    )
    states = np.array([HOST_STATE_NAMES.index(state) for state in seen.states], dtype=np.int64)
    sessions = np.array(seen.sessions, dtype=np.int64)
    arena["state_at"][:], arena["sessions_at"][:] = states, sessions
    arena["owner_at"][:] = np.array(seen.owners) if seen.owners else -1
    arena["waits_at"][:] = np.array(seen.waits) if seen.waits else 0
    arena["since_at"][:] = np.array(seen.since) if seen.since else -LONG_AGO
    for row, (at, until, asked) in zip(arena["target_at"], seen.targets, strict=True):
        row["at"], row["until"], row["hosts"] = at, until, asked
    if seen.leads:
        arena["lead_at"][:] = np.tile(np.array(seen.leads, dtype=np.int64), 4)
    for row, rule in zip(arena["rule_at"], seen.rules, strict=True):
        for name, value in (NEW_RULE | dict(rule)).items():
            row[name] = value
    view, in_force = np.zeros(1, VIEW), np.zeros(1, SETTINGS)
    ready, draining = states == READY, states == DRAINING
    told: dict[str, float] = {
        "now": seen.now,
        "tick": seen.tick,
        "stepping": seen.stepping,
        "rules": len(seen.rules),
        "band_begins": seen.band_begins,
        "targets": len(seen.targets),
        "longest_lead": max(seen.leads, default=0),
        "hosts": hosts,
        "holds": holds,
        "ready": int(ready.sum()),
        "coming": int(np.isin(states, _COMING).sum()),
        "draining": int(draining.sum()),
        "overdue": seen.overdue,
        "on_ready": int(sessions[ready].sum()),
        "on_draining": int(sessions[draining].sum()),
        "waiting": seen.waiting,
        "knocking": seen.knocking,
        **arena.addresses(),
    }
    for record, values in ((view, told), (in_force, given)):
        for name in values:
            record[name] = values[name]
    rows = decide(view[0], in_force[0])
    return [
        Decision(int(row["host"]), Action(int(row["action"])), Cause(int(row["cause"])))
        for row in arena["rows_at"][:rows]
    ]
