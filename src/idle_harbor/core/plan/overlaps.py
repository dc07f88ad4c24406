"""People who are in several groups: how many of each group, and counting them once."""

from __future__ import annotations

from collections.abc import Collection, Iterable

from idle_harbor.core.plan.people import Overlap


def shared_by_group(overlaps: Iterable[Overlap]) -> dict[str, int]:
    """How many people each group shares with others."""
    shared: dict[str, int] = {}
    for overlap in overlaps:
        for name in overlap.groups:
            shared[name] = shared.get(name, 0) + overlap.people
    return shared


def counted_once(overlaps: Iterable[Overlap], groups: Collection[str], people: int) -> int:
    """Different people of some groups whose headcounts together are ``people``."""
    for overlap in overlaps:
        inside = sum(name in groups for name in set(overlap.groups))
        people -= max(inside - 1, 0) * overlap.people
    return people
