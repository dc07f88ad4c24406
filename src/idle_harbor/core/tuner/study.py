"""A study: the search for the best settings of a pool under its promise, from question to answer.

A study is a generator that yields trials and receives their scores. Its caller evaluates them on
threads, in worker processes or on other machines. The answer depends on plan and question alone. A
study that ends early has seen fewer weeks, and says so.
"""

from __future__ import annotations

from collections import deque
from dataclasses import dataclass, field, replace

from idle_harbor.core.figures.promise import BY_FIELD, PARTS, with_limits
from idle_harbor.core.plan import Plan, Promise
from idle_harbor.core.plan.declare import Freedom
from idle_harbor.core.plan.lookup import promise_of
from idle_harbor.core.tuner.designs.design import Design, design_of
from idle_harbor.core.tuner.designs.knobs import Bounds, kind_bounds
from idle_harbor.core.tuner.designs.possible import bounds_for
from idle_harbor.core.tuner.designs.shapes import without_lids
from idle_harbor.core.tuner.guesses.theory import kinds_of
from idle_harbor.core.tuner.report.answer import Answer, PlacedSoFar, Question, SoFar
from idle_harbor.core.tuner.report.axis import MAIN, spread_along, trades_most, undominated
from idle_harbor.core.tuner.report.fresh import Fresh, weeks_of_study
from idle_harbor.core.tuner.report.ideal import ideal_of
from idle_harbor.core.tuner.report.simplify import simplified
from idle_harbor.core.tuner.report.telling import Telling
from idle_harbor.core.tuner.scoring.judge import SURER, figure_of, weighted
from idle_harbor.core.tuner.scoring.scores import Counted, Tried
from idle_harbor.core.tuner.scoring.trials import Asking, Finding, renumbered
from idle_harbor.core.tuner.search.binding import helpful_freedoms
from idle_harbor.core.tuner.search.effort import effort_for
from idle_harbor.core.tuner.search.excused import excused
from idle_harbor.core.tuner.search.racing import Racing
from idle_harbor.core.tuner.search.rules import Rule, simple_rules
from idle_harbor.core.tuner.search.search import Search, axis_promises
from idle_harbor.core.tuner.search.starts import guessed, safe_ones, safest

#: The first seed of the search. Fresh weeks have other seeds, and pages show seeds from 1 on.
SEARCHED_FROM = 1_000_001
#: The factor by which a design with a wider margin may cost more.
_SURER = 1.03
#: Seconds over which the pace of a study is measured.
_PACE_SECONDS = 6.0
#: The share of its seconds and weeks that the search has in a study that ends early; the report has
#: the rest.
_SEARCHED = 0.65
#: The weeks for simplification where a study ends early, as a share of those of the search.
_WHEN_EARLY = 0.1
#: Factors of the limit on the axis, to see what a stricter or looser promise costs.
_FACTORS = (0.5, 0.75, 1.5, 3.0)
#: The factor of the limits of waits and refusals that is searched for where the study chooses the
#: axis.
_STRICTER = (0.4,)
#: The share of the budget in which a study that chooses its axis searches along it, how often it
#: works on that then, and the promises that it searches for all the time: its own and a safer one.
_ALONG, _BESIDE, _ALWAYS = 0.12, 0.6, 2
#: The factor of all limits in the safer promise: a design that keeps it is not at risk.
_SAFER = 0.6
#: Seeds on which the safest plans are tried in each kind of week.
_PROBED = 4


@dataclass
class Study:
    """One study while it runs."""

    plan: Plan
    question: Question
    early: bool = False
    stage: str = "what is there today"
    #: Weeks that are left out, since no plan keeps the promise in them.
    excused: tuple[Counted, ...] = field(default=(), init=False)
    _pace: deque[tuple[float, int]] = field(default_factory=deque, init=False)
    _search: Search | None = field(default=None, init=False)
    _fresh: Fresh | None = field(default=None, init=False)
    _rules: list[Rule] = field(default_factory=list, init=False)
    _ideal: float | None = field(default=None, init=False)

    def __post_init__(self) -> None:
        self.tried = Tried(self.plan, self.question.simulated)
        self.seen = self.tried
        self.promise = promise_of(self.plan, self.question.pool)
        self.effort = effort_for(self.question.budget, len(self.question.weeks))

    # What may be turned ------------------------------------------------------------------------

    def bounds(self, design: Design, asked: Question | None = None) -> Bounds:
        """What the question, or another one, allows to change in a design."""
        question = asked or self.question
        bounds = bounds_for(
            self.plan,
            design.pool,
            question.free,
            {path: (low, high) for path, low, high in question.within},
            question.locked,
            kinds_of(self.seen, design, len(question.weeks)),
        )
        return kind_bounds(design, bounds)

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
        if self.question.axis:
            first, *others = axis_promises(self.promise, self.question.axis, _FACTORS)
            return [first, safer, *others]
        # Where the study chooses the axis, it looks for stricter promises along each.
        stricter = [
            promise
            for part in PARTS
            if part.field in MAIN
            for promise in axis_promises(self.promise, part.field, _STRICTER)[1:]
        ]
        return [self.promise, safer, *stricter]

    # From question to answer -------------------------------------------------------------------

    def run(self) -> Finding[Answer]:
        """Yield trials and receive their scores; returns the answer."""
        current = design_of(self.plan, self.question.pool, self.question.together)
        simulated = self.question.simulated
        order = yield from self._weeks_in_order(current)
        many = len(self.question.weeks) - len(self.excused)
        self.question = replace(
            self.question,
            weeks=tuple(simulated[k] for k in order[:many]),
            checked=tuple(simulated[k] for k in order[many:]),
        )
        self.seen = Tried(self.plan, self.question.simulated)
        self.effort = effort_for(self.question.budget, many)
        answer = yield from renumbered(self._searched(current), order)
        helps: tuple[Freedom, ...] = ()
        if answer.tuned is None and not self.early:
            self.stage = "what would help"
            helps = yield from renumbered(self._what_helps(current), order)
        return replace(answer, excused=self.excused, helps=helps)

    def _what_helps(self, current: Design) -> Finding[tuple[Freedom, ...]]:
        """The further freedoms with each of which the promise can be kept."""
        question = self.question

        def bounds_with(freedom: Freedom) -> Bounds:
            free = tuple(dict.fromkeys((*question.free, freedom)))
            return self.bounds(current, replace(question, free=free))

        def race(bounds: Bounds) -> Racing:
            weeks, promises = question.weeks, [self.promise]
            return Racing(weeks, promises, bounds, SEARCHED_FROM, current, (_PROBED,))

        found = yield from helpful_freedoms(bounds_with, race)
        return tuple(each for each in found if each not in question.free)

    def _weeks_in_order(self, current: Design) -> Finding[list[int]]:
        """The places of all simulated weeks: first those that count, then those that are checked.

        A week in which no plan keeps the promise does not count.
        """
        weeks = self.question.weeks
        racing = Racing(
            weeks, [self.promise], self.bounds(current), SEARCHED_FROM, current, (_PROBED,)
        )
        out = yield from excused(racing)
        self.excused = tuple(weeks[k] for k in out)
        return sorted(range(len(self.question.simulated)), key=lambda k: k in out)

    def _begun(self, search: Search) -> Asking:
        """Evaluate today's plan and the safest ones, and the guesses of theory."""
        current, bounds = search.today, search.bounds
        yield from search.measure([current])
        self.stage = "what theory says"
        first = search.slots[: 4 * len(search.weeks)]
        yield from search.excuse(search.possible(safest(current, bounds)))
        search.usual = max(map(search.money, search.known))
        yield from search.race([search.begin, *search.possible(safe_ones(current, bounds))])
        most = self._by(self.effort.guessed)
        yield from guessed(search, self.seen, first, most, self.effort.fills)
        yield from search.all_over(self._by(self.effort.all_over))

    def _searched(self, current: Design) -> Finding[Answer]:
        """The study of the weeks that count."""
        question, weeks = self.question, self.question.weeks
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
        self._ideal, _ = ideal_of(self.seen, weeks, current)
        yield from self._begun(search)
        self.stage = "simple rules"
        base = search.aims[0].best[0] if search.aims[0].best else current
        rules = self._rules
        if "schedule" in question.free and not self.early:
            by = self.effort.settled_by
            rules += yield from simple_rules(search, self.seen, base, by)
            bare = (without_lids(rule.design, bounds.kinds) for rule in rules)
            yield from search.race(search.possible(bare))
        self.stage = "the search"
        yield from self._gone_on(search)
        self.stage = "what can be left out"
        best = self._surest(search) or search.begin
        last = self._by(self.effort.simple)
        if self.early:
            last = min(round((1.0 + _WHEN_EARLY) * search.used), last)
        best = yield from simplified(search, best, last)
        self._fresh = self._report_weeks(search)
        telling = Telling(self._fresh, self.seen, self._at_stage)
        return (yield from telling.answer(current, best, rules))

    def _gone_on(self, search: Search) -> Asking:
        """The search itself. Where the study chooses the axis, its last weeks go to plans between
        the best figure on it and the limit."""
        asked, end = self.question.axis, self.effort.searched
        yield from search.go_on(self._by(end if asked else end - _ALONG))
        if not asked and not self.early:
            search.aim_at(spread_along(search, trades_most(search)), _ALWAYS)
            search.beside = _BESIDE
            yield from search.go_on(self._by(end))

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
        self._pace.append((seconds, self._used()))
        while len(self._pace) > 2 and seconds - self._pace[1][0] >= _PACE_SECONDS:
            self._pace.popleft()
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

    def _used(self) -> int:
        """Candidate-weeks so far."""
        found = self._search.used if self._search else 0
        return found + (self._fresh.used if self._fresh else 0)

    def _seconds_left(self) -> float | None:
        """What the study still takes at the pace of its last seconds, report and year included."""
        if len(self._pace) < 2:
            return None
        (since, before), (now, used) = self._pace[0], self._pace[-1]
        if used <= before or now <= since:
            return None
        left = max(weeks_of_study(self.question) - used, 0)
        seconds = left * (now - since) / (used - before)
        most = self.question.seconds
        return seconds if most is None else min(seconds, max(most - now, 0.0))

    def so_far(self) -> SoFar:
        """Intermediate results."""
        search = self._search
        if search is None:
            return SoFar(0, self.question.budget, 0, (), self.stage)
        axis = BY_FIELD[self.question.axis or MAIN[0]]
        aim = search.aims[0]

        def placed(design: Design) -> PlacedSoFar | None:
            if design not in search.known:
                return None
            across = weighted(search.known[design], search.weeks, figure_of(axis))
            return search.money(design), across, search.keeps(design, aim)

        points = [
            (search.money(design), weighted(m, search.weeks, figure_of(axis)), design)
            for design, m in search.known.items()
            if search.through(design)
        ]
        best = undominated(points, axis.least)
        rules = ((rule.name, placed(rule.design)) for rule in self._rules)
        return SoFar(
            self._used(),
            self.question.budget,
            len(search.known),
            tuple((money, across, search.keeps(each, aim)) for money, across, each in best),
            self.stage,
            self._seconds_left(),
            placed(search.today),
            tuple((name, at) for name, at in rules if at is not None),
            self._ideal,
            next((each for each in aim.best if search.keeps(each, aim)), None),
        )
