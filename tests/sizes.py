"""How large tests are: every run has the usual sizes, ``./idle-harbor test --long`` larger ones.

A usual run draws the same examples each time, a long one draws new ones. Constants of the imported
modules are among what is drawn: to draw a whole run's examples again, collect what it collects, and
choose the test with ``-k``.
"""

import os

import pytest
from hypothesis import settings

LONG = os.environ.get("IDLE_HARBOR_LONG") == "1"

#: Marks a case that only a long run has (see conftest).
only_long = pytest.mark.only_long

settings.register_profile("usual", derandomize=True, deadline=None)
settings.register_profile("long", derandomize=False, deadline=None)
settings.load_profile("long" if LONG else "usual")


def size(usual: int, long: int) -> int:
    """How many of something this run has."""
    return long if LONG else usual
