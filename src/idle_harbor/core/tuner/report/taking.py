"""The choice of the tuned design: the cheapest that keeps the promise on fresh weeks of its own,
simplified, with room to spare."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from math import inf

from idle_harbor.core.figures.promise import BY_FIELD
from idle_harbor.core.tuner.designs.changes import between_of
from idle_harbor.core.tuner.designs.design import Design
from idle_harbor.core.tuner.report.answer import Point
from idle_harbor.core.tuner.report.bars import WORTH_IT
from idle_harbor.core.tuner.report.fresh import SURE_FROM, Fresh
from idle_harbor.core.tuner.report.needless import Needless
from idle_harbor.core.tuner.report.simplify import simplified
from idle_harbor.core.tuner.report.spare import EASILY, MORE, WORSE, with_spare
from idle_harbor.core.tuner.scoring.judge import Measured, Report, report_on, without_room
from idle_harbor.core.tuner.scoring.trials import Finding

#: The share of the weeks left that one design may take, and how many seeds each design has.
_ON_ONE, _SEEDS_EACH = 0.75, 10_000
#: The factor by which a design with room to spare may cost more.
_A_LITTLE = 1.16
#: The factor by which another design has to be cheaper to be tried, and what a copy with more
#: capacity is expected to cost.
_CHEAPER, _MORE_COSTS = 0.99, 1.02
#: The slack that a cheaper design needs.
_ROOMY = 1.5
#: The factor by which a simple design may cost more.
_HARDLY = 1.01
#: Slacks beyond which a promise at risk is likely, or perhaps, kept.
_LIKELY, _PERHAPS = 1.25, 0.5
#: Weeks of each kind that the removal of needless changes leaves to the explanation.
_EXPLAINED = 2
#: Multiple of the weeks of a try that has to be left, since the choice is explained too.
_BESIDES = 3


@dataclass(frozen=True, slots=True)
class Taken:
    """The chosen design, with its own fresh weeks and its report."""

    design: Design
    measured: Measured
    report: Report


@dataclass
class Taking:
    """Chooses a design of the front. ``simple`` are simplified designs, ``surest`` the designs that
    keep the promise by the widest margin."""

    fresh: Fresh
    front: Sequence[Point]
    simple: Collection[Design]
    surest: Sequence[Design]
    _asked: set[Design] = field(default_factory=set, init=False)

    def taken(self) -> Finding[Taken | None]:
        """The cheapest design that keeps the promise on fresh weeks of its own.

        Only designs are tried that keep it, or are likely to, on the weeks of the front. Where the
        cheapest has no room to spare, a later one or a copy with more capacity is chosen, if it
        costs little more and has room. Where no design of the front keeps the promise, the
        likeliest ones are evaluated on more weeks.
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
            # The last try is for the design with the widest margin.
            last = many == few and not spare
            design = next((each for each in self.surest if last and each in left), left[0])
            left.remove(design)
            if many and (self._short(design, spare=spare) or (spare and many > few)):
                break
            own = design if design not in told else (yield from self._simplified(design))
            if own in self._asked:
                continue
            found = yield from self._told(own, self._begin(own), self.fresh.effort.confirmed)
            report, tight = found.report, self._tight(found)
            # Points of the front cost little more; a copy with more capacity may cost a lot more.
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
            # A copy with more capacity comes before a point that costs a lot more.
            near = bool(left) and left[0] in told and _alike(told[left[0]], was)
            more = [each for each in with_spare(self.fresh.search, own)[MORE] if each not in left]
            left[near:near] = more
        return taken

    def _in_turn(self, told: Mapping[Design, Report]) -> list[Design]:
        """The designs to try, from the least money on; simple ones that cost hardly more first."""
        money = {design: _money(report) for design, report in told.items()}
        least = min(money.values())

        def turn(design: Design) -> tuple[bool, bool, float]:
            today = design == self.fresh.search.today
            hardly = money[design] <= (1.0 + WORTH_IT if today else _HARDLY) * least
            first = hardly and (today or design in self.simple)
            return not (first and today), not first, money[design]

        return sorted(told, key=turn)

    def _simplified(self, design: Design) -> Finding[Design]:
        """Simplify a design, as far as the weeks allow."""
        search = self.fresh.search
        if design == search.today or design in self.simple:
            return design
        room = (self.fresh.left - self._needed(design, spare=False)) // 2
        if room <= len(search.slots):
            return design
        return (yield from simplified(search, design, search.used + room))

    def _likeliest(self) -> Finding[Taken | None]:
        """The design that is likeliest to keep the promise on further weeks; then, as far as the
        weeks allow, cheaper ones."""
        perhaps = [point for point in self.front if _may_be_kept(point.report, _PERHAPS)]
        perhaps.sort(key=lambda each: (-_slack(each.report), _money(each.report)))
        money = {point.design: _money(point.report) for point in perhaps}
        left = list(money)
        taken: Taken | None = None
        while left:
            design = left.pop(0)
            dear = taken is not None and money[design] > _CHEAPER * _money(taken.report)
            if dear or design in self._asked:
                continue
            # A cheaper one is tried only with weeks of the budget itself.
            short = self.fresh.left < self._needed(design, spare=False) if taken else False
            if self._asked and (short or self._short(design, spare=False)):
                break
            found = yield from self._told_at_length(design)
            if found.report.standing == "kept":
                # Of many designs that are tried one keeps the promise by luck.
                roomy = _slack(found.report) >= min(_slack(taken.report), _ROOMY) if taken else True
                taken = found if roomy else taken
                continue
            # Copies with more capacity come before points that cost a lot more.
            own = _money(found.report)
            near = [each for each in left if money[each] <= _A_LITTLE * own]
            more = []
            if design in (point.design for point in perhaps):
                more = list(with_spare(self.fresh.search, design)[MORE])
                money.update({each: _MORE_COSTS * own for each in more if each not in money})
            left = [*near[:1], *more, *near[1:], *(each for each in left if each not in near)]
        return taken

    def _begin(self, design: Design) -> int:
        """The first seed of fresh weeks for the next design."""
        self._asked.add(design)
        return SURE_FROM + (len(self._asked) - 1) * _SEEDS_EACH

    def _told(
        self, design: Design, first: int, rounds: int, known: Measured | None = None
    ) -> Finding[Taken]:
        """Evaluate a design on so many further rounds of its own weeks."""
        fresh = self.fresh
        (more,) = yield from fresh.measured([design], first, rounds)
        known = known.more(more.slots, more.scores) if known else more
        return Taken(design, known, report_on(known, fresh.question.weeks, fresh.promise))

    def _told_at_length(self, design: Design) -> Finding[Taken]:
        """Evaluate a design on weeks of its own, and double them as long as its promise is at risk
        and weeks are left."""
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

    def _short(self, design: Design, *, spare: bool) -> bool:
        """Whether too few weeks are left for a further try."""
        return self.fresh.left_to_explain < self._needed(design, spare)

    def _needed(self, design: Design, spare: bool) -> int:
        """Candidate-weeks that have to be left for a further try and an explanation afterwards:
        a good one where only room to spare is sought, else a short one."""
        fresh = self.fresh
        changes = len(between_of(fresh.search.today, design).changes)
        explained = (_BESIDES - 1) * fresh.effort.confirmed if spare else 2 * changes + 1
        return (fresh.effort.confirmed + explained) * len(fresh.question.weeks)

    def bare(self, taken: Taken) -> Finding[Taken]:
        """Remove changes that save next to nothing on the design's own weeks.

        The shortest explanation keeps its weeks."""
        fresh, search = self.fresh, self.fresh.search
        kinds = len(fresh.question.weeks)
        changes = len(between_of(search.today, taken.design).changes)
        room = fresh.left_to_simplify - (2 * changes + 1) * kinds
        bar = Needless(fresh, taken.measured, fresh.used + max(room, 0))
        design = yield from bar.without(taken.design)
        report = report_on(bar.scored, fresh.question.weeks, fresh.promise)
        return Taken(design, bar.scored, report)


def _money(report: Report) -> float:
    return report.money.mean or 0.0


def _slack(report: Report) -> float:
    return inf if report.slack is None else report.slack


def _alike(report: Report, other: Report) -> bool:
    """Whether a design costs little more than another."""
    return _money(report) <= _A_LITTLE * _money(other)


def _roomier(report: Report, other: Report, tight: Iterable[str]) -> bool:
    """Whether a design may have room in a part of the promise where another has none, judged by
    their reports. Where neither had a bad week, fewer spoiled hours decide."""
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
    """Whether more weeks may show that a promise at risk is kept: the slack is beyond ``by``."""
    return report.standing == "at risk" and _slack(report) > by
