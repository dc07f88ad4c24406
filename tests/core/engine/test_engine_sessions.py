"""Hand-worked cases for sessions: one rule each, every number worked out beside it."""

import pytest

from idle_harbor.core.engine.kernel import codes as k
from tests.builders import go, outcomes, pool, simple, spells


def level(result, which):
    return result.total(which)


def test_sign_off_frees_the_slot_at_once():
    # One slot. A 100–200; B asks at 150 and is served at 200: a wait of 50.
    result = go(simple([(0, 100, 200), (1, 150, 400)]), over=pool(standing=1, session_limit=1))
    assert outcomes(result) == [(k.OUT_CONNECTED, 0), (k.OUT_CONNECTED, 50)]
    assert level(result, k.L_WAITING) == 50
    assert level(result, k.L_ACTIVE) == 100 + 200


def test_disconnect_holds_the_slot_until_its_timeout():
    # Disconnected at 200, ended at 200 + 1,200; B waits from 150 until then.
    result = go(
        spells([(0, 100, 200, k.DISCONNECT), (1, 150, 2000, k.SIGN_OFF)]),
        over=pool(standing=1, session_limit=1),
    )
    assert outcomes(result)[1] == (k.OUT_CONNECTED, 1250)
    assert level(result, k.L_DISCONNECTED) == 1200


def test_walk_away_is_idle_then_disconnected_then_over():
    # Idle for 600, disconnected for 1,200: the slot is held from 100 to 200 + 1,800.
    result = go(spells([(0, 100, 200, k.WALK_AWAY)]))
    assert level(result, k.L_ACTIVE) == 100
    assert level(result, k.L_IDLE) == 600
    assert level(result, k.L_DISCONNECTED) == 1200
    assert result.slot_seconds == 1900


@pytest.mark.parametrize(
    ("idle", "gone", "idle_time", "gone_time"),
    [(None, 60, 9800, 0), (600, None, 600, 9200), (0, 50, 0, 50), (40, 0, 40, 0)],
)
def test_timeouts_never_and_zero(idle, gone, idle_time, gone_time):
    # A horizon of 10,000 s; the person walks away at 200.
    result = go(
        spells([(0, 100, 200, k.WALK_AWAY)]),
        over=pool(idle_timeout=idle, disconnected_timeout=gone),
        seconds=10_000,
    )
    assert level(result, k.L_IDLE) == idle_time
    assert level(result, k.L_DISCONNECTED) == gone_time


def test_coming_back_resumes_the_session_without_a_new_slot():
    # Away 200–500 (disconnected), back after 8 s of reconnecting; the host is full all along.
    result = go(
        spells([(0, 100, 200, k.DISCONNECT), (0, 500, 900, k.SIGN_OFF)]),
        over=pool(standing=1, session_limit=1, reconnect_seconds=8),
    )
    assert outcomes(result) == [(k.OUT_CONNECTED, 0), (k.OUT_RECONNECTED, 8)]
    assert level(result, k.L_DISCONNECTED) == 308
    assert level(result, k.L_ACTIVE) == 100 + 392
    assert result.ended_sessions == 1


def test_returning_at_the_second_of_the_timeout_is_too_late():
    # Sign-offs and timeouts come first in a second: at 1,400 the session is gone.
    result = go(spells([(0, 100, 200, k.DISCONNECT), (0, 1400, 1500, k.SIGN_OFF)]))
    assert outcomes(result)[1] == (k.OUT_CONNECTED, 0)
    assert result.ended_sessions == 2


def test_people_waiting_come_before_new_arrivals():
    # At 300 the slot of C is freed; A, waiting since 250, takes it before B,
    # who asks at 300 and has it when A leaves at 1,000.
    result = go(simple([(2, 0, 300), (0, 250, 1000), (1, 300, 1200)]), standing=1, session_limit=1)
    waits = dict(zip(result.spells.person.tolist(), result.results["wait"].tolist(), strict=True))
    assert waits == {2: 0, 0: 50, 1: 700}


def test_first_come_first_served():
    result = go(
        simple([(0, 0, 100), (1, 10, 300), (2, 20, 300), (3, 30, 400)]), standing=1, session_limit=1
    )
    # 1 gets 100, 2 never (its spell ends at 300 as 1's does, and sign-offs come before rooms,
    # in key order: both are over), 3 gets 300.
    assert outcomes(result) == [
        (k.OUT_CONNECTED, 0),
        (k.OUT_CONNECTED, 90),
        (k.OUT_REFUSED, -1),
        (k.OUT_CONNECTED, 270),
    ]


def test_patience_runs_out():
    result = go(
        simple([(0, 0, 1000), (1, 100, 5000)]), standing=1, session_limit=1, patience_seconds=200
    )
    assert outcomes(result)[1] == (k.OUT_REFUSED, -1)
    assert level(result, k.L_WAITING) == 200


def test_a_room_in_the_last_second_of_patience_is_taken():
    # People waiting are served before give-ups of the same second.
    result = go(
        simple([(0, 0, 300), (1, 100, 5000)]), standing=1, session_limit=1, patience_seconds=200
    )
    assert outcomes(result)[1] == (k.OUT_CONNECTED, 200)


def test_no_patience_is_refused_at_once():
    result = go(
        simple([(0, 0, 300), (1, 100, 5000)]), standing=1, session_limit=1, patience_seconds=0
    )
    assert outcomes(result)[1] == (k.OUT_REFUSED, -1)
    assert level(result, k.L_WAITING) == 0


def test_a_spell_that_ends_while_waiting_is_refused():
    result = go(simple([(0, 0, 300), (1, 100, 250)]), over=pool(standing=1, session_limit=1))
    assert outcomes(result)[1] == (k.OUT_REFUSED, -1)


def test_sessions_counted_from_connection_keep_their_length():
    # B asks at 50, is served at 100 and stays 70 from then on.
    result = go(
        spells([(0, 0, 100, 0), (1, 50, 70, 0)], from_connection=True), standing=1, session_limit=1
    )
    assert outcomes(result)[1] == (k.OUT_CONNECTED, 50)
    assert level(result, k.L_ACTIVE) == 170


def test_spread_and_fill_choose_hosts():
    from tests.builders import band, schedule

    rows = [(n, 10 * (n + 1), 5000) for n in range(4)]
    spread = go(simple(rows), rules=schedule(band(rule="spread")))
    fill = go(simple(rows), rules=schedule(band(rule="fill")))
    assert spread.results["host"].tolist() == [0, 1, 0, 1]
    assert fill.results["host"].tolist() == [0, 0, 1, 1]


def test_fill_prefers_the_fullest_host_that_has_room():
    from tests.builders import band, schedule

    # Limit 3: hosts hold 2 and 1 after person 3 leaves host 0's third place and 4, 5 went to 1.
    rows = [(0, 1, 9000), (1, 2, 9000), (2, 3, 100), (3, 4, 9000), (4, 200, 9000)]
    result = go(simple(rows), over=pool(session_limit=3), rules=schedule(band(rule="fill")))
    assert result.results["host"].tolist() == [0, 0, 0, 1, 0]


def test_who_is_at_work_when_the_horizon_ends_still_holds_a_slot():
    result = go(simple([(0, 100, 900)]), seconds=600)
    assert level(result, k.L_ACTIVE) == 500
    assert outcomes(result) == [(k.OUT_CONNECTED, 0)]
