"""Lent pools, surge and throwaway hosts, points of a start: cases worked by hand.

A start takes 120 s, a stop 60 s; the policy looks every 300 s.
"""

from datetime import date

from idle_harbor.core.engine.kernel import codes as k
from idle_harbor.core.engine.kernel.codes import DISCONNECT, Action, Cause, WaitCause
from idle_harbor.core.figures.footprint import footprint_of
from idle_harbor.core.policy.controller import Decision
from idle_harbor.core.policy.view import DRAIN
from tests.builders import (
    actions,
    band,
    go,
    outcomes,
    pool,
    schedule,
    simple,
    spells,
    states,
    story,
)
from tests.core.policy.deciding import Seen, decide_for

LET_GO = band(floor=0, release="when empty")


def lent(rows, *, hosts=1, rules=None, **changes):
    over = pool(kind="lent", standing=hosts, session_limit=1, **changes)
    return go(simple(rows), over=over, rules=schedule(rules or band(floor=hosts)), seconds=10_000)


class TestLent:
    def test_the_next_person_waits_for_the_reset(self):
        """Person 0 signs off at 500, the host is cleaned for 180 s, person 1 gets it at 680."""
        result = lent([(0, 100, 500), (1, 200, 900)], reset_seconds=180)
        assert outcomes(result) == [(k.OUT_CONNECTED, 0), (k.OUT_CONNECTED, 480)]
        assert states(result, 0)[:3] == [(0, "ready"), (500, "resetting"), (680, "ready")]
        assert (500, 0, Action.RESET, Cause.CLEANED) in actions(result)

    def test_without_a_reset_the_host_is_free_at_once(self):
        assert outcomes(lent([(0, 100, 500), (1, 200, 900)]))[1] == (k.OUT_CONNECTED, 300)

    def test_who_asks_while_it_is_cleaned_is_told_so(self):
        result = lent([(0, 100, 500), (1, 600, 900)], reset_seconds=180)
        assert outcomes(result)[1] == (k.OUT_CONNECTED, 80)
        assert result.results["cause"][1] == WaitCause.RESETTING

    def test_a_person_returns_to_the_host_that_is_lent_to_them(self):
        """Disconnected at 400, back at 600: the same host, no reset in between."""
        rows = spells([(0, 100, 400, DISCONNECT), (0, 600, 900, 0)])
        over = pool(kind="lent", standing=2, session_limit=1, reset_seconds=60)
        result = go(rows, over=over, rules=schedule(band(floor=2)), seconds=5000)
        assert outcomes(result)[1][0] == k.OUT_RECONNECTED
        assert [t for t, state in states(result, 0) if state == "resetting"] == [900]

    def test_hosts_that_are_cleaned_count_as_on_their_way(self):
        """At the tick of 600 both hosts are wanted, one is resetting: none is started more."""
        result = lent(
            [(0, 100, 590), (1, 100, 5000)], hosts=3, rules=band(floor=2), reset_seconds=60
        )
        assert [a for a in actions(result) if a[2] == Action.START] == []

    def test_cleaning_is_billed_as_readiness(self):
        result = lent([(0, 100, 500)], reset_seconds=180)
        assert result.total(k.L_RESETTING) == 180


class TestSurge:
    def surge(self, rows, rules=LET_GO, **changes):
        values = {
            "standing": 1,
            "surge": 1,
            "session_limit": 1,
            "create_mean_seconds": 400.0,
            "create_cv": 0.0,
            **changes,
        }
        return go(simple(rows), over=pool(**values), rules=schedule(rules), seconds=10_000)

    def test_a_surge_host_is_created_started_and_removed(self):
        """Two ask at 100; at the tick of 300 one host starts and one is created, which takes
        400 s, its script 50 s, its start 120 s: 300 + 570."""
        result = self.surge([(0, 100, 5000), (1, 100, 5000)], script_seconds=50)
        assert outcomes(result) == [(k.OUT_CONNECTED, 320), (k.OUT_CONNECTED, 770)]
        assert (300, 1, Action.CREATE, Cause.CEILING) in actions(result)
        assert story(result, 1) == (
            "0 absent, 300 creating, 750 starting, 870 ready, 5_100 stopping, 5_160 absent"
        )

    def test_only_its_start_and_what_follows_is_billed(self):
        result = self.surge([(0, 100, 5000), (1, 100, 5000)])
        assert result.total(k.L_CREATING) == 400
        assert footprint_of(result, 0.0).surge_hours * 3600 == 5160 - 300
        assert footprint_of(result, 0.0).standing_hours * 3600 == 10_000

    def test_while_it_is_created_that_is_the_cause(self):
        result = self.surge([(0, 100, 5000), (1, 100, 5000), (2, 500, 900)])
        assert result.results["cause"][2] == WaitCause.CREATING

    def test_surge_hosts_drain_before_standing_ones(self):
        """One session on each of three hosts, two hosts wanted: the surge host goes, though the
        standing one of higher load order comes first by number."""
        seen = Seen(["ready", "ready", "ready"], [1, 1, 2])
        got = decide_for(seen, limit=3, release=DRAIN, standing=2)
        assert got == [Decision(2, Action.DRAIN, Cause.RELEASE)]

    def test_standing_hosts_start_before_surge_hosts_are_created(self):
        states_ = ["absent", "off", "absent"]
        got = decide_for(Seen(states_, [0] * 3, waiting=2))
        assert [(d.host, d.action) for d in got] == [(1, Action.START), (0, Action.CREATE)]


class TestThrowaway:
    def test_standing_ones_are_on_whatever_the_band_says(self):
        over = pool(standing=2, surge=1, session_limit=1, throwaway=True)
        result = go(simple([(0, 100, 200)]), over=over, rules=schedule(LET_GO), seconds=5000)
        assert states(result, 0) == states(result, 1) == [(0, "ready")]

    def test_a_lost_one_is_created_anew(self):
        """Zone 1 is lost from 1,000 to 2,000: its host is created at the tick of 2,100."""
        from idle_harbor.core.engine.setting import Drill

        over = pool(
            standing=2, session_limit=1, throwaway=True, create_mean_seconds=100.0, create_cv=0.0
        )
        result = go(
            simple([]),
            over=over,
            rules=schedule(LET_GO),
            seconds=5000,
            zones=2,
            drills=(Drill(1000, 1000, zone=1),),
        )
        assert story(result, 1) == (
            "0 ready, 1_000 failed, 2_000 absent, 2_100 creating, 2_200 starting, 2_320 ready"
        )
        assert (2100, 1, Action.CREATE, Cause.ALWAYS) in actions(result)


class TestParallelStarts:
    def test_the_rest_queue_in_the_order_they_were_asked_for(self):
        """Five wanted at 300, two at once, 120 s each: ready at 420, 420, 540, 540, 660."""
        over = pool(standing=5, session_limit=1, start_parallel=2)
        rules = schedule(band(floor=0), band(floor=5, start=300))
        result = go(simple([(0, 100, 9000)]), over=over, rules=rules, seconds=2000)
        ready = [next(t for t, s in states(result, h) if s == "ready") for h in range(5)]
        assert ready == [420, 420, 540, 540, 660]
        assert result.total(k.L_QUEUED) == 120 + 120 + 240
        # A host that waits for its start is not on the bill.
        assert result.total(k.L_STARTING) == 5 * 120

    def test_people_who_wait_for_the_queue_are_told_so(self):
        over = pool(standing=2, session_limit=1, start_parallel=1)
        rules = schedule(band(floor=0), band(floor=2, start=300))
        result = go(simple([(0, 310, 900)]), over=over, rules=rules, seconds=2000)
        assert result.results["cause"][0] == WaitCause.QUEUED


class TestLife:
    """A pool that exists on the second of three days only (a day is 86,400 s here)."""

    DAY = 86_400

    def run(self, rows, **changes):
        over = pool(
            standing=1,
            session_limit=2,
            first_date=date(1970, 1, 2),
            last_date=date(1970, 1, 2),
            **changes,
        )
        from idle_harbor.core.calendar.clock import Horizon
        from idle_harbor.core.engine.run import run
        from idle_harbor.core.engine.setting import Setting
        from tests.builders import PROFILE, SIZE

        horizon = Horizon("UTC", date(1970, 1, 1), 0, 3, 0, 0, 3 * self.DAY)
        setting = Setting(over, schedule(band(floor=1)), SIZE, (PROFILE,))
        return run(setting, horizon, simple(rows), 1, record=True)

    def test_no_host_before_and_none_after(self):
        result = self.run([])
        # The policy looks in the very second in which the pool begins.
        assert states(result, 0) == [
            (0, "absent"),
            (self.DAY, "starting"),
            (self.DAY + 120, "ready"),
            (2 * self.DAY, "absent"),
        ]
        assert footprint_of(result, 0.0).standing_hours == 24
        assert (2 * self.DAY, 0, Action.STOP, Cause.LAST_DATE) in actions(result)

    def test_a_drill_before_its_first_date_fails_nothing(self):
        from idle_harbor.core.calendar.clock import Horizon
        from idle_harbor.core.engine.run import run
        from idle_harbor.core.engine.setting import Drill, Setting
        from tests.builders import PROFILE, SIZE

        over = pool(standing=2, first_date=date(1970, 1, 2))
        horizon = Horizon("UTC", date(1970, 1, 1), 0, 2, 0, 0, 2 * self.DAY)
        drills = (Drill(1000, 500, hosts=2),)
        setting = Setting(over, schedule(band(floor=1)), SIZE, (PROFILE,), drills=drills)
        result = run(setting, horizon, simple([]), 1, record=True)
        assert states(result, 0)[:2] == [(0, "absent"), (self.DAY, "starting")]

    def test_whoever_is_still_there_is_signed_off_at_the_end(self):
        begin, end = self.DAY + 1000, 2 * self.DAY + 5000
        result = self.run([(0, begin, end)])
        assert result.ended_sessions == 1 and result.slot_seconds == self.DAY - 1000

    def test_whoever_still_waits_is_refused(self):
        begin = 2 * self.DAY - 100
        result = self.run(
            [(0, begin, begin + 900), (1, begin, begin + 900), (2, begin, begin + 900)]
        )
        assert outcomes(result)[2] == (k.OUT_REFUSED, -1)
