"""The order of the changes of a study, and steps that belong together, with scores by hand."""

from dataclasses import replace

from idle_harbor.core.tuner import Counted
from idle_harbor.core.tuner.designs.changes import Between
from idle_harbor.core.tuner.designs.design import design_of
from idle_harbor.core.tuner.report.explain import explained
from idle_harbor.core.tuner.scoring.scores import Slot
from tests.core.plans import plan
from tests.core.tuner.driving import driven, scored
from tests.core.tuner.test_weeks_that_count import OWN

TODAY = design_of(plan(), "main")
LIMIT, IDLE, GONE = "session_limit", "idle_timeout", "disconnected_timeout"
AFTER = {LIMIT: 7, IDLE: 1_200, GONE: 1_500}


def explain(cost, most=10_000):
    """The explanation where ``cost`` gives money and refusals for the set of changes made."""
    after = replace(TODAY, pool=replace(TODAY.pool, **AFTER))

    def work(trials):
        found = []
        for trial in trials:
            made = {f for f, value in AFTER.items() if getattr(trial.design.pool, f) == value}
            found.append([scored(*cost(made)) for _ in trial.slots])
        return found

    slots = [Slot(0, seed) for seed in range(1, 9)]
    asking = explained(Between(TODAY, after), slots, [Counted("own", OWN)], plan().promise, most)
    return driven(asking, work)


def told(found):
    return [([v.field for c in s.changes for v in c.values], s.saves) for s in found.steps]


def test_what_saves_most_comes_first():
    saves = {LIMIT: 10.0, IDLE: 30.0, GONE: 20.0}
    found = explain(lambda made: (100.0 - sum(saves[f] for f in made), 0.0))
    assert told(found) == [([IDLE], 30.0), ([GONE], 20.0), ([LIMIT], 10.0)]
    assert (found.before, found.after) == (100.0, 40.0)


def test_what_mends_the_promise_comes_before_what_saves():
    def cost(made):
        money = 100.0 + 5.0 * (LIMIT in made) - 30.0 * (IDLE in made) - 20.0 * (GONE in made)
        return money, 0.0 if LIMIT in made else 0.5

    found = explain(cost)
    assert told(found) == [([LIMIT], -5.0), ([IDLE], 30.0), ([GONE], 20.0)]
    assert [step.keeps for step in found.steps] == [True, True, True]
    assert [step.alone_keeps for step in found.steps] == [False, True, True]


def test_a_step_that_breaks_and_the_one_that_mends_are_one():
    def cost(made):
        money = 100.0 - 50.0 * (IDLE in made) - 1.0 * (GONE in made)
        return money, 0.5 if (IDLE in made) != (GONE in made) else 0.0

    found = explain(cost)
    assert told(found) == [([GONE, IDLE], 51.0), ([LIMIT], 0.0)] or told(found) == [
        ([LIMIT], 0.0),
        ([IDLE, GONE], 51.0),
    ]
    assert all(step.keeps for step in found.steps)


def test_few_weeks_still_give_every_change_its_step():
    found = explain(lambda made: (100.0 - len(made), 0.0), most=10)
    assert sum(step.saves for step in found.steps) == 3.0
