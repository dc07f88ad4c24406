"""The policy outside the simulator: observations in, actions with causes out.

A :class:`Controller` holds the schedule and never changes. What one look leaves for the next
(timers of load rules, targets in force, drain steps) is a :class:`State`: it is passed in with an
observation, and a new one is returned.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from idle_harbor.core.base.arena import Arena, Table
from idle_harbor.core.calendar.clock import Horizon
from idle_harbor.core.policy.codes import (
    CREATING,
    DRAINING,
    QUEUED,
    READY,
    RESETTING,
    STARTING,
    Action,
    Cause,
)
from idle_harbor.core.policy.decide import decide
from idle_harbor.core.policy.in_force import Ruled, has_targets, in_force, rule_rows
from idle_harbor.core.policy.lead import lead_table
from idle_harbor.core.policy.view import LONG_AGO, NOBODY, ROW, RULE, SETTINGS, TARGET, VIEW

_COMING = (STARTING, QUEUED, CREATING, RESETTING)
#: Fields of the view that one look leaves for the next.
_LEFT = ("target", "ready_by", "stepping", "steps_of", "extra", "veto", "band_begins")
_TIMERS = ("asked_since", "permitted_since", "changed_at", "extra")
_LONG, _INT = np.dtype(np.int64), np.dtype(np.int32)


@dataclass(frozen=True, slots=True)
class Decision:
    """One action on one host, and its cause."""

    host: int
    action: Action
    cause: Cause


@dataclass(frozen=True, slots=True)
class Observation:
    """The state of a pool at second ``now`` of the horizon, as the policy sees it.

    ``states`` (codes of ``policy.codes``), ``sessions`` and ``since`` have one entry per host;
    ``since`` is the second at which the host had started (empty: long ago). ``waiting`` is the
    number of people who wait, and ``overdue`` the number of coming hosts that should be here by
    now. In a dedicated pool ``owners`` has each host's person (-1: nobody; empty: every host has
    one) and ``waits`` whether that person waits for it. ``signals`` has each load rule's signal
    since the last look (NaN: no value). ``knocking`` is the host whose person asks for it now,
    SOMEBODY for a person without room, or NOBODY at a tick.
    """

    now: int
    states: Sequence[int]
    sessions: Sequence[int]
    waiting: int = 0
    overdue: int = 0
    since: Sequence[int] = ()
    owners: Sequence[int] = ()
    waits: Sequence[int] = ()
    signals: Sequence[float] = ()
    knocking: int = NOBODY


@dataclass(frozen=True, slots=True)
class State:
    """What one look leaves for the next, as plain numbers, so that it can be stored anywhere.

    ``rules`` has the timers of each load rule (fields of ``view.RuleRow``), ``in_force`` whether
    each target is in force, and ``left`` the other values (fields of ``view.View``).
    """

    rules: tuple[tuple[int, ...], ...] = ()
    in_force: tuple[int, ...] = ()
    left: tuple[int, ...] = (0,) * len(_LEFT)


@dataclass(frozen=True, slots=True)
class Frame:
    """What is the same at every look.

    ``tick`` is the number of seconds between two ticks, ``throttled`` whether starts can queue;
    ``targets`` and ``rules`` have the targets and load rules before the first look (rows of
    ``view``), and ``leads`` the seconds until a number of hosts is ready (``lead.lead_table``).
    """

    tick: int
    throttled: bool
    targets: NDArray[np.void]
    rules: NDArray[np.void]
    leads: NDArray[np.int64]


def _arena(frame: Frame, state: State, seen: Observation, holds: int) -> Arena:
    """Allocate the tables that ``decide`` reads and writes."""
    hosts = len(seen.states)
    arena = Arena(
        {
            "state_at": Table(_LONG, hosts),
            "sessions_at": Table(_LONG, hosts),
            "owner_at": Table(_INT, hosts),
            "waits_at": Table(_LONG, hosts),
            "rows_at": Table(ROW, hosts),
            "since_at": Table(_LONG, hosts),
            "scratch_at": Table(_LONG, hosts + holds + 1),
            "target_at": Table(TARGET, len(frame.targets)),
            "lead_at": Table(_LONG, 4 * (hosts + 1)),
            "rule_at": Table(RULE, len(frame.rules)),
        }
    )
    arena["state_at"][:], arena["sessions_at"][:] = seen.states, seen.sessions
    arena["owner_at"][:] = seen.owners if len(seen.owners) else -1
    arena["waits_at"][:] = seen.waits if len(seen.waits) else 0
    arena["since_at"][:] = seen.since if len(seen.since) else -LONG_AGO
    if frame.leads.size:
        arena["lead_at"][:] = frame.leads.reshape(-1)
    arena["target_at"][:], arena["rule_at"][:] = frame.targets, frame.rules
    if state.in_force:
        arena["target_at"]["in_force"] = state.in_force
    for row, timers in zip(arena["rule_at"], state.rules, strict=False):
        for name, value in zip(_TIMERS, timers, strict=True):
            row[name] = value
    if len(seen.signals):
        arena["rule_at"]["value"] = seen.signals
    return arena


def _counted(seen: Observation) -> dict[str, int]:
    """Return the totals that the policy reads of an observation (fields of ``view.View``)."""
    states, sessions = np.asarray(seen.states), np.asarray(seen.sessions)
    ready, draining = states == READY, states == DRAINING
    return {
        "now": seen.now,
        "hosts": len(states),
        "ready": int(ready.sum()),
        "coming": int(np.isin(states, _COMING).sum()),
        "draining": int(draining.sum()),
        "overdue": seen.overdue,
        "on_ready": int(sessions[ready].sum()),
        "on_draining": int(sessions[draining].sum()),
        "waiting": seen.waiting,
        "knocking": seen.knocking,
    }


def decided(
    frame: Frame, settings: Any, state: State, seen: Observation
) -> tuple[list[Decision], State]:
    """Return the decisions of ``decide`` and the state after them.

    ``settings`` is the row of ``view.SETTINGS`` that is in force.
    """
    holds = max(int(settings["limit"]), *map(int, seen.sessions), 1)
    arena = _arena(frame, state, seen, holds)
    told = {
        **dict(zip(_LEFT, state.left, strict=True)),
        **_counted(seen),
        "tick": frame.tick,
        "throttled": int(frame.throttled),
        "rules": len(frame.rules),
        "targets": len(frame.targets),
        "longest_lead": 2 * int(frame.leads.max(initial=0)),
        "holds": holds,
        **arena.addresses(),
    }
    view = np.zeros(1, VIEW)
    for name, value in told.items():
        view[name] = value
    rows = arena["rows_at"][: decide(view[0], settings)]
    after = State(
        tuple(tuple(int(row[name]) for name in _TIMERS) for row in arena["rule_at"]),
        tuple(arena["target_at"]["in_force"].tolist()),
        tuple(int(view[name][0]) for name in _LEFT),
    )
    return [_decision(row) for row in rows], after


def _decision(row: Any) -> Decision:
    return Decision(int(row["host"]), Action(int(row["action"])), Cause(int(row["cause"])))


class Controller:
    """The policy of a pool under its schedule, over a horizon."""

    def __init__(self, ruled: Ruled, horizon: Horizon) -> None:
        tick, pool = ruled.schedule.tick_seconds, ruled.pool
        said = in_force(ruled, horizon)
        leads = np.zeros((0, 0), np.int64)
        if has_targets(ruled.schedule):
            leads = lead_table(pool, tick)
        throttled = pool.start.parallel is not None
        self._frame = Frame(tick, throttled, said.targets, rule_rows(ruled), leads)
        self._edges = said.edges.astype(SETTINGS)
        # The last edge is beyond the horizon.
        self._begins = self._edges["begins"][:-1]

    def look(self, state: State, seen: Observation) -> tuple[list[Decision], State]:
        """Return the actions of one look with their causes, and the state for the next look.

        The first look is at second 0 with ``State()``. Looks come in ascending order of their
        seconds: at every tick, and for each knock in a band that starts hosts for it.
        """
        edge = max(int(np.searchsorted(self._begins, seen.now, side="right")) - 1, 0)
        return decided(self._frame, self._edges[edge], state, seen)
