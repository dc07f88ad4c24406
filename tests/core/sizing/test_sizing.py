"""Hosts for the peak, and the sizing of whole pools."""

from dataclasses import replace
from decimal import Decimal
from math import ceil

import pytest
from hypothesis import given
from hypothesis import strategies as st

from idle_harbor.core.calendar.clock import DAY
from idle_harbor.core.demand.crowd import affordable
from idle_harbor.core.demand.spells import demand_of, pool_spells
from idle_harbor.core.engine.kernel import codes as k
from idle_harbor.core.engine.kernel.codes import DISCONNECT, WALK_AWAY
from idle_harbor.core.engine.run import run
from idle_harbor.core.engine.setting import Setting
from idle_harbor.core.errors import TooMuchError, UnknownNameError
from idle_harbor.core.plan.lookup import find_pool
from idle_harbor.core.sizing.ample import ample_of
from idle_harbor.core.sizing.hosts import sizing_of
from idle_harbor.core.sizing.peak import Wish, check_sizing, sizing_horizon, spells_by_pool
from idle_harbor.core.sizing.zone_loss import hosts_for
from idle_harbor.demo.scenario import demo_plan
from idle_harbor.formats.plan.codec import plan_of
from tests.builders import PROFILE, SIZE, band, horizon, pool, schedule, spells, varied
from tests.core.plans import document, plan

WEEK = ("mon", "tue", "wed", "thu", "fri", "sat", "sun")
PLACES = [{"id": "here", "area": "A", "zones": ["a", "b", "c"]}]


def test_hosts_by_hand():
    assert hosts_for(130, 9) == 15  # the classic mistake: twelve hosts of nine hold 108
    assert hosts_for(130, 9, spare=2) == 17
    assert hosts_for(130, 9, zones=3) == 23  # 15 × 3 / 2
    assert hosts_for(130, 9, spare=10, zones=3) == 25
    assert hosts_for(130, 9, zones=1) == 15
    assert hosts_for(0, 9, zones=3) == 0


@given(st.integers(0, 5_000), st.integers(1, 40), st.integers(2, 6))
def test_after_the_loss_of_the_largest_zone_the_peak_fits_and_with_one_host_fewer_it_does_not(
    peak, limit, zones
):
    hosts = hosts_for(peak, limit, zones=zones)
    assert (hosts - ceil(hosts / zones)) * limit >= peak
    if hosts > 0:
        fewer = hosts - 1
        assert (fewer - ceil(fewer / zones)) * limit < peak


class TestAmple:
    def test_by_hand(self):
        """Person 0 disconnects at 500 and lives until 1,700; person 1 is there from 600 to 800;
        person 2 walks away at 700 and lives until 700 + 600 + 1,200."""
        rows = spells([(0, 100, 500, DISCONNECT), (1, 600, 800, 0), (2, 650, 700, WALK_AWAY)])
        found = ample_of(rows, pool(), (PROFILE,), horizon())
        assert (found.peak, found.active_at_peak) == (3, 2)
        assert found.session_hours * 3600 == pytest.approx((1700 - 100) + 200 + (2500 - 650))
        assert found.hours_by_profile[0] * 3600 == pytest.approx(400 + 200 + 50)

    def test_who_returns_in_time_has_one_session(self):
        rows = spells([(0, 100, 500, DISCONNECT), (0, 900, 1000, 0)])
        found = ample_of(rows, pool(), (PROFILE,), horizon())
        assert found.peak == 1 and found.session_hours * 3600 == pytest.approx(900)

    def test_who_returns_too_late_has_another(self):
        rows = spells([(0, 100, 500, DISCONNECT), (0, 1700, 1800, 0)])
        found = ample_of(rows, pool(), (PROFILE,), horizon())
        assert found.session_hours * 3600 == pytest.approx(1700)

    def test_nobody(self):
        found = ample_of(spells([]), pool(), (PROFILE,), horizon())
        assert (found.peak, found.active_share, found.session_hours) == (0, 1.0, 0.0)

    @pytest.mark.parametrize("seed", [1, 2, 3])
    def test_as_the_engine_has_it_with_ample_hosts(self, seed):
        """A week of the small plan on 60 hosts that are always ready: the same peak, the same
        session-seconds."""
        whole = plan()
        main = find_pool(whole, "main")
        days = sizing_horizon(whole, main)
        drawn = pool_spells(demand_of(whole, "main"), days, seed)
        quick = tuple(varied(p, logon_seconds=0.0) for p in whole.profiles)
        over = varied(main, standing=60, session_limit=1, reconnect_seconds=0)
        setting = Setting(over, schedule(band(floor=60)), SIZE, quick)
        result = run(setting, days, drawn, seed)
        found = ample_of(drawn, over, quick, days)
        assert found.peak == result.counted_peaks()[:, k.L_ALL].max()
        assert found.session_hours * 3600 == pytest.approx(result.total(k.L_ALL))


class TestPicture:
    def test_every_size_is_seen_against_the_same_peak(self):
        small = {"id": "sloop", "vcpu": 8, "memory_gib": 32, "hourly": "0.4"}
        large = {"id": "ketch", "vcpu": 16, "memory_gib": 64, "hourly": "0.9"}
        whole = plan(sizes=[small, large | {"committed": [{"years": 3, "hourly": "0.3"}]}])
        sizing = sizing_of(whole, find_pool(whole, "main"), Wish(seeds=4))
        own, other = sizing.sizes
        peak = int(sizing.crest.peak.value)
        assert own.limit == 8 and other.limit == other.density.sessions
        assert own.hosts[own.limit - 1] == ceil(peak / 8)
        assert own.per_session_hour == Decimal("0.4") / 8
        assert other.break_even == ((3, pytest.approx(1 / 3)),)
        assert sizing.holds == 80 and sizing.lacking == 0

    def test_a_limit_beyond_the_curves_has_its_own_hosts_and_slack(self):
        """Curves go to 200 sessions; a limit of 1,000 holds the peak on one host all the same."""
        whole = plan()
        wide = replace(find_pool(whole, "main"), session_limit=1000)
        own = sizing_of(whole, wide, Wish(seeds=2)).sizes[0]
        assert (own.limit, len(own.curves["memory"])) == (1000, 200)
        assert own.hosts[own.limit - 1] == 1 < own.hosts[7]
        # Memory is linear in sessions: what it wants of 200 says what it wants of 1,000.
        first, last = own.curves["memory"][0], own.curves["memory"][-1]
        assert own.slack["memory"] == pytest.approx(1 - (last + 800 * (last - first) / 199))

    def test_too_few_hosts_are_told(self):
        whole = plan()
        few = varied(find_pool(whole, "main"), standing=4)
        sizing = sizing_of(whole, few, Wish(seeds=4))
        assert sizing.lacking == int(sizing.crest.peak.value) - 32 > 0

    def test_tuning_the_image_makes_room(self):
        whole = plan(images=[{"id": "i", "tuning": {"cpu": 0.7, "memory": 0.5}}])
        tuned = sizing_of(whole, replace(find_pool(whole, "main"), image="i"), Wish(seeds=2))
        plain = sizing_of(whole, find_pool(whole, "main"), Wish(seeds=2))
        view = tuned.sizes[0]
        assert view.untuned == plain.sizes[0].density.sessions
        assert view.density.by_resource["cpu"] > plain.sizes[0].density.by_resource["cpu"]

    def test_a_zone_lost_asks_for_more_hosts(self):
        whole = plan(places=PLACES)
        here = replace(find_pool(whole, "main"), place="here")
        calm = sizing_of(whole, here, Wish(seeds=2))
        lost = sizing_of(whole, here, Wish(seeds=2, lose_zone=True))
        assert calm.after_loss == (10 - 4) * 8
        least = calm.sizes[0].hosts[7]
        assert lost.sizes[0].hosts[7] == ceil(least * 3 / 2)

    def test_one_group_of_a_pool(self):
        whole = plan()
        with pytest.raises(UnknownNameError, match="group in pool 'main'"):
            sizing_of(whole, find_pool(whole, "main"), Wish(group="nobody"))
        alone = sizing_of(whole, find_pool(whole, "main"), Wish(group="people", seeds=2))
        assert alone.crest.people == 60

    def test_a_place_without_the_size_is_told(self):
        there = {"id": "there", "area": "A", "zones": ["x"]}
        places = [
            {**PLACES[0], "offers": []},
            there | {"offers": [{"size": "sloop", "hourly": "9"}]},
        ]
        whole = plan(
            places=places,
            sizes=[
                {"id": "sloop", "vcpu": 8, "memory_gib": 32, "hourly": "0.4"},
                {"id": "odd", "vcpu": 8, "memory_gib": 32, "hourly": "0.4"},
            ],
        )
        there = sizing_of(whole, replace(find_pool(whole, "main"), place="there"), Wish(seeds=2))
        assert [view.missing for view in there.sizes] == ["", "'There' does not have this size"]
        assert there.sizes[0].per_session_hour == Decimal(9) / 8


def test_a_very_large_pool_is_sized_over_fewer_weeks():
    assert affordable(10_000, 16) == 16
    assert affordable(400_000, 16) == 12
    assert affordable(9_000_000, 16) == 2
    whole = plan()
    check_sizing(whole, find_pool(whole, "main"), Wish())
    crowded = document()
    crowded["groups"][0]["demand"]["people"] = 100_000
    crowded["groups"][0]["demand"]["patterns"][0]["attendance"] = dict.fromkeys(WEEK, 1.0)
    crowded["groups"] = [{**crowded["groups"][0], "id": f"g{k}"} for k in range(4)]
    crowded["access"] = [{"group": f"g{k}", "pool": "main"} for k in range(4)]
    big = plan_of(crowded)
    with pytest.raises(TooMuchError, match="split the people"):
        check_sizing(big, find_pool(big, "main"), Wish())


def test_a_week_in_which_a_pool_ends_holds_only_its_days():
    from datetime import date

    whole = plan()
    short = replace(find_pool(whole, "main"), last_date=date(2027, 3, 2))
    whole = replace(whole, pools=(short,))
    days = sizing_horizon(whole, short)
    drawn = pool_spells(demand_of(whole, "main"), days, 1)
    assert drawn.start.max() < 3 * DAY + 2 * 3600


def test_spells_of_all_pools_are_those_of_each_by_itself():
    demo = plan_of(demo_plan())
    alone = [
        demand_of(demo, pool.id).expected_spells(sizing_horizon(demo, pool)) for pool in demo.pools
    ]
    assert spells_by_pool(demo) == alone and min(alone) > 0
