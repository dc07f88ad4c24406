"""A week in which hosts fail for a while, beside the same week in which they do not."""

from __future__ import annotations

from dataclasses import dataclass

from idle_harbor.core.calendar.clock import local_to_instant
from idle_harbor.core.engine.kernel import codes
from idle_harbor.core.engine.run import BIN_SECONDS
from idle_harbor.core.engine.setting import Drill
from idle_harbor.core.errors import Fault, PlanError
from idle_harbor.core.plan import Plan
from idle_harbor.core.weeks.summary import Figures, figures_of
from idle_harbor.core.weeks.week import case_of, check_amount, week


@dataclass(frozen=True, slots=True)
class Failure:
    """What fails: from a minute of a day of the plan's week (0 = Monday, the pool's clock), for
    so many minutes, a zone (0 = first) or else so many hosts."""

    day: int
    minute: int
    minutes: int
    zone: int | None
    hosts: int


@dataclass(frozen=True, slots=True)
class Drilled:
    """Figures without and with the failure, hosts that failed, people at work on them, and the
    most people who waited at one moment from then on."""

    calm: Figures
    drilled: Figures
    failed: int
    interrupted: int
    most_waiting: int


def drill_week(plan: Plan, pool_id: str, failure: Failure, seed: int) -> Drilled:
    """Simulate a pool's week twice with one seed.

    Raises UnknownNameError for the pool, PlanError for a zone that it does not have, TooMuchError
    beyond the bound of a call.
    """
    calm = case_of(plan, pool_id)
    check_amount(calm, 2)
    zones, horizon = calm.setting.zones, calm.horizon
    if failure.zone is not None and failure.zone >= zones:
        raise PlanError(
            [
                Fault(
                    "",
                    f"pool '{pool_id}' has {zones} zones, no {failure.zone + 1}",
                    "name one of them, or give a number of hosts",
                )
            ]
        )
    day = horizon.dates[horizon.warm_days + failure.day]
    instant = local_to_instant(horizon.zone, day, failure.minute * 60)
    drill = Drill(instant - horizon.counted, failure.minutes * 60, failure.zone, failure.hosts)
    case = case_of(plan, pool_id, drills=[drill])
    before, after = week(calm, seed), week(case, seed, record=True)
    waiting = after.run.peaks[(instant - horizon.start) // BIN_SECONDS :, codes.L_WAITING]
    return Drilled(
        calm=figures_of(calm, [before]),
        drilled=figures_of(case, [after]),
        failed=int((after.run.actions["action"] == codes.Action.FAIL).sum()),
        interrupted=after.run.interrupted,
        most_waiting=int(waiting.max(initial=0)),
    )
