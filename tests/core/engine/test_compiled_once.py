"""A first start compiles nothing twice: steps are given one signature, whatever callers pass."""

from __future__ import annotations

import sys

from numba.core.registry import CPUDispatcher

import idle_harbor.core.weeks  # noqa: F401  (compiles, or loads, everything)


def test_every_step_is_compiled_for_one_signature():
    found = {
        function.py_func.__qualname__: len(function.signatures)
        for name, module in sys.modules.items()
        if name.startswith("idle_harbor.core")
        for function in vars(module).values()
        if isinstance(function, CPUDispatcher)
    }
    assert len(found) > 60
    assert {name: count for name, count in found.items() if count > 1} == {}
