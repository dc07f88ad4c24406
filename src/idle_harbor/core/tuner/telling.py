"""What is told of a search: on weeks that nobody has searched with, each used once."""

from __future__ import annotations

from collections.abc import Callable, Generator, Iterable, Sequence
from dataclasses import dataclass, field, replace
from math import ceil, inf, isinf

from idle_harbor.core.figures.intervals import Estimate
from idle_harbor.core.plan import Promise
from idle_harbor.core.tuner.answer import Answer, Point, Question
from idle_harbor.core.tuner.changes import Between, between_of
from idle_harbor.core.tuner.design import Design
from idle_harbor.core.tuner.effort import Effort
from idle_harbor.core.tuner.explain import Explained, explained
from idle_harbor.core.tuner.judge import (
    FIGURES,
    Measured,
    Report,
    report_on,
    weighted,
    without_room,
)
from idle_harbor.core.tuner.racing import SURER
from idle_harbor.core.tuner.rules import Rule
from idle_harbor.core.tuner.scores import Score, Slot, Tried
from idle_harbor.core.tuner.search import Search
from idle_harbor.core.tuner.shapes import knocking, longer, wider
from idle_harbor.core.tuner.trials import Trial

#: Seeds by what they are for; none is used for two things, nor by a search.
FRESH_FROM, SURE_FROM = 2_000_001, 3_000_001
#: By how much there may be more than a search has needed: shares of open slots and floors, and of
#: standing hosts, and quarter hours by which bands that ask for more begin earlier.
_SPARE = ((0.0, 0.08, 0), (0.06, 0.03, 0), (0.06, 0.08, 1), (0.2, 0.15, 2))
#: Those by which there may be more than in what is kept without room to spare.
_MORE = slice(1, 3)
#: The part of the weeks that are left for more of one design, and seeds for each that is told by
#: weeks of its own.
_ON_ONE, _SEEDS_EACH = 0.75, 10_000
#: How much dearer a design may be that is kept by so many standard errors, though so many more
#: weeks were as bad as the worst.
_A_LITTLE, _EASILY, _WORSE = 1.16, 3.0, 2
#: The factors by which the limits of what is likely kept could be tightened, and those of what is
#: perhaps.
_LIKELY, _PERHAPS = 1.25, 0.5
#: Times the weeks of one more try that have to be left: what is taken is explained too.
_BESIDES = 3
#: Standard errors by which a design keeps the promise whatever the weeks that are told may bring.
_SUREST = 4.0


@dataclass
class Telling:
    """Fresh weeks for what a search has found; ``stage`` hears what is done, ``used`` counts."""

    question: Question
    promise: Promise
    effort: Effort
    tried: Tried
    search: Search
    stage: Callable[[str], None]
    used: int = field(default=0, init=False)

    def _fresh(
        self, designs: Sequence[Design], first: int, rounds: int
    ) -> Generator[list[Trial], list[list[Score]], list[Measured]]:
        slots = tuple(
            Slot(week, first + turn)
            for turn in range(rounds)
            for week in range(len(self.question.weeks))
        )
        scores = yield [Trial(design, slots) for design in designs]
        self.used += len(slots) * len(designs)
        return [Measured(slots, tuple(found)) for found in scores]

    @property
    def left(self) -> int:
        """Weeks that may still be used."""
        return self.question.budget - self.search.used - self.used

    def answer(
        self, current: Design, best: Design, rules: Sequence[Rule]
    ) -> Generator[list[Trial], list[list[Score]], Answer]:
        """Fresh weeks for what is told, and the explanation."""
        self.stage("fresh weeks")
        search, promise, weeks = self.search, self.promise, self.question.weeks
        chosen = self._front(best)
        named = [("today", current), *((rule.name, rule.design) for rule in rules)]
        told = yield from self._told(named)
        front: list[Point] = []
        left = chosen
        while left and not any(point.report.standing == "kept" for point in front):
            # Where none of those is kept, what is surer of it, as far as the weeks go.
            many = self.effort.points
            if front:
                room = self.left - self.effort.confirmed * len(weeks)
                many = min(room // (self.effort.fresh * len(weeks)), many)
            if many < 1:
                break
            front += yield from self._told([("", design) for design in left[:many]])
            left = left[many:]
        front.sort(key=lambda point: _money(point.report))
        explanation = None
        tuned, first = yield from self._taken(front, chosen[1:2])
        if tuned is not None and tuned.design != current:
            self.stage("what each change does")
            slots = tuple(
                Slot(week, first + turn)
                for turn in range(self.effort.explained)
                for week in range(len(weeks))
            )
            between = Between(current, tuned.design)
            explanation = yield from self._counted(
                explained(between, slots, weeks, promise, max(self.left, 0))
            )
        line = tuned.design if tuned else current
        ideal, hours = self._ideal(line)
        return Answer(
            told[0], tuple(told[1:]), tuple(front), tuned, ideal, hours, explanation,
            search.used + self.used, len(search.known), search.ends(),
        )  # fmt: skip

    def _taken(
        self, front: Sequence[Point], surest: Sequence[Design]
    ) -> Generator[list[Trial], list[list[Score]], tuple[Point | None, int]]:
        """The cheapest point of a front that is kept on weeks of its own, of those that are kept on
        the front's weeks or are likely to be, with the first seed of these; where it is not so with
        room to spare, one after it, or the same with more, that costs little more and is.

        Where none is kept there, the likeliest that may be: more weeks may tell.
        """
        weeks, few = self.question.weeks, self.effort.tries - 1
        kept = [point for point in front if point.report.standing == "kept"]
        likely = [
            point for point in front
            if kept and (point in kept or _may_be_kept(point.report, _LIKELY))
        ]  # fmt: skip
        told = {point.design: point.report for point in likely}
        left = list(told)
        tuned, begin, trial = None, SURE_FROM, 0
        while left:
            # The last try is for the one that is surest.
            last = trial == few and tuned is None
            design = next((each for each in surest if last and each in left), left[0])
            left.remove(design)
            spare = tuned is not None
            if trial and (self.left < self._needed(design, spare) or (spare and trial > few)):
                break
            first, trial = SURE_FROM + trial * _SEEDS_EACH, trial + 1
            (known,) = yield from self._fresh([design], first, self.effort.confirmed)
            report = report_on(known, weeks, self.promise)
            tight = without_room(known, weeks, self.promise, _EASILY, _WORSE)
            # What was told of costs little more; the same with more may cost a great deal.
            dear = tuned is not None and design not in told and not _alike(report, tuned.report)
            if report.standing == "kept" and (tuned is None or not (tight or dear)):
                tuned, begin = Point("tuned", design, report), first
                if not tight:
                    break
            elif spare:
                continue
            was = told.get(design, report)
            left = [each for each in left if each not in told or _roomier(told[each], was, tight)]
            if tuned is not None:
                left = [each for each in left if each not in told or _alike(told[each], was)]
            # The same with more before what costs a good deal more, which was told of.
            near = bool(left) and left[0] in told and _alike(told[left[0]], was)
            more = [each for each in self._with_spare(design)[_MORE] if each not in left]
            left[near:near] = more
        if kept:
            return tuned, begin
        perhaps = [point for point in front if _may_be_kept(point.report, _PERHAPS)]
        for point in sorted(perhaps, key=lambda each: (-_slack(each.report), _money(each.report))):
            if trial and self.left < self._needed(point.design, spare=False):
                break
            begin, trial = SURE_FROM + trial * _SEEDS_EACH, trial + 1
            report = yield from self._told_at_length(point.design, begin)
            if report.standing == "kept":
                return Point("tuned", point.design, report), begin
        return None, begin

    def _needed(self, design: Design, spare: bool) -> int:
        """Weeks that have to be left for a further try: where only room to spare is sought, for a
        good explanation too, else for a short one."""
        changes = len(between_of(self.search.today, design).changes)
        explained = (_BESIDES - 1) * self.effort.confirmed if spare else 2 * changes + 1
        return (self.effort.confirmed + explained) * len(self.question.weeks)

    def _told_at_length(
        self, design: Design, first: int
    ) -> Generator[list[Trial], list[list[Score]], Report]:
        """What weeks of its own say of a design: twice as many each time, as far as they go, while
        they do not yet tell whether its promise is kept."""
        weeks, many = self.question.weeks, self.effort.confirmed
        known = Measured((), ())
        while True:
            begun = first + len(known.slots) // len(weeks)
            (more,) = yield from self._fresh([design], begun, many)
            known = known.more(more.slots, more.scores)
            report = report_on(known, weeks, self.promise)
            many = len(known.slots) // len(weeks)
            beyond = many * len(weeks) > _ON_ONE * self.left or 2 * many > _SEEDS_EACH
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
            self.used += sum(len(trial.slots) for trial in trials)
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

    def _with_spare(self, design: Design) -> list[Design]:
        """A design with some more than the search has needed, of open slots, floors and standing
        hosts, and hosts started at a knock: the weeks in which all of it is needed are rare, so
        that it may not have met one. Where hardly more returns may be lost, timeouts are longer."""
        search = self.search
        known = search.known.get(design)
        base = design
        if known is not None and "lost_returns" in without_room(
            known, search.weeks, self.promise, _EASILY, _WORSE
        ):
            base = longer(design, search.bounds, 1)
        found = []
        for slots, hosts, quarters in _SPARE:
            more = base
            if "schedule" in search.bounds.free:
                more = wider(knocking(more, search.bounds.kinds), search.bounds.kinds,
                             1.0 + slots, quarters)  # fmt: skip
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

    def _front(self, best: Design) -> list[Design]:
        """The designs to be told, the likeliest first: what was found for the promise, what has
        some more than that, and some along the front."""
        search = self.search
        figure = FIGURES[self.question.axis]
        others = [
            aim.best[0] for aim in search.aims[1:]
            if aim.best and not isinf(weighted(search.known[aim.best[0]], search.weeks, "wait_p95"))
        ]  # fmt: skip
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
            *self._with_spare(best),
            *([safest] if safest else []),
            *others,
            *spare,
        ]
        points = [
            (search.money(d), weighted(search.known[d], search.weeks, figure), d)
            for d in search.finished
        ]  # fmt: skip
        along = undominated(points, figure == "comfort")
        step = max(len(along) // 3, 1)
        chosen += [design for _, _, design in along[::step]]
        return list(dict.fromkeys(chosen))


def _money(report: Report) -> float:
    return report.money.mean or 0.0


def _slack(report: Report) -> float:
    return inf if report.slack is None else report.slack


def _alike(report: Report, other: Report) -> bool:
    """Whether a plan costs little more than another."""
    return _money(report) <= _A_LITTLE * _money(other)


def _roomier(report: Report, other: Report, tight: Iterable[str]) -> bool:
    """Whether a plan may have room where another has none, by what was told of both. Of bad weeks
    that neither had, the hours of work that are spoiled tell who is likelier to have one."""
    return any(
        was > now or (was == now == 0.0 and report.spoiled < other.spoiled)
        for part in tight
        for was, now in [(_bad(other, part), _bad(report, part))]
    )


def _bad(report: Report, part: str) -> float:
    found: Estimate = getattr(report, FIGURES[part])
    mean = inf if found.unbounded else found.mean or 0.0
    return -mean if part == "comfort" else mean


def _may_be_kept(report: Report, by: float = 1.0) -> bool:
    """Whether more weeks might tell that a promise is kept of which these do not yet tell: it is
    with limits times a factor."""
    return report.standing == "at risk" and _slack(report) > by


def undominated(
    points: Sequence[tuple[float, float, Design]], more_is_better: bool
) -> list[tuple[float, float, Design]]:
    """Of (money, axis, design) those that no other beats in both, from the least money on."""
    found: list[tuple[float, float, Design]] = []
    sign = -1.0 if more_is_better else 1.0
    for money, axis, design in sorted(points, key=lambda p: (p[0], sign * p[1])):
        if not isinf(axis) and (not found or sign * axis < sign * found[-1][1] - 1e-9):
            found.append((money, axis, design))
    return found
