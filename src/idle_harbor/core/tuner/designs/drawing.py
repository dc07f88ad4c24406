"""What moves share: the seeded random generator, and a kind of day put into a design."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import TypeVar

import numpy as np

from idle_harbor.core.plan import DayType
from idle_harbor.core.tuner.designs.design import Design
from idle_harbor.core.tuner.designs.knobs import Bounds
from idle_harbor.core.tuner.designs.shapes import in_order

T = TypeVar("T")


@dataclass(frozen=True, slots=True)
class Draw:
    """The seeded random generator of a search."""

    random: np.random.Generator

    def below(self, many: int) -> int:
        """A whole number below another."""
        return int(self.random.integers(many))

    def one(self, things: Sequence[T]) -> T:
        """One of several items, drawn at random."""
        return things[self.below(len(things))]

    def chance(self, share: float) -> bool:
        """True with the given probability."""
        return bool(self.random.random() < share)


def counting(draw: Draw, design: Design, bounds: Bounds) -> int:
    """The place of a kind of day that is in force in the weeks that count."""
    places = [k for k, kind in enumerate(design.schedule.day_types) if kind.id in bounds.kinds]
    return int(draw.one(places))


def with_kind(design: Design, at: int, kind: DayType) -> Design | None:
    """The design with another kind of day at a place, None where that is out of order."""
    if not in_order(kind, design.schedule.day_begins):
        return None
    kinds = design.schedule.day_types
    changed = (*kinds[:at], kind, *kinds[at + 1 :])
    return replace(design, schedule=replace(design.schedule, day_types=changed))
