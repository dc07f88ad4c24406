"""A case through one or several simulated weeks: puts the rooms together."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, fields
from decimal import Decimal

import numpy as np

from idle_harbor.core.base.caches import cached
from idle_harbor.core.base.stopping import go_on, in_threads
from idle_harbor.core.calendar.clock import HOUR, Horizon
from idle_harbor.core.demand.attendance import different_people, month_of
from idle_harbor.core.demand.spells import PoolDemand, Spells
from idle_harbor.core.engine.run import Run
from idle_harbor.core.figures.experience import Experience, experience_of
from idle_harbor.core.figures.footprint import Footprint, footprint_of
from idle_harbor.core.figures.hosthours import HostHours, host_hours_of
from idle_harbor.core.figures.ideal import IdealLine, ideal_line, only_lingering
from idle_harbor.core.money.ledger import (
    CostLine,
    Usage,
    monthly_ledger,
    needs_people_seen,
    total_of,
)
from idle_harbor.core.plan import Pool, Profile
from idle_harbor.core.weeks.case import Case, check_amount, drawn_spells, run_of

_LINE_BYTES = 16_000_000
#: Bound of a cache of figures that depend on the demand alone, so edits of a schedule reuse them.
_NUMBER_BYTES = 1_000_000


@cached(_NUMBER_BYTES, lambda _: 32)
def _expected_people(demand: PoolDemand, horizon: Horizon) -> float:
    return different_people(demand, month_of(horizon)).people


@dataclass(frozen=True, kw_only=True)
class Outcome(Experience):
    """The figures of one simulated week, and its monthly ledger."""

    seed: int
    hours: HostHours
    footprint: Footprint
    ledger: list[CostLine]

    @property
    def month(self) -> Decimal:
        """Cost of a month of such weeks."""
        return total_of(self.ledger)


@dataclass(frozen=True, kw_only=True)
class Week(Outcome):
    """One simulated week with its run and its ideal line: many megabytes where many people come."""

    run: Run
    ideal: IdealLine

    @property
    def nbytes(self) -> int:
        """Bytes that the week holds on to."""
        return self.run.nbytes + self.ideal.host_seconds.nbytes

    def outcome(self) -> Outcome:
        """The figures alone."""
        return Outcome(**{each.name: getattr(self, each.name) for each in fields(Outcome)})


@cached(_LINE_BYTES, lambda line: line.host_seconds.nbytes)
def drawn_ideal(
    demand: PoolDemand, horizon: Horizon, seed: int, pool: Pool, profiles: tuple[Profile, ...]
) -> IdealLine:
    """The ideal line of what a seed draws; kept for those who ask again."""
    return ideal_line(drawn_spells(demand, horizon, seed), pool, profiles, horizon)


def week(case: Case, seed: int, *, record: bool = False, given: Spells | None = None) -> Week:
    """Simulate one week with one seed; ``given`` spells replace the drawn ones."""
    setting, horizon = case.setting, case.horizon
    if given is None:
        ideal = drawn_ideal(
            case.demand, horizon, seed, only_lingering(setting.pool), setting.profiles
        )
    else:
        ideal = ideal_line(given, setting.pool, setting.profiles, horizon)
    done = run_of(case, seed, given=given, record=record)
    go_on()
    hours = host_hours_of(done, ideal.counted(horizon))
    footprint = footprint_of(done, people_seen(case, given))
    return Week(
        seed=seed,
        run=done,
        ideal=ideal,
        hours=hours,
        footprint=footprint,
        ledger=ledger_of(case, hours, footprint),
        **vars(experience_of(done, setting.pool)),
    )


def people_seen(case: Case, given: Spells | None = None) -> float:
    """Different people in a month, where a licence counts them; of given spells their people."""
    if not needs_people_seen(case.priced):
        return 0.0
    if given is None:
        return _expected_people(case.demand, case.horizon)
    counted = given.start >= case.horizon.counted - case.horizon.start
    return float(len(np.unique(given.person[counted])))


def ledger_of(case: Case, hours: HostHours, footprint: Footprint) -> list[CostLine]:
    """What a month costs of weeks that use so much."""
    horizon = case.horizon
    usage = Usage(
        days=horizon.days,
        hours=(horizon.end - horizon.counted) / HOUR,
        billed=hours.billed,
        powered=hours.powered,
        named=case.named,
        footprint=footprint,
    )
    return monthly_ledger(case.priced, usage)


def weeks(
    case: Case,
    seeds: Sequence[int],
    *,
    given: Spells | None = None,
) -> list[Outcome]:
    """The figures of several seeds, simulated on two threads.

    Raises TooMuchError beyond the bound of a call, NotWantedError once nobody waits for it.
    """
    check_amount(case, len(seeds))
    return in_threads(lambda seed: week(case, seed, given=given).outcome(), seeds)
