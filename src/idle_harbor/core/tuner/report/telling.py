"""The report of a search on fresh weeks: the front, the tuned design, the effect of each change."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from itertools import islice
from math import isinf

from idle_harbor.core.figures.promise import BY_FIELD, PARTS, Part
from idle_harbor.core.tuner.designs.changes import Between
from idle_harbor.core.tuner.designs.design import Design
from idle_harbor.core.tuner.designs.shapes import fitted
from idle_harbor.core.tuner.designs.simpler import much
from idle_harbor.core.tuner.report.answer import Answer, Point
from idle_harbor.core.tuner.report.axis import along, trades_most
from idle_harbor.core.tuner.report.explain import Explained, explained
from idle_harbor.core.tuner.report.fresh import FRESH_FROM, Fresh
from idle_harbor.core.tuner.report.ideal import ideal_of
from idle_harbor.core.tuner.report.spare import with_spare
from idle_harbor.core.tuner.report.taking import Taking
from idle_harbor.core.tuner.report.year import CheckedWeek, checked_year
from idle_harbor.core.tuner.scoring.judge import SURER, Measured, figure_of, report_on, weighted
from idle_harbor.core.tuner.scoring.scores import Tried
from idle_harbor.core.tuner.scoring.trials import Finding
from idle_harbor.core.tuner.search.rules import Rule

#: Standard errors of the surest design.
_SUREST = 4.0
#: So many of the cheapest points along the axis may be chosen.
_CHEAP = 2
#: Weeks of each kind on which other session limits are tried.
_LIMIT_ROUNDS = 4
#: Points along the axis for which there are always weeks.
_FEW = 4


@dataclass
class Telling:
    """Makes the answer of a study; ``stage`` is called with the name of each stage."""

    fresh: Fresh
    tried: Tried
    stage: Callable[[str], None]

    def answer(self, current: Design, best: Design, rules: Sequence[Rule]) -> Finding[Answer]:
        """Evaluate on fresh weeks, choose, and explain."""
        self.stage("fresh weeks")
        fresh, search = self.fresh, self.fresh.search
        part = BY_FIELD[fresh.question.axis] if fresh.question.axis else trades_most(search)
        chosen = self._chosen(best, part)
        named = [("today", current), *((rule.name, rule.design) for rule in rules)]
        told = yield from fresh.told(named)
        front = self._each_once((yield from self._front(chosen)))
        simple = {best, *with_spare(search, best)}
        may = told if search.obeys(current) else told[1:]
        kept = (point for point in may if point.report.standing == "kept")
        among = [*front, *(point for point in kept if point.design not in chosen)]
        tuned, explanation = yield from self._explained(
            current, Taking(fresh, among, simple, chosen[1:2])
        )
        front = self._each_once([*front, *(yield from self._along(part, front))])
        year = yield from self._year(current, tuned)
        by_limit = yield from self._by_limit(tuned)
        line = tuned.design if tuned else current
        ideal, hours = ideal_of(self.tried, fresh.question.weeks, line)
        return Answer(
            told[0],
            tuple(told[1:]),
            tuple(front),
            tuned,
            ideal,
            hours,
            explanation,
            search.used + fresh.used,
            len(search.known),
            search.ends(),
            year,
            axis=part.field,
            by_limit=by_limit,
        )

    def _explained(
        self, current: Design, taking: Taking
    ) -> Finding[tuple[Point | None, Explained | None]]:
        """The tuned design without needless changes, and what each of its changes does."""
        taken = yield from taking.taken()
        if taken is None:
            return None, None
        fresh = self.fresh
        weeks = fresh.question.weeks
        self.stage("what each change does")
        taken = yield from taking.bare(taken)
        tuned = Point("tuned", taken.design, taken.report)
        if tuned.design == current:
            return tuned, None
        slots = taken.measured.slots[: fresh.effort.explained * len(weeks)]
        between, most = Between(current, tuned.design), max(fresh.left_to_explain, 0)
        explaining = explained(between, slots, weeks, fresh.promise, most)
        return tuned, (yield from fresh.counted(explaining))

    def _year(self, current: Design, tuned: Point | None) -> Finding[tuple[CheckedWeek, ...]]:
        """Today's and the tuned plan in each kind of week, beyond the budget of the search."""
        fresh, question = self.fresh, self.fresh.question
        if tuned is None or len(question.simulated) == 1:
            return ()
        self.stage("the weeks of the year")
        ended = fresh.search.ends()
        checking = checked_year(
            current, tuned.design, question.simulated, fresh.promise, fresh.budget, early=ended
        )
        return (yield from fresh.counted(checking))

    def _by_limit(self, tuned: Point | None) -> Finding[tuple[Point, ...]]:
        """The tuned plan with one session fewer on a host, as it is, and with one more, on a few
        fresh weeks beyond the budget: strain may be a cliff."""
        if tuned is None or tuned.design.pool.kind != "shared" or self.fresh.search.ends():
            return ()
        pool = tuned.design.pool
        limits = [limit for limit in range(pool.session_limit - 1, pool.session_limit + 2) if limit]
        designs = [
            fitted(replace(tuned.design, pool=replace(pool, session_limit=limit)))
            for limit in limits
        ]
        fresh = self.fresh
        measured = yield from fresh.measured(designs, FRESH_FROM, _LIMIT_ROUNDS)
        return tuple(
            Point(str(limit), design, report_on(found, fresh.question.weeks, fresh.promise))
            for limit, design, found in zip(limits, designs, measured, strict=True)
        )

    def _front(self, chosen: Sequence[Design]) -> Finding[list[Point]]:
        """Points of the first designs on fresh weeks. Where none of them keeps the promise, surer
        designs follow as far as the weeks allow."""
        fresh, effort = self.fresh, self.fresh.effort
        kinds = len(fresh.question.weeks)
        front: list[Point] = []
        many = effort.points + _CHEAP
        while many > 0 and not any(point.report.standing == "kept" for point in front):
            more, chosen = chosen[:many], chosen[many:]
            if not more:
                break
            front += yield from fresh.told([("", design) for design in more])
            room = fresh.left - effort.confirmed * kinds
            many = min(room // (effort.fresh * kinds), effort.points)
        return front

    def _each_once(self, front: Sequence[Point]) -> list[Point]:
        """Points from the least money on; of points with equal reports the simplest."""
        search = self.fresh.search
        found: list[Point] = []
        for point in sorted(
            front,
            key=lambda each: (
                each.report.money.mean or 0.0,
                much(search.today, each.design, search.bounds.kinds),
            ),
        ):
            if not any(point.report == other.report for other in found):
                found.append(point)
        return found

    def _unbounded(self, measured: Measured) -> bool:
        """Whether a figure of the promise has no bound in these weeks."""
        weeks = self.fresh.search.weeks
        return any(isinf(weighted(measured, weeks, figure_of(part))) for part in PARTS)

    def _chosen(self, best: Design, part: Part) -> list[Design]:
        """The designs to report, the likeliest first: the best for the promise, copies with more
        capacity, and the best for other promises."""
        search = self.fresh.search
        others = [
            aim.best[0]
            for aim in search.aims[1:]
            if aim.best and not self._unbounded(search.known[aim.best[0]])
        ]
        spare = list(search.aims[0].best[:2])
        safe = [design for design in search.finished if search.keeps(design, search.aims[0], SURER)]
        safest = min(safe, key=search.money, default=None)
        aim = search.aims[0]
        surest = min(
            search.finished,
            key=lambda d: (search.worth(d, aim, sure=_SUREST), search.worth(d, aim)),
        )
        chosen = [
            best,
            surest,
            *self._cheap_along(part),
            *with_spare(search, best),
            *([safest] if safest else []),
            *others,
            *spare,
        ]
        return list(dict.fromkeys(chosen))

    def _cheap_along(self, part: Part) -> list[Design]:
        """The cheapest designs along the axis that keep the promise on the weeks of the search,
        be it by little."""
        search = self.fresh.search
        kept = (each for _, _, each in along(search, part) if search.keeps(each, search.aims[0], 0))
        return list(islice(kept, _CHEAP))

    def _along(self, part: Part, front: Sequence[Point]) -> Finding[list[Point]]:
        """Points spread over the money of the designs that trade a part of the promise, beside
        those that are known, as far as the weeks allow."""
        fresh = self.fresh
        points = along(fresh.search, part)
        each = fresh.effort.fresh * len(fresh.question.weeks)
        most = min(len(points), fresh.effort.points, max(fresh.left_to_explain // each, _FEW))
        places = {round(k * (len(points) - 1) / max(most - 1, 1)) for k in range(most)}
        known = {point.design for point in front}
        chosen = [points[place][2] for place in sorted(places)]
        return (yield from fresh.told([("", design) for design in chosen if design not in known]))
