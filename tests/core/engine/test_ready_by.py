"""Hosts that are ready by a time: started as late as may be, and kept until their end."""

from dataclasses import replace
from datetime import date

import numpy as np
import pytest

from idle_harbor.core.calendar.targets import Target
from idle_harbor.core.engine.setting import Drill
from idle_harbor.core.figures.targets import targets_met
from idle_harbor.core.plan import DayType
from idle_harbor.core.plan.schedules import ReadyBy
from idle_harbor.core.policy.codes import READY, Action, Cause
from idle_harbor.core.policy.lead import CREATED, STARTED, lead_table
from tests.builders import actions, band, go, pool, schedule, simple, states

HOUR = 3_600
NOBODY = simple([])


def ready_by(*targets, bands=(), tick=300):
    day_type = DayType("every-day", tuple(range(7)), bands or (band(floor=0),), ready_by=targets)
    return replace(schedule(tick=tick), day_types=(day_type,))


def starts(result):
    return [(time, host) for time, host, action, _ in actions(result) if action == Action.START]


def stops(result):
    return [time for time, _, action, _ in actions(result) if action == Action.STOP]


EIGHT = ReadyBy(8 * HOUR, 3)


class TestStarts:
    def test_they_start_at_the_last_look_that_is_in_time(self):
        # 120 s without spread: lead 121 s at most, and the look after 07:50 would be at 07:55, from
        # where 08:00 is in reach; so they start at 07:55.
        result = go(NOBODY, over=pool(standing=3), rules=ready_by(EIGHT))
        assert starts(result) == [(8 * HOUR - 300, host) for host in range(3)]
        assert {row[3] for row in actions(result)} == {Cause.READY_BY}

    def test_a_start_that_takes_longer_than_to_the_next_look_begins_one_earlier(self):
        result = go(NOBODY, over=pool(standing=3, start_mean_seconds=310.0), rules=ready_by(EIGHT))
        assert starts(result)[0] == (8 * HOUR - 600, 0)

    def test_starts_that_wait_for_each_other_begin_earlier(self):
        # One at a time, 120 s each: the third is ready after 360 s.
        result = go(NOBODY, over=pool(standing=3, parallel=1), rules=ready_by(EIGHT))
        assert starts(result)[0] == (8 * HOUR - 600, 0)
        assert states(result, 2)[-1] == (8 * HOUR - 240, "ready")

    def test_surge_hosts_are_created_in_time(self):
        # 480 s and 120 s without spread, beside one that only starts.
        over = pool(standing=1, surge=1, create_mean_seconds=480.0, create_cv=0.0)
        result = go(NOBODY, over=over, rules=ready_by(replace(EIGHT, hosts=2)))
        assert states(result, 1)[1] == (8 * HOUR - 900, "creating")
        assert states(result, 1)[-1] == (8 * HOUR - 300, "ready")

    def test_hosts_that_one_target_keeps_are_not_missing_for_the_next(self):
        # One start at a time, 240 s each. One host by 07:00, two by 08:00: the second alone is
        # missing, and started at 07:55; both together would be started at 07:50.
        over = pool(standing=2, start_mean_seconds=240.0, parallel=1)
        first = replace(EIGHT, at=7 * HOUR, hosts=1, until=9 * HOUR)
        bands = (band(floor=0, release="when empty"),)
        result = go(NOBODY, over=over, rules=ready_by(first, replace(EIGHT, hosts=2), bands=bands))
        assert starts(result) == [(7 * HOUR - 300, 0), (8 * HOUR - 300, 1)]

    def test_a_share_of_the_standing_hosts(self):
        rules = ready_by(ReadyBy(8 * HOUR, 1, share=0.5))
        assert len(starts(go(NOBODY, over=pool(standing=5), rules=rules))) == 3

    def test_of_hosts_that_are_each_one_persons_the_lowest(self):
        assert starts(
            go(NOBODY, standing=5, kind="dedicated", session_limit=1, rules=ready_by(EIGHT))
        ) == [(8 * HOUR - 300, host) for host in range(3)]


class TestEnd:
    BANDS = (
        band(floor=0, release="when empty"),
        band(start=9 * HOUR, floor=0, release="when empty"),
    )

    def test_to_the_end_of_the_band_that_holds_the_time(self):
        result = go(NOBODY, over=pool(standing=3), rules=ready_by(EIGHT, bands=self.BANDS))
        assert stops(result) == [9 * HOUR] * 3

    def test_to_an_end_of_its_own(self):
        rules = ready_by(replace(EIGHT, until=8 * HOUR + 1_800), bands=self.BANDS)
        result = go(NOBODY, over=pool(standing=3), rules=rules)
        assert [row[0] for row in actions(result) if row[2] == Action.STOP] == [
            8 * HOUR + 1_800
        ] * 3

    def test_across_midnight(self):
        # Ready by 00:01 of the second day: started at 23:55 of the first, kept until 00:30.
        rules = ready_by(ReadyBy(60, 2, until=1_800), bands=self.BANDS[:1])
        result = go(NOBODY, over=pool(standing=2), rules=rules, seconds=86_400 + HOUR)
        assert starts(result)[-2:] == [(86_400 - 300, 0), (86_400 - 300, 1)]
        assert actions(result)[-1][:3] == (86_400 + 1_800, 0, Action.STOP)

    def test_what_would_have_to_come_back_is_not_let_go(self):
        # Empty from 07:50 on: at 07:55 it is kept, since a start would end at 07:57 only.
        given = simple([(0, 0, 7 * HOUR + 3_000 + 200)])
        rules = ready_by(replace(EIGHT, hosts=1), bands=self.BANDS)
        result = go(given, over=pool(standing=1), rules=rules)
        assert [row[0] for row in actions(result)][:1] == [300]  # it comes for the person
        assert min(stops(result)) >= 8 * HOUR


class TestLead:
    def test_it_is_the_quantile_of_the_largest_of_so_many(self):
        over = pool(standing=40, start_mean_seconds=240.0, start_cv=0.3)
        table = lead_table(over, 300)[STARTED]
        generator = np.random.default_rng(7)
        variance = np.log1p(0.09)
        drawn = np.exp(
            np.log(240) - variance / 2 + variance**0.5 * generator.standard_normal((20_000, 40))
        )
        for many in (1, 10, 40):
            in_time = (np.rint(drawn[:, :many]).max(axis=1) <= table[many]).mean()
            assert in_time == pytest.approx(0.95, abs=0.006)

    def test_queued_starts_are_drawn_and_add_up(self):
        # Without spread: five at a time, 240 s each.
        table = lead_table(pool(standing=12, start_mean_seconds=240.0, parallel=5), 300)[STARTED]
        assert table[[1, 5, 6, 10, 11]].tolist() == [240, 240, 480, 480, 720]
        create = pool(
            standing=0,
            surge=3,
            start_mean_seconds=100.0,
            parallel=1,
            create_mean_seconds=300.0,
            create_cv=0.0,
            create_script_seconds=60,
        )
        assert lead_table(create, 300)[CREATED].tolist() == [0, 460, 560, 660]


class TestFailures:
    def test_a_start_that_fails_is_billed_and_tried_again_at_the_next_look(self):
        # Half of all starts fail; of seed 1's host 0 the first does, if any of these seeds has one.
        over = pool(standing=1, start_failure_share=0.5)
        for seed in range(1, 20):
            result = go(NOBODY, over=over, rules=ready_by(EIGHT), seed=seed, seconds=9 * HOUR)
            if any(row[2] == Action.FAIL for row in actions(result)):
                break
        begun = starts(result)[0][0]
        assert actions(result)[1] == (begun + 120, 0, Action.FAIL, Cause.FAILED_START)
        assert starts(result)[1] == (begun + 300, 0)
        assert states(result, 0)[:4] == [
            (0, "off"),
            (begun, "starting"),
            (begun + 120, "off"),
            (begun + 300, "starting"),
        ]
        assert result.rounding_seconds == 0  # billed by the second

    def test_failures_are_in_the_lead(self):
        # 20 hosts at 2 %: on a third of all mornings one of them starts twice.
        sure = pool(standing=20, start_mean_seconds=240.0, start_cv=0.3)
        fails = pool(standing=20, start_mean_seconds=240.0, start_cv=0.3, start_failure_share=0.02)
        rules = ready_by(replace(EIGHT, hosts=20))
        assert lead_table(fails, 300)[STARTED][20] > lead_table(sure, 300)[STARTED][20] + 120
        in_time = 0
        for seed in range(1, 401):
            result = go(NOBODY, over=fails, rules=rules, seconds=9 * HOUR, seed=seed)
            ready = result.lanes[result.lanes["state"] == READY]["time"]
            in_time += len(ready) == 20 and ready.max() <= 8 * HOUR
        assert in_time >= 380


@pytest.mark.parametrize("parallel", [None, 6])
def test_on_nineteen_of_twenty_mornings_all_are_ready_and_not_much_too_early(parallel):
    over = pool(standing=20, start_mean_seconds=240.0, start_cv=0.3, parallel=parallel)
    rules = ready_by(ReadyBy(8 * HOUR, 20))
    lead = int(lead_table(over, 300)[STARTED][20])
    in_time, early = 0, 0.0
    for seed in range(1, 1_001):
        result = go(NOBODY, over=over, rules=rules, seconds=9 * HOUR, seed=seed)
        ready = result.lanes[result.lanes["state"] == READY]["time"]
        in_time += len(ready) == 20 and ready.max() <= 8 * HOUR
        early += np.maximum(8 * HOUR - ready, 0).mean()
    assert in_time >= 950
    # No look later would have done, and each host idles no longer than from then on.
    assert early / 1_000 < lead + 300 - 240


class TestMet:
    """What came of targets, as figures."""

    def met(self, result, *asks, standing=3):
        found = [
            Target(ask.at, ask.at + HOUR, ask, date(1970, 1, 1), "every-day", "UTC") for ask in asks
        ]
        return targets_met(result, found, standing, standing)

    def test_early_hosts_stand_idle_from_ready_to_the_time(self):
        # Started at 07:55 and ready at 07:57.
        result = go(NOBODY, over=pool(standing=3), rules=ready_by(EIGHT))
        (met,) = self.met(result, EIGHT)
        assert (met.hosts, met.ready, met.early, met.idle_seconds) == (3, 3, 3, 3 * 180)
        assert met.in_time and met.mean_idle == 180

    def test_a_host_with_somebody_on_it_is_not_idle(self):
        someone = simple([(0, 8 * HOUR - 100, 8 * HOUR + 600)])
        result = go(someone, over=pool(standing=3), rules=ready_by(EIGHT))
        (met,) = self.met(result, EIGHT)
        assert (met.early, met.idle_seconds) == (3, 2 * 180 + 80)

    def test_hosts_that_were_on_anyhow_are_none_of_its_early_ones(self):
        rules = ready_by(EIGHT, bands=(band(floor=2),))
        (met,) = self.met(go(NOBODY, over=pool(standing=3), rules=rules), EIGHT)
        assert (met.ready, met.early, met.idle_seconds) == (3, 1, 180)

    def test_of_two_targets_each_has_what_was_started_since_the_one_before(self):
        ten = ReadyBy(10 * HOUR, 3)
        two = replace(EIGHT, hosts=1, until=11 * HOUR)
        result = go(NOBODY, over=pool(standing=3), rules=ready_by(two, ten))
        assert [(m.early, m.idle_seconds) for m in self.met(result, two, ten)] == [
            (1, 180),
            (2, 2 * 180),
        ]

    def test_hosts_that_are_not_ready_are_told(self):
        down = (Drill(at=8 * HOUR - 60, seconds=600, hosts=1),)
        result = go(NOBODY, over=pool(standing=3), rules=ready_by(EIGHT), drills=down)
        (met,) = self.met(result, EIGHT)
        assert (met.ready, met.early, met.in_time) == (2, 2, False)

    def test_what_was_not_recorded_is_not_told(self):
        assert self.met(replace(go(NOBODY, rules=ready_by(EIGHT)), recorded=HOUR), EIGHT) == []
