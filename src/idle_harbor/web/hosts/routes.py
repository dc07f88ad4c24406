"""Hosts: the sizing picture, kinds and places side by side, profiles from samples."""

from __future__ import annotations

from dataclasses import asdict, replace
from typing import Any

from flask import Response

from idle_harbor.core.errors import Fault, PlanError
from idle_harbor.core.lookup import find_pool
from idle_harbor.core.sizing.hosts import sizing_of
from idle_harbor.core.sizing.kinds import compare_kinds
from idle_harbor.core.sizing.peak import Wish, check_sizing
from idle_harbor.core.sizing.places import places_for
from idle_harbor.core.sizing.samples import profile_from_samples
from idle_harbor.formats.plan.codec import edited
from idle_harbor.formats.tables.samples import read_samples
from idle_harbor.web.hosts.answers import kinds_answer, places_answer, sizing_answer
from idle_harbor.web.hosts.models import (
    KindsAnswer,
    PlacesAnswer,
    SamplesBody,
    SizingAnswer,
    SizingBody,
)
from idle_harbor.web.shared.asked import announced, computed, json_response
from idle_harbor.web.shared.bodies import checked_body, input_hash
from idle_harbor.web.shared.models import ChangedPlan, GroupBody
from idle_harbor.web.shared.view import view

hosts = view("hosts")


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
        "sizing", body, key, lambda: sizing_answer(plan, sizing_of(plan, pool, wish), wish),
        urgent=True,
    )  # fmt: skip


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


@hosts.post("/places", responses={200: PlacesAnswer})
def read_places(body: GroupBody) -> Response:
    """Every place of the plan for one group of a pool, the best first."""
    plan = checked_body(body).plan
    pool = find_pool(plan, body.pool)
    return json_response(places_answer(plan, body.group, places_for(plan, pool, body.group)))


@hosts.post("/samples", responses={200: ChangedPlan})
def take_samples(body: SamplesBody) -> Response:
    """A new workload profile from samples of sessions; the plan comes back with it."""
    plan = checked_body(body).plan
    like = next((p for p in plan.profiles if p.id == body.like), None)
    if like is None:
        raise PlanError([Fault("/profiles", f"there is no workload profile '{body.like}'",
                               "name one that exists")])  # fmt: skip
    measured = profile_from_samples(like, read_samples(body.text), body.source)
    profiles = (*plan.profiles, replace(measured, id=body.new))
    return json_response({"plan": edited(replace(plan, profiles=profiles))})
