"""What a step says where it rests on people whom the demand lacks."""

from dataclasses import replace

import pytest

from idle_harbor.core.plan.schedules import Timeouts
from idle_harbor.core.sentences.unseen import rests_on
from idle_harbor.core.tuner.designs.changes import Between
from idle_harbor.core.tuner.designs.design import design_of
from tests.core.plans import document, plan

HABITS = ("long_call", "reading", "works_late")


def said(habits=(), **pool):
    whole = document()
    for group in whole["groups"]:
        for pattern in group["demand"].get("patterns", []):
            pattern["habits"] = dict.fromkeys(habits, 0.1)
    found = plan(**whole)
    today = design_of(found, "main")
    today = replace(today, pool=replace(today.pool, idle_timeout=3_600, disconnected_timeout=None))
    after = replace(today, pool=replace(today.pool, **pool))
    return rests_on(found, "main", Between(today, after).changes)


def test_a_shorter_timeout_names_what_the_demand_lacks():
    assert said(idle_timeout=1_800) == (
        "In this demand nobody sits in a long call, reads away from the screen or works late "
        "after a break; a shorter timeout would meet them."
    )
    assert said(HABITS[:2], disconnected_timeout=7_200).startswith("In this demand nobody works")


@pytest.mark.parametrize(
    ("habits", "pool"),
    [
        (HABITS, {"idle_timeout": 1_800}),  # the demand has all of it
        ((), {"idle_timeout": 7_200}),  # longer
        ((), {"idle_timeout": None}),
        ((), {"session_limit": 7}),
    ],
)
def test_nothing_is_said_elsewhere(habits, pool):
    assert said(habits, **pool) == ""


def test_timeouts_of_a_new_band_are_shorter_ones():
    found = plan()
    today = design_of(found, "main")
    kind = today.schedule.day_types[0]
    own = replace(kind.bands[1], timeouts=Timeouts(900, 900))
    bands = (kind.bands[0], own, *kind.bands[2:])
    kinds = (replace(kind, bands=bands), *today.schedule.day_types[1:])
    after = replace(today, schedule=replace(today.schedule, day_types=kinds))
    assert rests_on(found, "main", Between(today, after).changes) != ""
