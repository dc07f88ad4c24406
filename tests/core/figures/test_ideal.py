"""The ideal line by hand, and against the engine with ample hosts."""

from dataclasses import replace

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from idle_harbor.core.engine.kernel import codes as k
from idle_harbor.core.engine.kernel.codes import DISCONNECT, WALK_AWAY
from idle_harbor.core.figures.ideal import ideal_line
from idle_harbor.core.sizing.ample import ample_of
from tests.builders import PROFILE, SIZE, band, go, horizon, pool, schedule, simple, spells, varied
from tests.sizes import size


def test_ideal_line_by_hand():
    # Limit 2. Active: 1 in 0–100, 3 in 100–200, 2 in 200–300: ⌈/2⌉ = 1, 2, 1.
    rows = simple([(0, 0, 300), (1, 100, 300), (2, 100, 200)])
    line = ideal_line(rows, pool(session_limit=2), (PROFILE,), horizon())
    assert line.counted(horizon()) == 100 + 200 + 100


def test_ideal_line_of_returning_people_skips_the_reconnect():
    # Disconnected at 100, back at 300 within 1,200: active from 308. At 5,000 too late: from 5,000.
    rows = [(0, 0, 100, DISCONNECT), (0, 300, 400, WALK_AWAY), (0, 5000, 5100, 0)]
    line = ideal_line(spells(rows), pool(reconnect_seconds=8), (PROFILE,), horizon())
    assert line.counted(horizon()) == 100 + 92 + 100


def test_a_spell_that_ends_in_its_logon_or_reconnect_leaves_the_session_as_it_was():
    """Logons take 40 s, reconnects 60 s, timeouts 600 and 1,200 s.

    0 leaves at 30, in their logon: signed off, so the spell at 200 is a new one. 1 disconnects at
    100, comes at 500 for 50 s, in the reconnect: disconnected still until 550 + 1,200, and at
    1,700 back from 1,760 on. Active 30 + 100, and 100 + 0 + 140.
    """
    slow = varied(PROFILE, logon_seconds=40.0)
    over = pool(reconnect_seconds=60)
    rows = [(0, 0, 30, DISCONNECT), (0, 200, 300, 0)]
    assert ideal_line(spells(rows), over, (slow,), horizon()).counted(horizon()) == 130
    rows = [(1, 0, 100, DISCONNECT), (1, 500, 550, 0), (1, 1700, 1900, 0)]
    assert ideal_line(spells(rows), over, (slow,), horizon()).counted(horizon()) == 240
    # Walked away at 100: idle until 700; come at 650 for 30 s: idle anew until 1,280.
    rows = [(1, 0, 100, WALK_AWAY), (1, 650, 680, 0), (1, 1290, 1340, 0), (1, 2500, 2600, 0)]
    # 1,290 finds it disconnected, for 50 s: until 1,340 + 1,200, so 2,500 is a return from 2,560.
    assert ideal_line(spells(rows), over, (slow,), horizon()).counted(horizon()) == 140


@settings(max_examples=size(90, 450))
@given(
    st.lists(
        st.tuples(st.integers(0, 5), st.integers(0, 9000), st.integers(1, 900), st.integers(0, 2)),
        max_size=30,
    ),
    st.sampled_from([0.0, 1.0, 40.0, 200.5]),
    st.sampled_from([0, 1, 60, 200]),
    st.one_of(st.none(), st.integers(0, 900)),
    st.one_of(st.none(), st.integers(0, 900)),
)
def test_with_ample_hosts_the_engine_follows_sessions_as_the_ideal_line_does(
    drawn, logon, reconnect, idle, gone
):
    """One host with room for all and CPU to spare: the same active and all session-seconds."""
    taken: dict[int, int] = {}
    rows = []
    for person, at, length, way in sorted(drawn, key=lambda row: row[1]):
        begin = max(at, taken.get(person, 0))
        rows.append((person, begin, begin + length, way))
        taken[person] = begin + length
    profile = varied(PROFILE, logon_seconds=logon)
    over = pool(
        standing=1,
        session_limit=40,
        reconnect_seconds=reconnect,
        idle_timeout=idle,
        disconnected_timeout=gone,
    )
    result = go(
        spells(rows),
        over=over,
        profile=profile,
        size=replace(SIZE, vcpu=99.0),
        rules=schedule(band(floor=1)),
        seconds=20_000,
    )
    whole = horizon(20_000)
    line = ideal_line(spells(rows), replace(over, session_limit=1), (profile,), whole)
    assert line.counted(whole) == result.total(k.L_ACTIVE)
    ample = ample_of(spells(rows), over, (profile,), whole)
    assert ample.session_hours * 3600 == pytest.approx(result.total(k.L_ALL))


def test_ideal_line_is_not_lowered_by_refusing_people():
    rows = simple([(n, 0, 1000) for n in range(8)])
    tight = pool(standing=1, session_limit=2, patience_seconds=0)
    refused = go(rows, over=tight)
    assert (refused.results["outcome"] == 2).sum() == 6
    assert ideal_line(rows, tight, (PROFILE,), horizon()).counted(horizon()) == 4 * 1000
