"""A study: one search for the best settings of a pool under its promise, from question to answer.

It is a generator that asks for trials and is given their scores, so that whoever runs it works them
out as it likes: on threads, in worker processes, on other machines. The answer depends on plan and
question alone; only a study that is ended early has seen less, and says so.
"""

from __future__ import annotations

from collections.abc import Generator, Sequence
from dataclasses import dataclass, field, replace
from math import ceil, isinf

from idle_harbor.core.lookup import promise_of
from idle_harbor.core.plan import Plan, Promise
from idle_harbor.core.plan.declare import Freedom
from idle_harbor.core.tuner.changes import Between
from idle_harbor.core.tuner.design import Design, design_of
from idle_harbor.core.tuner.effort import effort_for
from idle_harbor.core.tuner.explain import Explained, explained
from idle_harbor.core.tuner.judge import FIGURES, Measured, Report, report_on, weighted
from idle_harbor.core.tuner.knobs import Bounds
from idle_harbor.core.tuner.possible import bounds_for
from idle_harbor.core.tuner.racing import SURER
from idle_harbor.core.tuner.rules import Rule, simple_rules
from idle_harbor.core.tuner.scores import Counted, Score, Slot, Tried
from idle_harbor.core.tuner.search import Search, axis_promises
from idle_harbor.core.tuner.shapes import wider, without_lids
from idle_harbor.core.tuner.simplify import simplified
from idle_harbor.core.tuner.starts import guessed, safe_ones, safest
from idle_harbor.core.tuner.theory import kinds_of
from idle_harbor.core.tuner.trials import Trial

#: Seeds by what they are for; none is used for two things. Pages show those from 1 on.
SEARCHED_FROM, FRESH_FROM, SURE_FROM = 1_000_001, 2_000_001, 3_000_001
#: By how much there may be more than a search has needed: shares of open slots and floors, and of
#: standing hosts, and quarter hours by which bands that ask for more begin earlier.
_SPARE = ((0.0, 0.08, 0), (0.06, 0.03, 0), (0.06, 0.08, 1), (0.2, 0.15, 2))
#: How much dearer a design may be that is surer to keep.
_SURER = 1.03
#: The part of the weeks that are left for more of one design, and seeds for each that is told by
#: weeks of its own.
_ON_ONE, _SEEDS_EACH = 0.75, 10_000
#: Standard errors by which a design keeps the promise whatever the weeks that are told may bring.
_SUREST = 4.0
#: How the promise is made stricter and looser on the axis, to see what that costs.
_FACTORS = (0.5, 0.75, 1.5, 3.0)
#: A promise with all limits tightened by this factor: whoever keeps it is not at risk.
_SAFER = 0.6


@dataclass(frozen=True, slots=True)
class Question:
    """What is asked of a study: which pool, what may change, which weeks count, how many weeks of
    candidates it may take, which part of the promise is weighed against the money, the number that
    its random choices begin with, and after how many seconds it is ended early, if any."""

    pool: str
    weeks: tuple[Counted, ...]
    free: tuple[Freedom, ...] = ("schedule",)
    locked: tuple[str, ...] = ()
    within: tuple[tuple[str, float, float], ...] = ()
    axis: str = "wait_p95_seconds"
    budget: int = 3_000
    seed: int = 1
    seconds: int | None = None


@dataclass(frozen=True, slots=True)
class Point:
    """A design with what fresh weeks say of it: ``name`` says what it is to the planner."""

    name: str
    design: Design
    report: Report


@dataclass(frozen=True, slots=True)
class SoFar:
    """What a study has found before it is over, on the weeks of the search: money of a month and
    the axis of each design that no other beats, and whether it keeps its promise there."""

    used: int
    budget: int
    candidates: int
    points: tuple[tuple[float, float, bool], ...]
    stage: str


@dataclass(frozen=True, slots=True)
class Answer:
    """What a study has found.

    ``front`` goes from the least money to the most; ``tuned`` is the cheapest of it that fresh
    weeks say is kept, told by weeks of its own, None where there is none; ``ideal`` is what the
    ideal line costs in a month with the hosts of what is told, or of the plan, ``ideal_hours`` its
    host-hours of a week; ``weeks`` and ``candidates`` tell what was tried, ``early`` whether it was
    ended before its budget.
    """

    current: Point
    rules: tuple[Point, ...]
    front: tuple[Point, ...]
    tuned: Point | None
    ideal: float
    ideal_hours: float
    explained: Explained | None
    weeks: int
    candidates: int
    early: bool


@dataclass
class Study:
    """One study while it runs."""

    plan: Plan
    question: Question
    early: bool = False
    stage: str = "what is there today"
    _search: Search | None = field(default=None, init=False)
    _extra: int = field(default=0, init=False)

    def __post_init__(self) -> None:
        self.tried = Tried(self.plan, self.question.weeks)
        self.promise = promise_of(self.plan, self.question.pool)
        self.effort = effort_for(self.question.budget, len(self.question.weeks))

    # What may be turned ------------------------------------------------------------------------

    def bounds(self, design: Design) -> Bounds:
        """What the question lets be turned in a design."""
        question = self.question
        return bounds_for(
            self.plan, design.pool, question.free,
            {path: (low, high) for path, low, high in question.within}, question.locked,
            kinds_of(self.tried, design),
        )  # fmt: skip

    def _promises(self) -> list[Promise]:
        """The promise itself, a safer one, and stricter and looser ones on the axis."""
        safer = replace(
            self.promise,
            **{
                part: 1.0 - (1.0 - limit) * _SAFER if part == "comfort" else limit * _SAFER
                for part in FIGURES
                if part != "wait_p95_seconds" and (limit := getattr(self.promise, part)) > 0.0
            },
        )
        first, *others = axis_promises(self.promise, self.question.axis, _FACTORS)
        return [first, safer, *others]

    # From question to answer -------------------------------------------------------------------

    def run(self) -> Generator[list[Trial], list[list[Score]], Answer]:
        """Ask for trials until there is an answer."""
        question, weeks = self.question, self.question.weeks
        current = design_of(self.plan, question.pool)
        bounds = self.bounds(current)
        search = Search(
            weeks, self._promises(), bounds, question.seed, SEARCHED_FROM, current,
            self.effort.rungs,
        )  # fmt: skip
        search.ends = lambda: self.early
        self._search = search
        yield from search.measure([current])
        self.stage = "what theory says"
        first = search.slots[: 4 * len(weeks)]
        yield from search.excuse(search.possible(safest(current, bounds)))
        search.usual = max(weighted(m, weeks, "money") for m in search.known.values())
        yield from search.race([search.today, *search.possible(safe_ones(current, bounds))])
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
        best = self._surest(search) or current
        best = yield from simplified(search, current, best, self._by(self.effort.simple))
        return (yield from self._answer(search, current, best, rules))

    def took(self, seconds: float) -> None:
        """Whoever runs it says how long that has taken so far: too long ends it early."""
        most = self.question.seconds
        self.early = self.early or (most is not None and seconds > most)

    def _by(self, share: float) -> int:
        """Weeks that may be used by the time that a part of the budget is."""
        return round(share * self.question.budget)

    def _surest(self, search: Search) -> Design | None:
        """The cheapest design that is very sure to keep the promise, where that costs little more
        than to be sure; else the best."""
        aim = search.aims[0]
        if not aim.best:
            return None
        best = aim.best[0]
        money = {d: weighted(search.known[d], search.weeks, "money") for d in search.finished}
        sure = [d for d in money if search.keeps(d, aim, SURER)]
        surest = min(sure, key=lambda d: money[d], default=best)
        return surest if money[surest] <= money[best] * _SURER else best

    def so_far(self) -> SoFar:
        """What is known before the answer."""
        search = self._search
        if search is None:
            return SoFar(0, self.question.budget, 0, (), self.stage)
        figure = FIGURES[self.question.axis]
        points = [
            (weighted(m, search.weeks, "money"), weighted(m, search.weeks, figure), design)
            for design, m in search.known.items()
            if search.through(design)
        ]
        best = _undominated(points, figure == "comfort")
        return SoFar(
            search.used + self._extra, self.question.budget, len(search.known),
            tuple((money, axis, search.keeps(each, search.aims[0])) for money, axis, each in best),
            self.stage,
        )  # fmt: skip

    def _fresh(
        self, designs: Sequence[Design], first: int, rounds: int
    ) -> Generator[list[Trial], list[list[Score]], list[Measured]]:
        slots = tuple(
            Slot(week, first + turn)
            for turn in range(rounds)
            for week in range(len(self.question.weeks))
        )
        scores = yield [Trial(design, slots) for design in designs]
        self._extra += len(slots) * len(designs)
        return [Measured(slots, tuple(found)) for found in scores]

    def _answer(
        self, search: Search, current: Design, best: Design, rules: Sequence[Rule]
    ) -> Generator[list[Trial], list[list[Score]], Answer]:
        """Fresh weeks for what is told, and the explanation."""
        self.stage = "fresh weeks"
        question, promise = self.question, self.promise
        weeks = question.weeks
        chosen = self._front(search, best)
        named = [("today", current), *((rule.name, rule.design) for rule in rules)]
        told = yield from self._told(named)
        front: list[Point] = []
        left = chosen
        while left and not any(point.report.standing == "kept" for point in front):
            # Where none of those is kept, what is surer of it, as far as the weeks go.
            many = self.effort.points
            if front:
                room = question.budget - search.used - self._extra
                room -= self.effort.confirmed * len(weeks)
                many = min(room // (self.effort.fresh * len(weeks)), many)
            if many < 1:
                break
            front += yield from self._told([("", design) for design in left[:many]])
            left = left[many:]
        front.sort(key=lambda point: point.report.money.mean or 0.0)
        tuned = explanation = None
        first = SURE_FROM
        for trial, point in enumerate(self._to_confirm(front, chosen)):
            first = SURE_FROM + trial * _SEEDS_EACH
            report = yield from self._confirmed(point.design, first, search.used)
            if report.standing == "kept":
                tuned = Point("tuned", point.design, report)
                break
        if tuned is not None and tuned.design != current:
            self.stage = "what each change does"
            slots = tuple(
                Slot(week, first + turn)
                for turn in range(self.effort.explained)
                for week in range(len(weeks))
            )
            between = Between(current, tuned.design)
            explanation = yield from self._counted(
                explained(
                    between,
                    slots,
                    weeks,
                    promise,
                    max(question.budget - search.used - self._extra, 0),
                )
            )
        line = tuned.design if tuned else current
        ideal, hours = self._ideal(line)
        return Answer(
            told[0], tuple(told[1:]), tuple(front), tuned, ideal, hours, explanation,
            search.used + self._extra, len(search.known), self.early,
        )  # fmt: skip

    def _to_confirm(self, front: Sequence[Point], chosen: Sequence[Design]) -> list[Point]:
        """The points to be told by weeks of their own, the cheapest first: those that are kept, or,
        where none is, those that may be."""
        few = self.effort.tries - 1
        kept = [point for point in front if point.report.standing == "kept"]
        if not kept:
            return [point for point in front if _may_be_kept(point.report)][: few + 1]
        # The last try is for the one that is surest.
        sure = [p for p in kept if p.design in chosen[1:2]]
        return [*kept[:few], *(sure or kept[few:])][: few + 1]

    def _confirmed(
        self, design: Design, first: int, searched: int
    ) -> Generator[list[Trial], list[list[Score]], Report]:
        """What weeks of its own say of a design: twice as many each time, as far as they go, while
        they do not yet tell whether its promise is kept."""
        weeks, many = self.question.weeks, self.effort.confirmed
        known = Measured((), ())
        while True:
            (more,) = yield from self._fresh([design], first + len(known.slots) // len(weeks), many)
            known = known.more(more.slots, more.scores)
            report = report_on(known, weeks, self.promise)
            many = len(known.slots) // len(weeks)
            left = self.question.budget - searched - self._extra
            beyond = many * len(weeks) > _ON_ONE * left or 2 * many > _SEEDS_EACH
            if not _may_be_kept(report) or beyond:
                return report

    def _told(
        self, named: Sequence[tuple[str, Design]]
    ) -> Generator[list[Trial], list[list[Score]], list[Point]]:
        """Designs with their names and what fresh weeks say of them."""
        measured = yield from self._fresh(
            [design for _, design in named], FRESH_FROM, self.effort.fresh
        )
        return [
            Point(name, design, report_on(each, self.question.weeks, self.promise))
            for (name, design), each in zip(named, measured, strict=True)
        ]

    def _counted(
        self, asking: Generator[list[Trial], list[list[Score]], Explained]
    ) -> Generator[list[Trial], list[list[Score]], Explained]:
        """The same, with its weeks counted."""
        scores: list[list[Score]] | None = None
        while True:
            try:
                trials = asking.send(scores)  # type: ignore[arg-type]
            except StopIteration as over:
                answer: Explained = over.value
                return answer
            self._extra += sum(len(trial.slots) for trial in trials)
            scores = yield trials

    def _ideal(self, design: Design) -> tuple[float, float]:
        """The ideal line's month in money and its hours of a week, by the weights of the weeks."""
        weeks = self.question.weeks
        total = hours = weight = 0.0
        for number, week in enumerate(weeks):
            slots = [Slot(number, FRESH_FROM + turn) for turn in range(4)]
            found = self.tried.ideal_money(design, slots)
            total += week.weight * sum(money for money, _ in found) / len(found)
            hours += week.weight * sum(each for _, each in found) / len(found)
            weight += week.weight
        return total / weight, hours / weight

    def _with_spare(self, search: Search, design: Design) -> list[Design]:
        """A design with some more than the search has needed, of open slots, floors and standing
        hosts: the weeks in which all of it is needed are rare, so that it may not have met one."""
        found = []
        for slots, hosts, quarters in _SPARE:
            more = design
            if "schedule" in search.bounds.free:
                more = wider(more, search.bounds.kinds, 1.0 + slots, quarters)
            if "hosts" in search.bounds.free and design.pool.kind != "dedicated":
                own = more.pool.hosts
                own = replace(own, standing=own.standing + ceil(hosts * own.most))
                more = replace(more, pool=replace(more.pool, hosts=own))
            found.append(more)
        own = design.pool.hosts
        if "hosts" in search.bounds.free and own.surge and not own.throwaway:
            # Who gives up does so before a host that has yet to be created comes.
            own = replace(own, standing=own.most + ceil(_SPARE[0][1] * own.most), surge=0)
            found.append(replace(design, pool=replace(design.pool, hosts=own)))
        return [each for each in search.possible(found) if each != design]

    def _front(self, search: Search, best: Design) -> list[Design]:
        """The designs to be told, the likeliest first: what was found for the promise, what has
        some more than that, and some along the front."""
        figure = FIGURES[self.question.axis]
        others = [
            aim.best[0] for aim in search.aims[1:]
            if aim.best and not isinf(weighted(search.known[aim.best[0]], search.weeks, "wait_p95"))
        ]  # fmt: skip
        spare = list(search.aims[0].best[:2])
        safe = [design for design in search.finished if search.keeps(design, search.aims[0], SURER)]
        safest = min(
            safe, key=lambda d: weighted(search.known[d], search.weeks, "money"), default=None
        )
        aim = search.aims[0]
        surest = min(
            search.finished,
            key=lambda d: (search.worth(d, aim, sure=_SUREST), search.worth(d, aim)),
        )
        chosen = [
            best,
            surest,
            *self._with_spare(search, best),
            *([safest] if safest else []),
            *others,
            *spare,
        ]
        points = [
            (weighted(search.known[d], search.weeks, "money"),
             weighted(search.known[d], search.weeks, figure), d)
            for d in search.finished
        ]  # fmt: skip
        along = _undominated(points, figure == "comfort")
        step = max(len(along) // 3, 1)
        chosen += [design for _, _, design in along[::step]]
        return list(dict.fromkeys(chosen))


def _may_be_kept(report: Report) -> bool:
    """Whether more weeks might tell that a promise is kept of which these do not yet tell."""
    return report.standing == "at risk" and (report.slack is None or report.slack > 1.0)


def _undominated(
    points: Sequence[tuple[float, float, Design]], more_is_better: bool
) -> list[tuple[float, float, Design]]:
    """Of (money, axis, design) those that no other beats in both, from the least money on."""
    found: list[tuple[float, float, Design]] = []
    sign = -1.0 if more_is_better else 1.0
    for money, axis, design in sorted(points, key=lambda p: (p[0], sign * p[1])):
        if not isinf(axis) and (not found or sign * axis < sign * found[-1][1] - 1e-9):
            found.append((money, axis, design))
    return found
