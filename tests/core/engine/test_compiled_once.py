"""A first start compiles nothing twice: steps are given one signature, whatever callers pass."""

import numpy as np
import pytest
from numba.core.caching import IndexDataCacheFile

import idle_harbor.core.weeks.week  # noqa: F401  (declares everything that is compiled)
from idle_harbor.core.base.compiled import STEPS, compiled, entries_ready
from idle_harbor.core.demand.kernel.presence import sweep


def test_every_step_is_compiled_for_one_signature():
    entries_ready()
    kept = {}
    for step in STEPS:
        file = step._cache._cache_file
        assert isinstance(file, IndexDataCacheFile)
        kept[step.py_func.__qualname__] = len(file._load_index())
    assert len(kept) > 100
    # A step that is always inlined by hand, or that only tests call, may have none.
    assert {name: count for name, count in kept.items() if count > 1} == {}
    assert sum(kept.values()) > 100


def test_an_entry_takes_the_types_that_it_declares_and_no_others():
    seconds, highest = np.zeros(2), np.zeros(2, np.int32)
    begins, ends = np.array([10], np.int32), np.array([70], np.int32)
    sweep(begins, ends, 60, 120, seconds, highest)
    assert seconds.tolist() == [50.0, 10.0] and highest.tolist() == [1, 1]
    with pytest.raises(TypeError, match="No matching definition"):
        sweep(begins.astype(np.float64), ends, 60, 120, seconds, highest)


def test_a_first_call_with_other_types_is_refused_too():
    @compiled("f8(f8[::1], i8)")
    def at(values, place):
        return values[place]

    try:
        with pytest.raises(TypeError, match="No matching definition"):
            at(np.zeros(3, np.int32), 1)
        assert at(np.array([1.0, 2.5]), 1) == 2.5
    finally:
        STEPS.remove(at)
