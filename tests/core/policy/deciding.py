"""The policy asked with plain values, under settings of its own: one look without a schedule."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from idle_harbor.core.policy.codes import HOST_STATE_NAMES
from idle_harbor.core.policy.controller import Decision, Frame, Observation, State, decided
from idle_harbor.core.policy.view import NEW_RULE, NOBODY, RULE, SETTINGS, TARGET


@dataclass(frozen=True)
class Seen:
    """An observation with names for the states of hosts, and what looks before have left.

    ``targets`` are (from which second, until which, hosts), and ``leads`` the seconds until the
    last of 0, 1, ... hosts that start is ready. ``stepping`` hosts were had when drain steps began.
    ``rules`` are load rules, fields of :class:`RuleRow` by name, and ``band_begins`` is the second
    at which the band of the last look began.
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


def decide_for(seen: Seen, **settings: float) -> list[Decision]:
    """What is decided under settings, those of :class:`Settings` by name.

    Settings that are not given are 0, with exceptions: limit, ceiling and margin are 1, the pool
    exists, and all hosts stand, may be on and may drain.
    """
    hosts = len(seen.states)
    given = {
        "limit": 1,
        "ceiling": 1.0,
        "exists": 1,
        "standing": hosts,
        "lid": hosts,
        "margin": 1,
        "draining": hosts,
        "draining_share": 1.0,
    } | settings
    row = np.zeros(1, SETTINGS)
    for name, value in given.items():
        row[name] = value
    targets, rules = np.zeros(len(seen.targets), TARGET), np.zeros(len(seen.rules), RULE)
    for target, (at, until, asked) in zip(targets, seen.targets, strict=True):
        target["at"], target["until"], target["hosts"] = at, until, asked
    for rule, values in zip(rules, seen.rules, strict=True):
        for name, value in (NEW_RULE | dict(values)).items():
            rule[name] = value
    leads = np.tile(np.array(seen.leads, np.int64), (4, 1))
    frame = Frame(seen.tick, False, targets, rules, leads)
    observed = Observation(
        now=seen.now,
        states=[HOST_STATE_NAMES.index(state) for state in seen.states],
        sessions=seen.sessions,
        waiting=seen.waiting,
        overdue=seen.overdue,
        since=seen.since,
        owners=seen.owners,
        waits=seen.waits,
        knocking=seen.knocking,
    )
    # target, ready_by, stepping, steps_of, extra, veto, band_begins
    state = State(left=(0, 0, seen.stepping, 0, 0, 0, seen.band_begins))
    return decided(frame, row[0], state, observed)[0]
