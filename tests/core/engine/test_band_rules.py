"""What a band may say, in small pools worked by hand."""

import pytest

from idle_harbor.core.engine.kernel.codes import (
    DISCONNECT,
    OUT_CONNECTED,
    OUT_REFUSED,
    SIGN_OFF,
    WALK_AWAY,
    WaitCause,
)
from idle_harbor.core.plan import Cpu
from idle_harbor.core.plan.schedules import DrainStep, Timeouts
from idle_harbor.core.policy.codes import Action, Cause
from tests.builders import (
    DAY,
    PROFILE,
    actions,
    band,
    go,
    outcomes,
    pool,
    schedule,
    simple,
    spells,
    states,
    varied,
)

HOUR = 3_600
LATE = 80_000


def hosts_of(result):
    return result.results["host"].tolist()


def steady(many, every=10):
    """So many people who come one after the other and stay."""
    return simple([(k, every * k, LATE) for k in range(many)])


class TestWhoIsNext:
    def test_hosts_are_filled_to_the_mark_and_then_people_are_spread(self):
        # Three hosts of 4, filled to half of them: 2, 2, 2, then one more on each in turn.
        over = pool(standing=3, session_limit=4)
        rules = schedule(band(floor=3, rule="fill to a mark", mark=0.5))
        result = go(steady(10), over=over, rules=rules)
        assert hosts_of(result) == [0, 0, 1, 1, 2, 2, 0, 1, 2, 0]

    @pytest.mark.parametrize(("mark", "filled"), [(0.3, 3), (0.29, 2), (0.01, 1), (1.0, 10)])
    def test_a_mark_is_rounded_down_and_at_least_one(self, mark, filled):
        over = pool(standing=2, session_limit=10)
        rules = schedule(band(floor=2, rule="fill to a mark", mark=mark))
        result = go(steady(filled + 1), over=over, rules=rules)
        assert hosts_of(result) == [0] * filled + [1]

    def test_by_room_looks_at_what_is_drawn_and_not_at_sessions(self):
        # Two on the first host disconnect and draw nothing; one works on the second.
        profile = varied(PROFILE, cpu=Cpu(2.0, 0.0, 0.0))
        over = pool(standing=2, session_limit=4, disconnected_timeout=None)
        given = spells(
            [
                (0, 0, 1_000, DISCONNECT),
                (1, 10, LATE, SIGN_OFF),
                (2, 20, 1_000, DISCONNECT),
                (3, 2_000, LATE, SIGN_OFF),
            ]
        )
        for rule, last in (("spread", 1), ("by room", 0)):
            rules = schedule(band(rule=rule))
            assert hosts_of(go(given, over=over, rules=rules, profile=profile)) == [0, 1, 0, last]

    def test_by_room_takes_the_scarcer_of_cpu_and_memory_and_the_lowest_of_several(self):
        result = go(steady(5), band(floor=3, rule="by room"), standing=3, session_limit=2)
        assert hosts_of(result) == [0, 1, 2, 0, 1]

    def test_by_room_leaves_hosts_that_are_full_or_drain(self):
        # One slot on each of two hosts: the third waits for the first to leave.
        given = simple([(0, 0, 1_000), (1, 10, LATE), (2, 20, LATE)])
        result = go(given, band(rule="by room"), standing=2, session_limit=1)
        assert outcomes(result)[2] == (OUT_CONNECTED, 980)
        assert hosts_of(result)[2] == 0


class TestLimitOfABand:
    RULES = schedule(
        band(floor=1), band(start=6 * HOUR, floor=1, session_limit=1), band(start=7 * HOUR, floor=1)
    )

    def test_it_takes_nobody_new_and_moves_nobody(self):
        # Two are there at 06:00 and stay; the third asks at 06:10 and gets the slot of 07:00.
        given = simple([(0, 0, LATE), (1, 10, LATE), (2, 6 * HOUR + 600, LATE)])
        result = go(given, standing=1, session_limit=4, rules=self.RULES)
        assert outcomes(result) == [(OUT_CONNECTED, 0), (OUT_CONNECTED, 0), (OUT_CONNECTED, 3_000)]

    @pytest.mark.parametrize("rule", ["spread", "fill", "fill to a mark", "by room"])
    def test_it_holds_under_every_rule(self, rule):
        rules = schedule(band(floor=2, rule=rule, session_limit=2, mark=1.0))
        given = simple([(k, 10 * k, LATE) for k in range(5)])
        result = go(given, over=pool(standing=2, session_limit=4, patience_seconds=60), rules=rules)
        assert [outcome for outcome, _ in outcomes(result)] == [OUT_CONNECTED] * 4 + [OUT_REFUSED]
        assert sorted(hosts_of(result)[:4]) == [0, 0, 1, 1]

    def test_more_hosts_start_for_it(self):
        # Two people on a host of 4 that takes 1 now: at 06:05 the policy wants two hosts.
        given = simple([(0, 0, LATE), (1, 10, LATE)])
        result = go(given, over=pool(standing=2, session_limit=4), rules=self.RULES)
        assert actions(result)[0] == (6 * HOUR, 1, Action.START, Cause.CEILING)


class TestKnock:
    GIVEN = simple([(0, 1_000, LATE)])

    def test_who_finds_no_room_waits_for_a_start_and_not_for_the_tick(self):
        over = pool(standing=1)  # starts in 120 s
        knocks = go(self.GIVEN, over=over, rules=schedule(band(floor=0, knock=True)))
        assert outcomes(knocks) == [(OUT_CONNECTED, 120)]
        assert actions(knocks) == [(1_000, 0, Action.START, Cause.KNOCK)]
        waits = go(self.GIVEN, over=over, rules=schedule(band(floor=0)))
        assert outcomes(waits) == [(OUT_CONNECTED, 200 + 120)]  # the tick is at 1,200

    def test_a_host_that_drains_is_taken_back_and_nobody_waits(self):
        # Two of four have left when the band of 01:00 lets a host drain; the next one finds room
        # on the other, and the one after that has the host taken back.
        given = simple([(0, 0, LATE), (1, 1, LATE), (2, 2, 2_000), (3, 3, 2_000),
                        (4, 3_700, LATE), (5, 3_710, LATE)])  # fmt: skip
        over = pool(standing=2, session_limit=2)
        rules = schedule(band(), band(start=HOUR, floor=0, release="drain", knock=True))
        result = go(given, over=over, rules=rules)
        assert actions(result)[:2] == [
            (3_600, 1, Action.DRAIN, Cause.RELEASE),
            (3_710, 1, Action.UNDRAIN, Cause.KNOCK),
        ]
        assert outcomes(result)[4:] == [(OUT_CONNECTED, 0)] * 2
        assert result.results["cause"].tolist() == [WaitCause.NONE] * 6

    def test_without_patience_they_are_refused_and_the_host_starts_for_the_next(self):
        given = simple([(0, 1_000, LATE), (1, 1_150, LATE)])
        result = go(given, band(floor=0, knock=True), standing=1, patience_seconds=0)
        assert outcomes(result) == [(OUT_REFUSED, -1), (OUT_CONNECTED, 0)]

    def test_scaled_to_nothing_the_first_person_pays_the_start(self):
        # Nobody from 2,000 on: the host stops at the next tick; who comes at 9,000 waits 120 s.
        given = simple([(0, 1_000, 2_000), (1, 9_000, LATE)])
        result = go(given, band(floor=0, release="when empty", knock=True), standing=1)
        assert states(result, 0)[:7] == [
            (0, "off"),
            (1_000, "starting"),
            (1_120, "ready"),
            (2_100, "stopping"),
            (2_160, "off"),
            (9_000, "starting"),
            (9_120, "ready"),
        ]
        assert outcomes(result)[1] == (OUT_CONNECTED, 120)

    def test_a_lent_pool_cleans_and_starts_for_those_who_knock(self):
        # One host is used by the first until 2,000 and cleaned for 300 s; the second knocks at
        # 1,500 and has the other host at 1,620; the third finds nothing to start and waits for it.
        given = simple([(0, 0, 2_000), (1, 1_500, LATE), (2, 1_700, LATE)])
        over = pool(standing=2, kind="lent", session_limit=1, reset_seconds=300)
        result = go(given, over=over, rules=schedule(band(floor=1, knock=True)))
        assert outcomes(result) == [(OUT_CONNECTED, 0), (OUT_CONNECTED, 120), (OUT_CONNECTED, 600)]


class TestSurgeStaysOff:
    def surging(self, minutes):
        return pool(
            standing=0,
            surge=1,
            surge_stays_minutes=minutes,
            create_mean_seconds=480.0,
            create_cv=0.0,
        )

    RULES = schedule(band(floor=0, release="when empty", knock=True))

    def test_it_starts_again_without_being_created(self):
        # Created and started for the first: 480 + 120 s. Stopped at 2,100, off from 2,160 on.
        given = simple([(0, 1_000, 2_000), (1, 4_000, LATE)])
        result = go(given, over=self.surging(60), rules=self.RULES)
        assert outcomes(result) == [(OUT_CONNECTED, 600), (OUT_CONNECTED, 120)]
        assert states(result, 0)[5:8] == [(2_160, "off"), (4_000, "starting"), (4_120, "ready")]

    def test_after_a_while_it_is_removed(self):
        given = simple([(0, 1_000, 2_000), (1, 9_000, LATE)])
        result = go(given, over=self.surging(60), rules=self.RULES)
        assert (2_160 + HOUR, "absent") in states(result, 0)
        assert outcomes(result)[1] == (OUT_CONNECTED, 600)

    def test_without_it_it_is_removed_at_once(self):
        given = simple([(0, 1_000, 2_000)])
        assert states(go(given, over=self.surging(0), rules=self.RULES), 0)[-1] == (2_160, "absent")


class TestLid:
    def test_who_waits_under_a_lid_is_told_so(self):
        given = simple([(0, 0, 1_000), (1, 10, LATE)])
        result = go(given, band(floor=1, lid=1), standing=2, session_limit=1)
        assert outcomes(result)[1] == (OUT_CONNECTED, 990)
        assert result.results["cause"].tolist() == [WaitCause.NONE, WaitCause.LID]

    def test_a_lower_lid_lets_hosts_go_as_the_band_releases(self):
        over = pool(standing=3)
        rules = schedule(
            band(floor=3), band(start=HOUR, floor=1, lid=2, headroom=6, release="when empty")
        )
        result = go(simple([(0, 0, LATE)]), over=over, rules=rules)
        assert [a[:3] for a in actions(result)] == [(HOUR, 2, Action.STOP)]


def test_a_host_runs_its_least_time():
    # Started at 300 for the second person, ready at 420, empty from 600 on: it stops at the first
    # tick after 420 + 30 min.
    given = simple([(0, 0, LATE), (1, 10, 600)])
    rules = schedule(band(floor=1, release="when empty", least_run_minutes=30))
    result = go(given, over=pool(standing=2, session_limit=1), rules=rules)
    assert states(result, 1)[-2] == (2_400, "stopping")


class TestTimeoutsOfABand:
    """The pool signs off who was disconnected for 20 minutes; from 18:00 on 5 will do."""

    SIX = 18 * HOUR
    EVENING = (band(), band(start=SIX, timeouts=Timeouts(600, 300)))

    def ends(self, *left, bands=EVENING):
        """When sessions end that are left at those seconds, without signing off."""
        given = spells([(k, 0, at, DISCONNECT) for k, at in enumerate(left)])
        result = go(given, *bands, standing=len(left), session_limit=1, seconds=DAY)
        lanes = result.lanes
        return [
            int(lanes["time"][(lanes["host"] == host) & (lanes["sessions"] == 0)].max())
            for host in range(len(left))
        ]

    def test_what_was_left_before_ends_by_the_new_one_but_not_before_the_band(self):
        six = self.SIX
        assert self.ends(six - 600, six - 120, six + 900) == [six, six + 180, six + 1_200]

    def test_a_lunch_break_keeps_its_session(self):
        assert self.ends(12 * HOUR) == [12 * HOUR + 1_200]

    def test_what_ends_before_the_band_does(self):
        assert self.ends(self.SIX - 1_300) == [self.SIX - 100]

    def test_a_longer_one_begins_to_hold_with_its_band(self):
        seven = 19 * HOUR
        bands = (*self.EVENING, band(start=seven, timeouts=Timeouts(None, 7_200)))
        assert self.ends(seven - 120, bands=bands) == [seven - 120 + 7_200]

    def test_never_holds_until_a_band_that_ends_it(self):
        six, nine = self.SIX, 21 * HOUR
        bands = (band(), band(start=six, timeouts=Timeouts(None, None)), band(start=nine))
        assert self.ends(six - 60, six + 60, bands=bands) == [nine, nine]

    def test_idle_ones_too(self):
        # Idle from 17:55 on: disconnected at 18:05 in place of 18:05 by the pool, signed off at
        # 18:10 in place of 18:25.
        given = spells([(0, 0, self.SIX - 300, WALK_AWAY)])
        result = go(given, over=pool(standing=1), rules=schedule(*self.EVENING), seconds=DAY)
        gone = result.lanes[result.lanes["sessions"] == 0]["time"].max()
        assert gone == self.SIX + 300 + 300


class TestDrainSteps:
    """Four hosts, a person on each who stays: by 18:00 a quarter drains, by 20:00 half."""

    STEPS = (DrainStep(18 * HOUR, 0.25), DrainStep(20 * HOUR, 0.5))
    GIVEN = simple([(k, 10 * k, DAY) for k in range(4)])

    def drains(self, given=GIVEN, limit=4, **changes):
        rules = schedule(
            band(floor=4), band(start=17 * HOUR, floor=1, drain_steps=self.STEPS, **changes)
        )
        result = go(given, over=pool(standing=4, session_limit=limit), rules=rules)
        return [
            (time, host)
            for time, host, action, cause in actions(result)
            if action == Action.DRAIN and cause == Cause.DRAIN_STEP
        ]

    def test_by_the_clock_in_a_band_that_keeps_all(self):
        assert self.drains() == [(18 * HOUR, 3), (20 * HOUR, 2)]

    def test_the_floor_is_kept(self):
        rules = schedule(band(floor=4), band(start=17 * HOUR, floor=3, drain_steps=self.STEPS))
        result = go(self.GIVEN, over=pool(standing=4, session_limit=4), rules=rules)
        assert [row[:2] for row in actions(result)] == [(18 * HOUR, 3)]

    def test_a_share_is_of_the_hosts_that_were_there_when_it_began(self):
        # The first host to drain is empty at 19:00 and stops: by 20:00 half of four, not of three.
        given = simple([(0, 0, DAY), (1, 10, DAY), (2, 20, DAY), (3, 30, 19 * HOUR)])
        assert self.drains(given) == [(18 * HOUR, 3), (20 * HOUR, 2)]

    def test_a_band_with_a_step_at_its_start_counts_the_hosts_that_it_finds(self):
        # By 18:00 half of four drain; the band of 19:00 begins with half of the two that are left.
        bands = [
            band(start=at * HOUR, floor=1, drain_steps=(DrainStep(at * HOUR, 0.5),))
            for at in (18, 19)
        ]
        result = go(self.GIVEN, band(floor=4), *bands, standing=4, session_limit=4)
        drained = [row[:2] for row in actions(result) if row[2] == Action.DRAIN]
        assert drained == [(18 * HOUR, 3), (18 * HOUR, 2), (19 * HOUR, 1)]

    def test_who_comes_later_finds_the_others(self):
        given = simple([*((k, 10 * k, DAY) for k in range(4)), (4, 21 * HOUR, DAY)])
        rules = schedule(band(floor=4), band(start=17 * HOUR, floor=1, drain_steps=self.STEPS))
        result = go(given, over=pool(standing=4, session_limit=4), rules=rules)
        assert outcomes(result)[4] == (OUT_CONNECTED, 0) and hosts_of(result)[4] in (0, 1)

    def test_the_next_band_takes_them_back_for_need(self):
        rules = schedule(
            band(floor=4),
            band(start=17 * HOUR, floor=1, drain_steps=self.STEPS),
            band(start=22 * HOUR, floor=4),
        )
        result = go(self.GIVEN, over=pool(standing=4, session_limit=4), rules=rules)
        assert [row[:3] for row in actions(result)][-2:] == [
            (22 * HOUR, 2, Action.UNDRAIN),
            (22 * HOUR, 3, Action.UNDRAIN),
        ]
