"""Cost lines, the ideal line, intervals, nearest ranks and the summary over seeds."""

from __future__ import annotations

from dataclasses import replace
from decimal import Decimal

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from idle_harbor.core.engine.kernel import codes as k
from idle_harbor.core.engine.kernel.codes import DISCONNECT, WALK_AWAY, WaitCause
from idle_harbor.core.errors import TooMuchError, UnknownNameError
from idle_harbor.core.figures.experience import nearest_rank, sessions_of, wait_causes, waits_of
from idle_harbor.core.figures.footprint import Footprint
from idle_harbor.core.figures.ideal import ideal_line
from idle_harbor.core.figures.intervals import estimate
from idle_harbor.core.money.ledger import Priced, Usage, monthly_ledger, total_of
from idle_harbor.core.plan import Disk, Prices, Size
from idle_harbor.core.sizing.ample import ample_of
from idle_harbor.core.stopping import in_threads
from idle_harbor.core.weeks import MOST_SPELLS, case_of, figures_of, simulate, week, weeks
from idle_harbor.formats.plan.codec import plan_of
from tests.builders import PROFILE, SIZE, band, go, horizon, pool, schedule, simple, spells, varied
from tests.core.plans import document, plan


def test_a_month_by_hand():
    # 100 host-hours a week: × 365.25 / 12 / 7 = 434.821428…, at 0.412: 179.15.
    # 10 hosts on for a quarter of the time: 2.5 × 9.20 + 7.5 × 4.60 = 23.00 + 34.50.
    size = Size("s", 8, 32, Decimal("0.412"), "typed", 1, 0)
    disk = Disk("d", Decimal("9.20"), Decimal("4.60"), "typed")
    lines = monthly_ledger(
        Priced(pool(standing=10), size, disk, Prices()),
        Usage(7, 168.0, 100.0, 420.0, 0, Footprint(1680.0, 0.0, 0.0, 0.0, 0.0, 0.0)),
    )
    assert [(line.id, str(line.amount)) for line in lines] == [
        ("compute", "179.15"), ("disks on", "23.00"), ("disks off", "34.50"),
    ]  # fmt: skip
    assert total_of(lines) == Decimal("236.65")
    assert total_of([]) == Decimal("0.00")


def test_each_line_is_rounded_once_half_up():
    size = Size("s", 8, 32, Decimal("0.005"), "typed", 1, 0)
    # 7 days of 365.25 / 12 days are one month: 1 hour × 30.4375 × 0.005 = 0.1521875
    nothing = Footprint(0.0, 0.0, 0.0, 0.0, 0.0, 0.0)
    priced = Priced(pool(), size, None, Prices())
    lines = monthly_ledger(priced, Usage(1, 24.0, 1.0, 1.0, 0, nothing))
    assert str(lines[0].amount) == "0.15"


def test_nearest_rank():
    values = np.array([1.0, 2, 3, 4, 5, 6, 7, 8, 9, 10])
    assert nearest_rank(values, 0.5) == 5
    assert nearest_rank(values, 0.95) == 10
    assert nearest_rank(values, 0.9) == 9
    assert nearest_rank(values[:1], 0.5) == 1
    assert nearest_rank(np.array([]), 0.5) is None
    assert nearest_rank(np.array([1.0, np.inf]), 0.5) == 1
    assert nearest_rank(np.array([1.0, np.inf]), 0.95) is None


def test_interval_by_hand():
    # 1, 2, 3: mean 2, s = 1, t(2, 97.5 %) = 4.302653; half width 4.302653 / √3.
    got = estimate([1, 2, 3])
    assert got.mean == 2
    assert got.half_width == pytest.approx(4.302653 / 3**0.5, rel=1e-6)
    assert estimate([5]).half_width is None
    assert estimate([]).mean is None and not estimate([]).unbounded
    assert estimate([1, None]).unbounded


def test_waits_count_refused_as_infinite_and_reconnects_apart():
    over = pool(standing=1, session_limit=1, patience_seconds=100)
    rows = spells([(0, 0, 500, DISCONNECT), (1, 50, 900, 0), (0, 600, 700, 0), (2, 4000, 4100, 0)])
    waits = waits_of(go(rows, over=over))
    assert (waits.arrivals, waits.connected, waits.refused, waits.reconnects) == (3, 2, 1, 1)
    assert waits.p95 is None and waits.p50 == 0 and waits.mean == 0
    assert waits.refused_share == pytest.approx(1 / 3)


def test_people_still_waiting_have_waited_at_least_until_the_end():
    over = pool(standing=1, session_limit=1)
    waits = waits_of(go(simple([(0, 0, 9000), (1, 100, 9000)]), over=over, seconds=1000))
    assert waits.still_waiting == 1 and waits.p95 == 900


def test_comfort_counts_refused_spells_wholly():
    # A works 1,000 s; B wants 500 s and is refused: comfort = 1 − 500 / 1,500.
    over = pool(standing=1, session_limit=1, patience_seconds=0)
    result = go(simple([(0, 0, 1000), (1, 100, 600)]), over=over)
    assert sessions_of(result).comfort == pytest.approx(1 - 500 / 1500)


def test_comfort_counts_waits_and_strain():
    # One logon of 20 s in 1,000 s of work; strained for the other 980.
    profile = varied(PROFILE, cpu_mean=2.0, logon_seconds=20.0)
    over = pool(standing=1, load_limit=0.2)
    got = sessions_of(go(simple([(0, 0, 1000)]), over=over, profile=profile))
    assert got.comfort == pytest.approx(0.0)
    assert got.strained_share == 1.0


def test_wait_causes_add_up_people_and_seconds():
    over = pool(standing=1, session_limit=1)
    got = wait_causes(go(simple([(0, 0, 300), (1, 100, 900)]), over=over))
    assert got[WaitCause.EXHAUSTED] == (1, 200.0)


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


@settings(max_examples=150, deadline=None)
@given(
    st.lists(st.tuples(st.integers(0, 5), st.integers(0, 9000), st.integers(1, 900),
                       st.integers(0, 2)), max_size=30),
    st.sampled_from([0.0, 1.0, 40.0, 200.5]), st.sampled_from([0, 1, 60, 200]),
    st.one_of(st.none(), st.integers(0, 900)), st.one_of(st.none(), st.integers(0, 900)),
)  # fmt: skip
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
    over = pool(standing=1, session_limit=40, reconnect_seconds=reconnect, idle_timeout=idle,
                disconnected_timeout=gone)  # fmt: skip
    result = go(spells(rows), over=over, profile=profile, size=replace(SIZE, vcpu=99.0),
                rules=schedule(band(floor=1)), seconds=20_000)  # fmt: skip
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


def test_simulate_a_small_plan():
    figures = simulate(plan(), "main", 4)
    e = figures.estimates
    # 60 people, 90 % on five days: 270 first logons, fewer returns as new ones after sign-off.
    assert e["arrivals"].mean > 250
    parts = ("in_use", "lingering", "fragmentation", "readiness", "transit")
    total = sum(e[f"hours_{part}"].mean for part in parts)
    assert total == pytest.approx(e["hours_billed"].mean)
    assert e["hours_ideal"].mean <= e["hours_billed"].mean
    assert figures.month == sum(line.amount for line in figures.ledger)
    assert e["wait_p95"].half_width is not None


def test_bit_for_bit_on_any_number_of_threads():
    case = case_of(plan(), "main")
    together = in_threads(lambda seed: week(case, seed), range(1, 5))
    for result in together:
        alone = week(case, result.seed)
        assert np.array_equal(alone.run.results, result.run.results)
        assert np.array_equal(alone.run.bins, result.run.bins)
    assert [each.outcome() for each in together] == weeks(case, range(1, 5))


def test_a_policy_change_leaves_demand_as_it_was():
    slow = document()
    slow["pools"][0]["hosts"] = {"standing": 5}
    slow["pools"][0]["session_limit"] = 12
    one = week(case_of(plan(), "main"), 1).run.spells
    other = week(case_of(plan_of(slow), "main"), 1).run.spells
    for name in ("person", "start", "end", "leaving"):
        assert np.array_equal(getattr(one, name), getattr(other, name))


def test_adding_a_host_leaves_the_other_hosts_draws_as_they_were():
    from idle_harbor.core.demand.draws import host_seconds

    few = host_seconds(1, "host start", 4, 8, 240.0, 0.3)
    many = host_seconds(1, "host start", 8, 9, 240.0, 0.3)
    assert np.array_equal(few, many[:4, :8])


def test_seven_warm_days_where_sessions_may_linger():
    whole = document()
    whole["pools"][0]["disconnected_timeout"] = "never"
    assert case_of(plan_of(whole), "main").horizon.warm_days == 7
    assert case_of(plan(), "main").horizon.warm_days == 1


def test_unknown_pool_and_too_much_are_said():
    with pytest.raises(UnknownNameError, match=r"no pool called 'x'.*main"):
        simulate(plan(), "x")
    whole = document()
    whole["groups"][0]["demand"]["people"] = 100_000
    big = case_of(plan_of(whole), "main")
    with pytest.raises(TooMuchError, match=f"{MOST_SPELLS:,}"):
        weeks(big, range(1, 65))


def test_a_pool_nobody_uses_has_figures_all_the_same():
    figures = simulate(plan(access=[]), "main", 2)
    assert figures.estimates["arrivals"].mean == 0
    assert figures.estimates["wait_p95"].mean is None
    assert not figures.estimates["wait_p95"].unbounded


def test_a_line_that_some_weeks_do_not_have_costs_nothing_in_them():
    """Two weeks of which one has a line of 30: 15 on average, not 30."""
    case = case_of(plan(), "main")
    one, two = weeks(case, [1, 2])
    extra = replace(one.ledger[0], id="extra", amount=Decimal("30.00"))
    figures = figures_of(case, [replace(one, ledger=[*one.ledger, extra]), two])
    assert figures.estimates["cost extra"].mean == 15.0
