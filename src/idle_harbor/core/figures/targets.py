"""How targets were met in a recorded run: hosts ready in time, and how long early hosts were
idle."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from idle_harbor.core.calendar.targets import Target
from idle_harbor.core.engine.kernel.codes import READY, Action, Cause
from idle_harbor.core.engine.run import Run

_STARTS = (int(Action.START), int(Action.CREATE))


@dataclass(frozen=True, slots=True)
class Met:
    """A target and how it was met.

    ``hosts`` are those that it asks for, ``ready`` those that were ready at its instant, ``early``
    those of them that were started for a target since the target before it, and ``idle_seconds``
    the host-seconds for which early hosts were ready without a session until then.
    """

    target: Target
    hosts: int
    ready: int
    early: int
    idle_seconds: float

    @property
    def in_time(self) -> bool:
        """Whether all of its hosts were ready at its instant."""
        return self.ready >= self.hosts

    @property
    def mean_idle(self) -> float:
        """Mean seconds for which an early host was idle."""
        return self.idle_seconds / self.early if self.early else 0.0


def _last_states(lanes: NDArray[np.void], hosts: int, at: int) -> NDArray[np.int64]:
    """Return the state of each host at a second, after all changes of that second."""
    states = np.full(hosts, -1, np.int64)
    seen = lanes[: np.searchsorted(lanes["time"], at, side="right")]
    # Of several values for one place the last one stays.
    states[seen["host"]] = seen["state"]
    return states


def _idle(lanes: NDArray[np.void], hosts: NDArray[np.int64], begin: int, end: int) -> float:
    """Return the host-seconds for which some hosts were ready without a session within a
    stretch."""
    inside = (lanes["time"] >= begin) & (lanes["time"] < end) & np.isin(lanes["host"], hosts)
    rows = lanes[inside]
    rows = rows[np.lexsort((np.arange(len(rows)), rows["host"]))]
    if not len(rows):
        return 0.0
    until = np.append(rows["time"][1:], end).astype(np.int64)
    until[:-1][rows["host"][1:] != rows["host"][:-1]] = end
    idle = (rows["state"] == READY) & (rows["sessions"] == 0)
    return float((until - rows["time"])[idle].sum())


def targets_met(run: Run, targets: Sequence[Target], standing: int, most: int) -> list[Met]:
    """Return how each target of a recorded run was met, for instants in the counted horizon, in
    order.

    ``standing`` and ``most`` are the pool's standing hosts and all its hosts. Targets after the end
    of the record are left out.
    """
    origin, actions, lanes = run.horizon.start, run.actions, run.lanes
    started = np.isin(actions["action"], _STARTS) & (actions["cause"] == Cause.READY_BY)
    found: list[Met] = []
    before = 0
    for target in targets:
        at = target.at - origin
        if not len(lanes) or at > run.recorded or target.at >= run.horizon.end:
            break
        inside = started & (actions["time"] > before) & (actions["time"] <= at)
        begin = int(actions["time"][inside].min()) if inside.any() else at
        states = _last_states(lanes, most, at)
        hosts = np.unique(actions["host"][inside]).astype(np.int64)
        early = hosts[states[hosts] == READY]
        before = max(before, at)
        if target.at < run.horizon.counted:
            continue
        asked = min(target.asks.least(standing), most)
        idle = _idle(lanes, early, begin, at)
        ready = int((states == READY).sum())
        found.append(Met(target, asked, ready, len(early), idle))
    return found
