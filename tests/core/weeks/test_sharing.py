"""Pools of a plan that share a place's starts or a size's quota."""

from datetime import date

import numpy as np
import pytest

from idle_harbor.core.demand.crowd import MOST_SPELLS
from idle_harbor.core.engine.kernel import codes as k
from idle_harbor.core.errors import TooMuchError
from idle_harbor.core.plan.estate import limits_around, limits_of
from idle_harbor.core.sentences.estate import shared_lines
from idle_harbor.core.tuner.designs.design import design_of
from idle_harbor.core.tuner.scoring.scores import Counted, Slot, Tried
from idle_harbor.core.weeks.case import case_of, check_amount
from idle_harbor.core.weeks.week import week
from idle_harbor.formats.plan.codec import plan_of
from tests.changes import changed
from tests.core.plans import document

FOUR = """
/places = [{'id': 'quay', 'area': 'A', 'starts_at_once': 2}]
/sizes/- = {'id': 'small', 'vcpu': 4, 'memory_gib': 16, 'hourly': '0.2'}
"""


def four(*changes):
    """Pools *main* and *b* at one place, *b* and *c* of one size, and *d* by itself."""
    given = changed(document(), FOUR)
    first = given["pools"][0]
    given["pools"] = [
        first | {"place": "quay"},
        first | {"id": "b", "place": "quay", "size": "small", "time_zone": "America/Halifax"},
        first | {"id": "c", "size": "small"},
        first | {"id": "d"},
    ]
    given["access"] = [
        access | {"pool": pool["id"]} for pool in given["pools"] for access in document()["access"]
    ]
    return plan_of(changed(given, *changes))


def lanes(run):
    """(instant, host, state) of a recorded run, the last of each second."""
    rows = run.lanes[["time", "host", "state"]].tolist()
    return {(run.horizon.start + time, host): state for time, host, state in rows}


def test_limits_reach_pools_that_share_with_pools_that_share():
    plan = four("/sizes/1/quota = 30")
    assert [(x.kind, x.of, x.pools) for x in limits_around(plan, "main")] == [
        ("throttle", "quay", ("main", "b")),
        ("quota", "small", ("b", "c")),
    ]
    assert set(limits_around(plan, "c")) == set(limits_of(plan))
    assert case_of(plan, "d").sharing is None


def test_a_pool_says_with_whom_it_shares():
    plan = four("/sizes/1/quota = 30")
    starts, cpu = (
        "In Quay, at most 2 hosts start at once, over",
        "Of size Small, at most 30 vCPU are on at once, over",
    )
    said = {pool.id: shared_lines(plan, pool) for pool in plan.pools}
    assert said == {
        "main": [f"{starts} this pool and B.", f"{cpu} B and C, which share with this pool."],
        "b": [f"{starts} this pool and Main.", f"{cpu} this pool and C."],
        "c": [f"{cpu} this pool and B.", f"{starts} Main and B, which share with this pool."],
        "d": [],
    }
    alone = plan_of(changed(document(), "/sizes/0/quota = 9"))
    (said_alone,) = shared_lines(alone, alone.pools[0])
    assert said_alone.endswith("at most 9 vCPU are on at once, over this pool.")


@pytest.mark.parametrize(
    "change",
    ["/places/0/starts_at_once = 20", "/places/0/starts_at_once = None", "/sizes/1/quota = 80"],
)
def test_a_limit_that_all_its_pools_cannot_reach_is_none(change):
    """Twice ten hosts of four vCPU."""
    plan = four(change)
    assert [limit.kind for limit in limits_of(plan)] == (["throttle"] if "quota" in change else [])


def test_pools_bounded_by_their_own_parallel_starts_do_not_reach_the_throttle():
    assert (
        limits_of(four("/pools/0/start = {'parallel': 1}; /pools/1/start = {'parallel': 1}")) == ()
    )


def test_a_place_with_one_pool_bounds_its_parallel_starts():
    plan = four("/pools/1/place = None")
    case = case_of(plan, "main")
    assert case.sharing is None and case.setting.pool.start.parallel == 2
    own = four("/pools/1/place = None", "/pools/0/start = {'parallel': 1}")
    assert case_of(own, "main").setting.pool.start.parallel == 1


def test_every_pool_of_an_estate_sees_the_same_week():
    """Asked for from either pool, hosts do the same, and never do more than two start at once."""
    plan = four("/sizes/1/quota = 30")
    case = {pool: case_of(plan, pool) for pool in ("main", "b", "c")}
    main, b, c = (week(each, 1, record=True).run for each in case.values())
    assert case["b"].sharing.place == 1 and len(case["b"].sharing.pools) == 3
    alone = week(
        case_of(four("/places = []; /pools/0/place = None; /pools/1/place = None"), "b"), 1
    )
    assert alone.run.results.tobytes() != b.results.tobytes()
    now, most = {}, {"throttle": 0, "quota": 0}
    changes = sorted(
        (*at, pool, state)
        for pool, run in (("main", main), ("b", b), ("c", c))
        for at, state in lanes(run).items()
    )
    end = min(run.horizon.end for run in (main, b, c))
    for place, (time, host, pool, state) in enumerate(changes[:-1]):
        now[pool, host] = state
        if changes[place + 1][0] == time or time >= end:
            continue
        starting = sum(now[x] == k.STARTING for x in now if x[0] != "c")
        powered = sum(
            now[x] in (k.STARTING, k.READY, k.DRAINING, k.STOPPING) for x in now if x[0] != "main"
        )
        most = {
            "throttle": max(most["throttle"], starting),
            "quota": max(most["quota"], 4 * powered),
        }
    assert most == {"throttle": 2, "quota": 28}


def test_a_score_of_a_pool_that_shares_is_that_of_its_whole_week():
    plan = four()
    tried = Tried(plan, [Counted("week", date(2027, 3, 1))])
    (score,) = tried.scores(design_of(plan, "b"), [Slot(0, 3)])
    whole = week(case_of(plan, "b", first=date(2027, 3, 1)), 3)
    assert score.month == pytest.approx(float(whole.month))
    assert score.billed == pytest.approx(whole.hours.billed)


def test_people_of_pools_that_share_count_too():
    plan = four()
    alone = case_of(plan, "d")
    spells = sum(len(week(case_of(plan, "d"), seed).run.spells) for seed in range(1, 5)) / 4
    seeds = int(0.7 * MOST_SPELLS / spells)
    check_amount(alone, seeds)
    with pytest.raises(TooMuchError):
        check_amount(case_of(plan, "main"), seeds)
    assert np.isfinite(spells)
