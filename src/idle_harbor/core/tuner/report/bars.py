"""Criteria by which a simpler design replaces another."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Protocol

from idle_harbor.core.tuner.designs.design import Design
from idle_harbor.core.tuner.report.fresh import Fresh
from idle_harbor.core.tuner.scoring.judge import Measured
from idle_harbor.core.tuner.scoring.trials import Finding, Trial
from idle_harbor.core.tuner.search.search import Search

#: A change that saves less than this share of the money is removed.
WORTH_IT = 0.005
#: Rounds of weeks on which removals are ranked; rounds after which joint removals may be put back,
#: and the multiple of the bar beyond which they are.
_RANKED_BY, _PUT_BACK, _BY_FAR = 1, (2, 4), 2.0


class Bar(Protocol):
    """A criterion by which a simpler design replaces another."""

    @property
    def over(self) -> bool:
        """Whether the weeks for this criterion are used."""

    def likely(self, design: Design, simpler: Sequence[Design]) -> Finding[list[Design]]:
        """The designs that may pass, judged on few weeks, the likeliest first."""

    def passes(self, design: Design, simpler: Design) -> Finding[bool]:
        """Whether a design passes, judged on all weeks."""


@dataclass
class NotWorthIt:
    """The simpler design costs hardly more on the weeks of the search and keeps the promise by the
    same margin (``sure`` standard errors). The search may use weeks up to ``last``."""

    search: Search
    last: int
    sure: float

    @property
    def over(self) -> bool:
        """Whether so many weeks are used."""
        return self.search.over(self.last)

    @property
    def _left(self) -> int:
        return max(self.last - self.search.used, 0)

    def likely(self, design: Design, simpler: Sequence[Design]) -> Finding[list[Design]]:
        """The designs that cost hardly more on few weeks, the smallest loss first."""
        search, few = self.search, _RANKED_BY * len(self.search.weeks)
        aim = search.aims[0]
        bar = search.worth(design, aim, few, 0.0) * (1.0 + WORTH_IT)
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
            most = search.worth(design, aim, few, 0.0) * (1.0 + _BY_FAR * WORTH_IT)
            if search.worth(simpler, aim, few, 0.0) > most:
                return False
        yield from search.measure([simpler])
        if search.money(simpler) > search.money(design) * (1.0 + WORTH_IT):
            return False
        if not search.keeps(simpler, aim, self.sure):
            return False
        search.also(simpler)
        return True


@dataclass
class Nothing:
    """The simpler design has the same score on every fresh week of the other, so that its report
    stays true. Weeks up to ``last`` may be used."""

    fresh: Fresh
    scored: Measured
    last: int
    known: dict[Design, Measured] = field(default_factory=dict)

    @property
    def over(self) -> bool:
        """Whether so many weeks are used."""
        return self.fresh.used >= self.last or self.fresh.search.ends()

    @property
    def _left(self) -> int:
        return max(self.last - self.fresh.used, 0)

    def _same(self, designs: Sequence[Design], many: int) -> Finding[list[Design]]:
        """The designs with the same scores on the first weeks."""
        whole = self.scored.slots
        begun = {each: self.known.get(each, Measured((), ())) for each in designs}
        asked = [
            Trial(each, whole[len(known.slots) : many])
            for each, known in begun.items()
            if len(known.slots) < many
        ]
        scores = (yield from self.fresh.scored(asked)) if asked else []
        for trial, found in zip(asked, scores, strict=True):
            self.known[trial.design] = begun[trial.design].more(trial.slots, found)
        return [each for each in designs if self.known[each].first(many) == self.scored.first(many)]

    def likely(self, design: Design, simpler: Sequence[Design]) -> Finding[list[Design]]:
        """The designs with the same scores on one week of each kind."""
        few = len(self.fresh.question.weeks)
        return (yield from self._same(simpler[: self._left // few], few))

    def passes(self, design: Design, simpler: Design) -> Finding[bool]:
        """Whether a design has the same scores on all weeks."""
        many = 2 * len(self.fresh.question.weeks)
        if len(self.scored.slots) > self._left:
            return False
        while (yield from self._same([simpler], many)):
            if many >= len(self.scored.slots):
                return True
            many *= 2
        return False
