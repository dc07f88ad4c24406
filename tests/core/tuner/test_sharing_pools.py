"""Pools of one schedule that are tuned together."""

from dataclasses import replace

import pytest

from idle_harbor.core.errors import PlanError
from idle_harbor.core.plan.lookup import find_pool
from idle_harbor.core.rules.schedules import schedule_faults
from idle_harbor.core.tuner import Counted, Question, tune
from idle_harbor.core.tuner.asking import checked_question
from idle_harbor.core.tuner.designs.design import design_of, in_plan
from idle_harbor.core.tuner.scoring.scores import Score, Slot, Tried, together
from tests.core.plans import document, plan
from tests.core.tuner.test_weeks_that_count import OWN


def shared(**other):
    """Two pools of one schedule with people of their own; a third stays with the schedule."""
    whole = document()
    pool, group = whole["pools"][0], whole["groups"][0]
    whole["pools"] = [pool, {**pool, "id": "second", **other}, {**pool, "id": "third"}]
    whole["groups"] = [group, {**group, "id": "more"}]
    whole["access"] = [*whole["access"], {**whole["access"][0], "group": "more", "pool": "second"}]
    return plan(**whole)


def changed(design, **values):
    kind = design.schedule.day_types[0]
    bands = (kind.bands[0], replace(kind.bands[1], **values), *kind.bands[2:])
    kinds = (replace(kind, bands=bands), *design.schedule.day_types[1:])
    return replace(design, schedule=replace(design.schedule, day_types=kinds))


def test_a_week_of_both_is_what_they_cost_together_and_the_worst_of_their_promises():
    whole = shared()
    weeks = [Counted("own", OWN)]
    alone = [
        Tried(whole, weeks).scores(design_of(whole, name), [Slot(0, 1)])[0]
        for name in ("main", "second")
    ]
    (both,) = Tried(whole, weeks).scores(design_of(whole, "main", ("second",)), [Slot(0, 1)])
    assert both.money == pytest.approx(sum(each.money for each in alone))
    waits = [each.promised[0] for each in alone]
    assert both.promised[0] == max(waits)
    assert both.promised[-1] == min(each.promised[-1] for each in alone)


def test_figures_count_in_units_of_the_own_limit():
    promise = plan().promise
    looser = replace(promise, wait_p95_seconds=2 * promise.wait_p95_seconds)
    nothing = (None,) * 9
    one, two = (
        Score(1.0, 1.0, 1.0, 0.0, (wait, *nothing), (wait, *nothing)) for wait in (50.0, 80.0)
    )
    assert together([one, two], [promise, looser]).promised[0] == 50.0
    assert together([one, two], [promise, promise]).promised[0] == 80.0


def test_they_go_on_sharing_and_the_third_keeps_the_old_one():
    whole = shared()
    after = in_plan(whole, changed(design_of(whole, "main", ("second",)), floor=3))
    names = {pool.id: pool.schedule for pool in after.pools}
    assert names["main"] == names["second"] != names["third"] == whole.pools[0].schedule
    assert design_of(after, "third").schedule == design_of(whole, "third").schedule


def test_a_pool_with_fewer_hosts_has_what_it_can():
    whole = shared(hosts={"standing": 5})
    most = find_pool(whole, "main").hosts.most
    after = in_plan(whole, changed(design_of(whole, "main", ("second",)), floor=most))
    assert not [*schedule_faults(after)]
    assert design_of(after, "second").schedule.day_types[0].bands[1].floor == 5
    assert design_of(after, "main").schedule.day_types[0].bands[1].floor == most


def test_a_study_of_both_gives_both_one_schedule():
    whole = shared()
    easy = {"wait_p95_seconds": 300, "wait_p99_seconds": None, "first_comer_seconds": None}
    promise = replace(whole.promise, **easy, refused_share=0.02, lost_returns=1.0)
    whole = replace(whole, promise=promise)
    question = Question("main", (Counted("own", OWN),), budget=300, together=("second",))
    found = tune(whole, question)
    after = in_plan(whole, found.tuned.design)
    assert len({pool.schedule for pool in after.pools if pool.id != "third"}) == 1
    assert found.tuned.report.money.mean < found.current.report.money.mean


@pytest.mark.parametrize(
    ("names", "says"),
    [(("main",), "'main' is no other pool"), (("nine",), "'nine'"), (("third",), "nobody comes")],
)
def test_only_pools_of_the_schedule_with_people_can_be_tuned_with_it(names, says):
    with pytest.raises(PlanError, match=says):
        checked_question(shared(), Question("main", together=names))
