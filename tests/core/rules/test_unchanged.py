"""Rules that are looked at again where something has changed find what they always would."""

from copy import deepcopy

import pytest

from idle_harbor.core.errors import PlanError
from idle_harbor.core.rules import unchanged, whole
from idle_harbor.core.rules.unchanged import check_changed
from idle_harbor.core.rules.whole import faults_of
from idle_harbor.demo.scenario import demo_plan
from idle_harbor.formats.plan.codec import read_sent
from tests.changes import changed


def found(plan):
    try:
        sent = read_sent(plan, {})
        check_changed(sent.plan, sent.says)
    except PlanError as error:
        return list(error.faults)
    return []


EDITS = f"""
DAY/floor = 10_000
WORKDAY/bands/0/from = 01:00
/schedules/0/id = renamed
POOL/size = gone
POOL/hosts/standing = 0
POOL/time_zone = Nowhere/At-All
/sites/0/holidays/country = XX
/sites/0/id = renamed
/groups/0/profile = gone
/groups/0/id = renamed
/groups/1/id = {demo_plan()["groups"][0]["id"]}
/places = []
/access = []
/events/0/groups = ['gone']
""".strip().splitlines()


@pytest.mark.parametrize("first", range(len(EDITS)))
def test_every_edit_after_every_other_finds_the_same_faults(first):
    good = demo_plan()
    assert found(good) == []
    for change in (EDITS[first], *EDITS):
        plan = changed(deepcopy(good), change)
        assert found(plan) == faults_of(read_sent(plan, {}).plan)
        assert found(good) == []


def test_what_an_edit_leaves_alone_is_not_looked_at_again(monkeypatch):
    looks = []

    def counted(family):
        def look(plan):
            looks.append(family.__name__)
            yield from family(plan)

        return look

    families = tuple(counted(family) for family in whole.FAMILIES)
    monkeypatch.setattr(unchanged, "FAMILIES", families)
    plan = demo_plan()
    assert found(plan) == [] and len(looks) == len(families)
    plan["schedules"][0]["day_types"][0]["bands"][1]["floor"] += 1
    looks.clear()
    assert found(plan) == [] and "people_faults" not in looks and "schedule_faults" in looks
    looks.clear()
    assert found(plan) == [] and looks == []


def test_many_plans_side_by_side_are_bounded():
    plan = demo_plan()
    for floor in range(3 * unchanged._MOST):
        plan["schedules"][0]["day_types"][0]["bands"][1]["floor"] = floor % 3
        plan["name"] = f"plan {floor}"
        plan["schedules"][0]["id"] = f"s{floor}"
        found(plan)
    assert all(len(known) <= unchanged._MOST for known in unchanged._found_nothing.values())
