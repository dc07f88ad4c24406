"""One simulated week of a candidate, reduced to the figures that the search needs.

It runs the same event loop as every simulation, for its sums alone: no lanes, no causes, no
five-minute bins, no ideal line. The figures equal those of a whole simulation of that week.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date
from decimal import Decimal
from math import ceil
from typing import NamedTuple

from idle_harbor.core.calendar.clock import DAY, HOUR
from idle_harbor.core.engine.setting import Drill
from idle_harbor.core.figures.experience import experience_of
from idle_harbor.core.figures.footprint import footprint_of
from idle_harbor.core.figures.hosthours import host_hours_of
from idle_harbor.core.figures.ideal import only_lingering
from idle_harbor.core.figures.promise import PARTS, Part
from idle_harbor.core.money.ledger import settable, total_of
from idle_harbor.core.money.rates import monthly
from idle_harbor.core.plan import Plan, Pool, Promise
from idle_harbor.core.plan.lookup import find_pool, promise_of
from idle_harbor.core.plan.scaled import with_people
from idle_harbor.core.tuner.designs.design import Design, in_plan
from idle_harbor.core.weeks.case import Case, case_of, run_of
from idle_harbor.core.weeks.week import drawn_ideal, ledger_of, people_seen

_PLACES = {part.field: place for place, part in enumerate(PARTS)}


@dataclass(frozen=True, slots=True)
class Counted:
    """A kind of week that counts: its name, its Monday, and its weight among the others.

    ``people`` and ``starts`` are factors on the number of people and on the time that a host takes
    to start. With ``zone_lost`` the hosts of the first zone are lost for the whole week;
    ``hosts_failed`` is the share of the hosts that fail on Monday from 9:00 to 11:00. A week
    with weight 0 does not count in the money; the promise has to be kept in it all the same. An
    ``excusable`` week is left out where not even the safest plan keeps the promise in it.
    """

    name: str
    monday: date
    weight: float = 1.0
    people: float = 1.0
    starts: float = 1.0
    zone_lost: bool = False
    hosts_failed: float = 0.0
    excusable: bool = False


class Score(NamedTuple):
    """The score of one week of a candidate.

    ``month`` is the cost of a month of such weeks, ``money`` the part of it that settings can
    change; ``billed`` are host-hours; ``spoiled`` are hours of work of a month that were waited
    away, strained or behind slow lines. ``promised`` has the figures of the promise in the order of
    its parts: infinite for a wait without bound, None where nobody could feel it. ``near`` has the
    figures that show how near the limits are.
    """

    month: float
    money: float
    billed: float
    spoiled: float
    promised: tuple[float | None, ...]
    near: tuple[float | None, ...]

    def of(self, part: Part) -> float | None:
        """The figure of a part of the promise."""
        return self.promised[_PLACES[part.field]]


class Slot(NamedTuple):
    """One week on which candidates are evaluated: the kind of week, by its place, and the seed."""

    week: int
    seed: int


def score(case: Case, seed: int) -> Score:
    """Simulate one week of a case with one seed, and score it."""
    done = run_of(case, seed, sums=True)
    hours = host_hours_of(done, 0.0)
    lines = ledger_of(case, hours, footprint_of(done, people_seen(case)))
    felt = experience_of(done, case.setting.pool)
    wanted = Decimal(done.tally.wanted) / HOUR
    return Score(
        month=float(total_of(lines)),
        money=float(settable(lines)),
        billed=hours.billed,
        spoiled=(1.0 - felt.sessions.comfort) * float(monthly(wanted, case.horizon.days)),
        promised=tuple(part.of_week(felt) for part in PARTS),
        near=tuple((part.near or part.of_week)(felt) for part in PARTS),
    )


#: The first zone, whose hosts are as many as those of any other, for the seven counted days.
_ZONE_LOST = Drill(0, 7 * DAY, 0)


def _slower(plan: Plan, factor: float) -> Plan:
    """The plan with slower starts of all hosts."""

    def slow(pool: Pool) -> Pool:
        start = replace(pool.start, mean_seconds=pool.start.mean_seconds * factor)
        return replace(pool, start=start)

    return replace(plan, pools=tuple(map(slow, plan.pools)))


def _worst(
    figures: Sequence[tuple[float | None, ...]], promises: Sequence[Promise]
) -> tuple[float | None, ...]:
    """The worst figures of several pools, in units of the limits of the first."""
    found: list[float | None] = []
    for place, part in enumerate(PARTS):
        first = part.limit(promises[0])
        values = []
        for of_pool, promise in zip(figures, promises, strict=True):
            value, limit = of_pool[place], part.limit(promise)
            if value is not None:
                scaled = bool(first and limit) and not part.least
                values.append(value * first / limit if scaled and first and limit else value)
        found.append((min if part.least else max)(values) if values else None)
    return tuple(found)


def together(scores: Sequence[Score], promises: Sequence[Promise]) -> Score:
    """Return the score of a week of several pools that share a schedule: what they cost and spoil
    together, and the worst of what each of them promises.

    Args:
        scores: a score of each pool.
        promises: what the people of each pool are owed; figures are scaled to the first.
    """
    return Score(
        month=sum(each.month for each in scores),
        money=sum(each.money for each in scores),
        billed=sum(each.billed for each in scores),
        spoiled=sum(each.spoiled for each in scores),
        promised=_worst([each.promised for each in scores], promises),
        near=_worst([each.near for each in scores], promises),
    )


class Tried:
    """Evaluates candidates of one pool of a plan, and of those that share its schedule, on the
    kinds of week that count."""

    def __init__(self, plan: Plan, weeks: Sequence[Counted]) -> None:
        self.plan, self.weeks = plan, weeks
        self._plans = {factor: with_people(plan, factor) for factor in {w.people for w in weeks}}

    def case(self, design: Design, week: int) -> Case:
        """The case of a design's pool in one kind of week, under its conditions."""
        return self._cases(design, week)[0]

    def _cases(self, design: Design, week: int) -> list[Case]:
        """The cases of the pools that go by a design."""
        asked = self.weeks[week]
        plan = in_plan(self._plans[asked.people], design)
        if asked.starts != 1.0:
            plan = _slower(plan, asked.starts)
        return [
            case_of(plan, name, first=asked.monday, drills=_drills(asked, find_pool(plan, name)))
            for name in (design.pool.id, *design.together)
        ]

    def scores(self, design: Design, slots: Sequence[Slot]) -> list[Score]:
        """The scores of a design on some slots, in their order."""
        names = (design.pool.id, *design.together)
        promises = [promise_of(self.plan, name) for name in names]
        cases: dict[int, list[Case]] = {}
        found = []
        for slot in slots:
            if slot.week not in cases:
                cases[slot.week] = self._cases(design, slot.week)
            scores = [score(case, slot.seed) for case in cases[slot.week]]
            found.append(scores[0] if len(scores) == 1 else together(scores, promises))
        return found

    def ideal_money(self, design: Design, slots: Sequence[Slot]) -> list[tuple[float, float]]:
        """For each slot, the cost of the ideal line in a month, at the hourly price of the
        design's size, and the ideal host-hours of the week."""
        found = []
        for slot in slots:
            each = [_ideal(case, slot.seed) for case in self._cases(design, slot.week)]
            found.append((sum(month for month, _ in each), sum(hours for _, hours in each)))
        return found


def _drills(asked: Counted, pool: Pool) -> list[Drill]:
    """What strikes a pool in a week."""
    drills = [_ZONE_LOST] if asked.zone_lost else []
    if asked.hosts_failed:
        hosts = ceil(asked.hosts_failed * pool.hosts.most)
        drills.append(Drill(9 * HOUR, 2 * HOUR, hosts=hosts))
    return drills


def _ideal(case: Case, seed: int) -> tuple[float, float]:
    """The cost of the ideal line of a case in a month, and its host-hours of the week."""
    setting = case.setting
    line = drawn_ideal(
        case.demand, case.horizon, seed, only_lingering(setting.pool), setting.profiles
    )
    hours = line.counted(case.horizon) / HOUR
    month = monthly(Decimal(repr(hours)), case.horizon.days) * setting.size.whole_price
    return float(month), hours
