"""Work that nobody waits for ends soon, wherever it is; caches are bounded in bytes."""

import threading

import numpy as np
import pytest

from idle_harbor.core.base.caches import ByteCache, bytes_in, cached
from idle_harbor.core.base.stopping import go_on, in_threads, while_wanted
from idle_harbor.core.engine import worlds
from idle_harbor.core.errors import NotWantedError
from idle_harbor.core.sizing.hosts import sizing_of
from idle_harbor.core.sizing.peak import Wish
from idle_harbor.core.weeks.case import case_of, drawn_spells
from idle_harbor.core.weeks.kinds import compare_kinds
from idle_harbor.core.weeks.week import week, weeks
from tests.core.plans import plan


class After:
    """Wanted for so many looks."""

    def __init__(self, looks: int) -> None:
        self.left = looks
        self._lock = threading.Lock()

    def __call__(self) -> bool:
        with self._lock:
            self.left -= 1
            return self.left >= 0


def test_a_week_is_given_up_between_two_looks(monkeypatch):
    """It looks up before each part of its time, as many as its spells ask for, and before its
    figures."""
    case = case_of(plan(), "main")
    spells = len(week(case, 1).run.spells)
    each = spells // 60
    monkeypatch.setattr(worlds, "_LOOK_UP", each)
    enough = After(1_000)
    with while_wanted(enough):
        week(case, 1)
    parts = 1 + spells // each
    assert 60 < parts < 70 and parts <= 1_000 - enough.left - 1 <= parts + 1
    with pytest.raises(NotWantedError), while_wanted(After(40)):
        week(case, 1)


def test_looking_up_changes_no_result():
    case = case_of(plan(), "main")
    calm = week(case, 3, record=True)
    with while_wanted(lambda: True):
        watched = week(case, 3, record=True)
    assert np.array_equal(calm.run.results, watched.run.results)
    assert np.array_equal(calm.run.bins, watched.run.bins)
    assert np.array_equal(calm.run.lanes, watched.run.lanes)


def test_every_long_work_is_given_up():
    whole = plan()
    pool = whole.pools[0]
    works = (
        lambda: weeks(case_of(whole, "main"), range(1, 9)),
        lambda: sizing_of(whole, pool, Wish(seeds=8)),
        lambda: compare_kinds(whole, pool, "people"),
    )
    for work in works:
        with pytest.raises(NotWantedError), while_wanted(After(3)):
            work()


def test_threads_hear_it_too():
    heard = []

    def one(item):
        go_on()
        heard.append(item)

    with pytest.raises(NotWantedError), while_wanted(After(4)):
        in_threads(one, range(50))
    assert len(heard) < 4
    assert in_threads(lambda item: item * 2, range(5)) == [0, 2, 4, 6, 8]
    assert in_threads(lambda item: item, []) == []


def test_a_cache_holds_no_more_bytes_than_it_may():
    held = ByteCache(100_000, len)
    for name in range(40):
        held.put(name, b"x" * 10_000)
        assert held.bytes_held <= 100_000
    assert held.get(39) is not None and held.get(0) is None
    held.get(33)
    for name in range(40, 45):
        held.put(name, b"x" * 10_000)
    assert held.get(33) is not None and held.get(34) is None
    held.put("large", b"x" * 200_000)
    assert held.get("large") is None and held.bytes_held <= 100_000


def test_a_view_counts_as_all_that_it_keeps_alive():
    whole = np.zeros(1000)
    assert bytes_in(whole[:10], whole[20:30]) == whole.nbytes
    assert bytes_in(np.zeros(4), np.zeros(4)) == 64


def test_drawn_weeks_are_kept_and_bounded():
    calls = []

    @cached(50_000, lambda table: table.nbytes)
    def drawn(seed):
        calls.append(seed)
        return np.full(1_000, seed)

    assert drawn(1) is drawn(1)
    for seed in range(2, 9):
        drawn(seed)
    drawn(1)
    assert calls == [1, 2, 3, 4, 5, 6, 7, 8, 1]
    assert drawn_spells.cache.most_bytes <= 200_000_000


def test_threads_do_not_nest():
    """Work of two threads' own goes on in the thread that it is in, in order."""

    def outer(number):
        return {threading.get_ident()}, in_threads(lambda _: threading.get_ident(), range(3))

    for own, inner in in_threads(outer, range(4)):
        assert set(inner) == own
