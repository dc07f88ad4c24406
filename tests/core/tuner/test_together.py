"""Several pools under one budget: against all choices there are, and what is said of them."""

from itertools import product

import numpy as np
import pytest

from idle_harbor.core.sentences.study import pools_text
from idle_harbor.core.tuner.report.together import (
    Option,
    PoolChange,
    changes_between,
    cheapest,
    choices,
    within,
)
from idle_harbor.core.tuner.report.told import pareto_front
from idle_harbor.core.tuner.scoring.judge import nearest


def drawn(pools, options, seed):
    draw = np.random.default_rng(seed)

    def option(k):
        money, spoiled = draw.integers(1, 60), draw.integers(0, 40)
        return Option(str(k), float(money), float(spoiled), draw.random() < 0.6)

    found = [[option(k) for k in range(options)] for _ in range(pools)]
    return [[*of, Option("sure", 70.0, 0.0, True)] for of in found]


def all_of(pools, kept):
    for taken in product(*pools):
        if all(each.keeps for each in taken) or not kept:
            yield sum(e.money for e in taken), sum(e.spoiled for e in taken)


@pytest.mark.parametrize("seed", range(12))
@pytest.mark.parametrize("kept", [False, True])
def test_no_choice_within_the_money_spoils_less(seed, kept):
    pools = drawn(4, 5, seed)
    found = choices(pools, kept=kept)
    every = sorted(all_of(pools, kept))
    assert bool(found) == bool(every)
    for budget in range(0, 250, 7):
        affordable = [spoiled for money, spoiled in every if money <= budget]
        taken = within(found, budget)
        assert (taken is None) == (not affordable)
        if taken is not None:
            assert taken.spoiled == min(affordable)
            assert taken.money <= budget
            options = [pool[k] for pool, k in zip(pools, taken.places, strict=True)]
            assert taken.money == sum(each.money for each in options)
            assert taken.keeps == all(each.keeps for each in options)
    if found:
        assert cheapest(found).money == every[0][0]


def test_many_pools_with_many_options_stay_bounded():
    pools = drawn(60, 12, 3)
    found = choices([[o for o in pool if o.keeps] or pool for pool in pools])
    money = [each.money for each in found]
    spoiled = [each.spoiled for each in found]
    assert money == sorted(money) and spoiled == sorted(spoiled, reverse=True)
    assert found[0].money == pytest.approx(
        sum(min(o.money for o in ([p for p in pool if p.keeps] or pool)) for pool in pools)
    )


def test_a_pool_without_a_plan_that_keeps_its_promise_is_weighed_with_what_it_has():
    pools = [
        [Option("a", 1, 1, True), Option("b", 0, 9, False)],
        [Option("c", 2, 1, False), Option("d", 1, 3, False)],
    ]
    found = choices(pools, kept=True)
    assert [(each.places, each.keeps) for each in found] == [((0, 1), False), ((0, 0), False)]


def test_what_differs_is_told_pool_by_pool():
    pools = [
        [Option("today", 100, 50, True), Option("tuned", 80, 51, True)],
        [Option("today", 500, 5, True), Option("tuned", 350, 9, False)],
        [Option("today", 10, 1, True)],
    ]
    one, two = choices(pools)[-1], choices(pools)[0]
    assert one.places == (0, 0, 0) and two.places == (1, 1, 0)
    changes = changes_between(pools, one, two)
    assert [(c.pool, c.money, c.spoiled) for c in changes] == [(1, -150, 4), (0, -20, 1)]
    text = pools_text(["office", "line", "field"], changes, "EUR")
    assert text == (
        "line €150 less (4 hours more spoiled, and its promise is not kept for sure); "
        "office €20 less (1 hour more spoiled): "
        "together €170 less a month and 5 hours of work more spoiled."
    )
    nothing = PoolChange(0, 0.2, -0.4, True)
    assert pools_text(["office", "line", "field"], [*changes, nothing], "EUR") == text
    for none in ([], [nothing]):
        assert pools_text(["office"], none, "EUR") == "Nothing that was found does more for it."


def test_where_nothing_is_kept_what_comes_nearest_is_taken():
    pools = [
        [
            Option("today", 50.0, 9.0, False, near=False),
            Option("cheap", 5.0, 90.0, False, near=False),
            Option("near", 60.0, 8.0, False),
        ],
        [Option("today", 50.0, 9.0, True), Option("tuned", 20.0, 5.0, True)],
    ]
    assert cheapest(choices(pools, kept=True)).places == (2, 1)
    assert cheapest(choices(pools)).places == (1, 1)


def test_what_comes_nearest_stands_best_and_has_its_limits_loosened_least():
    stood = [
        ("broken", 3.0, 1.0),
        ("at risk", 0.9, 7.0),
        ("at risk", 0.5, 2.0),
        ("at risk", 0.87, 5.0),
        ("at risk", 0.86, 9.0),
    ]
    assert nearest(stood) == [3, 1, 4]
    assert nearest([("kept", None, 1.0), ("kept", 2.0, 1.0), ("at risk", 3.0, 1.0)]) == [0]
    assert nearest([]) == []


def test_of_points_that_cost_the_same_the_better_one_is_on_the_front():
    points = [(30.0, 5.0), (20.0, 5.0), (10.0, 9.0), (40.0, 4.0), (50.0, 4.0)]
    assert pareto_front(points) == [2, 1, 3]
    assert pareto_front(points, margin=1.0) == [2, 1]
