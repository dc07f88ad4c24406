"""What a schedule says over a horizon: settings from each band edge on, targets, and load rules."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Protocol

import numpy as np
from numpy.typing import NDArray

from idle_harbor.core.calendar.clock import BandEdge, Horizon, band_edges, local_to_instant
from idle_harbor.core.calendar.targets import targets_of
from idle_harbor.core.demand.kernel.leaving import FAR
from idle_harbor.core.plan import Band, Pool, Schedule
from idle_harbor.core.plan.load_rules import LoadRule
from idle_harbor.core.plan.schedules import Timeouts
from idle_harbor.core.policy.codes import NEVER
from idle_harbor.core.policy.view import (
    NEW_RULE,
    RELEASE_CODES,
    RULE,
    RULE_CODES,
    SETTINGS,
    TARGET,
    TOLD_CODES,
)

#: Tolerance for rounding in products such as 0.7 × 10.
_HAIR = 1e-9


class Ruled(Protocol):
    """A pool with its schedule, as the policy needs it."""

    @property
    def pool(self) -> Pool:
        """The pool."""

    @property
    def schedule(self) -> Schedule:
        """The pool's schedule."""

    @property
    def clocks(self) -> tuple[tuple[str, str], ...]:
        """Sites whose clocks targets follow, with their time zones."""


def seconds_or_never(seconds: int | None) -> int:
    """Return seconds as the event loop has them: NEVER for None."""
    return NEVER if seconds is None else seconds


def _at_most(number: int | None, otherwise: int) -> int:
    return otherwise if number is None else number


def _timeouts(band: Band, pool: Pool) -> Timeouts:
    return band.timeouts or Timeouts(pool.idle_timeout, pool.disconnected_timeout)


def has_targets(schedule: Schedule) -> bool:
    """Return whether any day type has a target."""
    return any(day_type.ready_by for day_type in schedule.day_types)


@dataclass(frozen=True, slots=True)
class InForce:
    """The settings from each band edge on, and the targets before the first look."""

    edges: NDArray[np.void]
    targets: NDArray[np.void]


#: The latest result: weeks of one setting with different seeds follow each other.
_last: tuple[Ruled, Horizon, InForce] | None = None


def in_force(setting: Ruled, horizon: Horizon) -> InForce:
    """Return what a schedule says over a horizon.

    ``setting`` has the pool, the schedule and the clocks of sites. The result is shared and
    read-only. The latest one is cached, because weeks of one setting with different seeds follow
    each other.
    """
    global _last
    known = _last
    if known is not None and known[0] is setting and known[1] == horizon:
        return known[2]
    edges = settings_rows(setting.schedule, horizon, setting.pool)
    found = InForce(edges, target_rows(setting, horizon))
    for rows in (found.edges, found.targets):
        rows.setflags(write=False)
    _last = setting, horizon, found
    return found


def target_rows(setting: Ruled, horizon: Horizon) -> NDArray[np.void]:
    """Return the targets of a horizon as rows of ``view.TargetRow``, in seconds of the horizon."""
    targets = targets_of(setting.schedule, horizon, dict(setting.clocks))
    rows = np.zeros(len(targets), dtype=TARGET)
    for row, target in zip(rows, targets, strict=True):
        row["at"], row["until"] = target.at - horizon.start, target.until - horizon.start
        row["hosts"] = target.asks.least(setting.pool.hosts.standing)
    return rows


def bands_of(setting: Ruled) -> list[Band]:
    """Return all bands of a setting's schedule."""
    return [band for day_type in setting.schedule.day_types for band in day_type.bands]


def at_edges(setting: Ruled) -> bool:
    """Return whether the start of a band changes anything at that second rather than at the next
    tick."""
    pool = setting.pool
    if pool.first_date is not None or pool.last_date is not None:
        return True
    rules = {(band.takes(pool.session_limit), _timeouts(band, pool)) for band in bands_of(setting)}
    return len(rules) > 1


def _stretches(schedule: Schedule, horizon: Horizon) -> list[tuple[BandEdge, int, float]]:
    """Return the bands of a horizon, split where drain steps begin: the instant from which each
    part is in force, the band, and the share of the step."""
    found: list[tuple[BandEdge, int, float]] = []
    edges = band_edges(schedule, horizon)
    ends = [edge.instant for edge in edges[1:]] + [horizon.end]
    for edge, end in zip(edges, ends, strict=True):
        found.append((edge, edge.instant, 0.0))
        for step in schedule.day_types[edge.day_type].bands[edge.band].drain_steps:
            begin = local_to_instant(horizon.time_zone, edge.day, step.by)
            if begin <= edge.instant:
                found[-1] = (edge, edge.instant, step.share)
            elif begin < end:
                found.append((edge, begin, step.share))
    return found


def settings_rows(schedule: Schedule, horizon: Horizon, pool: Pool) -> NDArray[np.void]:
    """Return rows of ``view.Settings`` by band edge; the last is beyond the horizon."""
    stretches = _stretches(schedule, horizon)
    edges = [edge for edge, _, _ in stretches]
    rows = np.zeros(len(edges) + 1, dtype=SETTINGS)
    rows["dedicated"] = pool.kind == "dedicated"
    rows["standing"] = pool.hosts.standing
    rows["always"] = pool.hosts.standing if pool.hosts.throwaway else 0
    bands = [schedule.day_types[edge.day_type].bands[edge.band] for edge in edges]
    ruled = rows[:-1]
    ruled["begins"] = [begin - horizon.start for _, begin, _ in stretches]
    ruled["step_share"] = [share for _, _, share in stretches]
    ruled["limit"] = limits = [band.takes(pool.session_limit) for band in bands]
    ruled["floor"] = [band.least(pool.hosts.standing) for band in bands]
    ruled["lid"] = [_at_most(band.lid, pool.hosts.most) for band in bands]
    ruled["headroom"] = [band.headroom for band in bands]
    ruled["headroom_share"] = [band.headroom_share for band in bands]
    ruled["ceiling"] = [band.fill_ceiling for band in bands]
    ruled["rule"] = [RULE_CODES[band.rule] for band in bands]
    ruled["mark"] = [
        max(int(band.mark * limit + _HAIR), 1) for band, limit in zip(bands, limits, strict=True)
    ]
    timeouts = [_timeouts(band, pool) for band in bands]
    ruled["idle_timeout"] = [seconds_or_never(each.idle) for each in timeouts]
    ruled["disconnected_timeout"] = [seconds_or_never(each.disconnected) for each in timeouts]
    ruled["notice"] = [60 * band.notice.minutes for band in bands]
    ruled["notice_to"] = [TOLD_CODES[band.notice.who] for band in bands]
    names = [rule.id for rule in schedule.load_rules]
    ruled["rules"] = [sum(1 << names.index(name) for name in band.load_rules) for band in bands]
    ruled["band_begins"] = [edge.instant - horizon.start for edge in edges]
    ruled["knocks"] = [band.knock for band in bands]
    ruled["release"] = [RELEASE_CODES[band.release] for band in bands]
    ruled["margin"] = [band.margin for band in bands]
    ruled["least_run"] = [60 * band.least_run_minutes for band in bands]
    ruled["draining"] = [_at_most(band.draining_most, pool.hosts.most) for band in bands]
    ruled["draining_share"] = [band.draining_share for band in bands]
    ruled["exists"] = [pool.exists_on(edge.day) for edge in edges]
    rows[-1]["begins"] = FAR
    return rows


def load_rules_of(setting: Ruled) -> tuple[LoadRule, ...]:
    """Return the load rules that apply to a run; dedicated pools have none."""
    return () if setting.pool.kind == "dedicated" else setting.schedule.load_rules


def _marked(at: float | None) -> tuple[bool, float]:
    return at is not None, 0.0 if at is None else at


def rule_rows(setting: Ruled) -> NDArray[np.void]:
    """Return the load rules before the first look, as rows of ``view.RuleRow``."""
    rules = load_rules_of(setting)
    rows = np.zeros(len(rules), dtype=RULE)
    for row, rule in zip(rows, rules, strict=True):
        row["low"] = rule.asks_where_low
        row["asks"], row["asks_at"] = _marked(rule.asks_at)
        row["permits"], row["permits_at"] = _marked(rule.permits_at)
        row["asks_hold"], row["adds"] = 60 * rule.asks_hold_minutes, rule.adds
        row["permits_hold"], row["takes_back"] = 60 * rule.permits_hold_minutes, rule.takes_back
        row["pause"] = 60 * rule.pause_minutes
        for name, value in NEW_RULE.items():
            row[name] = value
    return rows
