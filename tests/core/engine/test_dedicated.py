"""Dedicated pools against hand-worked cases: hosts of one's own, by list or at first logon.

A start takes 120 s, a stop 60 s; the policy looks every 300 s.
"""

from dataclasses import replace
from math import inf

import pytest

from idle_harbor.core.engine.kernel import codes as k
from idle_harbor.core.engine.kernel.codes import Action, Cause
from idle_harbor.core.errors import PlanError
from idle_harbor.core.figures.experience import own_wait_of
from idle_harbor.core.plan import DayType, Schedule
from idle_harbor.core.plan.schedules import ReadyBy
from idle_harbor.core.weeks.case import case_of
from idle_harbor.core.weeks.week import week
from idle_harbor.formats.plan.codec import plan_of
from tests.builders import actions, band, go, outcomes, pool, schedule, simple
from tests.core.people import group, pattern
from tests.core.plans import document
from tests.core.policy.deciding import Seen, decide_for

WHEN_EMPTY = band(floor=0, release="when empty")


def dedicated(rows, *, hosts=2, rules=WHEN_EMPTY, homes=(), **changes):
    over = pool(kind="dedicated", standing=hosts, session_limit=1, **changes)
    return go(simple(rows), over=over, rules=schedule(rules), homes=homes, seconds=10_000)


def test_a_knock_starts_the_persons_host_and_they_wait_for_it():
    result = dedicated([(0, 100, 1000)])
    assert outcomes(result) == [(k.OUT_CONNECTED, 120)]
    assert actions(result)[0] == (100, 0, Action.START, Cause.KNOCK)
    assert result.results["cause"].tolist() == [k.WaitCause.NOT_ASKED]
    # Signed off at 1,000, seen empty at the tick of 1,200, stopped until 1,260.
    assert actions(result)[1:] == [(1200, 0, Action.STOP, Cause.EMPTY)]


def test_a_second_knock_finds_the_host_starting():
    """The first spell gives up at 150; the second asks at 200 and has the host at 220."""
    result = dedicated([(0, 100, 150), (0, 200, 900)])
    assert outcomes(result) == [(k.OUT_REFUSED, -1), (k.OUT_CONNECTED, 20)]
    assert result.results["cause"].tolist() == [k.WaitCause.NOT_ASKED, k.WaitCause.STARTING]


def test_at_a_first_logon_a_ready_host_that_is_nobodys_is_taken():
    """Headroom 1 keeps host 1 ready, and host 2 once the first has found its owner."""
    rules = band(floor=0, headroom=1, release="when empty")
    result = dedicated([(0, 100, 5000), (1, 200, 5000), (2, 1000, 5000)], hosts=3, rules=rules)
    assert [w for _, w in outcomes(result)] == [0, 120, 0]
    assert result.results["host"].tolist() == [0, 1, 2]
    assert actions(result)[0] == (200, 1, Action.START, Cause.KNOCK)
    assert actions(result)[1] == (300, 2, Action.START, Cause.HEADROOM)


def test_three_of_four_own_logons_make_the_own_wait():
    """Each logon of person 0 but the first starts the host anew; person 1 logs on three times."""
    rows = [(0, at, at + 400) for at in (100, 2000, 4000, 6000)]
    few = [(1, at, at + 400) for at in (100, 2000, 4000)]
    assert own_wait_of(dedicated(rows + few)) == 120.0
    assert own_wait_of(dedicated(few)) is None
    always_on = dedicated(rows, rules=band(floor=2))
    assert own_wait_of(always_on) == 0.0


def test_an_own_wait_is_endless_for_whoever_is_mostly_refused():
    rows = [(0, at, at + 100) for at in (100, 2000, 4000, 6000)]
    assert own_wait_of(dedicated(rows)) == inf


def test_people_return_to_their_own_host_and_take_no_other():
    # Person 0 leaves at 400, their host stops from 600 to 660; person 1's stays on and is empty.
    rows = [(0, 100, 400), (1, 110, 500), (0, 1000, 2000)]
    result = dedicated(rows, rules=band(floor=0, release="when empty"), stop_seconds=60)
    assert result.results["host"].tolist() == [0, 1, 0]
    assert outcomes(result)[2] == (k.OUT_CONNECTED, 120)


def test_a_host_that_is_stopping_starts_again_as_soon_as_it_is_off():
    """Empty at 400, stopping 600 to 660; asked for at 610: started at 660, ready at 780."""
    result = dedicated([(0, 100, 400), (0, 610, 2000)])
    assert outcomes(result)[1] == (k.OUT_CONNECTED, 170)
    assert (660, 0, Action.START, Cause.KNOCK) in actions(result)


def test_the_floor_is_ready_by_the_clock_and_nobody_waits():
    result = dedicated([(0, 100, 400), (1, 100, 400)], rules=band(floor=2, release="when empty"))
    assert [w for _, w in outcomes(result)] == [0, 0]
    assert actions(result) == []


def test_a_host_runs_its_least_time():
    # Started at 100 and ready at 220; empty from 400 on, it stops at the first look after 30 min.
    result = dedicated([(0, 100, 400)], rules=replace(WHEN_EMPTY, least_run_minutes=30))
    assert actions(result)[1] == (2100, 0, Action.STOP, Cause.EMPTY)


@pytest.mark.parametrize(("release", "first"), [("keep all", 3300), ("when empty", 3000)])
def test_a_target_misses_no_host_that_is_kept(release, first):
    """Two by 01:00, starts of 240 s one after the other: one that is missing is started at 55
    minutes, two at 50. Host 1 has run since 340; where all are kept it is not missing."""
    day_type = DayType("all", tuple(range(7)), (band(floor=0, release=release),))
    day_type = replace(day_type, ready_by=(ReadyBy(3600, 2),))
    over = pool(kind="dedicated", standing=2, session_limit=1, start_mean_seconds=240.0, parallel=1)
    rules = Schedule("x", (day_type,), 300)
    result = go(simple([(0, 100, 9000)]), over=over, rules=rules, seconds=10_000)
    assert actions(result)[1] == (first, 1, Action.START, Cause.READY_BY)


def test_by_list_only_those_listed_have_a_host():
    result = dedicated(
        [(0, 100, 400), (1, 100, 400)], homes=((1, 0),), assign="by list", rules=band(floor=2)
    )
    assert outcomes(result) == [(k.OUT_REFUSED, -1), (k.OUT_CONNECTED, 0)]
    assert result.results["cause"].tolist() == [k.WaitCause.NO_HOST, 0]


def test_a_list_keeps_its_hosts_from_others_at_their_first_logon():
    result = dedicated([(0, 100, 400), (1, 200, 400)], homes=((1, 0),), rules=band(floor=2))
    assert result.results["host"].tolist() == [1, 0]


def test_more_people_than_hosts():
    result = dedicated([(0, 100, 900), (1, 110, 900), (2, 120, 900)], rules=band(floor=2))
    assert outcomes(result)[2][0] == k.OUT_REFUSED
    assert result.results["cause"][2] == k.WaitCause.NO_HOST


def test_patience_runs_out_while_the_host_starts():
    result = dedicated([(0, 100, 5000)], patience_seconds=60)
    assert outcomes(result) == [(k.OUT_REFUSED, -1)]
    # Ready at 220 for nobody: stopped at the next tick.
    assert actions(result)[1] == (300, 0, Action.STOP, Cause.EMPTY)


def test_decisions_are_pure():
    seen = Seen(
        ["off", "ready", "ready", "off", "ready", "starting"], [0, 0, 1, 0, 0, 0],
        owners=[7, 8, 9, -1, 6, 5], waits=[False, False, False, False, True, True],
    )  # fmt: skip

    def decided(floor, headroom, release):
        rows = decide_for(seen, dedicated=1, floor=floor, headroom=headroom, release=release)
        return [(row.host, row.action, row.cause) for row in rows]

    start, stop = int(Action.START), int(Action.STOP)
    assert decided(0, 0, 0) == []
    assert decided(0, 0, 1) == [(1, stop, int(Cause.EMPTY))]
    assert decided(1, 1, 1) == [
        (0, start, int(Cause.FLOOR)),
        (1, stop, int(Cause.EMPTY)),
        (3, start, int(Cause.HEADROOM)),
    ]


@pytest.mark.parametrize(
    ("state", "action"),
    [("off", Action.START), ("draining", Action.UNDRAIN), ("stopping", None), ("starting", None)],
)
def test_a_knock_is_about_one_host(state, action):
    rows = decide_for(Seen(["off", state], [0, 0], owners=[1, 2], knocking=1), dedicated=1, floor=2)
    assert [(row.host, row.action, row.cause) for row in rows] == (
        [(1, action, Cause.KNOCK)] if action else []
    )


def control(**changes):
    whole = document(
        sites=[{"id": "here", "time_zone": "UTC"}],
        groups=[group("a", 4, [pattern(attendance={"mon": 1.0})]), group("b", 2)],
        access=[{"group": "a", "pool": "main"}],
    )
    whole["pools"][0].update(
        {
            "kind": "dedicated",
            "session_limit": 1,
            "hosts": {"standing": 6},
            "time_zone": "UTC",
            **changes,
        }
    )
    return whole


def hosts_of(whole):
    result = week(case_of(plan_of(whole), "main"), 1)
    first = {}
    for person, host in zip(result.run.spells.person, result.run.results["host"], strict=True):
        first.setdefault(int(person), int(host))
    return first


def test_a_plans_list_gives_people_their_hosts():
    listed = [{"group": "a", "person": 1, "host": 6}, {"group": "a", "person": 3, "host": 1}]
    assert hosts_of(control()) == {0: 0, 1: 1, 2: 2, 3: 3}
    assert hosts_of(control(assigned=listed)) == {0: 5, 1: 1, 2: 0, 3: 2}
    assert hosts_of(control(assigned=listed, assign="by list")) == {0: 5, 1: -1, 2: 0, 3: -1}


@pytest.mark.parametrize(("changes", "pointer", "says"), [
    ({"session_limit": 2}, "/pools/0/session_limit", "one person's"),
    ({"assigned": [{"group": "a", "person": 5, "host": 1}]}, "/pools/0/assigned/0/person", "4"),
    ({"assigned": [{"group": "a", "person": 1, "host": 7}]}, "/pools/0/assigned/0/host", "6"),
    ({"assigned": [{"group": "a", "person": k, "host": 1} for k in (1, 2)]},
     "/pools/0/assigned/1/host", "twice"),
    ({"assigned": [{"group": "a", "person": 1, "host": k} for k in (1, 2)]},
     "/pools/0/assigned/1/person", "twice"),
    ({"kind": "shared", "assigned": [{"group": "a", "person": 1, "host": 1}]},
     "/pools/0/assigned", "nobody's"),
])  # fmt: skip
def test_lists_that_cannot_be(changes, pointer, says):
    with pytest.raises(PlanError) as caught:
        plan_of(control(**changes))
    fault = next(f for f in caught.value.faults if f.pointer == pointer)
    assert says in fault.message + fault.remedy


def test_too_few_hosts_are_found_before_anybody_is_turned_away():
    from idle_harbor.core.checks.people import people_findings

    short = plan_of(control(assign="by list"))
    found = {f.check: f for f in people_findings(short)}
    assert "4 people are turned away" in found["no-host"].matters
    assert "no-host" not in {f.check for f in people_findings(plan_of(control()))}
