"""Hand-worked cases for the policy tick, host starts and stops, billing, and the parts."""

from dataclasses import replace

from idle_harbor.core.engine.kernel import codes as k
from idle_harbor.core.engine.kernel.codes import Action, Cause
from idle_harbor.core.figures.hosthours import host_hours_of
from tests.builders import SIZE, actions, band, go, outcomes, pool, schedule, simple, spells

NIGHT = band(floor=0, release="when empty", rule="fill")


def test_the_first_tick_comes_one_tick_after_the_start():
    # Nothing is ready for an empty pool with floor 0. A asks at 10; the tick at 300 starts host 0,
    # ready 120 s later: a wait of 410.
    result = go(simple([(0, 10, 5000)]), rules=schedule(NIGHT))
    assert actions(result)[0] == (300, 0, Action.START, Cause.CEILING)
    assert outcomes(result) == [(k.OUT_CONNECTED, 410)]
    assert result.results["cause"].tolist() == [k.WaitCause.NOT_ASKED]


def test_waiting_while_a_host_starts_says_so():
    result = go(simple([(0, 10, 5000), (1, 350, 5000)]), rules=schedule(NIGHT))
    assert result.results["cause"].tolist() == [k.WaitCause.NOT_ASKED, k.WaitCause.STARTING]
    assert outcomes(result)[1] == (k.OUT_CONNECTED, 70)


def test_floor_hosts_are_ready_when_the_horizon_starts():
    result = go(simple([(0, 0, 100)]), rules=schedule(band(floor=1)))
    assert outcomes(result) == [(k.OUT_CONNECTED, 0)]
    assert result.total(k.L_READY) == 86_400


def test_headroom_alone_keeps_a_host_ready_from_the_start():
    result = go(simple([(0, 0, 100)]), rules=schedule(band(floor=0, headroom=1)))
    assert outcomes(result) == [(k.OUT_CONNECTED, 0)]


def test_fill_ceiling_starts_the_next_host():
    # Limit 10, ceiling 70 %: 7 people fit one host, the 8th asks for another.
    over = pool(standing=3, session_limit=10)
    rules = schedule(band(floor=1, fill_ceiling=0.7))
    seven = go(simple([(n, 100, 9000) for n in range(7)]), over=over, rules=rules)
    eight = go(simple([(n, 100, 9000) for n in range(8)]), over=over, rules=rules)
    assert actions(seven) == []
    assert actions(eight) == [(300, 1, Action.START, Cause.CEILING)]


def test_headroom_starts_hosts_beyond_what_people_fill():
    # 8 people + 15 free slots = 23 > 2 × 10: three hosts; the ceiling of 100 % asks for one.
    over = pool(standing=4, session_limit=10)
    rules = schedule(band(floor=1), band(start=60, headroom=15, floor=1), tick=300)
    result = go(simple([(n, 100, 9000) for n in range(8)]), over=over, rules=rules)
    started = [(300, 1, Action.START, Cause.HEADROOM), (300, 2, Action.START, Cause.HEADROOM)]
    assert actions(result) == started


def test_a_new_band_raises_the_floor_at_its_first_tick():
    result = go(simple([]), NIGHT, band(start=3600, floor=2))
    assert actions(result) == [
        (3600, 0, Action.START, Cause.FLOOR),
        (3600, 1, Action.START, Cause.FLOOR),
    ]


def test_when_empty_stops_the_highest_empty_host_only():
    # Spread: A on host 0, B on host 1. B leaves at 1,000; at 1,200 one host is over: host 1 stops.
    rules = schedule(band(floor=2), band(start=900, floor=0, release="when empty"))
    result = go(simple([(0, 100, 5000), (1, 100, 1000)]), over=pool(standing=2), rules=rules)
    first = actions(result)[0]
    assert first == (1200, 1, Action.STOP, Cause.EMPTY)
    assert result.lanes[result.lanes["host"] == 1][-1]["time"] == 1260


def test_when_empty_leaves_hosts_that_are_used():
    rules = schedule(band(floor=2), band(start=900, floor=0, release="when empty"))
    result = go(simple([(0, 100, 5000), (1, 100, 5000)]), over=pool(standing=2), rules=rules)
    assert [a for a in actions(result) if a[0] < 5000] == []


def test_drain_takes_the_least_loaded_and_stops_it_once_empty():
    # Hosts 0 and 1 hold two and one of four. From 900 on one host is enough: host 1 drains at 900,
    # takes nobody, empties at 2,000 and stops at the next tick, 2,100.
    over = pool(standing=2, session_limit=4)
    rules = schedule(band(floor=2), band(start=900, floor=0, release="drain"))
    rows = simple([(0, 100, 5000), (1, 110, 2000), (2, 120, 5000), (3, 1000, 3000)])
    result = go(rows, over=over, rules=rules)
    assert result.results["host"].tolist() == [0, 1, 0, 0]
    assert actions(result)[:2] == [
        (900, 1, Action.DRAIN, Cause.RELEASE),
        (2100, 1, Action.STOP, Cause.DRAINED),
    ]
    assert result.total(k.L_ON_DRAINING) == 1100


def test_drain_keeps_the_headroom():
    # Two people on two hosts of four; draining one leaves 3 free of 4: not below a headroom of 3,
    # below one of 4 (and then two hosts are wanted anyway).
    over = pool(standing=2, session_limit=4)
    rows = simple([(0, 100, 5000), (1, 100, 5000)])
    for headroom, drained in ((2, 1), (4, 0)):
        rules = schedule(
            band(floor=2), band(start=900, floor=0, headroom=headroom, release="drain")
        )
        result = go(rows, over=over, rules=rules)
        assert len([a for a in actions(result) if a[0] == 900]) == drained


def test_a_draining_host_is_taken_back_before_another_is_started():
    over = pool(standing=3, session_limit=2)
    rules = schedule(
        band(floor=2), band(start=900, floor=0, release="drain"), band(start=1500, floor=2)
    )
    rows = simple([(0, 100, 9000), (1, 100, 9000)])
    result = go(rows, over=over, rules=rules)
    assert [a for a in actions(result) if 900 <= a[0] <= 1500] == [
        (900, 1, Action.DRAIN, Cause.RELEASE),
        (1500, 1, Action.UNDRAIN, Cause.FLOOR),
    ]


def test_taking_a_host_back_serves_who_waits_at_once():
    # One slot each. Host 1 drains with B on it and room for nobody; C waits from 1,000 and the
    # tick at 1,200 wants 3 hosts: host 1 back (full), host 2 started, ready at 1,320.
    over = pool(standing=3, session_limit=2)
    rules = schedule(band(floor=2), band(start=900, floor=0, release="drain", fill_ceiling=1.0))
    rows = simple([(0, 100, 9000), (1, 100, 9000), (2, 1000, 9000), (3, 1000, 9000)])
    result = go(rows, over=over, rules=rules)
    # At 1,000 host 0 takes person 2; person 3 waits until host 1 is taken back at 1,200.
    assert outcomes(result)[3] == (k.OUT_CONNECTED, 200)
    assert result.results["cause"].tolist()[3] == k.WaitCause.NOT_ASKED


def test_keep_all_lets_no_host_go():
    rules = schedule(band(floor=2), band(start=900, floor=0, release="keep all"))
    assert actions(go(simple([]), rules=rules)) == []


def test_the_pool_is_exhausted():
    result = go(simple([(n, 100 + n, 900) for n in range(5)]))
    assert result.results["cause"].tolist() == [0, 0, 0, 0, k.WaitCause.EXHAUSTED]


def test_start_and_stop_are_powered_and_billed():
    # Started at 300, ready at 420, used until 1,000, stopped at the tick at 1,200, off at 1,260.
    result = go(simple([(0, 10, 1000)]), rules=schedule(NIGHT))
    assert result.total(k.L_STARTING) == 120
    assert result.total(k.L_READY) == 780
    assert result.total(k.L_STOPPING) == 60
    hours = host_hours_of(result, 0.0)
    assert hours.powered * 3600 == 960
    assert hours.in_use * 3600 == 580
    assert hours.readiness * 3600 == 200
    assert hours.transit * 3600 == 180


def test_billing_rounds_each_run_and_has_a_least():
    night = schedule(NIGHT)
    rows = simple([(0, 10, 1000)])  # one run of 960 s
    step = go(rows, rules=night, size=replace(SIZE, billing_step_seconds=600))
    least = go(rows, rules=night, size=replace(SIZE, billing_minimum_seconds=3600))
    assert step.rounding_seconds == 1200 - 960
    assert least.rounding_seconds == 3600 - 960


def test_runs_across_the_edge_of_the_horizon_are_not_rounded():
    size = replace(SIZE, billing_step_seconds=3600)
    ready_all_day = go(simple([]), rules=schedule(band(floor=1)), size=size)
    assert ready_all_day.rounding_seconds == 0


def test_parts_of_a_worked_example_add_up():
    # Four people, two hosts of two, three hours. Spread, keep all.
    # A, B 0:10–2:10 on hosts 0, 1. C 0:30–1:00 on 0. D 0:40–0:50 on 1, walks away: idle until
    # 1:00 (600 s), disconnected until 1:20 (1,200 s).
    rows = spells(
        [(0, 600, 7800, 0), (1, 600, 7800, 0), (2, 1800, 3600, 0), (3, 2400, 3000, k.WALK_AWAY)]
    )
    result = go(rows, seconds=10_800)
    hours = host_hours_of(result, 0.0)
    # active: 2 in 600–1800, 3 in 1800–2400, 4 in 2400–3000, 3 in 3000–3600, 2 in 3600–7800
    in_use = 1 * 1200 + 2 * 1800 + 1 * 4200
    # all sessions: 2, 3, 4, 4, then 3 in 3600–4800, 2 until 7800
    everybody = 1 * 1200 + 2 * 1800 + 2 * 1200 + 1 * 3000
    occupied = 2 * 7200
    assert round(hours.in_use * 3600) == in_use
    assert round(hours.lingering * 3600) == everybody - in_use
    assert round(hours.fragmentation * 3600) == occupied - everybody
    assert round(hours.readiness * 3600) == 2 * 10_800 - occupied
    assert round(hours.powered * 3600) == 2 * 10_800


def test_a_run_is_repeated_where_a_host_starts_more_often_than_draws_were_made():
    # Every person comes alone for ten minutes, every half hour: the one host starts 47 times.
    rows = simple([(n, 1800 * n, 1800 * n + 900) for n in range(48)])
    result = go(rows, over=pool(standing=1), rules=schedule(NIGHT))
    assert len([a for a in actions(result) if a[2] == Action.START]) > 40
    assert (result.results["outcome"] == k.OUT_CONNECTED).all()
