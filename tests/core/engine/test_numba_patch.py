"""What is changed inside numba: that it is there to be changed, works, and is still needed."""

import inspect

import numpy as np
import pytest
from numba import njit
from numba.core import config
from numba.np import arrayobj

from idle_harbor.core.base.compiled import NUMBAS_INDEX, _as_it_is


@pytest.fixture(autouse=True)
def without_bounds(monkeypatch):
    """As in the plain build: the checked one compares each index with its table's size."""
    monkeypatch.setattr(config, "BOUNDSCHECK", 0)


def code_of_an_access() -> str:
    """What a read of one item at an index becomes."""

    @njit("f8(f8[::1], i8)", boundscheck=False, error_model="numpy")
    def item(values, place):
        return values[place]

    assert item(np.array([1.0, 2.0]), 1) == 2.0
    (code,) = item.inspect_llvm().values()
    return code


def looks_for_the_sign(code: str) -> bool:
    """Whether it asks whether the index is below zero, to count from the end."""
    return "icmp slt" in code or "ashr" in code


def test_an_index_is_taken_as_it_is():
    assert arrayobj.fix_integer_index is _as_it_is
    assert not looks_for_the_sign(code_of_an_access())


def test_numba_still_calls_what_is_replaced_with_the_same_parameters():
    named = list(inspect.signature(NUMBAS_INDEX).parameters)
    assert named == ["context", "builder", "idxty", "idx", "size"]


def test_without_the_patch_every_access_looks_for_the_sign(monkeypatch):
    """Where this fails, numba no longer does it: then ``compiled`` need not replace anything."""
    monkeypatch.setattr(arrayobj, "fix_integer_index", NUMBAS_INDEX)
    assert looks_for_the_sign(code_of_an_access())


@pytest.mark.parametrize("patched", [True, False])
def test_values_are_the_same_either_way(patched, monkeypatch):
    monkeypatch.setattr(arrayobj, "fix_integer_index", _as_it_is if patched else NUMBAS_INDEX)

    @njit("f8(f8[:, ::1])", boundscheck=False)
    def walked(table):
        found = 0.0
        for row in range(table.shape[0]):
            for place in range(table.shape[1]):
                found = found * 10.0 + table[row, place]
        return found

    assert walked(np.array([[1.0, 2.0], [3.0, 4.0]])) == 1234.0
