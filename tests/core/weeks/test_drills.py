"""Hosts that fail on purpose: worked by hand, and the loss of a zone against the closed form."""

import pytest

from idle_harbor.core.engine.kernel import codes as k
from idle_harbor.core.engine.kernel.codes import DISCONNECT, Action, Cause, WaitCause
from idle_harbor.core.engine.setting import Drill
from tests.builders import (
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
    story,
    varied,
)

KEEP = schedule(band(floor=4))


def drilled(rows, *drills, hosts=4, limit=1, **more):
    given = {"standing": hosts, "session_limit": limit, "zones": 2, "seconds": 10_000, **more}
    return go(rows, rules=KEEP, drills=drills, **given)


def test_a_zone_takes_every_second_host():
    result = drilled(simple([]), Drill(1000, 500, zone=1))
    failed = [host for time, host, action, cause in actions(result) if action == Action.FAIL]
    assert failed == [1, 3]
    assert states(result, 0) == [(0, "ready")]
    # Repaired at 1,500: off. The policy sees it at that second's tick and starts both.
    assert story(result, 3) == "0 ready, 1_000 failed, 1_500 starting, 1_620 ready"


def test_who_was_at_work_asks_again_and_what_they_wait_adds_up():
    """Two people on hosts 0 and 1 of two; host 1 fails at 1,000 and is back, started, at 2,220."""
    result = drilled(simple([(0, 100, 5000), (1, 100, 5000)]), Drill(1000, 1100, zone=1), hosts=2)
    assert result.interrupted == 1
    # Failed until 2,100, which is a tick: started then, ready at 2,220.
    assert outcomes(result) == [(k.OUT_CONNECTED, 0), (k.OUT_CONNECTED, 1220)]
    assert result.results["cause"].tolist() == [0, WaitCause.FAILED]


def test_with_a_spare_host_nobody_waits():
    result = drilled(simple([(0, 100, 5000), (1, 100, 5000)]), Drill(1000, 1100, hosts=1))
    assert outcomes(result) == [(k.OUT_CONNECTED, 0), (k.OUT_CONNECTED, 0)]
    assert result.interrupted == 1


def test_sessions_that_nobody_uses_are_lost_without_a_word():
    rows = spells([(0, 100, 900, DISCONNECT), (0, 3000, 4000, 0)])
    result = drilled(rows, Drill(1000, 100, hosts=1), disconnected_timeout=None)
    assert result.interrupted == 0
    # The second spell finds no session to return to.
    assert outcomes(result)[1] == (k.OUT_CONNECTED, 0)


def test_a_logon_in_progress_begins_anew():
    """A logon of 40 s begun at 980 is lost at 1,000; another host takes it: 20 s and 40 s."""

    slow = varied(PROFILE, logon_seconds=40.0)
    over = pool(standing=4, session_limit=1)
    result = go(
        simple([(0, 980, 5000)]),
        over=over,
        rules=KEEP,
        seconds=9000,
        profile=slow,
        drills=(Drill(1000, 100, hosts=1),),
    )
    assert outcomes(result) == [(k.OUT_CONNECTED, 60)]


def test_repaired_hosts_say_so():
    result = drilled(simple([]), Drill(1000, 500, hosts=1))
    assert (1500, 0, Action.REPAIR, Cause.DRILL) in actions(result)


def test_an_own_host_that_fails_is_waited_for():
    """A dedicated host fails at 1,000 until 1,100: knocked on then, ready at 1,220."""
    over = pool(kind="dedicated", standing=2, session_limit=1)
    result = go(
        simple([(0, 100, 5000)]),
        over=over,
        rules=schedule(band(floor=1)),
        seconds=9000,
        drills=(Drill(1000, 100, hosts=1),),
    )
    assert outcomes(result) == [(k.OUT_CONNECTED, 220)]


@pytest.mark.parametrize("zones", [2, 3, 4])
def test_the_hosts_that_outlive_a_zone_hold_the_peak(zones):
    """60 people who all work at once on hosts of 5: with the closed form's hosts a zone can go and
    everybody has a desktop again at once, with one host fewer somebody has none."""
    from idle_harbor.core.sizing.zone_loss import hosts_for

    rows = simple([(person, 100, 9000) for person in range(60)])
    needed = hosts_for(60, 5, zones=zones)
    for hosts, waiting in ((needed, 0), (needed - zones, 1)):
        result = go(
            rows,
            over=pool(standing=hosts, session_limit=5),
            seconds=9000,
            rules=schedule(band(floor=hosts)),
            zones=zones,
            drills=(Drill(1000, 9000, zone=0),),
        )
        left = result.peaks[1000 // 300 + 1, k.L_WAITING]
        assert (left > 0) == bool(waiting)


class TestSeveral:
    def test_one_after_the_other(self):
        drills = (Drill(1000, 100, hosts=1), Drill(3000, 100, zone=1))
        told = actions(drilled(simple([]), *drills, hosts=2))
        assert [row[:2] for row in told if row[2] == Action.FAIL] == [(1000, 0), (3000, 1)]

    def test_a_host_is_repaired_when_the_last_that_holds_it_ends(self):
        """1,000 to 2,000 and 1,500 to 2,500 on host 0: failed once, until 2,500. The policy looks
        at 2,700 next."""
        result = drilled(
            simple([]), Drill(1000, 1000, hosts=1), Drill(1500, 1000, hosts=1), hosts=1
        )
        assert story(result, 0) == "0 ready, 1_000 failed, 2_500 off, 2_700 starting, 2_820 ready"

    def test_one_that_begins_as_another_ends_holds_on(self):
        result = drilled(simple([]), Drill(1000, 500, hosts=1), Drill(1500, 500, hosts=1), hosts=1)
        assert [time for time, state in states(result, 0) if state == "failed"] == [1000]
        assert (2000, 0, Action.REPAIR, Cause.DRILL) in actions(result)
