"""Numbers of a plan as whole millionths, so that a sum of draws meets its bound exactly.

22 sessions of 1.1 GiB and a base of 3 GiB are 0.85 × 32 GiB, neither more nor less: each draw is
rounded to the nearest millionth of its unit, and so is nothing else.
"""

from __future__ import annotations

from decimal import Decimal
from math import inf

#: Millionths in a unit: of a vCPU, a GiB, an operation a second, a Mbit/s.
MICRO = 1_000_000


def micro(value: float) -> int:
    """A draw in millionths of its unit, to the nearest."""
    return round(value * MICRO)


def micro_squared(value: float) -> int:
    """A variance, from its standard deviation, in millionths squared."""
    return round((value * MICRO) ** 2)


def micro_bound(load_limit: float, room: float | None, share: float = 1.0) -> float:
    """What a host may bear of a resource: the product in decimal, in whole millionths.

    Infinite where ``room`` is not known to bind. Sums of whole millionths pass the product where
    they pass its whole part.
    """
    if room is None:
        return inf
    exact = Decimal(repr(load_limit)) * Decimal(repr(room)) * Decimal(repr(share))
    return float(int(exact * MICRO))
