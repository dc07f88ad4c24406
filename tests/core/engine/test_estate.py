"""Pools that share a throttle or a quota are simulated together."""

from dataclasses import replace
from datetime import date

import numpy as np
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from idle_harbor.core.base.stopping import while_wanted
from idle_harbor.core.calendar.clock import Horizon
from idle_harbor.core.engine import together
from idle_harbor.core.engine.kernel import codes as k
from idle_harbor.core.engine.kernel.codes import DRILL_FAILS, DRILL_MUTES, WaitCause
from idle_harbor.core.engine.run import Run, run_estate
from idle_harbor.core.engine.setting import Drill, Estate, Limit, Member, Setting
from idle_harbor.core.engine.together import Worlds
from tests.builders import PROFILE, SIZE, band, pool, schedule, simple, story
from tests.core.engine.drawn import LENGTH, demands, settings_of_runs
from tests.sizes import size

ON = (k.STARTING, k.READY, k.DRAINING, k.STOPPING, k.RESETTING)


def member(setting: Setting, people=None, *, later: int = 0, lasts: int = LENGTH) -> Member:
    """A pool whose horizon begins so many seconds later than the estate's."""
    horizon = Horizon("UTC", date(1970, 1, 1), 0, 1, later, later, later + lasts)
    return Member(setting, horizon, simple([]) if people is None else people, record=True)


def waking(at: int, hosts: int = 2, drills=(), **changes) -> Setting:
    """A pool that wants all its hosts from a second of its horizon on, for 100 s a start."""
    bands = (band(floor=0), band(start=at, floor=hosts))
    given = pool(standing=hosts, start_mean_seconds=100.0, **changes)
    return Setting(given, schedule(*bands, tick=60), SIZE, (PROFILE,), drills=tuple(drills))


def throttled(most: int, *members: Member) -> tuple[Run, ...]:
    limit = Limit("throttle", most, tuple(range(len(members))))
    return run_estate(Estate(members, (limit,)), 1)


def quota(most: float, *members: Member) -> tuple[Run, ...]:
    limit = Limit("quota", most, tuple(range(len(members))))
    return run_estate(Estate(members, (limit,)), 1)


def test_starts_beyond_a_throttle_wait_in_the_order_of_asking_then_of_pools_and_hosts():
    one, two = throttled(2, member(waking(600)), member(waking(600)))
    assert story(one, 0) == story(one, 1) == "0 off, 600 starting, 700 ready"
    assert story(two, 0) == story(two, 1) == "0 off, 600 queued, 700 starting, 800 ready"
    one, two = throttled(1, member(waking(600)), member(waking(600, 1)))
    assert story(one, 1) == "0 off, 600 queued, 700 starting, 800 ready"
    assert story(two, 0) == "0 off, 600 queued, 800 starting, 900 ready"
    one, two = throttled(1, member(waking(660)), member(waking(600)))
    assert story(two, 0) == "0 off, 600 starting, 700 ready"
    assert story(two, 1) == "0 off, 600 queued, 700 starting, 800 ready"
    assert story(one, 0) == "0 off, 660 queued, 800 starting, 900 ready"
    assert story(one, 1) == "0 off, 660 queued, 900 starting, 1_000 ready"


def test_starts_that_are_given_count_before_they_begin():
    """Both starts of the second pool are over at 700; the first pool may take one of them."""
    one, two = throttled(2, member(waking(660, start_parallel=1)), member(waking(600)))
    assert story(two, 0) == story(two, 1) == "0 off, 600 starting, 700 ready"
    assert story(one, 0) == "0 off, 660 queued, 700 starting, 800 ready"
    assert story(one, 1) == "0 off, 660 queued, 800 starting, 900 ready"


def test_a_pool_that_gives_a_start_waits_until_it_has_been_used():
    """The second pool looks every 600 s; its start from 700 to 800 is over when the first asks."""
    bands = (band(floor=0), band(start=600, floor=1), band(start=900, floor=2))
    often = waking(600)
    often = replace(often, schedule=schedule(*bands, tick=60))
    seldom = waking(600, 1)
    seldom = replace(seldom, schedule=replace(seldom.schedule, tick_seconds=600))
    one, two = throttled(1, member(often), member(seldom))
    assert story(two, 0) == "0 off, 600 queued, 700 starting, 800 ready"
    assert story(one, 1) == "0 off, 900 starting, 1_000 ready"


def test_pools_of_other_time_zones_ask_at_their_own_hour():
    """A pool's own seconds are not those of the estate."""
    one, two = throttled(1, member(waking(4_200, 1), later=3_600), member(waking(4_200, 1)))
    assert story(one, 0) == "0 off, 600 starting, 700 ready"
    assert story(two, 0) == "0 off, 4_200 queued, 4_300 starting, 4_400 ready"


def test_a_quota_holds_hosts_back_until_others_are_off():
    """Two hosts of 8 vCPU fit. The first pool's host stops at 1,200, which takes a minute."""
    bands = (band(floor=1), band(start=1200, floor=0, release="when empty"))
    leaving = Setting(pool(standing=1), schedule(*bands, tick=60), SIZE, (PROFILE,))
    people = simple([(0, 650, 5000)])
    one, two = quota(16.0, member(leaving), member(waking(600), people))
    assert story(one, 0) == "0 ready, 1_200 stopping, 1_260 off"
    assert story(two, 0) == "0 off, 600 starting, 700 ready"
    assert story(two, 1) == "0 off, 600 queued, 1_260 starting, 1_360 ready"
    assert two.results["cause"].tolist() == [WaitCause.QUOTA]
    assert two.total(k.L_READY) == (LENGTH - 700) + (LENGTH - 1_360)


def test_a_pool_that_waits_runs_no_further_than_others_may_stop_hosts():
    """The first pool's second host is created at 1,150. The second pool looks at 1,170, and might
    run ahead; but the first stops a host at its look of 1,200, for which the second pool waits."""
    gone = band(start=1200, floor=0, release="when empty")
    bands = (band(floor=1), band(start=600, floor=2), gone)
    created = {"surge": 1, "create_mean_seconds": 550.0, "create_cv": 0.0, "script_seconds": 0}
    leaving = Setting(pool(standing=1, **created), schedule(*bands, tick=60), SIZE, (PROFILE,))
    rules = schedule(band(floor=1), band(start=600, floor=2), tick=130)
    waiting = replace(waking(600), schedule=rules)
    one, two = quota(16.0, member(leaving), member(waiting))
    assert story(one, 0) == "0 ready, 1_200 stopping, 1_260 off"
    assert story(one, 1).startswith("0 absent, 600 creating, 1_150 queued")
    assert story(two, 1) == "0 off, 650 queued, 1_260 starting, 1_360 ready"
    assert two.total(k.L_READY) == LENGTH + (LENGTH - 1_360)


def test_what_a_week_begins_with_is_within_the_quota_too():
    three = Setting(pool(standing=3), schedule(band(floor=3)), SIZE, (PROFILE,))
    one, two = quota(32.0, member(three), member(three))
    assert [story(one, host) for host in range(3)] == ["0 ready"] * 3
    assert [story(two, host) for host in range(3)] == ["0 ready", "0 queued", "0 queued"]


def test_a_pool_whose_horizon_is_over_holds_nothing():
    """The first pool's host is starting when its horizon ends."""
    one, two = throttled(1, member(waking(600, 1), lasts=650), member(waking(600, 1)))
    assert story(one, 0) == "0 off, 600 starting"
    assert story(two, 0) == "0 off, 600 queued, 650 starting, 750 ready"
    one, two = quota(8.0, member(waking(600, 1), lasts=900), member(waking(600, 1)))
    assert story(two, 0) == "0 off, 600 queued, 900 starting, 1_000 ready"


def test_hosts_that_fail_give_back_what_they_hold():
    drill = Drill(630, 10_000, hosts=1, kind=DRILL_FAILS)
    for limited in (lambda *pools: throttled(1, *pools), lambda *pools: quota(8.0, *pools)):
        one, two = limited(member(waking(600, 1, [drill])), member(waking(600, 1)))
        assert story(one, 0).startswith("0 off, 600 starting, 630 failed")
        assert story(two, 0) == "0 off, 600 queued, 630 starting, 730 ready"


def test_a_host_that_fails_while_it_waits_asks_again_behind_the_others():
    """Its first place in the queue is not its own any more."""
    drill = Drill(630, 20, zone=1, kind=DRILL_FAILS)
    own = replace(waking(600, 3, [drill], start_parallel=1), zones=3)
    for (run,) in (run_estate(Estate((member(own),)), 1), throttled(1, member(own))):
        assert story(run, 0) == "0 off, 600 starting, 700 ready"
        assert story(run, 1) == (
            "0 off, 600 queued, 630 failed, 650 off, 660 queued, 800 starting, 900 ready"
        )
        assert story(run, 2) == "0 off, 600 queued, 700 starting, 800 ready"


def test_a_host_whose_agent_does_not_register_starts_no_longer():
    drill = Drill(500, 1_000, hosts=1, kind=DRILL_MUTES)
    one, two = throttled(1, member(waking(600, 1, [drill])), member(waking(600)))
    assert story(one, 0) == "0 off, 600 starting, 1_500 ready"
    assert story(two, 0) == "0 off, 600 queued, 700 starting, 800 ready"
    assert story(two, 1) == "0 off, 600 queued, 800 starting, 900 ready"


def test_a_throttle_and_a_quota_bind_together_and_hold_up_nobody_else():
    """The first pool's second host waits for the quota; the third pool goes before it."""
    members = (member(waking(600)), member(waking(600, 1)), member(waking(660, 1)))
    limits = (Limit("throttle", 1, (0, 1, 2)), Limit("quota", 8.0, (0,)))
    one, two, three = run_estate(Estate(members, limits), 1)
    assert story(one, 0) == "0 off, 600 starting, 700 ready"
    assert story(one, 1) == "0 off, 600 queued"
    assert story(two, 0) == "0 off, 600 queued, 700 starting, 800 ready"
    assert story(three, 0) == "0 off, 660 queued, 800 starting, 900 ready"


def same(one: Run, two: Run) -> bool:
    tables = ("results", "bins", "peaks", "actions", "lanes")
    equal = all(getattr(one, x).tobytes() == getattr(two, x).tobytes() for x in tables)
    return equal and one.events == two.events


@settings(max_examples=size(40, 240))
@given(settings_of_runs(), demands(), settings_of_runs(), demands())
def test_limits_that_nobody_reaches_change_nothing(one, here, two, there):
    members = (member(one, here), member(two, there, later=500))
    wide = (Limit("throttle", 1_000, (0, 1)), Limit("quota", 1e5, (0, 1)))
    alone, together = run_estate(Estate(members), 1), run_estate(Estate(members, wide), 1)
    assert all(same(*pair) for pair in zip(alone, together, strict=True))


@settings(max_examples=size(40, 240))
@given(settings_of_runs(), demands(), st.integers(1, 3))
def test_a_throttle_of_one_pool_is_its_parallel_starts(setting, people, most):
    def starts(parallel):
        start = replace(setting.pool.start, parallel=parallel)
        return member(replace(setting, pool=replace(setting.pool, start=start)), people)

    # The policy plans with a pool's own parallel starts, so the pool has to know of the throttle.
    (alone,) = run_estate(Estate((starts(most),)), 1)
    (shared,) = throttled(most, starts(most))
    assert same(alone, shared)


def without_knock(setting: Setting) -> Setting:
    """Nobody starts hosts but the policy at its ticks, so that the pool runs ahead of others."""
    kinds = tuple(
        replace(each, bands=tuple(replace(band, knock=False) for band in each.bands))
        for each in setting.schedule.day_types
    )
    return replace(setting, schedule=replace(setting.schedule, day_types=kinds))


any_setting = settings_of_runs()
members_of_estates = st.tuples(
    any_setting | any_setting.map(without_knock), demands(), st.sampled_from([0, 700])
)


def in_step(monkeypatch, estate: Estate) -> tuple[Run, ...]:
    """With every pool going on second by second with the others, as if people started hosts."""
    own = Worlds._shares
    with monkeypatch.context() as patch:
        patch.setattr(Worlds, "_shares", lambda self, place: own(self, place) | {"knocks": 1})
        return run_estate(estate, 1)


def looked_up_often(monkeypatch, estate: Estate, seconds: int) -> tuple[Run, ...]:
    with monkeypatch.context() as patch, while_wanted(lambda: True):
        patch.setattr(together, "look_up_every", lambda *_: seconds)
        return run_estate(estate, 1)


@settings(max_examples=size(25, 400), suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(
    pools=st.lists(members_of_estates, min_size=2, max_size=4),
    starts=st.integers(1, 4),
    on=st.integers(1, 12),
    pace=st.integers(1, 900),
)
def test_pools_that_run_ahead_do_what_they_do_side_by_side(monkeypatch, pools, starts, on, pace):
    members = tuple(member(s, people, later=later) for s, people, later in pools)
    everyone = tuple(range(len(members)))
    limits = (Limit("throttle", starts, everyone), Limit("quota", 8.0 * on, everyone[1:]))
    estate = Estate(members, limits)
    done = run_estate(estate, 1)
    for one, other in zip(done, in_step(monkeypatch, estate), strict=True):
        assert host_states(one, 0) == host_states(other, 0)
        assert np.allclose(one.bins, other.bins) and np.array_equal(one.peaks, other.peaks)
        assert np.array_equal(one.results, other.results)
    often = looked_up_often(monkeypatch, estate, pace)
    assert all(same(*pair) for pair in zip(done, often, strict=True))


def host_states(done: Run, offset: int) -> list[tuple[int, int, int]]:
    """When which host was in which state at the end of a second, in seconds of the estate."""
    rows = done.lanes[["time", "host", "state"]].tolist()
    last = {(time + offset, host): state for time, host, state in rows}
    return [(*at, state) for at, state in last.items()]


@settings(max_examples=size(60, 360))
@given(
    st.lists(
        st.tuples(settings_of_runs(), demands(), st.sampled_from([0, 700])), min_size=2, max_size=3
    ),
    st.integers(1, 4),
    st.integers(1, 12),
)
def test_shared_limits_are_kept_and_leave_nothing_unused(pools, starts, on):
    """At the end of every second no limit is passed, and no host waits that might start."""
    pools = [(replace(s, drills=()), people, later) for s, people, later in pools]
    members = tuple(member(s, people, later=later) for s, people, later in pools)
    everyone = tuple(range(len(members)))
    limits = (Limit("throttle", starts, everyone), Limit("quota", 8.0 * on, everyone))
    done = run_estate(Estate(members, limits), 1)
    changes = sorted(
        (time, whose, host, state)
        for whose, (run, (_, _, later)) in enumerate(zip(done, pools, strict=True))
        for time, host, state in host_states(run, later)
    )
    now: dict[tuple[int, int], int] = {}
    for place, (time, whose, host, state) in enumerate(changes):
        now[whose, host] = state
        last = place + 1 == len(changes) or changes[place + 1][0] > time
        if not last or time >= LENGTH:
            continue
        starting = [each for each in now if now[each] == k.STARTING]
        powered = sum(state in ON for state in now.values())
        assert len(starting) <= starts and powered <= on
        if len(starting) < starts and powered < on:
            for waiting in (each for each in now if now[each] == k.QUEUED):
                own = members[waiting[0]].setting.pool.start.parallel
                assert own is not None
                assert sum(each[0] == waiting[0] for each in starting) >= own
