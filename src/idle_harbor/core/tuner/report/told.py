"""What a study tells of its plans, without the plans: what they cost, spoil and keep."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import inf

from idle_harbor.core.figures.promise import Standing
from idle_harbor.core.tuner.report.together import Option
from idle_harbor.core.tuner.scoring.judge import nearest


@dataclass(frozen=True, slots=True)
class Told:
    """A plan of a study: money of a month that settings can change, hours of work of a month that
    it spoils, how it stands to the promise, and the factor by which all limits could be tightened.
    """

    name: str
    money: float | None
    spoiled: float
    standing: Standing
    slack: float | None


def nearest_of(plans: Sequence[Told]) -> list[int]:
    """The places of the plans that come nearest to their promise, the least money first."""
    return nearest([(each.standing, each.slack, each.money) for each in plans])


def options_of(plans: Sequence[Told]) -> list[Option]:
    """The plans of a pool as options to choose among, in their order."""
    near = nearest_of(plans)
    return [
        Option(
            each.name or "along the front",
            each.money or 0.0,
            each.spoiled,
            each.standing == "kept",
            place in near,
        )
        for place, each in enumerate(plans)
    ]


def pareto_front(points: Sequence[tuple[float, float]], margin: float = 0.0) -> list[int]:
    """Return the indexes of the points that no other one beats in both values, in ascending order
    of the first value.

    Less is better. A point that is not better by more than ``margin`` in the second value than one
    with a smaller first value is left out, and so are infinite ones.
    """
    found: list[int] = []
    least = inf
    for place in sorted(range(len(points)), key=lambda each: points[each]):
        if points[place][1] < least - margin:
            least = points[place][1]
            found.append(place)
    return found
