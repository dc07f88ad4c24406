"""Simulated weeks summarised: means with 95 % intervals over the seeds, and what a month costs."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, fields
from datetime import date
from decimal import Decimal
from math import isinf

from idle_harbor.core.demand.spells import Spells
from idle_harbor.core.engine.kernel.codes import LostCause
from idle_harbor.core.figures.efficiency import Efficiency, efficiency_of
from idle_harbor.core.figures.footprint import Footprint
from idle_harbor.core.figures.hosthours import HostHours
from idle_harbor.core.figures.intervals import Estimate, estimate
from idle_harbor.core.figures.promise import Verdicts, figures_in, verdicts_on
from idle_harbor.core.money.ledger import CostLine, amount_of, settable, total_of
from idle_harbor.core.money.rates import monthly
from idle_harbor.core.plan import Plan, Promise
from idle_harbor.core.weeks.case import DAYS, Case, case_of
from idle_harbor.core.weeks.week import Outcome, ledger_of, weeks


@dataclass(frozen=True, slots=True)
class WaitFigures:
    """Seconds from asking for a desktop to having it."""

    mean: Estimate
    p50: Estimate
    p95: Estimate
    p99: Estimate


@dataclass(frozen=True, slots=True)
class ReturnFigures:
    """People who came back to a session that they had left the same working day, how many of them
    lost it, and by what: a timeout, force, a failed host."""

    all: Estimate
    lost: Estimate
    lost_share: Estimate
    timeout: Estimate
    forced: Estimate
    failed: Estimate

    def lost_by(self, cause: LostCause) -> Estimate:
        """How many lost their session to a cause."""
        by: Estimate = getattr(self, cause.name.lower())
        return by


@dataclass(frozen=True, slots=True)
class FirstFigures:
    """People who came first after an hour without anybody, how many of them got no desktop, and the
    seconds that the others waited: their mean, and the longest of a week. ``within`` is that
    longest wait too, but has no bound if one of them was refused."""

    people: Estimate
    refused: Estimate
    mean: Estimate
    longest: Estimate
    within: Estimate


@dataclass(frozen=True, slots=True)
class SessionFigures:
    """Sessions in every state."""

    mean: Estimate
    peak: Estimate


@dataclass(frozen=True, slots=True)
class HourFigures:
    """Host-hours of the week by where they went."""

    in_use: Estimate
    lingering: Estimate
    fragmentation: Estimate
    readiness: Estimate
    transit: Estimate
    rounding: Estimate
    billed: Estimate
    ideal: Estimate


@dataclass(frozen=True, slots=True)
class LedgerLine(CostLine):
    """One cost line of a month, of the mean quantities; ``interval`` is over the weeks' amounts."""

    interval: Estimate


@dataclass(frozen=True, slots=True)
class CostFigures:
    """Money of a month, of the mean quantities; ``interval`` is over the weeks' months.

    ``settable`` is what settings of the pool can change of it, and ``ideal`` what the ideal line
    costs with the pool's hosts: no schedule costs less. ``gain`` is what a better schedule could
    save at most.
    """

    month: Decimal
    settable: Decimal
    ideal: Decimal
    gain: Decimal
    interval: Estimate
    lines: tuple[LedgerLine, ...]


@dataclass(frozen=True, slots=True)
class Figures:
    """Figures of a week, over one or several seeds.

    Logons counted, shares from 0 to 1. ``behind_share`` is the share of working time behind a
    slow line, ``baseline_hours`` are host-hours at the baseline with all credits spent;
    ``forced`` sessions were signed off by force, ``forced_share`` of all that ended;
    ``lost_work_share`` of them ended with work that may not have been saved. ``own_wait`` is the
    longest own wait of a person of a dedicated pool in seconds.
    """

    seeds: int
    arrivals: Estimate
    connected: Estimate
    refused: Estimate
    still_waiting: Estimate
    reconnects: Estimate
    refused_share: Estimate
    wait_seconds: WaitFigures
    returns: ReturnFigures
    own_wait: Estimate
    lost_work_share: Estimate
    forced: Estimate
    forced_share: Estimate
    first: FirstFigures
    sessions: SessionFigures
    strained_share: Estimate
    behind_share: Estimate
    baseline_hours: Estimate
    comfort: Estimate
    host_hours: HourFigures
    cost: CostFigures

    def against(self, promise: Promise) -> Verdicts:
        """The promise, part by part."""
        return verdicts_on(promise, figures_in(self))

    def efficiency(self, promise: Promise) -> Efficiency:
        """The ideal line against what is billed, withheld where refusals break the promise."""
        hours = self.host_hours
        return efficiency_of(hours.billed, hours.ideal, self.against(promise))


_OF_LINES = tuple(field.name for field in fields(CostLine))


def _means(parts: Sequence[HostHours] | Sequence[Footprint]) -> dict[str, float]:
    """The mean of every field over the weeks."""
    return {
        field.name: sum(getattr(part, field.name) for part in parts) / len(parts)
        for field in fields(parts[0])
    }


def _cost(case: Case, results: Sequence[Outcome]) -> CostFigures:
    """A month of the mean quantities; one week's is the ledger that it has already."""
    ledger = results[0].ledger
    if len(results) > 1:
        hours = HostHours(**_means([r.hours for r in results]))
        ledger = ledger_of(case, hours, Footprint(**_means([r.footprint for r in results])))
    lines = [
        LedgerLine(
            **{name: getattr(line, name) for name in _OF_LINES},
            interval=estimate([amount_of(r.ledger, line.id) for r in results]),
        )
        for line in ledger
    ]
    months = estimate([float(result.month) for result in results])
    ideal_hours = sum(result.hours.ideal for result in results) / len(results)
    ideal = monthly(Decimal(repr(ideal_hours)), case.horizon.days) * case.setting.size.whole_price
    ideal = ideal.quantize(Decimal("0.01"))
    paid = settable(ledger)
    gain = max(paid - ideal, Decimal(0))
    return CostFigures(total_of(ledger), paid, ideal, gain, months, tuple(lines))


def _first_figures(results: Sequence[Outcome]) -> FirstFigures:
    """First comers over the weeks; their wait is unknown where nobody came first."""
    firsts = [result.first for result in results]
    quiet = [first for first in firsts if first.mean is not None]
    within = [first.within for first in firsts if first.within is not None]
    return FirstFigures(
        people=estimate([first.people for first in firsts]),
        refused=estimate([first.refused for first in firsts]),
        mean=estimate([first.mean for first in quiet]),
        longest=estimate([first.longest for first in quiet]),
        within=estimate([None if isinf(seconds) else seconds for seconds in within]),
    )


def _return_figures(results: Sequence[Outcome]) -> ReturnFigures:
    """Returns over the weeks; the share that is lost, over those in which anybody came back."""
    found = [result.returns for result in results]
    shares = [each.lost_share for each in found if each.all]
    return ReturnFigures(
        all=estimate([each.all for each in found]),
        lost=estimate([each.lost for each in found]),
        lost_share=estimate(shares),
        timeout=estimate([each.timeout for each in found]),
        forced=estimate([each.forced for each in found]),
        failed=estimate([each.failed for each in found]),
    )


def _own_wait(results: Sequence[Outcome]) -> Estimate:
    """The longest own wait over the weeks in which there is one."""
    waits = [result.own_wait for result in results if result.own_wait is not None]
    return estimate([None if isinf(seconds) else seconds for seconds in waits])


def figures_of(case: Case, results: Sequence[Outcome]) -> Figures:
    """Means and intervals over the weeks.

    A wait is unknown, not unbounded, in weeks in which nobody asked for a logon; so is the mean
    wait of those who were connected where nobody was, what people lost where nobody came back, and
    how many sessions ended by force where none ended.
    """
    asked = [result for result in results if result.waits.arrivals]
    connected = [result for result in asked if result.waits.connected]
    ended = [result for result in results if result.forced_share is not None]

    def over(
        value: Callable[[Outcome], float | None], some: Sequence[Outcome] = results
    ) -> Estimate:
        return estimate([value(result) for result in some])

    return Figures(
        seeds=len(results),
        arrivals=over(lambda r: r.waits.arrivals),
        connected=over(lambda r: r.waits.connected),
        refused=over(lambda r: r.waits.refused),
        still_waiting=over(lambda r: r.waits.still_waiting),
        reconnects=over(lambda r: r.waits.reconnects),
        refused_share=over(lambda r: r.waits.refused_share),
        wait_seconds=WaitFigures(
            mean=over(lambda r: r.waits.mean, connected),
            p50=over(lambda r: r.waits.p50, asked),
            p95=over(lambda r: r.waits.p95, asked),
            p99=over(lambda r: r.waits.p99, asked),
        ),
        returns=_return_figures(results),
        own_wait=_own_wait(results),
        lost_work_share=over(lambda r: r.lost_work_share, ended),
        forced=over(lambda r: r.forced),
        forced_share=over(lambda r: r.forced_share, ended),
        first=_first_figures(results),
        sessions=SessionFigures(
            mean=over(lambda r: r.sessions.mean), peak=over(lambda r: r.sessions.peak)
        ),
        strained_share=over(lambda r: r.sessions.strained_share),
        behind_share=over(lambda r: r.sessions.behind_share),
        baseline_hours=over(lambda r: r.footprint.baseline_hours),
        comfort=over(lambda r: r.sessions.comfort),
        host_hours=HourFigures(
            in_use=over(lambda r: r.hours.in_use),
            lingering=over(lambda r: r.hours.lingering),
            fragmentation=over(lambda r: r.hours.fragmentation),
            readiness=over(lambda r: r.hours.readiness),
            transit=over(lambda r: r.hours.transit),
            rounding=over(lambda r: r.hours.rounding),
            billed=over(lambda r: r.hours.billed),
            ideal=over(lambda r: r.hours.ideal),
        ),
        cost=_cost(case, results),
    )


def simulate(
    plan: Plan,
    pool_id: str,
    seeds: int = 8,
    *,
    first: date | None = None,
    days: int = DAYS,
    given: Spells | None = None,
) -> Figures:
    """Simulate a pool with seeds 1 to ``seeds`` and summarise it; see :func:`case_of` for when.

    Raises UnknownNameError for a pool that the plan lacks, TooMuchError beyond the bound.
    """
    case = case_of(plan, pool_id, first=first, days=days)
    return figures_of(case, weeks(case, range(1, seeds + 1), given=given))
