"""Hosts: the sizing picture, kinds and places side by side, profiles from samples."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import asdict
from typing import Any

from flask import Response

from idle_harbor.core.plan import Profile
from idle_harbor.core.plan.edits.profiles import with_measured
from idle_harbor.core.plan.lookup import find_pool
from idle_harbor.core.sizing.hosts import sizing_of
from idle_harbor.core.sizing.peak import Wish, check_sizing
from idle_harbor.core.sizing.places import places_for
from idle_harbor.core.sizing.samples import profile_from_samples
from idle_harbor.core.weeks.kinds import KindView, kinds_of
from idle_harbor.formats.plan.codec import edited
from idle_harbor.formats.tables.samples import read_samples
from idle_harbor.jobs.kinds.desktops import DESKTOPS, GroupKinds
from idle_harbor.web.hosts.answers import kinds_answer, places_answer, sizing_answer
from idle_harbor.web.hosts.models import (
    KindsAnswer,
    KindsPart,
    PlacesAnswer,
    SamplesBody,
    SizingAnswer,
    SizingBody,
)
from idle_harbor.web.shared.asked import announced, computed, json_response
from idle_harbor.web.shared.bodies import checked_body, input_hash
from idle_harbor.web.shared.jobs import asker
from idle_harbor.web.shared.long import LongAnswer
from idle_harbor.web.shared.models import ChangedPlan, GroupBody, JobPath, SinceQuery
from idle_harbor.web.shared.problems import described
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

    asked = GroupKinds(plan, pool.id, body.group)
    key = input_hash(sent, kind="kinds", pool=pool.id, group=body.group)
    return computed("kinds", body, key, lambda: _KINDS.at_once(asked))


@hosts.post("/kinds/parts", responses={200: KindsPart, 204: None})
def read_kinds_in_parts(body: GroupBody) -> Response:
    """The same, a line of JSON for each kind as it gets done; the last line has the whole.

    Of many people the only line has the job that works them out.
    """
    plan = checked_body(body).plan
    check_sizing(plan, find_pool(plan, body.pool), Wish(group=body.group))
    by = asker(body, "pools", pool=body.pool)
    return _KINDS.in_parts(body, GroupKinds(plan, body.pool, body.group), by)


@hosts.get("/kinds/parts/<int:job_id>", responses={200: KindsPart, **described(404, 409, 503)})
def read_kinds_so_far(path: JobPath, query: SinceQuery) -> Response:
    """How far a job that compares kinds is; in the end the whole."""
    return _KINDS.so_far(path.job_id, query.since)


def _tell_kinds(
    asked: Callable[[], GroupKinds], found: Mapping[int, KindView], whole: bool
) -> dict[str, Any]:
    if not whole:
        return {}
    plan, views = asked().plan, list(found.values())
    return {"answer": kinds_answer(plan, kinds_of(plan, asked().group, views))}


_KINDS = LongAnswer(DESKTOPS, "kinds", _tell_kinds)


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
