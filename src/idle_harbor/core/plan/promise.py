"""The promise: what people are owed, in the whole plan and where a pool has it otherwise."""

from __future__ import annotations

from dataclasses import dataclass, fields, replace
from typing import Annotated

from idle_harbor.core.plan.declare import DAY, OURS, About, as_in


@dataclass(frozen=True, slots=True)
class Promise:
    """What people are owed."""

    wait_p95_seconds: Annotated[
        int, About("95 % of logons owe people a desktop within this time.", "s", 0, DAY, OURS)
    ] = 60
    wait_p99_seconds: Annotated[
        int | None,
        About(
            "99 % of logons owe people a desktop within this time, if that is promised.",
            "s",
            0,
            DAY,
            OURS,
        ),
    ] = 180
    first_comer_seconds: Annotated[
        int | None,
        About(
            "Whoever comes first after an hour without any logon is owed a desktop within this "
            "time, if that is promised.",
            "s",
            0,
            DAY,
            OURS,
        ),
    ] = 300
    own_wait_seconds: Annotated[
        int | None,
        About(
            "In a dedicated pool, everybody is owed their desktop within this time in 75 % of "
            "their own logons, if that is promised.",
            "s",
            0,
            DAY,
            OURS,
        ),
    ] = 60
    refused_share: Annotated[
        float, About("The share of logons that may be refused.", "share", 0, 1, OURS, step=0.001)
    ] = 0.001
    strained_share: Annotated[
        float,
        About(
            "The share of working time that may be spent on a strained host.", "share", 0, 1, OURS
        ),
    ] = 0.02
    lost_returns: Annotated[
        float,
        About(
            "The share of people who come back on the same working day, without having signed "
            "off, to a session that has been ended meanwhile.",
            "share",
            0,
            1,
            OURS,
        ),
    ] = 0.02
    lost_work_share: Annotated[
        float | None,
        About(
            "The share of sessions that may be ended by a timeout or by force less than 30 "
            "minutes after work in them, of all that end, if that is promised.",
            "share",
            0,
            1,
            OURS,
        ),
    ] = None
    forced_share: Annotated[
        float,
        About(
            "The share of sessions that may be signed off by force, of all that end.",
            "share",
            0,
            1,
            OURS,
        ),
    ] = 0.05
    comfort: Annotated[
        float,
        About(
            "The least share of people's working time that is neither waited away nor strained "
            "nor behind a slow line.",
            "share",
            0,
            1,
            OURS,
        ),
    ] = 0.9
    round_trip_ms: Annotated[
        float,
        About(
            "Beyond this round trip between site and hosts people are behind a slow line.",
            "ms",
            0,
            10_000,
            OURS,
        ),
    ] = 100.0
    zone_loss: Annotated[
        bool, About("Whether everyone has to find room while one zone is lost.", source=OURS)
    ] = False


@dataclass(frozen=True, slots=True)
class OwnPromise:
    """What the people of one pool are owed; what is not given is as for all."""

    wait_p95_seconds: Annotated[int | None, as_in(Promise, "wait_p95_seconds")] = None
    wait_p99_seconds: Annotated[int | None, as_in(Promise, "wait_p99_seconds")] = None
    first_comer_seconds: Annotated[int | None, as_in(Promise, "first_comer_seconds")] = None
    own_wait_seconds: Annotated[int | None, as_in(Promise, "own_wait_seconds")] = None
    refused_share: Annotated[float | None, as_in(Promise, "refused_share")] = None
    strained_share: Annotated[float | None, as_in(Promise, "strained_share")] = None
    lost_returns: Annotated[float | None, as_in(Promise, "lost_returns")] = None
    lost_work_share: Annotated[float | None, as_in(Promise, "lost_work_share")] = None
    forced_share: Annotated[float | None, as_in(Promise, "forced_share")] = None
    comfort: Annotated[float | None, as_in(Promise, "comfort")] = None

    def instead_of(self, promise: Promise) -> Promise:
        """The promise with what is given here in its place."""
        given = ((each.name, getattr(self, each.name)) for each in fields(self))
        return replace(promise, **{name: value for name, value in given if value is not None})
