"""``decide`` on its own: views in, actions with causes out."""

from idle_harbor.core.policy.codes import Action, Cause
from idle_harbor.core.policy.controller import Decision
from idle_harbor.core.policy.view import RELEASE_CODES
from tests.core.policy.deciding import Seen, decide_for


def settings(floor=0, ceiling=1.0, headroom=0, release="keep all"):
    code = RELEASE_CODES[release]
    return {"floor": floor, "ceiling": ceiling, "headroom": headroom, "release": code}


def decided(states, sessions, waiting, limit, band):
    return decide_for(Seen(states, sessions, waiting), limit=limit, **band)


def test_nothing_to_do():
    assert decided(["ready", "off"], [1, 0], 0, 4, settings(floor=1)) == []


def test_starting_hosts_count_as_on_their_way():
    assert decided(["starting", "off"], [0, 0], 3, 4, settings()) == []


def test_stopping_hosts_do_not_count_and_cannot_be_started():
    assert decided(["stopping", "off"], [0, 0], 1, 4, settings()) == [
        Decision(1, Action.START, Cause.CEILING)
    ]


def test_the_wish_is_cut_at_the_hosts_that_exist():
    got = decided(["off", "off"], [0, 0], 100, 4, settings())
    assert [d.host for d in got] == [0, 1]


def test_the_first_rule_that_asks_is_the_cause():
    # Floor 1, ceiling ceil(5 / (4 × 0.8)) = 2, headroom ceil((5 + 7) / 4) = 3.
    got = decided(["off"] * 4, [0] * 4, 5, 4, settings(1, 0.8, 7))
    assert [d.cause for d in got] == [Cause.FLOOR, Cause.CEILING, Cause.HEADROOM]


def test_a_ceiling_met_exactly_asks_for_no_more():
    # 21 / (10 × 0.7) is 3 in exact arithmetic.
    got = decided(["ready"] * 3 + ["off"], [7, 7, 7, 0], 0, 10, settings(0, 0.7))
    assert got == []


def test_sessions_on_draining_hosts_count_as_people():
    # 6 sessions, 4 of them on the draining host: two hosts of 4 are wanted, one is had.
    got = decided(["ready", "draining"], [2, 4], 0, 4, settings(release="drain"))
    assert got == [Decision(1, Action.UNDRAIN, Cause.CEILING)]


def test_undrain_lowest_then_start_lowest():
    states = ["off", "draining", "draining", "off"]
    got = decided(states, [0, 1, 1, 0], 0, 1, settings(floor=4))
    assert [(d.host, d.action) for d in got] == [
        (1, Action.UNDRAIN),
        (2, Action.UNDRAIN),
        (0, Action.START),
        (3, Action.START),
    ]


def test_empty_hosts_stop_from_the_highest():
    got = decided(["ready"] * 4, [0, 1, 0, 0], 0, 4, settings(floor=2, release="when empty"))
    assert [(d.host, d.action) for d in got] == [(3, Action.STOP), (2, Action.STOP)]


def test_drain_prefers_empty_then_least_loaded_then_highest():
    got = decided(["ready"] * 5, [2, 1, 0, 1, 3], 0, 4, settings(floor=2, release="drain"))
    assert [(d.host, d.action) for d in got] == [
        (2, Action.STOP),
        (3, Action.DRAIN),
        (1, Action.DRAIN),
    ]


def test_an_empty_draining_host_stops_even_where_all_are_kept():
    got = decided(["ready", "draining"], [1, 0], 0, 4, settings(floor=1))
    assert got == [Decision(1, Action.STOP, Cause.DRAINED)]


def test_an_empty_draining_host_that_is_needed_is_taken_back():
    got = decided(["ready", "draining"], [4, 0], 1, 4, settings(floor=1))
    assert got == [Decision(1, Action.UNDRAIN, Cause.CEILING)]


def test_one_host_and_no_host():
    assert decided(["off"], [0], 1, 1, settings()) == [Decision(0, Action.START, Cause.CEILING)]
    assert decided([], [], 5, 1, settings()) == []
