"""From when a host that was asked for is had, and when another is asked for in its place."""

import numpy as np
import pytest
from scipy.stats import lognorm

from idle_harbor.core.engine.kernel import codes as k
from idle_harbor.core.engine.kernel.codes import DRILL_MUTES, Action
from idle_harbor.core.engine.setting import Drill
from idle_harbor.core.plan import COUNTS_FROM
from idle_harbor.core.policy.overdue import overdue_after
from tests.builders import actions, band, go, outcomes, pool, schedule, simple, states

#: Nobody's agent registers on the lowest host, all the time.
SILENT = Drill(0, 100_000, hosts=1, kind=DRILL_MUTES)


def starts(counts_from, *, floor=1, tick=60, seconds=2000, drills=(), rows=(), **changes):
    """Floor from 600 on; a tick a minute, a start of exactly 120 s, booted after 48 s of it."""
    over = pool(**{"standing": 6, "counts_from": counts_from, "session_limit": 1, **changes})
    rules = schedule(band(floor=0), band(floor=floor, start=600), tick=tick)
    result = go(simple(rows), over=over, rules=rules, seconds=seconds, drills=drills)
    asked = [(t, h) for t, h, act, _ in actions(result) if act in (Action.START, Action.CREATE)]
    return asked, result


@pytest.mark.parametrize("counts_from", COUNTS_FROM)
class TestAnOrdinaryMorning:
    def test_starts_every_host_once(self, counts_from):
        assert starts(counts_from, floor=3)[0] == [(600, 0), (600, 1), (600, 2)]

    def test_starts_those_that_queue_once(self, counts_from):
        """Six hosts one after the other, 120 s each: the last is asked for at 600 and ready at
        1,320, long after the time that its start alone may take."""
        asked, result = starts(counts_from, floor=6, start_parallel=1, standing=9)
        assert [host for _, host in asked] == [0, 1, 2, 3, 4, 5]
        assert states(result, 5)[-1] == (1320, "ready")

    def test_creates_every_host_once(self, counts_from):
        asked, _ = starts(
            counts_from, floor=2, standing=0, surge=5, create_mean_seconds=100.0, create_cv=0.0
        )
        assert asked == [(600, 0), (600, 1)]

    def test_creates_those_that_then_queue_once(self, counts_from):
        """Both are created at 700, and one start at a time takes 120 s: the second waits for its
        start until 820. Time in that queue makes no host overdue."""
        creates = {"standing": 0, "surge": 5, "create_mean_seconds": 100.0, "create_cv": 0.0}
        asked, result = starts(counts_from, floor=2, start_parallel=1, **creates)
        assert asked == [(600, 0), (600, 1)]
        assert states(result, 1)[1:] == [
            (600, "creating"),
            (700, "queued"),
            (820, "starting"),
            (940, "ready"),
        ]

    def test_people_are_placed_from_registered_on(self, counts_from):
        _, result = starts(counts_from, rows=[(0, 605, 1900)])
        assert outcomes(result) == [(k.OUT_CONNECTED, 115)]


class TestAnAgentThatNeverRegisters:
    """Host 0 is started at 600, powered then, booted at 648, and never takes sessions."""

    def test_powered_trusts_it(self):
        asked, result = starts("powered", drills=(SILENT,), rows=[(0, 605, 1900)])
        assert asked == [(600, 0)]
        # Whoever came waits until they give up, after 600 s.
        assert outcomes(result) == [(k.OUT_REFUSED, -1)]
        # It is on the bill all the same.
        assert result.total(k.L_STARTING) == 1400

    def test_booted_trusts_it(self):
        assert starts("booted", booted_share=0.4, drills=(SILENT,))[0] == [(600, 0)]

    def test_registered_replaces_it_when_it_is_overdue(self):
        asked, result = starts("registered", drills=(SILENT,), rows=[(0, 605, 1900)])
        assert asked == [(600, 0), (720, 1)]
        # Host 1 is ready at 840.
        assert outcomes(result) == [(k.OUT_CONNECTED, 235)]

    def test_settled_replaces_it_a_settling_time_later(self):
        asked, _ = starts("settled", settle_seconds=60, drills=(SILENT,))
        assert asked == [(600, 0), (780, 1)]

    def test_a_created_one_is_overdue_after_both_times(self):
        """Asked for at 600, created at 700, started at 820: another at the tick of 840."""
        asked, _ = starts(
            "registered",
            standing=0,
            surge=3,
            create_mean_seconds=100.0,
            create_cv=0.0,
            drills=(SILENT,),
        )
        assert asked == [(600, 0), (840, 1)]

    def test_it_holds_no_start_up(self):
        """One start at a time: the silent one is over at 720, whether or not it registers."""
        asked, result = starts("powered", floor=2, start_parallel=1, drills=(SILENT,))
        assert [host for _, host in asked] == [0, 1]
        assert states(result, 1)[-2:] == [(720, "starting"), (840, "ready")]

    def test_once_its_agent_works_it_is_had_again(self):
        """Replaced at 720; its agent registers at 1,500: two are had where one is wanted, and the
        higher number goes."""
        over = pool(standing=6, counts_from="registered", session_limit=1)
        let_go = band(floor=1, start=600, release="when empty")
        rules = schedule(band(floor=0), let_go, tick=60)
        drill = Drill(0, 1500, hosts=1, kind=DRILL_MUTES)
        result = go(simple([]), over=over, rules=rules, seconds=2000, drills=(drill,))
        assert states(result, 0)[-1] == (1500, "ready")
        assert (1500, 1, Action.STOP) in [row[:3] for row in actions(result)]

    def test_one_that_fails_meanwhile_leaves_nothing_behind(self):
        """Silent from 720, failed from 1,000 to 1,100: started again at 1,140, and silent again."""
        fails = Drill(1000, 100, hosts=1)
        asked, result = starts("registered", standing=1, seconds=3000, drills=(SILENT, fails))
        assert asked == [(600, 0), (1140, 0)]
        assert states(result, 0)[-1] == (1140, "starting")


class TestWhenAHostIsOverdue:
    def test_at_the_99th_percentile_of_the_time_to_its_point(self):
        sigma = np.sqrt(np.log1p(0.3**2))
        slow = lognorm(s=sigma, scale=240.0 * np.exp(-(sigma**2) / 2)).ppf(0.99)
        for counts_from, seconds in (
            ("powered", 0.0),
            ("booted", 0.4 * slow),
            ("registered", slow),
            ("settled", slow + 60),
        ):
            over = pool(
                counts_from=counts_from,
                start_mean_seconds=240.0,
                start_cv=0.3,
                booted_share=0.4,
                settle_seconds=60,
            )
            assert overdue_after(over)[0] == np.ceil(seconds)

    @pytest.mark.parametrize(("mean", "cv", "create", "create_cv"), [
        (240.0, 0.3, 480.0, 0.3), (240.0, 0.0, 480.0, 0.3), (240.0, 0.3, 480.0, 0.0),
        (600.0, 1.5, 60.0, 0.5), (60.0, 0.1, 7200.0, 2.0), (0.0, 0.0, 300.0, 0.3),
    ])  # fmt: skip
    def test_a_created_one_at_that_of_the_sum(self, mean, cv, create, create_cv):
        """Against drawn sums; a quantile's standard error is about 0.3 % of them here."""
        rng = np.random.default_rng(5)

        def drawn(mean, cv):
            sigma = np.sqrt(np.log1p(cv * cv))
            z = rng.standard_normal(1_000_000)
            return np.exp(np.log(mean) - sigma**2 / 2 + sigma * z) if mean else 0.0 * z

        over = pool(
            counts_from="registered",
            start_mean_seconds=mean,
            start_cv=cv,
            create_mean_seconds=create,
            create_cv=create_cv,
            script_seconds=90,
        )
        expected = np.quantile(drawn(mean, cv) + drawn(create, create_cv), 0.99) + 90
        assert abs(overdue_after(over)[1] - expected) < 0.015 * expected + 1

    def test_one_start_in_a_hundred_is_asked_for_again(self):
        """1,000 hosts at once: 10 are overdue on average (sd 3.1), and of their replacements
        hardly one."""
        over = pool(
            standing=1200,
            session_limit=1,
            counts_from="registered",
            start_mean_seconds=240.0,
            start_cv=0.3,
        )
        rules = schedule(band(floor=0), band(floor=1000, start=600), tick=10)
        result = go(simple([]), over=over, rules=rules, seconds=4000)
        asked = sum(act == Action.START for _, _, act, _ in actions(result))
        assert 1001 <= asked <= 1022
