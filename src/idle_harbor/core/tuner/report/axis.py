"""Which part of the promise trades most against money, and the plans along it."""

from __future__ import annotations

from collections.abc import Sequence
from math import isinf
from typing import TypeAlias

from idle_harbor.core.figures.promise import PARTS, Part, with_limits
from idle_harbor.core.plan import Promise
from idle_harbor.core.tuner.designs.design import Design
from idle_harbor.core.tuner.report.told import pareto_front
from idle_harbor.core.tuner.scoring.judge import figure_of, missed, weighted
from idle_harbor.core.tuner.search.search import Search

#: Figures of a part that are nearer than these are one figure: seconds, a share, and a share of the
#: figure itself.
_SECONDS, _SHARE, _OF_ITSELF = 2.0, 0.0002, 0.05
#: Parts that a planner weighs against money first: whether and how long people wait. The first of
#: them is shown during a search.
MAIN = ("wait_p95_seconds", "wait_p99_seconds", "first_comer_seconds", "refused_share")
#: So many distinct plans make a choice; another part is only weighed where these have fewer.
_A_CHOICE = 3
#: More distinct plans than this make no better choice.
_ENOUGH = 6
#: Places between the best figure and the limit at which plans are searched for.
_BETWEEN = (0.02, 0.1, 0.25, 0.45, 0.7)
#: Money, figure on the axis, design.
Placed: TypeAlias = tuple[float, float, Design]


def apart(part: Part, figure: float) -> float:
    """Return how far two figures of a part must differ to be told apart.

    Args:
        part: the part of the promise.
        figure: one of them, in the part's unit.
    """
    size = 1.0 - figure if part.least else figure
    return max(_SECONDS if part.timed else _SHARE, _OF_ITSELF * abs(size))


def undominated(points: Sequence[Placed], more_is_better: bool) -> list[Placed]:
    """Return the Pareto front of points (money, axis, design), in ascending order of money."""
    sign = -1.0 if more_is_better else 1.0
    finite = [point for point in points if not isinf(point[1])]
    front = pareto_front([(money, sign * axis) for money, axis, _ in finite], margin=1e-9)
    return [finite[place] for place in front]


def _without_limit(promise: Promise, part: Part) -> Promise:
    """The promise in which a part may be anything."""
    loosest = None if part.optional else part.about.high
    return with_limits(promise, {part.field: loosest})


def along(search: Search, part: Part) -> list[Placed]:
    """Return the plans of a search that trade a part of the promise against money.

    They keep all other parts on the weeks of the search, none is beaten in both money and figure,
    and their figures can be told apart.

    Args:
        search: the search, with its finished designs.
        part: the part of the promise.
    """
    promise = _without_limit(search.aims[0].promise, part)
    figure = figure_of(part)
    points = [
        (search.money(each), weighted(search.known[each], search.weeks, figure), each)
        for each in search.finished
        if missed(search.known[each], search.weeks, promise, safest=search.safest) == 0.0
    ]
    found: list[Placed] = []
    for point in undominated(points, part.least):
        if not found or abs(point[1] - found[-1][1]) >= apart(part, found[-1][1]):
            found.append(point)
    return found


def spread_along(search: Search, part: Part) -> list[Promise]:
    """Return promises with limits spread from the best figure of a part that was found to its
    limit, so that plans are found in between.

    Args:
        search: the search, with its finished designs.
        part: the part of the promise.
    """
    promise = search.aims[0].promise
    limit, points = part.limit(promise), along(search, part)
    if limit is None or part.least or not points:
        return []
    best = min(across for _, across, _ in points)
    if limit - best < apart(part, best):
        return []
    limits = (best + share * (limit - best) for share in _BETWEEN)
    each = (round(found) if part.timed else found for found in limits)
    return [with_limits(promise, {part.field: found}) for found in dict.fromkeys(each)]


def trades_most(search: Search) -> Part:
    """Return the part of the promise along which a planner has most to choose.

    That is the one with the most plans that can be told apart; of several, the one over which the
    money differs most. Waits and refusals come before all other parts, unless they leave no choice.
    """
    promise = search.aims[0].promise

    def choice(part: Part) -> tuple[int, float]:
        points = along(search, part)
        if not points:
            return 0, 0.0
        least = max(points[0][0], 1e-9)
        return min(len(points), _ENOUGH), (points[-1][0] - least) / least

    asked = [part for part in PARTS if part.limit(promise) is not None and not part.least]
    main = max((part for part in asked if part.field in MAIN), key=choice)
    return main if choice(main)[0] >= _A_CHOICE else max(asked, key=choice)
