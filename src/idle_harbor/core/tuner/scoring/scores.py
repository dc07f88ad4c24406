"""A candidate through one week: the few figures that a search goes by, and no more.

The same loop as everywhere, for its sums alone: no lanes, no causes, no five minutes, no ideal
line. Whatever is told of a candidate here is what a whole simulation of that week tells.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from typing import NamedTuple

from idle_harbor.core.calendar.clock import HOUR
from idle_harbor.core.engine.run import run
from idle_harbor.core.figures.experience import (
    Returns,
    Sessions,
    Waits,
    forced_share_of,
    returns_of,
    sessions_of,
    waits_of,
)
from idle_harbor.core.figures.footprint import footprint_of
from idle_harbor.core.figures.hosthours import host_hours_of
from idle_harbor.core.figures.ideal import only_lingering
from idle_harbor.core.figures.promise import PARTS, Part
from idle_harbor.core.money.ledger import settable, total_of
from idle_harbor.core.money.rates import monthly
from idle_harbor.core.plan import Plan
from idle_harbor.core.tuner.designs.design import Design, in_plan
from idle_harbor.core.weeks.week import (
    Case,
    case_of,
    drawn_ideal,
    drawn_spells,
    ledger_of,
    people_seen,
)

_PLACES = {part.field: place for place, part in enumerate(PARTS)}


@dataclass(frozen=True, slots=True)
class _Felt:
    waits: Waits
    returns: Returns
    sessions: Sessions
    forced_share: float | None


@dataclass(frozen=True, slots=True)
class Counted:
    """A week that counts: what it is called, its Monday, and how often such a week comes, as a
    weight among the others."""

    name: str
    monday: date
    weight: float = 1.0


class Score(NamedTuple):
    """What one week of a candidate comes to.

    Money of a month of such weeks (all of it, and what settings can change), billed host-hours, the
    hours of work of a month that were waited away, strained or behind slow lines, and the figures
    of the promise in the order of its parts: a wait without bound is infinite, a figure that nobody
    could feel None. ``near`` are the figures that show how near the limits are."""

    month: float
    money: float
    billed: float
    spoiled: float
    promised: tuple[float | None, ...]
    near: tuple[float | None, ...]

    def of(self, part: Part) -> float | None:
        """The figure of a part of the promise."""
        return self.promised[_PLACES[part.field]]


#: Where a week is drawn from: which of the weeks that count, and with which seed.
class Slot(NamedTuple):
    """One week to try candidates on: which of those that count, and its seed."""

    week: int
    seed: int


def score(case: Case, seed: int) -> Score:
    """A week of a case with one seed."""
    spells = drawn_spells(case.demand, case.horizon, seed)
    # Load rules look back over five minutes, and bins of that length.
    sums = not case.setting.schedule.load_rules
    done = run(case.setting, case.horizon, spells, seed, sums=sums)
    hours = host_hours_of(done, 0.0)
    lines = ledger_of(case, hours, footprint_of(done, people_seen(case)))
    felt = _Felt(waits_of(done), returns_of(done), sessions_of(done), forced_share_of(done))
    wanted = Decimal(done.tally.wanted) / HOUR
    return Score(
        month=float(total_of(lines)),
        money=float(settable(lines)),
        billed=hours.billed,
        spoiled=(1.0 - felt.sessions.comfort) * float(monthly(wanted, case.horizon.days)),
        promised=tuple(part.of_week(felt) for part in PARTS),
        near=tuple((part.near or part.of_week)(felt) for part in PARTS),
    )


class Tried:
    """The candidates of one pool of a plan, each on the weeks that count."""

    def __init__(self, plan: Plan, weeks: Sequence[Counted]) -> None:
        self.plan, self.weeks = plan, weeks

    def case(self, design: Design, week: int) -> Case:
        """A design in one of the weeks."""
        return case_of(in_plan(self.plan, design), design.pool.id, first=self.weeks[week].monday)

    def scores(self, design: Design, slots: Sequence[Slot]) -> list[Score]:
        """A design on some of the weeks, in their order."""
        cases: dict[int, Case] = {}
        found = []
        for slot in slots:
            if slot.week not in cases:
                cases[slot.week] = self.case(design, slot.week)
            found.append(score(cases[slot.week], slot.seed))
        return found

    def ideal_money(self, design: Design, slots: Sequence[Slot]) -> list[tuple[float, float]]:
        """What the ideal line of each week costs in a month, its host-hours at the price of an
        hour of the design's size, and these host-hours."""
        found = []
        for slot in slots:
            case = self.case(design, slot.week)
            setting = case.setting
            line = drawn_ideal(
                case.demand, case.horizon, slot.seed, only_lingering(setting.pool), setting.profiles
            )
            hours = line.counted(case.horizon) / HOUR
            month = float(
                monthly(Decimal(repr(hours)), case.horizon.days) * setting.size.whole_price
            )
            found.append((month, hours))
        return found
