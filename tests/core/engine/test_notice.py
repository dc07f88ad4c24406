"""Drain with notice, in a pool of two hosts worked by hand.

Of two people each is on a host of their own, the second on the one that drains at 01:00, since one
host has room for both; a notice of 16 minutes is over at second 4,560.
"""

import pytest

from idle_harbor.core.engine.kernel.codes import (
    DISCONNECT,
    OUT_CONNECTED,
    OUT_RECONNECTED,
    RETURN_FORCED,
    SIGN_OFF,
    WALK_AWAY,
)
from idle_harbor.core.plan import Logon
from idle_harbor.core.plan.schedules import Notice
from idle_harbor.core.policy.codes import Action, Cause
from tests.builders import (
    PROFILE,
    actions,
    band,
    go,
    outcomes,
    pool,
    schedule,
    spells,
    states,
    varied,
)

TOLD, OVER = 3_600, 4_560
LATE = 80_000
NEVER = {"idle_timeout": None, "disconnected_timeout": None}
FIRST = (0, 0, LATE, SIGN_OFF)


def rules(who, *more, minutes=16, tick=300, **changes):
    notice = Notice(minutes=minutes, who=who)
    last = band(start=TOLD, floor=0, release="drain with notice", notice=notice, **changes)
    return schedule(band(floor=2), last, *more, tick=tick)


def after(who, *second, over=None, **more):
    """One run of the first person and what is given of the second."""
    return go(spells([FIRST, *second]), over=over or pool(**NEVER), rules=rules(who), **more)


def ended(result, host=1):
    """Seconds at which a host lost a session."""
    lane = result.lanes[result.lanes["host"] == host]
    held = lane["sessions"]
    return [int(lane["time"][k]) for k in range(1, len(lane)) if held[k] < held[k - 1]]


AWAY = {"disconnected": DISCONNECT, "idle": WALK_AWAY}


class TestWhoIsSignedOff:
    @pytest.mark.parametrize(
        ("who", "state", "forced"),
        [
            ("disconnected", "disconnected", True),
            ("disconnected", "idle", False),
            ("idle too", "disconnected", True),
            ("idle too", "idle", True),
            ("everyone", "disconnected", True),
            ("everyone", "idle", True),
        ],
    )
    def test_who_has_left_by_the_state_that_is_chosen(self, who, state, forced):
        result = after(who, (1, 10, 1_000, AWAY[state]))
        assert ended(result) == ([OVER] if forced else [])
        assert result.forced == result.ended_sessions - 1 == int(forced)
        assert result.interrupted == 0

    @pytest.mark.parametrize("who", ["disconnected", "idle too"])
    def test_who_is_at_work_is_spared_and_told_anew_on_leaving(self, who):
        result = after(who, (1, 10, 5_000, DISCONNECT))
        assert ended(result) == [5_000 + 960]
        assert (result.forced, result.interrupted) == (1, 0)

    def test_everyone_who_is_at_work_asks_again_at_once(self):
        result = after("everyone", (1, 10, LATE, SIGN_OFF))
        assert ended(result) == [OVER]
        assert (result.forced, result.interrupted) == (1, 1)
        assert outcomes(result) == [(OUT_CONNECTED, 0)] * 2
        assert result.results["host"].tolist() == [0, 0]

    def test_a_logon_in_progress_is_work_and_begins_anew(self):
        # 1,000 s of work: begun at 3,590, thrown out at 4,560, on the other host until 5,560.
        profile = varied(PROFILE, logon=Logon(1_000.0, 0.0))
        result = after("everyone", (1, 3_590, LATE, SIGN_OFF), profile=profile)
        assert outcomes(result)[1] == (OUT_CONNECTED, 970 + 1_000)
        assert result.interrupted == 1

    def test_what_was_waited_before_counts_on_where_there_is_room_at_once(self):
        # A host takes one person until 01:00, then two: the second waits for a host that starts at
        # 300, is thrown out at 01:16 and finds room beside the first in the same second.
        one = band(floor=1, session_limit=1)
        notice = Notice(minutes=16, who="everyone")
        last = band(start=TOLD, floor=0, release="drain with notice", notice=notice)
        result = go(spells([FIRST, (1, 10, LATE, SIGN_OFF)]), one, last, **NEVER)
        assert outcomes(result)[1] == (OUT_CONNECTED, 410)
        assert (result.interrupted, result.results["host"].tolist()) == (1, [0, 0])

    def test_the_host_stops_at_the_look_after_the_last_is_signed_off(self):
        result = after("disconnected", (1, 10, 1_000, DISCONNECT))
        assert actions(result)[0] == (TOLD, 1, Action.NOTICE, Cause.RELEASE)
        assert states(result, 1) == [
            (0, "ready"),
            (TOLD, "draining"),
            (4_800, "stopping"),
            (4_860, "off"),
        ]


class TestNotice:
    def test_who_becomes_idle_before_it_is_over_has_been_told(self):
        result = after("idle too", (1, 10, 4_000, WALK_AWAY))
        assert ended(result) == [OVER]

    def test_idle_is_spared_by_disconnected_and_told_anew_when_the_timeout_strikes(self):
        over = pool(idle_timeout=4_000, disconnected_timeout=None)
        result = after("disconnected", (1, 10, 1_000, WALK_AWAY), over=over)
        assert ended(result) == [5_000 + 960]

    def test_a_timeout_that_is_earlier_ends_the_session_and_nothing_is_forced(self):
        over = pool(idle_timeout=None, disconnected_timeout=3_000)
        result = after("disconnected", (1, 10, 1_000, DISCONNECT), over=over)
        assert (ended(result), result.forced) == ([4_000], 0)

    def test_a_timeout_of_nothing_comes_first_in_the_second_in_which_it_is_over(self):
        # At work until the very second: disconnected, and signed off by the timeout of 0 s.
        over = pool(idle_timeout=None, disconnected_timeout=0)
        result = after("disconnected", (1, 10, OVER, DISCONNECT), over=over)
        assert (ended(result), result.forced) == ([OVER], 0)

    def test_who_comes_back_is_spared_and_told_anew_when_they_leave(self):
        back = [(1, 10, 1_000, DISCONNECT), (1, 4_000, 5_000, DISCONNECT)]
        result = after("disconnected", *back)
        assert ended(result) == [5_000 + 960]
        assert outcomes(result)[2] == (OUT_RECONNECTED, 0)

    def test_who_comes_back_and_leaves_again_in_time_has_a_whole_new_notice(self):
        back = [(1, 10, 1_000, WALK_AWAY), (1, 4_000, 4_100, WALK_AWAY)]
        assert ended(after("idle too", *back)) == [4_100 + 960]

    def test_everyone_spares_nobody_who_comes_back(self):
        back = [(1, 10, 1_000, DISCONNECT), (1, 4_000, LATE, SIGN_OFF)]
        result = after("everyone", *back)
        assert ended(result) == [OVER]
        assert result.interrupted == 1

    def test_who_finds_their_session_signed_off_has_lost_it_by_force(self):
        back = [(1, 10, 1_000, DISCONNECT), (1, 8_000, LATE, SIGN_OFF)]
        result = after("disconnected", *back)
        assert result.results["returned"][2] == RETURN_FORCED

    def test_a_host_that_is_taken_back_takes_the_notice_back(self):
        # Two more come: at 3,900 both hosts are needed, and the fourth works on the second.
        given = spells(
            [
                FIRST,
                (1, 10, 1_000, DISCONNECT),
                (2, 3_700, LATE, SIGN_OFF),
                (3, 3_800, LATE, SIGN_OFF),
            ]
        )
        result = go(given, over=pool(**NEVER), rules=rules("disconnected"))
        assert actions(result)[1] == (3_900, 1, Action.UNDRAIN, Cause.CEILING)
        assert outcomes(result)[3] == (OUT_CONNECTED, 100)
        assert result.forced == 0

    def test_it_begins_anew_with_another_drain(self):
        # The two who came leave at 4,300: at 4,500 the second host drains again.
        given = spells(
            [
                FIRST,
                (1, 10, 1_000, DISCONNECT),
                (2, 3_700, 4_300, SIGN_OFF),
                (3, 3_800, 4_300, SIGN_OFF),
            ]
        )
        result = go(given, over=pool(**NEVER), rules=rules("disconnected"))
        assert ended(result) == [4_300, 4_500 + 960]

    def test_a_later_band_does_not_take_it_back(self):
        later = band(start=4_200, floor=0, release="keep all")
        given = spells([FIRST, (1, 10, 1_000, DISCONNECT)])
        result = go(given, over=pool(**NEVER), rules=rules("disconnected", later))
        assert ended(result) == [OVER]

    def test_what_drained_before_its_band_began_has_none(self):
        drains = band(start=TOLD, floor=0, release="drain")
        tells = band(start=7_200, floor=0, release="drain with notice", notice=Notice(16))
        given = spells([FIRST, (1, 10, 1_000, DISCONNECT)])
        result = go(given, over=pool(**NEVER), rules=schedule(band(floor=2), drains, tells))
        assert result.forced == 0


class TestWithOtherRules:
    def test_who_is_thrown_out_stands_behind_those_who_wait(self):
        # A lid of one host of one slot: in the same second the first leaves, the third, who has
        # waited since 4,000, gets that slot, and the second waits until the third is gone.
        third = (2, 4_000, 6_000, SIGN_OFF)
        given = spells([(0, 0, OVER, SIGN_OFF), (1, 10, LATE, SIGN_OFF), third])
        result = go(given, over=pool(session_limit=1, **NEVER), rules=rules("everyone", lid=1))
        assert outcomes(result)[2] == (OUT_CONNECTED, OVER - 4_000)
        assert outcomes(result)[1] == (OUT_CONNECTED, 6_000 - OVER)

    def test_a_knock_takes_the_very_host_back(self):
        # The policy looks once an hour. The third person fills the first host; the second is
        # thrown out, finds no room and knocks: their host, empty now, is taken back.
        given = spells([FIRST, (1, 10, LATE, SIGN_OFF), (2, 3_700, LATE, SIGN_OFF)])
        result = go(given, over=pool(**NEVER), rules=rules("everyone", knock=True, tick=3_600))
        assert outcomes(result)[1] == (OUT_CONNECTED, 0)
        assert result.results["host"].tolist() == [0, 1, 0]
        assert actions(result)[1] == (OVER, 1, Action.UNDRAIN, Cause.KNOCK)
