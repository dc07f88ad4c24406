"""A week in which hosts fail for a while, beside the same week in which they do not."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from idle_harbor.core.calendar.clock import local_to_instant
from idle_harbor.core.engine.kernel import codes
from idle_harbor.core.engine.run import BIN_SECONDS, Run
from idle_harbor.core.engine.setting import Drill, Setting
from idle_harbor.core.errors import Fault, PlanError
from idle_harbor.core.plan import Plan
from idle_harbor.core.plan.schedules import in_day
from idle_harbor.core.weeks.case import case_of, check_amount
from idle_harbor.core.weeks.summary import Figures, figures_of
from idle_harbor.core.weeks.week import week


@dataclass(frozen=True, slots=True)
class DrillKind:
    """A kind of drill: everything that is said of it.

    ``id`` names it in a question, ``code`` in the engine. ``does`` says what hosts do, after how
    many of them; ``shows`` is the action that marks a host which it struck, and ``told`` what those
    hosts did, after their number, with the people who were interrupted.
    """

    id: str
    code: int
    does: str
    shows: codes.Action
    told: str


#: Every kind of drill, the usual one first.
KINDS = (
    DrillKind(
        id="hosts fail",
        code=codes.DRILL_FAILS,
        does="fail",
        shows=codes.Action.FAIL,
        told="hosts failed under {interrupted:,} people",
    ),
    DrillKind(
        id="agents silent",
        code=codes.DRILL_MUTES,
        does="start without their agents registering",
        shows=codes.Action.START,
        told="hosts were started meanwhile and took nobody before the end",
    ),
)
#: The kinds by their names.
BY_ID = {kind.id: kind for kind in KINDS}


@dataclass(frozen=True, slots=True)
class Failure:
    """What happens: from a minute of a day of the plan's week (0 = Monday, the pool's clock), for
    so many minutes, to a zone (0 = first) or else to so many hosts."""

    day: int
    minute: int
    minutes: int
    zone: int | None
    hosts: int
    kind: str = KINDS[0].id


@dataclass(frozen=True, slots=True)
class Drilled:
    """Figures without and with the failure, hosts that it struck and what they did, people at work
    on them, and the most people who waited at one moment from then on."""

    calm: Figures
    drilled: Figures
    failed: int
    told: str
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
    clock = in_day(horizon.begins, failure.minute * 60)
    instant = local_to_instant(horizon.time_zone, day, clock)
    kind, seconds = BY_ID[failure.kind], failure.minutes * 60
    drill = Drill(instant - horizon.counted, seconds, failure.zone, failure.hosts, kind.code)
    case = case_of(plan, pool_id, drills=[drill])
    before, after = week(calm, seed), week(case, seed, record=True)
    waiting = after.run.peaks[(instant - horizon.start) // BIN_SECONDS :, codes.L_WAITING]
    return Drilled(
        calm=figures_of(calm, [before]),
        drilled=figures_of(case, [after]),
        failed=_struck(after.run, case.setting, kind),
        told=kind.told.format(interrupted=after.run.interrupted),
        interrupted=after.run.interrupted,
        most_waiting=int(waiting.max(initial=0)),
    )


def _struck(run: Run, setting: Setting, kind: DrillKind) -> int:
    """Hosts that the drill of a setting struck."""
    (drill,), actions = setting.drills, run.actions
    host, time = actions["host"], actions["time"]
    taken = host < drill.hosts if drill.zone is None else host % setting.zones == drill.zone
    within = (time >= drill.at) & (time < drill.at + drill.seconds)
    return len(np.unique(host[taken & within & (actions["action"] == kind.shows)]))
