"""Hosts: the sizing picture, kinds and places side by side, profiles from samples."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import asdict
from typing import Any

from flask import Response

from idle_harbor.core.plan import Plan, Pool, Profile
from idle_harbor.core.plan.edits.profiles import with_measured
from idle_harbor.core.plan.lookup import find_pool
from idle_harbor.core.sizing.hosts import sizing_of
from idle_harbor.core.sizing.peak import Wish, check_sizing, sizing_demand, sizing_horizon
from idle_harbor.core.sizing.places import places_for
from idle_harbor.core.sizing.samples import profile_from_samples
from idle_harbor.core.weeks.kinds import (
    KINDS,
    KindView,
    compare_kinds,
    kind_of_group,
    kinds_of,
)
from idle_harbor.formats.plan.codec import edited, plan_of
from idle_harbor.formats.reports.outcomes import from_values
from idle_harbor.formats.tables.samples import read_samples
from idle_harbor.jobs.asking import desktops_wish
from idle_harbor.jobs.kind import Input
from idle_harbor.web.hosts.answers import kinds_answer, places_answer, sizing_answer
from idle_harbor.web.hosts.models import (
    KindsAnswer,
    KindsPart,
    PlacesAnswer,
    SamplesBody,
    SizingAnswer,
    SizingBody,
)
from idle_harbor.web.shared.asked import Step, announced, computed, in_parts, json_response
from idle_harbor.web.shared.bodies import checked_body, input_hash
from idle_harbor.web.shared.jobs import as_job, asker, told_so_far
from idle_harbor.web.shared.models import ChangedPlan, GroupBody, JobPath, SinceQuery
from idle_harbor.web.shared.problems import described
from idle_harbor.web.shared.view import view

hosts = view("hosts")

#: Spells of a group in a week beyond which its kinds take longer than a second to compare.
LONG = 40_000


@hosts.post("/sizing", responses={200: SizingAnswer, 204: None})
def read_sizing(body: SizingBody) -> Response:
    """What each host size bears of a pool's people, and the hosts for their peak."""
    announced("sizing", body)
    sent = checked_body(body)
    plan = sent.plan
    pool = find_pool(plan, body.pool)
    wish = Wish(body.percentile, body.spare, body.lose_zone, body.active_share, body.group)
    check_sizing(plan, pool, wish)
    key = input_hash(sent, kind="sizing", pool=pool.id, wish=asdict(wish))
    return computed(
        "sizing",
        body,
        key,
        lambda: sizing_answer(plan, sizing_of(plan, pool, wish), wish),
        urgent=True,
    )


@hosts.post("/kinds", responses={200: KindsAnswer, 204: None})
def read_kinds(body: GroupBody) -> Response:
    """One group of a pool as each kind of desktop, simulated."""
    sent = checked_body(body)
    plan = sent.plan
    pool = find_pool(plan, body.pool)
    check_sizing(plan, pool, Wish(group=body.group))

    def work() -> dict[str, Any]:
        return kinds_answer(plan, compare_kinds(plan, pool, body.group))

    key = input_hash(sent, kind="kinds", pool=pool.id, group=body.group)
    return computed("kinds", body, key, work)


@hosts.post("/kinds/parts", responses={200: KindsPart, 204: None})
def read_kinds_in_parts(body: GroupBody) -> Response:
    """The same, a line of JSON for each kind as it gets done; the last line has the whole.

    Of many people the only line has the job that works them out.
    """
    plan = checked_body(body).plan
    pool = find_pool(plan, body.pool)
    check_sizing(plan, pool, Wish(group=body.group))
    demand = sizing_demand(plan, pool, body.group)
    if demand.expected_spells(sizing_horizon(plan, pool)) > LONG:
        by = asker(body, "pools", pool=pool.id)
        return as_job(desktops_wish(plan, pool.id, body.group, by))
    return in_parts("kinds", body, _kind_steps(plan, pool, body.group))


def _kind_steps(plan: Plan, pool: Pool, group: str) -> Iterator[Step]:
    views: list[KindView] = []
    for done, kind in enumerate(KINDS, start=1):
        views.append(kind_of_group(plan, pool, group, kind))
        if done < len(KINDS):
            yield done, len(KINDS), {}
    answer = kinds_answer(plan, kinds_of(plan, group, views))
    yield len(KINDS), len(KINDS), {"answer": answer}


@hosts.get("/kinds/parts/<int:job_id>", responses={200: KindsPart, **described(404, 409, 503)})
def read_kinds_so_far(path: JobPath, query: SinceQuery) -> Response:
    """How far a job that compares kinds is; in the end the whole."""
    return told_so_far(path.job_id, "desktops", query.since, _tell_kinds)


def _tell_kinds(given: Input, parts: Sequence[Mapping[str, Any]], whole: bool) -> dict[str, Any]:
    if not whole:
        return {}
    plan = plan_of(given["plan"])
    views = [from_values(KindView, each["body"]) for each in parts]
    return {"answer": kinds_answer(plan, kinds_of(plan, given["group"], views))}


@hosts.post("/places", responses={200: PlacesAnswer})
def read_places(body: GroupBody) -> Response:
    """Every place of the plan for one group of a pool, the best first."""
    plan = checked_body(body).plan
    pool = find_pool(plan, body.pool)
    return json_response(places_answer(plan, body.group, places_for(plan, pool, body.group)))


@hosts.post("/samples", responses={200: ChangedPlan})
def take_samples(body: SamplesBody) -> Response:
    """A new workload profile from samples of sessions, for the groups of the one it is like; the
    changed plan."""

    def measure(like: Profile) -> Profile:
        return profile_from_samples(like, read_samples(body.text), body.source)

    plan = checked_body(body).plan
    return json_response({"plan": edited(with_measured(plan, body.like, body.new, measure))})
