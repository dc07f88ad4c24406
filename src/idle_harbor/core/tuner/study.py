"""A study: the search for the best settings of a pool under its promise, from question to answer.

A study is a generator that yields trials and receives their scores. Its caller evaluates them on
threads, in worker processes or on other machines. The answer depends on plan and question alone. A
study that ends early has seen fewer weeks, and says so.
"""

from __future__ import annotations

from dataclasses import dataclass, field

from idle_harbor.core.figures.promise import BY_FIELD, PARTS, with_limits
from idle_harbor.core.plan import Plan, Promise
from idle_harbor.core.plan.lookup import promise_of
from idle_harbor.core.tuner.designs.design import Design, design_of
from idle_harbor.core.tuner.designs.knobs import Bounds
from idle_harbor.core.tuner.designs.possible import bounds_for
from idle_harbor.core.tuner.designs.shapes import without_lids
from idle_harbor.core.tuner.guesses.theory import kinds_of
from idle_harbor.core.tuner.report.answer import Answer, Question, SoFar
from idle_harbor.core.tuner.report.fresh import Fresh
from idle_harbor.core.tuner.report.simplify import simplified
from idle_harbor.core.tuner.report.telling import Telling, undominated
from idle_harbor.core.tuner.scoring.judge import SURER, figure_of, weighted
from idle_harbor.core.tuner.scoring.scores import Tried
from idle_harbor.core.tuner.scoring.trials import Finding
from idle_harbor.core.tuner.search.effort import effort_for
from idle_harbor.core.tuner.search.rules import Rule, simple_rules
from idle_harbor.core.tuner.search.search import Search, axis_promises
from idle_harbor.core.tuner.search.starts import guessed, safe_ones, safest

#: The first seed of the search. Fresh weeks have other seeds, and pages show seeds from 1 on.
SEARCHED_FROM = 1_000_001
#: The factor by which a design with a wider margin may cost more.
_SURER = 1.03
#: The share of its seconds and weeks that the search has in a study that ends early; the report has
#: the rest.
_SEARCHED = 0.65
#: The weeks for simplification where a study ends early, as a share of those of the search.
_WHEN_EARLY = 0.1
#: Factors of the limit on the axis, to see what a stricter or looser promise costs.
_FACTORS = (0.5, 0.75, 1.5, 3.0)
#: The factor of all limits in the safer promise: a design that keeps it is not at risk.
_SAFER = 0.6


@dataclass
class Study:
    """One study while it runs."""

    plan: Plan
    question: Question
    early: bool = False
    stage: str = "what is there today"
    _search: Search | None = field(default=None, init=False)
    _fresh: Fresh | None = field(default=None, init=False)

    def __post_init__(self) -> None:
        self.tried = Tried(self.plan, self.question.weeks)
        self.promise = promise_of(self.plan, self.question.pool)
        self.effort = effort_for(self.question.budget, len(self.question.weeks))

    # What may be turned ------------------------------------------------------------------------

    def bounds(self, design: Design) -> Bounds:
        """What the question allows to change in a design."""
        question = self.question
        return bounds_for(
            self.plan,
            design.pool,
            question.free,
            {path: (low, high) for path, low, high in question.within},
            question.locked,
            kinds_of(self.tried, design),
        )

    def _promises(self) -> list[Promise]:
        """The promises to search for: the promise itself, a safer one, and stricter and looser ones
        on the axis."""
        limits = {part: part.limit(self.promise) or 0.0 for part in PARTS if not part.timed}
        safer = with_limits(
            self.promise,
            {
                part.field: part.scaled(limit, _SAFER)
                for part, limit in limits.items()
                if limit > 0.0
            },
        )
        first, *others = axis_promises(self.promise, self.question.axis, _FACTORS)
        return [first, safer, *others]

    # From question to answer -------------------------------------------------------------------

    def run(self) -> Finding[Answer]:
        """Yield trials and receive their scores; returns the answer."""
        question, weeks = self.question, self.question.weeks
        current = design_of(self.plan, question.pool)
        bounds = self.bounds(current)
        search = Search(
            weeks,
            self._promises(),
            bounds,
            question.seed,
            SEARCHED_FROM,
            current,
            self.effort.rungs,
        )
        search.ends = lambda: self.early
        self._search = search
        yield from search.measure([current])
        self.stage = "what theory says"
        first = search.slots[: 4 * len(weeks)]
        yield from search.excuse(search.possible(safest(current, bounds)))
        search.usual = max(map(search.money, search.known))
        yield from search.race([search.begin, *search.possible(safe_ones(current, bounds))])
        most = self._by(self.effort.guessed)
        yield from guessed(search, self.tried, first, most, self.effort.fills)
        yield from search.all_over(self._by(self.effort.all_over))
        self.stage = "simple rules"
        base = search.aims[0].best[0] if search.aims[0].best else current
        rules: list[Rule] = []
        if "schedule" in question.free and not self.early:
            by = self.effort.settled_by
            rules = yield from simple_rules(search, self.tried, base, by)
            bare = (without_lids(rule.design, bounds.kinds) for rule in rules)
            yield from search.race(search.possible(bare))
        self.stage = "the search"
        yield from search.go_on(self._by(self.effort.searched))
        self.stage = "what can be left out"
        best = self._surest(search) or search.begin
        last = self._by(self.effort.simple)
        if self.early:
            last = min(round((1.0 + _WHEN_EARLY) * search.used), last)
        best = yield from simplified(search, best, last)
        self._fresh = self._report_weeks(search)
        telling = Telling(self._fresh, self.tried, self._at_stage)
        return (yield from telling.answer(current, best, rules))

    def _report_weeks(self, search: Search) -> Fresh:
        """Fresh weeks for the report: fewer where the study ends early."""
        question, budget, effort = self.question, self.question.budget, self.effort
        if self.early:
            budget = min(budget, round(search.used / _SEARCHED))
            effort = effort_for(budget, len(question.weeks))
        return Fresh(question, self.promise, effort, search, budget)

    def _at_stage(self, stage: str) -> None:
        self.stage = stage

    def took(self, seconds: float) -> None:
        """Report the seconds so far. A study that would take longer than its question allows ends
        its search early, so that time is left for the report."""
        most, share = self.question.seconds, _SEARCHED if self._fresh is None else 1.0
        self.early = self.early or (most is not None and seconds > share * most)

    def _by(self, share: float) -> int:
        """A share of the budget, in candidate-weeks."""
        return round(share * self.question.budget)

    def _surest(self, search: Search) -> Design | None:
        """The cheapest design that keeps the promise by a wide margin of standard errors, where it
        costs little more than the best; else the best."""
        aim = search.aims[0]
        if not aim.best:
            return None
        best = aim.best[0]
        sure = [d for d in search.finished if search.keeps(d, aim, SURER)]
        surest = min(sure, key=search.money, default=best)
        return surest if search.money(surest) <= search.money(best) * _SURER else best

    def so_far(self) -> SoFar:
        """Intermediate results."""
        search = self._search
        if search is None:
            return SoFar(0, self.question.budget, 0, (), self.stage)
        axis = BY_FIELD[self.question.axis]
        points = [
            (search.money(design), weighted(m, search.weeks, figure_of(axis)), design)
            for design, m in search.known.items()
            if search.through(design)
        ]
        told = self._fresh.used if self._fresh else 0
        best = undominated(points, axis.least)
        return SoFar(
            search.used + told,
            self.question.budget,
            len(search.known),
            tuple(
                (money, across, search.keeps(each, search.aims[0])) for money, across, each in best
            ),
            self.stage,
        )
