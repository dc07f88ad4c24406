"""Different people: named ones by date, and those expected in a month, against hand and draws."""

from datetime import date, timedelta
from math import sqrt

import numpy as np
import pytest

from idle_harbor.core.checks.people import people_findings
from idle_harbor.core.demand.attendance import WeightedDay, different_people, month_of
from idle_harbor.core.demand.spells import demand_of, pool_spells
from idle_harbor.core.weeks.summary import simulate
from idle_harbor.formats.plan.codec import plan_of
from tests.core.people import drop_in, group, over, pattern, plan_with
from tests.core.plans import WORKDAYS, document

MONDAY = date(2027, 3, 1)
SIGMAS = 4


def seldom(chance, **more):
    """People who come on a workday with a chance."""
    return [pattern(attendance=dict.fromkeys(WORKDAYS, chance), **more)]


def month(plan):
    horizon = over(MONDAY)
    return different_people(demand_of(plan, "main"), month_of(horizon))


def test_a_month_by_hand():
    """2 % on each workday, 365.25 / 12 / 7 × 5 = 21.741 of them: 1 − 0.98^21.741 = 35.5 %."""
    got = month(plan_with(group(people=200, patterns=seldom(0.02))))
    assert got.people == pytest.approx(200 * (1 - 0.98 ** (365.25 / 12 / 7 * 5)))
    assert got.people == pytest.approx(71.1, abs=0.05)


def test_everyone_who_always_comes_is_seen():
    assert month(plan_with(group(people=60))).people == 60


def test_those_who_open_the_pool_on_a_share_of_days_are_seen_less():
    uses = [{"group": "people", "pool": "main", "use": 0.1}]
    plan = plan_of(document(groups=[group(people=100)], access=uses))
    assert month(plan).people == pytest.approx(100 * (1 - 0.9 ** (365.25 / 12)))


def test_a_crew_that_rests_all_week_comes_within_the_month():
    """Two crews that take turns by the week: everyone is seen in a month, half in a week."""
    turn = {"every_days": 7, "order": ["day", None], "since": MONDAY.isoformat()}
    plan = plan_with(group(people=10, rotation=turn))
    assert month(plan).people == 10
    one_day = [WeightedDay(MONDAY, 1.0)]
    assert different_people(demand_of(plan, "main"), one_day).people == 5


def test_people_of_two_groups_are_one_person():
    """Of 100 and 50 thirty are the same, in one group by chance and always in the other."""
    groups = [group("a", 100, seldom(0.02)), group("b", 50)]
    uses = [{"group": g, "pool": "main"} for g in "ab"]
    plan = plan_of(
        document(groups=groups, access=uses, overlaps=[{"groups": ["a", "b"], "people": 30}])
    )
    alone = 70 * (1 - 0.98 ** (365.25 / 12 / 7 * 5))
    assert month(plan).people == pytest.approx(alone + 50)
    assert demand_of(plan, "main").named([MONDAY]) == 120


def test_expected_people_are_those_drawn():
    """200 draws of ten days with everything at once: crews, breaks, use, events, overlaps."""
    turn = {"every_days": 2, "order": ["day", None, "late"], "since": "2027-02-26"}
    late = pattern("late", begin="14:00", attendance=dict.fromkeys(WORKDAYS, 0.4))
    groups = [
        group("a", 60, seldom(0.06)),
        group("b", 45, [pattern(attendance={"mon": 0.5, "wed": 0.1}), late], rotation=turn),
        group("c", 30, seldom(0.9)),
    ]
    uses = [
        {"group": "a", "pool": "main", "use": 0.7},
        {"group": "b", "pool": "main"},
        {"group": "c", "pool": "main", "use": 0.1},
    ]
    events = [
        {
            "id": "e",
            "groups": ["c"],
            "factor": 1.6,
            "when": {"kind": "dates", "from": "2027-03-02", "to": "2027-03-03"},
        }
    ]
    plan = plan_of(
        document(
            groups=groups,
            access=uses,
            events=events,
            overlaps=[{"groups": ["a", "c"], "people": 20}],
        )
    )
    demand, horizon = demand_of(plan, "main"), over(MONDAY, 10)
    drawn = np.array(
        [len(np.unique(pool_spells(demand, horizon, seed).person)) for seed in range(1, 201)]
    )
    got = different_people(demand, [WeightedDay(day, 1.0) for day in horizon.counted_dates])
    assert abs(got.people - drawn.mean()) < SIGMAS * drawn.std() / sqrt(len(drawn))


def test_visitors_are_as_many_as_the_group_says_and_no_more_than_visits():
    visitors = drop_in(rate=2.0)
    visitors["demand"]["different_people"] = 900
    assert month(plan_with(visitors)).people == 900
    visitors["demand"]["different_people"] = 9_000
    assert month(plan_with(visitors)).people == pytest.approx(2 * 24 * 365.25 / 12)
    assert month(plan_with(drop_in())) == month(plan_with(drop_in(rate=9.0)))
    assert month(plan_with(drop_in())).unknown == ("counter",)


def licensed(*groups, per="active person"):
    licence = {"id": "writer", "monthly": "10", "per": per}
    return plan_with(*groups, prices={"licences": [licence]})


def licences(plan):
    return next(line.quantity for line in simulate(plan, "main", 2).cost.lines if "lic" in line.id)


def test_a_licence_per_person_seen_is_for_a_months_people():
    expected = 200 * (1 - 0.98 ** (365.25 / 12 / 7 * 5))
    plan = licensed(group(people=200, patterns=seldom(0.02)))
    assert licences(plan) == pytest.approx(expected)


def test_visitors_nobody_counts_are_told_of_and_not_billed():
    plan = licensed(drop_in(rate=6.0))
    assert licences(plan) == 0
    assert [f.check for f in people_findings(plan)] == ["visitors-uncounted"]
    visitors = drop_in(rate=6.0)
    visitors["demand"]["different_people"] = 250
    assert licences(licensed(visitors)) == 250
    assert people_findings(licensed(visitors)) == []
    assert people_findings(licensed(drop_in(), per="peak session")) == []


def test_growth_grows_named_people_too():
    """100 people at +100 % a year, a year later: 200 come, are licensed and have a host.

    Wednesday is a year after: 200. Sunday is 369 days after: 100 · 2^(369 / 365.25) = 201.4.
    """
    since = (MONDAY + timedelta(days=2) - timedelta(days=365)).isoformat()
    plan = licensed(group(people=100, growth={"per_year": 1.0, "since": since}), per="named person")
    assert licences(plan) == 201
    demand = demand_of(plan, "main")
    assert demand.named([MONDAY + timedelta(days=2)]) == 200
    from idle_harbor.core.weeks.kinds import compare_kinds

    kinds = {
        view.kind: view for view in compare_kinds(plan, plan.pools[0], "people", seeds=1).views
    }
    assert kinds["dedicated"].hosts == 201


def test_a_group_that_shrinks_below_the_people_it_shares():
    """Of 10 and 10 six are the same; the first group has 7 left, three of the six."""
    groups = [group("a", 10, growth={"per_year": -0.3, "since": "2026-03-01"}), group("b", 10)]
    uses = [{"group": g, "pool": "main"} for g in "ab"]
    plan = plan_of(
        document(groups=groups, access=uses, overlaps=[{"groups": ["a", "b"], "people": 6}])
    )
    demand, horizon = demand_of(plan, "main"), over(MONDAY, 1)
    assert demand.named([MONDAY]) == 7 + 10 - 3
    assert len(np.unique(pool_spells(demand, horizon, 1).person)) == 14
    assert different_people(demand, [WeightedDay(MONDAY, 1.0)]).people == pytest.approx(14)
