"""Logons of five minutes with their waits, and floods, by hand."""

from datetime import date

import numpy as np
import pytest

from idle_harbor.core.figures.logons import UNBOUNDED, logons_of
from idle_harbor.core.weeks.picture import Day, floods_of
from tests.builders import go, pool, simple


def rows_of(logons):
    """(bin, asked, waited, median, longest) of the bins in which anybody asked."""
    table = np.column_stack((logons.asked, logons.waited, logons.median, logons.longest))
    return [(int(k), *table[k].tolist()) for k in np.flatnonzero(logons.asked)]


def test_waits_are_told_where_they_were_asked():
    # One slot: the second waits 900 s for it, the third until the second has gone, at 1,100.
    over = pool(standing=1, session_limit=1)
    result = go(simple([(0, 0, 1000), (1, 100, 1100), (2, 400, 2100)]), over=over, seconds=3000)
    assert rows_of(logons_of(result)) == [(0, 2, 1, 900, 900), (1, 1, 1, 700, 700)]


def test_the_middle_of_an_even_number_is_the_lower_one():
    # Five come at once for one slot, each goes 500 s after the one before: 0, 500, … 2,000 s.
    over = pool(standing=1, session_limit=1)
    result = go(simple([(k, 0, 500 * (k + 1)) for k in range(5)]), over=over, seconds=4000)
    assert rows_of(logons_of(result)) == [(0, 5, 4, 1000, 2000)]


def test_refused_people_leave_no_bound_and_those_who_still_wait_have_waited_until_the_end():
    over = pool(standing=1, session_limit=1, patience_seconds=100)
    result = go(simple([(0, 0, 2000), (1, 300, 900), (2, 310, 900)]), over=over, seconds=2500)
    assert rows_of(logons_of(result))[1] == (1, 2, 2, UNBOUNDED, UNBOUNDED)
    waits = go(simple([(0, 0, 9000), (1, 600, 9000)]), standing=1, session_limit=1, seconds=2000)
    assert rows_of(logons_of(waits))[1] == (2, 1, 1, 1400, 1400)


def test_a_calm_run_has_logons_and_no_waits():
    result = go(simple([(0, 0, 900), (1, 10, 900)]), over=pool(standing=1), seconds=1000)
    assert rows_of(logons_of(result)) == [(0, 2, 0, 0, 0)]


DATE = date(2027, 3, 1)


class _Week:
    def __init__(self, run):
        self.run = run


@pytest.mark.parametrize(("calm", "floods"), [(6, 1), (7, 2)])
def test_floods_are_parted_by_more_than_half_an_hour(calm, floods):
    # The one slot is free after 600 s: whoever comes at 300 waits for two bins; then it is calm.
    again = 600 + 300 * calm
    rows = simple(
        [(0, 0, 600), (1, 300, 700), (2, again - 300, again + 300), (3, again, again + 9)]
    )
    result = go(rows, over=pool(standing=1, session_limit=1), seconds=9000)
    origin = result.horizon.start + result.counted_from
    day = Day(DATE, origin, origin + 9000, "d", 0, 0, 0)
    found = floods_of(_Week(result), [day])
    assert len(found) == floods
    assert found[0].start == origin + 300 and found[0].peak == 1
    assert all(flood.start <= flood.at < flood.end for flood in found)
    # Midnight parts them too.
    half = Day(DATE, origin, origin + again, "d", 0, 0, 0)
    rest = Day(DATE, origin + again, origin + 9000, "d", 0, 0, 0)
    assert len(floods_of(_Week(result), [half, rest])) == 2
