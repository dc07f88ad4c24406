"""Criteria by which a simpler design replaces another."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Protocol

from idle_harbor.core.tuner.designs.design import Design
from idle_harbor.core.tuner.designs.simpler import much
from idle_harbor.core.tuner.scoring.trials import Finding
from idle_harbor.core.tuner.search.search import Search

#: A change that saves less than this share of the money is removed.
WORTH_IT = 0.005
#: A design with more changes from today's plan, or more bands in a kind of day, is made simpler by
#: removals that cost up to this share each.
_FEW_CHANGES, _FEW_BANDS, FEW_WORTH = 12, 6, 0.03
#: Rounds of weeks on which removals are ranked; rounds after which joint removals may be put back,
#: and the multiple of the bar beyond which they are.
_RANKED_BY, _PUT_BACK, _BY_FAR = 1, (2, 4), 2.0


class Bar(Protocol):
    """A criterion by which a simpler design replaces another."""

    @property
    def over(self) -> bool:
        """Whether the weeks for this criterion are used."""

    def enough(self, design: Design) -> bool:
        """Whether a design is simple enough."""

    def likely(self, design: Design, simpler: Sequence[Design]) -> Finding[list[Design]]:
        """The designs that may pass, judged on few weeks, the likeliest first."""

    def passes(self, design: Design, simpler: Design) -> Finding[bool]:
        """Whether a design passes, judged on all weeks."""


def is_simple(search: Search, design: Design) -> bool:
    """Whether a design has at most so many changes from today's plan, and bands in a kind of
    day."""
    kinds = search.bounds.kinds
    bands = [len(kind.bands) for kind in design.schedule.day_types if kind.id in kinds]
    few = max(bands, default=0) <= _FEW_BANDS
    return few and much(search.today, design, kinds)[0] <= _FEW_CHANGES


def few_enough(search: Search, design: Design, last: int, sure: float) -> NotWorthIt:
    """The criterion by which a design with too many changes is made simpler at a price."""
    return NotWorthIt(search, last, sure, FEW_WORTH, search.money(design))


@dataclass
class NotWorthIt:
    """The simpler design costs hardly more on the weeks of the search and keeps the promise by the
    same margin (``sure`` standard errors). The search may use weeks up to ``last``.

    ``least`` is the money from which removals are counted, and ``share`` what all of them may cost
    together; without ``least`` each of them may cost that share.
    """

    search: Search
    last: int
    sure: float
    share: float = WORTH_IT
    least: float | None = None

    @property
    def over(self) -> bool:
        """Whether so many weeks are used."""
        return self.search.over(self.last)

    def enough(self, design: Design) -> bool:
        """Whether a design has few changes and bands; without ``least`` none is simple enough."""
        return self.least is not None and is_simple(self.search, design)

    @property
    def _left(self) -> int:
        return max(self.last - self.search.used, 0)

    def likely(self, design: Design, simpler: Sequence[Design]) -> Finding[list[Design]]:
        """The designs that cost hardly more on few weeks, the smallest loss first."""
        search, few = self.search, _RANKED_BY * len(self.search.weeks)
        aim = search.aims[0]
        bar = search.worth(design, aim, few, 0.0) * (1.0 + self.share)
        tried = simpler[: self._left // few]
        yield from search.measure(tried, few)
        worths = {each: search.worth(each, aim, few, 0.0) for each in tried}
        return sorted((d for d in tried if worths[d] <= bar), key=lambda d: worths[d])

    def passes(self, design: Design, simpler: Design) -> Finding[bool]:
        """Whether a design costs hardly more on all weeks and keeps the promise by the margin."""
        search = self.search
        aim, kinds = search.aims[0], len(search.weeks)
        if len(search.slots) > self._left:
            return False
        for few in (rounds * kinds for rounds in _PUT_BACK if rounds < search.rungs[-1]):
            yield from search.measure([simpler], few)
            most = search.worth(design, aim, few, 0.0) * (1.0 + _BY_FAR * self.share)
            if search.worth(simpler, aim, few, 0.0) > most:
                return False
        yield from search.measure([simpler])
        before = search.money(design) if self.least is None else self.least
        if search.money(simpler) > before * (1.0 + self.share):
            return False
        if not search.keeps(simpler, aim, self.sure):
            return False
        search.also(simpler)
        return True
