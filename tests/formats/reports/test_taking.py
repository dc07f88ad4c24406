"""A design taken over into a plan that went on since the study began."""

from copy import deepcopy

import pytest

from idle_harbor.core.errors import UnknownNameError
from idle_harbor.core.tuner.designs.design import design_of
from idle_harbor.formats.plan.codec import plan_of
from idle_harbor.formats.reports.taking import taken_over
from tests.core.plans import values

BASE = values()


def changed(floor=None, ceiling=None, limit=None, idle=None):
    """The plan with values of its second band and of its pool changed, where they are given."""
    plan = deepcopy(BASE)
    pool, band = plan["pools"][0], plan["schedules"][0]["day_types"][0]["bands"][1]
    given = (
        (band, "floor", floor),
        (band, "fill_ceiling", ceiling),
        (pool, "session_limit", limit),
        (pool, "idle_timeout", idle),
    )
    for part, name, value in given:
        if value is not None:
            part[name] = value
    return plan


def point(plan):
    return {"pool": plan["pools"][0], "schedule": plan["schedules"][0]}


def found(plan, pool="main"):
    design = design_of(plan, pool)
    band = design.schedule.day_types[0].bands[1]
    return band.floor, band.fill_ceiling, design.pool.session_limit, design.pool.idle_timeout


def test_only_what_the_study_changed_is_replaced():
    now = changed(ceiling=0.5, limit=6)
    plan, both = taken_over(plan_of(now), BASE, point(changed(floor=7, idle=600)))
    assert found(plan) == (7, 0.5, 6, 600)
    assert both == []


def test_the_design_wins_where_both_changed_a_field_and_says_so():
    plan, both = taken_over(plan_of(changed(floor=3, limit=6)), BASE, point(changed(floor=7)))
    assert found(plan)[:3] == (7, 0.8, 6)
    assert len(both) == 1
    assert both[0].endswith("/floor")


def test_a_pool_that_joined_the_schedule_since_keeps_it_as_it_is():
    now = changed(limit=6)
    now["pools"].append({**now["pools"][0], "id": "joined"})
    plan, _ = taken_over(plan_of(now), BASE, point(changed(floor=7)))
    assert found(plan)[0] == 7
    assert found(plan, "joined") == found(plan_of(now), "joined")
    assert plan.pools[0].schedule != plan.pools[1].schedule


def test_a_design_of_a_pool_that_is_gone_is_refused():
    now = changed()
    now["pools"], now["access"] = [], []
    with pytest.raises(UnknownNameError, match="main"):
        taken_over(plan_of(now), BASE, point(changed(floor=7)))
    # What the plan of today was is no change.
    assert taken_over(plan_of(changed(floor=3)), BASE, point(BASE))[0] == plan_of(changed(floor=3))
