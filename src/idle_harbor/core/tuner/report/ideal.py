"""The ideal line of a study: what nobody can go below."""

from __future__ import annotations

from collections.abc import Sequence

from idle_harbor.core.tuner.designs.design import Design
from idle_harbor.core.tuner.report.fresh import FRESH_FROM
from idle_harbor.core.tuner.scoring.scores import Counted, Slot, Tried

#: Fresh weeks of each kind on which it is drawn.
_DRAWN = 4


def ideal_of(tried: Tried, weeks: Sequence[Counted], design: Design) -> tuple[float, float]:
    """Return the cost of the ideal line in a month and its host-hours of a week, as weighted means
    over the kinds of week.

    Args:
        tried: evaluates candidates on the weeks.
        weeks: the kinds of week that count.
        design: the design whose hosts are paid.
    """
    total = hours = weight = 0.0
    for number, week in enumerate(weeks):
        slots = [Slot(number, FRESH_FROM + turn) for turn in range(_DRAWN)]
        found = tried.ideal_money(design, slots)
        total += week.weight * sum(money for money, _ in found) / len(found)
        hours += week.weight * sum(each for _, each in found) / len(found)
        weight += week.weight
    return total / weight, hours / weight
