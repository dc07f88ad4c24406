"""The same week through the simulator and through the Controller: the same actions at each look."""

import math
from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import settings as sized

from idle_harbor.core.engine.run import Run, run
from idle_harbor.core.engine.setting import Setting
from idle_harbor.core.policy.controller import Controller, Observation, State
from idle_harbor.core.policy.view import NOBODY
from idle_harbor.core.weeks.case import case_of, drawn_spells
from idle_harbor.demo.scenario import demo_plan
from idle_harbor.formats.plan.codec import plan_of
from tests.core.engine.test_invariants import demands, settings_of_runs, simulated
from tests.sizes import size

DEMO = plan_of(demo_plan())


def observed(result: Run, number: int, tick: int) -> Observation:
    """What the policy of the simulator saw at a look, as a Controller is to see it."""
    assert result.looks is not None
    row, hosts = result.looks.seen[number], result.looks.hosts[number]
    now, knocking = int(row["now"]), int(row["knocking"])
    signals: list[float] = []
    if knocking == NOBODY and result.loads.size:
        values = result.loads["value"][now // tick - 1] if now else [math.nan] * 2
        signals = list(values)[: result.loads.shape[1]]
    return Observation(
        now=now,
        states=hosts["state"],
        sessions=hosts["sessions"],
        waiting=int(row["waiting"]),
        overdue=int(row["overdue"]),
        since=hosts["since"],
        owners=hosts["owner"],
        waits=hosts["waits"],
        signals=signals,
        knocking=knocking,
    )


def must_agree(setting: Setting, result: Run) -> int:
    """Ask a Controller at every look; how many actions both have decided."""
    assert result.looks is not None
    controller, state = Controller(setting, result.horizon), State()
    actions = 0
    for number, hosts in enumerate(result.looks.hosts):
        seen = observed(result, number, setting.schedule.tick_seconds)
        decisions, state = controller.look(state, seen)
        expected = {
            h: (row["action"], row["cause"]) for h, row in enumerate(hosts) if row["action"]
        }
        assert {each.host: (each.action, each.cause) for each in decisions} == expected, seen
        actions += len(decisions)
    return actions


@pytest.mark.parametrize("pool", [pool.id for pool in DEMO.pools])
def test_a_week_of_the_demo_is_decided_alike(pool):
    case = case_of(DEMO, pool)
    spells = drawn_spells(case.demand, case.horizon, 1)
    result = run(replace(case.setting, looks=1_500), case.horizon, spells, 1)
    assert must_agree(case.setting, result) > 0


@sized(max_examples=size(70, 600))
@given(settings_of_runs(), demands())
def test_any_week_is_decided_alike(setting, demand):
    must_agree(setting, simulated(replace(setting, looks=400), demand))


def test_looks_are_kept_as_far_as_there_is_room():
    case = case_of(DEMO, DEMO.pools[0].id)
    spells = drawn_spells(case.demand, case.horizon, 1)
    settings = (replace(case.setting, looks=number) for number in (3, 0))
    short, none = (run(each, case.horizon, spells, 1) for each in settings)
    assert short.looks is not None and none.looks is None
    assert short.looks.seen["now"].tolist()[0] == 0
    assert len(short.looks.hosts) == 3
    assert short.results.tobytes() == none.results.tobytes()
