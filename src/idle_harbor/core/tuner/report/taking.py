"""What is taken of what was told: the cheapest that weeks of its own say is kept, as simple as it
can be and with room to spare."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from math import inf

from idle_harbor.core.figures.promise import BY_FIELD
from idle_harbor.core.tuner.designs.changes import between_of
from idle_harbor.core.tuner.designs.design import Design
from idle_harbor.core.tuner.report.answer import Point
from idle_harbor.core.tuner.report.bars import WORTH_IT, Nothing
from idle_harbor.core.tuner.report.fresh import SURE_FROM, Fresh
from idle_harbor.core.tuner.report.simplify import as_simple, simplified
from idle_harbor.core.tuner.report.spare import EASILY, MORE, WORSE, with_spare
from idle_harbor.core.tuner.scoring.judge import Measured, Report, report_on, without_room
from idle_harbor.core.tuner.scoring.trials import Finding

#: The part of the weeks that are left for more of one design, and seeds for each that is told by
#: weeks of its own.
_ON_ONE, _SEEDS_EACH = 0.75, 10_000
#: How much dearer a design may be that has room to spare.
_A_LITTLE = 1.16
#: How much dearer one may be that is simple already.
_HARDLY = 1.01
#: The factors by which the limits of what is likely kept could be tightened, and those of what is
#: perhaps.
_LIKELY, _PERHAPS = 1.25, 0.5
#: Times the weeks of one more try that have to be left: what is taken is explained too.
_BESIDES = 3


@dataclass(frozen=True, slots=True)
class Taken:
    """What is taken, with the weeks of its own that tell it."""

    design: Design
    measured: Measured
    report: Report


@dataclass
class Taking:
    """What is taken of the front; ``simple`` are designs as simple as they can be, ``surest`` those
    likeliest to be kept."""

    fresh: Fresh
    front: Sequence[Point]
    simple: Collection[Design]
    surest: Sequence[Design]
    _asked: set[Design] = field(default_factory=set, init=False)

    def taken(self) -> Finding[Taken | None]:
        """The cheapest point of the front that is kept on weeks of its own, of those that are kept
        on the front's weeks or are likely to be; where it is not so with room to spare, one after
        it, or the same with more, that costs little more and is.

        Where none is kept there, the likeliest that may be: more weeks may tell.
        """
        if any(point.report.standing == "kept" for point in self.front):
            return (yield from self._cheapest())
        return (yield from self._likeliest())

    def _cheapest(self) -> Finding[Taken | None]:
        few = self.fresh.effort.tries - 1
        told = {
            point.design: point.report
            for point in self.front
            if point.report.standing == "kept" or _may_be_kept(point.report, _LIKELY)
        }
        left = self._in_turn(told)
        taken: Taken | None = None
        while left:
            many, spare = len(self._asked), taken is not None
            # The last try is for the one that is surest.
            last = many == few and not spare
            design = next((each for each in self.surest if last and each in left), left[0])
            left.remove(design)
            if many and (self.fresh.left < self._needed(design, spare) or (spare and many > few)):
                break
            own = design if design not in told else (yield from self._simplified(design))
            if own in self._asked:
                continue
            found = yield from self._told(own, self._begin(own), self.fresh.effort.confirmed)
            report, tight = found.report, self._tight(found)
            # What was told of costs little more; the same with more may cost a great deal.
            dear = taken is not None and design not in told and not _alike(report, taken.report)
            if report.standing == "kept" and (taken is None or not (tight or dear)):
                taken = found
                if not tight:
                    break
            elif spare:
                continue
            was = told.get(design, report)
            left = [each for each in left if each not in told or _roomier(told[each], was, tight)]
            if taken is not None:
                left = [each for each in left if each not in told or _alike(told[each], was)]
            # The same with more before what costs a good deal more, which was told of.
            near = bool(left) and left[0] in told and _alike(told[left[0]], was)
            more = [each for each in with_spare(self.fresh.search, own)[MORE] if each not in left]
            left[near:near] = more
        return taken

    def _in_turn(self, told: Mapping[Design, Report]) -> list[Design]:
        """Designs from the least money on, after those that are simple and cost hardly more."""
        money = {design: _money(report) for design, report in told.items()}
        least = min(money.values())

        def turn(design: Design) -> tuple[bool, bool, float]:
            today = design == self.fresh.search.today
            hardly = money[design] <= (1.0 + WORTH_IT if today else _HARDLY) * least
            first = hardly and (today or design in self.simple)
            return not (first and today), not first, money[design]

        return sorted(told, key=turn)

    def _simplified(self, design: Design) -> Finding[Design]:
        """A design as simple as it can be, as far as the weeks go."""
        search = self.fresh.search
        if design == search.today or design in self.simple:
            return design
        room = (self.fresh.left - self._needed(design, spare=False)) // 2
        if room <= len(search.slots):
            return design
        return (yield from simplified(search, design, search.used + room))

    def _likeliest(self) -> Finding[Taken | None]:
        perhaps = [point for point in self.front if _may_be_kept(point.report, _PERHAPS)]
        for point in sorted(perhaps, key=lambda each: (-_slack(each.report), _money(each.report))):
            if self._asked and self.fresh.left < self._needed(point.design, spare=False):
                break
            found = yield from self._told_at_length(point.design)
            if found.report.standing == "kept":
                return found
        return None

    def _begin(self, design: Design) -> int:
        """The first seed of weeks for a design that nobody was told by."""
        self._asked.add(design)
        return SURE_FROM + (len(self._asked) - 1) * _SEEDS_EACH

    def _told(
        self, design: Design, first: int, rounds: int, known: Measured | None = None
    ) -> Finding[Taken]:
        """What so many more rounds of weeks say of a design."""
        fresh = self.fresh
        (more,) = yield from fresh.measured([design], first, rounds)
        known = known.more(more.slots, more.scores) if known else more
        return Taken(design, known, report_on(known, fresh.question.weeks, fresh.promise))

    def _told_at_length(self, design: Design) -> Finding[Taken]:
        """What weeks of its own say of a design: twice as many each time, as far as they go, while
        they do not yet tell whether its promise is kept."""
        first, kinds = self._begin(design), len(self.fresh.question.weeks)
        found = yield from self._told(design, first, self.fresh.effort.confirmed)
        while _may_be_kept(found.report):
            have = len(found.measured.slots)
            if have > _ON_ONE * self.fresh.left or 2 * have > _SEEDS_EACH * kinds:
                break
            found = yield from self._told(
                design, first + have // kinds, have // kinds, found.measured
            )
        return found

    def _tight(self, found: Taken) -> set[str]:
        fresh = self.fresh
        return without_room(found.measured, fresh.question.weeks, fresh.promise, EASILY, WORSE)

    def _needed(self, design: Design, spare: bool) -> int:
        """Weeks that have to be left for a further try: where only room to spare is sought, for a
        good explanation too, else for a short one."""
        fresh = self.fresh
        changes = len(between_of(fresh.search.today, design).changes)
        explained = (_BESIDES - 1) * fresh.effort.confirmed if spare else 2 * changes + 1
        return (fresh.effort.confirmed + explained) * len(fresh.question.weeks)

    def bare(self, taken: Taken) -> Finding[Taken]:
        """The same without what does nothing on the weeks that tell it, as far as those go that a
        short explanation leaves."""
        fresh, search = self.fresh, self.fresh.search
        kinds = len(fresh.question.weeks)
        changes = len(between_of(search.today, taken.design).changes)
        room = fresh.left - (2 * changes + 1) * kinds
        bar = Nothing(fresh, taken.measured, fresh.used + max(room, 0))
        return replace(taken, design=(yield from as_simple(search, taken.design, bar)))


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
    found = report.promised[part]
    mean = inf if found.unbounded else found.mean or 0.0
    return -mean if BY_FIELD[part].least else mean


def _may_be_kept(report: Report, by: float = 1.0) -> bool:
    """Whether more weeks might tell that a promise is kept of which these do not yet tell: it is
    with limits times a factor."""
    return report.standing == "at risk" and _slack(report) > by
