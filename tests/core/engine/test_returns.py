"""Lost returns: who comes back on the same working day, and whether their session is there."""

from dataclasses import replace
from datetime import date

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from idle_harbor.core.calendar.clock import Horizon, horizon_for, week_start
from idle_harbor.core.engine.kernel import codes as k
from idle_harbor.core.engine.kernel.codes import DISCONNECT, SIGN_OFF, WALK_AWAY
from idle_harbor.core.engine.run import run
from idle_harbor.core.engine.setting import Drill, Setting
from idle_harbor.core.figures.experience import Returns, returns_of
from tests.builders import PROFILE, SIZE, band, go, pool, schedule, spells
from tests.sizes import size

#: Two hosts of one session that are always on; whoever comes is there at once.
ON = schedule(band(floor=2))


def days_of(given, *days):
    return replace(given, day=np.array(days, dtype=np.int16))


def returned(rows, *, days=None, drills=(), **changes):
    over = pool(standing=2, session_limit=1, **{"disconnected_timeout": 600, **changes})
    given = spells(rows)
    result = go(
        given if days is None else days_of(given, *days), over=over, rules=ON, drills=drills
    )
    return result.results["returned"].tolist(), returns_of(result)


class TestLunch:
    """Gone at 1,000; a disconnected session is signed off after 600 s."""

    def lunch(self, back, way=DISCONNECT, **more):
        return returned([(0, 100, 1000, way), (0, back, 5000, SIGN_OFF)], **more)

    def test_back_a_minute_early(self):
        assert self.lunch(1540) == ([k.RETURN_NONE, k.RETURN_FOUND], Returns(1, 0, 0, 0))

    def test_back_a_minute_late(self):
        found, counted = self.lunch(1660)
        assert found == [k.RETURN_NONE, k.RETURN_TIMEOUT]
        assert counted == Returns(0, 1, 0, 0) and counted.lost_share == 1.0

    def test_back_in_the_very_second(self):
        """Timeouts come before arrivals."""
        assert self.lunch(1600)[1] == Returns(0, 1, 0, 0)
        assert self.lunch(1599)[1] == Returns(1, 0, 0, 0)

    def test_who_walked_away_has_both_timeouts(self):
        assert self.lunch(1899, WALK_AWAY, idle_timeout=300)[1] == Returns(1, 0, 0, 0)
        assert self.lunch(1900, WALK_AWAY, idle_timeout=300)[1] == Returns(0, 1, 0, 0)

    def test_who_signed_off_had_nothing_to_lose(self):
        found, counted = self.lunch(1660, SIGN_OFF)
        assert found == [k.RETURN_NONE, k.RETURN_NONE]
        assert counted == Returns(0, 0, 0, 0) and counted.lost_share is None

    def test_never_is_never(self):
        assert self.lunch(80_000, disconnected_timeout=None)[1] == Returns(1, 0, 0, 0)

    def test_a_loss_counts_once(self):
        """Lost at the first break, found at the second."""
        rows = [
            (0, 100, 1000, DISCONNECT),
            (0, 2000, 3000, DISCONNECT),
            (0, 3300, 4000, SIGN_OFF),
            (0, 5000, 6000, SIGN_OFF),
        ]
        found, counted = returned(rows)
        assert found == [k.RETURN_NONE, k.RETURN_TIMEOUT, k.RETURN_FOUND, k.RETURN_NONE]
        assert counted.lost_share == 0.5


class TestWorkingDays:
    def test_the_next_morning_is_no_return(self):
        rows = [(0, 100, 1000, DISCONNECT), (0, 40_000, 50_000, SIGN_OFF)]
        assert returned(rows, days=(0, 1))[1] == Returns(0, 0, 0, 0)
        # Nor is it where the session is still there.
        assert returned(rows, days=(0, 1), disconnected_timeout=None)[1] == Returns(0, 0, 0, 0)

    def test_a_night_shift_is_one(self):
        """From 22:00 with a meal from 01:30 to 02:00: one working day, on two dates."""
        from idle_harbor.core.demand.spells import demand_of, pool_spells
        from idle_harbor.formats.plan.codec import plan_of
        from tests.core.people import group, pattern
        from tests.core.plans import document

        meal = {
            "probability": 1,
            "at": "01:30",
            "mean_minutes": 30,
            "sd_minutes": 0,
            "length_sd_minutes": 0,
            "leaving": {"sign_off": 0, "disconnect": 1, "walk_away": 0},
        }
        night = pattern(
            start={"kind": "normal", "mean": "22:00", "sd_minutes": 0},
            length={"kind": "normal", "mean_minutes": 480, "sd_minutes": 0},
            attendance={"mon": 1.0},
            breaks=[meal],
        )
        plan = plan_of(
            document(
                sites=[{"id": "here", "time_zone": "UTC"}],
                groups=[group("a", 1, [night])],
                access=[{"group": "a", "pool": "main"}],
            )
        )
        horizon = horizon_for("UTC", week_start(plan.week_of), 3, 0)
        drawn = pool_spells(demand_of(plan, "main"), horizon, 1)
        assert len(drawn) == 2 and drawn.start[1] > 86_400 and len(set(drawn.day.tolist())) == 1

    def test_in_a_file_a_night_shift_is_one_too(self):
        from idle_harbor.formats.tables.spells import read_spells

        text = (
            "person,start,end,leaving\n"
            "ann,2027-03-01T22:00,2027-03-02T01:30,disconnect\n"
            "ann,2027-03-02T02:00,2027-03-02T06:00,sign off\n"
            "ann,2027-03-02T22:00,2027-03-02T23:00,sign off\n"
        )
        horizon = horizon_for("UTC", date(2027, 3, 1), 3, 0)
        assert read_spells(text.encode(), horizon).day.tolist() == [0, 0, 1]


class TestHostsThatFail:
    def test_a_session_left_on_one_is_lost(self):
        """Left at 1,000 and kept until 1,600; its host fails at 1,200."""
        rows = [(0, 100, 1000, DISCONNECT), (0, 1500, 5000, SIGN_OFF)]
        found, counted = returned(rows, drills=(Drill(1200, 100, hosts=1),))
        assert found == [k.RETURN_NONE, k.RETURN_FAILED] and counted == Returns(0, 0, 0, 1)

    def test_who_is_thrown_out_at_work_has_not_come_back(self):
        """They get another host at once: an interruption. Their break later loses nothing."""
        rows = [(0, 100, 3000, DISCONNECT), (0, 3300, 5000, SIGN_OFF)]
        found, _ = returned(rows, drills=(Drill(1200, 100, hosts=1),))
        assert found == [k.RETURN_NONE, k.RETURN_FOUND]

    def test_who_is_thrown_out_and_finds_no_host_comes_back_to_nothing(self):
        """Both hosts fail at 1,200 until 2,500: refused after 600 s; back at 3,000."""
        rows = [(0, 100, 1900, SIGN_OFF), (0, 3000, 5000, SIGN_OFF)]
        found, _ = returned(rows, drills=(Drill(1200, 1300, hosts=2),))
        assert found == [k.RETURN_NONE, k.RETURN_FAILED]

    def test_a_return_that_the_failure_meets_is_lost(self):
        """Back at 1,100 with a reconnect of 300 s; the host fails meanwhile, another takes them."""
        rows = [(0, 100, 1000, DISCONNECT), (0, 1100, 5000, SIGN_OFF)]
        found, _ = returned(rows, reconnect_seconds=300, drills=(Drill(1200, 100, hosts=1),))
        assert found == [k.RETURN_NONE, k.RETURN_FAILED]


class TestLostWork:
    """A session that is ended for its person within 1,800 s of their work in it."""

    def lost(self, way, idle, disconnected):
        over = pool(
            standing=2, session_limit=1, idle_timeout=idle, disconnected_timeout=disconnected
        )
        result = go(spells([(0, 100, 1000, way)]), over=over, rules=ON)
        return result.lost_work, result.counted_ends

    def test_a_timeout_too_soon_after_work(self):
        assert self.lost(DISCONNECT, None, 1800) == (1, 1)
        assert self.lost(DISCONNECT, None, 1801) == (0, 1)

    def test_both_timeouts_count_from_the_work(self):
        assert self.lost(WALK_AWAY, 900, 900) == (1, 1)
        assert self.lost(WALK_AWAY, 900, 901) == (0, 1)

    def test_who_signs_off_loses_nothing(self):
        assert self.lost(SIGN_OFF, 0, 0) == (0, 1)


def test_a_pool_that_ends_signs_people_off_by_force():
    """The pool's last date passes at 86,400 while a night shift is at its meal."""
    over = pool(standing=1, session_limit=1, last_date=date(1970, 1, 1))
    rows = [(0, 80_000, 86_000, DISCONNECT), (0, 87_000, 90_000, SIGN_OFF)]
    setting = Setting(over, schedule(band(floor=1)), SIZE, (PROFILE,))
    horizon = Horizon("UTC", date(1970, 1, 1), 0, 2, 0, 0, 2 * 86_400)
    result = run(setting, horizon, days_of(spells(rows), 0, 0), 1)
    assert returns_of(result) == Returns(0, 0, 1, 0)
    assert result.lost_work == 1


def test_spells_of_the_warm_up_count_no_return():
    rows = [(0, 100, 1000, DISCONNECT), (0, 1500, 5000, SIGN_OFF)]
    over = pool(standing=2, session_limit=1, disconnected_timeout=600)
    result = go(spells(rows), over=over, rules=ON, warm_days=1, seconds=2 * 86_400)
    assert returns_of(result) == Returns(0, 0, 0, 0)


@settings(max_examples=size(75, 450))
@given(st.data())
def test_with_ample_hosts_as_told_by_hand(data):
    """Where there is always room and no logon takes time, a session lasts from its spell's end as
    long as its timeouts say: told again here without any engine."""
    idle = data.draw(st.one_of(st.none(), st.integers(0, 3000)))
    gone = data.draw(st.one_of(st.none(), st.integers(0, 3000)))
    rows, expected = [], []
    for person in range(data.draw(st.integers(1, 6))):
        at, until = data.draw(st.integers(0, 3000)), -1.0
        left = False
        for _ in range(data.draw(st.integers(1, 5))):
            end = at + data.draw(st.integers(1, 4000))
            way = data.draw(st.integers(0, 2))
            rows.append((person, at, end, way))
            expected.append((at, person, (1 if at < until else 2) if left else 0))
            left = way != SIGN_OFF
            keeps = float("inf") if gone is None else gone
            until = end + keeps
            if way == WALK_AWAY:
                until += float("inf") if idle is None else idle
            at = end + data.draw(st.integers(1, 4000))
    over = pool(
        standing=6,
        session_limit=1,
        idle_timeout=idle,
        disconnected_timeout=gone,
        reconnect_seconds=0,
    )
    result = go(spells(rows), over=over, rules=schedule(band(floor=6)))
    codes = {0: k.RETURN_NONE, 1: k.RETURN_FOUND, 2: k.RETURN_TIMEOUT}
    told = [codes[what] for _, _, what in sorted(expected)]
    assert result.results["returned"].tolist() == told
