"""Nearest ranks, intervals, waits and comfort by hand."""

import numpy as np
import pytest

from idle_harbor.core.engine.kernel.codes import DISCONNECT, WaitCause
from idle_harbor.core.figures.experience import (
    FirstComers,
    first_comers_of,
    nearest_rank,
    sessions_of,
    wait_causes,
    waits_of,
)
from idle_harbor.core.figures.intervals import estimate
from tests.builders import PROFILE, band, go, pool, schedule, simple, spells, varied


def test_nearest_rank():
    values = np.array([1.0, 2, 3, 4, 5, 6, 7, 8, 9, 10])
    assert nearest_rank(values, 0.5) == 5
    assert nearest_rank(values, 0.95) == 10
    assert nearest_rank(values, 0.9) == 9
    assert nearest_rank(values[:1], 0.5) == 1
    assert nearest_rank(np.array([]), 0.5) is None
    assert nearest_rank(values[:1], 0.5, infinite=1) == 1
    assert nearest_rank(values[:1], 0.95, infinite=1) is None
    assert nearest_rank(np.array([]), 0.5, infinite=3) is None


def test_interval_by_hand():
    # 1, 2, 3: mean 2, s = 1, t(2, 97.5 %) = 4.302653; half width 4.302653 / √3.
    got = estimate([1, 2, 3])
    assert got.mean == 2
    assert got.half_width == pytest.approx(4.302653 / 3**0.5, rel=1e-6)
    assert estimate([5]).half_width is None
    assert estimate([]).mean is None and not estimate([]).unbounded
    assert estimate([1, None]).unbounded


def test_waits_count_refused_as_infinite_and_reconnects_apart():
    rows = spells([(0, 0, 500, DISCONNECT), (1, 50, 900, 0), (0, 600, 700, 0), (2, 4000, 4100, 0)])
    waits = waits_of(go(rows, standing=1, session_limit=1, patience_seconds=100))
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
    """A works for 1,000 s, B for the last 500 of them; each waits 20 s for the logon. One session
    is not strained; both are, from B's second 20 on."""
    profile = varied(PROFILE, cpu_mean=2.0, logon_seconds=20.0)
    over = pool(standing=1, load_limit=0.4)
    got = sessions_of(go(simple([(0, 0, 1000), (1, 500, 1000)]), over=over, profile=profile))
    assert got.strained_share == pytest.approx(2 * 480 / (980 + 480))
    assert got.comfort == pytest.approx(1 - (2 * 20 + 2 * 480) / 1500)


def test_comfort_is_never_below_nothing():
    """Alone and strained from the first second after a logon of 20 s: 20 + 980 of 1,000 s."""
    profile = varied(PROFILE, cpu_mean=2.0, logon_seconds=20.0)
    got = sessions_of(go(simple([(0, 0, 1000)]), standing=1, load_limit=0.2, profile=profile))
    assert (got.comfort, got.strained_share) == (0.0, 1.0)


def test_wait_causes_add_up_people_and_seconds():
    got = wait_causes(go(simple([(0, 0, 300), (1, 100, 900)]), standing=1, session_limit=1))
    assert got[WaitCause.EXHAUSTED] == (1, 200.0)


class TestFirstInAQuietHour:
    """Nothing stands ready; who finds nobody there has a host started, which takes 120 s."""

    RULES = schedule(band(floor=0, knock=True, release="when empty"), tick=300)

    def first(self, rows, **over):
        return first_comers_of(go(simple(rows), over=pool(**over), rules=self.RULES))

    def test_they_wait_for_the_host(self):
        rows = [(0, 10_000, 10_500), (1, 10_100, 10_500), (2, 20_000, 20_500)]
        assert self.first(rows) == FirstComers(2, 0, 120.0, 120.0)

    def test_an_hour_it_is_and_not_a_second_less(self):
        rows = [(0, 10_000, 10_500), (1, 13_599, 13_700), (2, 17_199, 17_300)]
        assert self.first(rows).people == 2

    def test_who_is_refused_waits_without_end_and_is_counted_apart(self):
        rows = [(0, 10_000, 10_500), (1, 20_000, 20_500)]
        found = self.first(rows, patience_seconds=60)
        assert found == FirstComers(2, 2, None, None)

    def test_who_comes_back_to_a_session_finds_it(self):
        rows = [(0, 10_000, 10_500, DISCONNECT), (0, 15_000, 15_500, DISCONNECT)]
        found = first_comers_of(go(spells(rows), disconnected_timeout=None, rules=self.RULES))
        assert found.people == 1

    def test_nobody(self):
        assert self.first([]) == FirstComers(0, 0, None, None)
