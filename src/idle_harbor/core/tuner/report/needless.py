"""Removal of changes that a chosen design does not need, judged on its own fresh weeks."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field

from idle_harbor.core.tuner.designs.design import Design
from idle_harbor.core.tuner.designs.moves import allowed
from idle_harbor.core.tuner.designs.simpler import Way, undoing
from idle_harbor.core.tuner.report.bars import FEW_WORTH, is_simple
from idle_harbor.core.tuner.report.fresh import Fresh
from idle_harbor.core.tuner.report.simplify import applied
from idle_harbor.core.tuner.report.spare import EASILY, WORSE
from idle_harbor.core.tuner.scoring.judge import (
    MONEY,
    Measured,
    missed,
    report_on,
    weighted,
    without_room,
)
from idle_harbor.core.tuner.scoring.trials import Finding, Trial

#: A change that saves less than this share of the money is removed where the promise is kept
#: without it.
NEEDLESS = 0.002
#: Weeks of each kind on which each change is undone alone, and rounds of removal.
_ALONE, _ROUNDS = 2, 3
#: Multiple of the share up to which a removal is tried on more weeks.
_BY_FAR = 3.0


@dataclass
class Needless:
    """Removes needless changes from a design.

    ``scored`` has the fresh weeks of the design; weeks up to ``last`` may be used.
    """

    fresh: Fresh
    scored: Measured
    last: int
    _known: dict[Design, Measured] = field(default_factory=dict, init=False)

    def without(self, design: Design) -> Finding[Design]:
        """The design without its needless changes; ``scored`` has its weeks afterwards.

        Each change is undone alone on few weeks. All that seem needless are then removed together
        if that passes on all weeks of the design; otherwise each half is tried. Of a design with
        more changes or bands than a planner reads, those that save least go then, as far as all of
        them save less than 3 %.
        """
        # Whole changes come first: where weeks are scarce, they are what a planner reads.
        design = yield from self._rounds(design, values=False)
        design = yield from self._few(design)
        return (yield from self._rounds(design, values=True))

    def _rounds(self, design: Design, *, values: bool) -> Finding[Design]:
        """The design without needless changes, or without needless values of bands."""
        for _ in range(_ROUNDS):
            needless = yield from self._alone(design, values=values)
            found = yield from self._together(design, needless, NEEDLESS)
            if found == design:
                break
            design = found
        return design

    def _few(self, design: Design) -> Finding[Design]:
        """The design with fewer changes, at a price."""
        if is_simple(self.fresh.search, design):
            return design
        ways = yield from self._alone(design, values=False, share=FEW_WORTH)
        begun, whole = self.scored, self.last
        # The other half of the weeks is for what is needless.
        self.last = self.fresh.used + (self.last - self.fresh.used) // 2
        for way in ways:
            less = self._undone(design, [way])
            if is_simple(self.fresh.search, design) or less is None:
                continue
            cost = self._more(self.scored, begun)
            if (yield from self._passes(less, FEW_WORTH - cost)):
                design = less
        self.last = whole
        return design

    def _undone(self, design: Design, ways: Sequence[Way]) -> Design | None:
        """The design without some changes from today's plan; None where that is not allowed."""
        search = self.fresh.search
        found = applied(search, design, ways)
        return found if found != design and allowed(found, search.bounds) else None

    def _alone(
        self, design: Design, *, values: bool, share: float = NEEDLESS
    ) -> Finding[list[Way]]:
        """Steps that undo changes which save less than a share, those that save least first."""
        fresh = self.fresh
        kinds = len(fresh.question.weeks)
        ways = undoing(fresh.search.today, design, values=values)
        less = [(way, self._undone(design, [way])) for way in ways]
        asked = [(way, each) for way, each in less if each is not None]
        # Half of the weeks are for the removal, which is judged on all weeks of the design. Where
        # weeks are scarce, not every kind of week is looked at here.
        left = max(self.last - fresh.used, 0) // (2 * max(len(asked), 1))
        many = min(left, _ALONE * kinds, len(self.scored.slots))
        found = yield from self._scored([each for _, each in asked if many], many)
        good = [
            (self._more(measured), k)
            for k, measured in enumerate(found)
            if self._more(measured) <= share and self._keeps_as_well(measured)
        ]
        return [asked[k][0] for _, k in sorted(good)]

    def _together(self, design: Design, ways: Sequence[Way], share: float) -> Finding[Design]:
        parts = [ways] if ways else []
        while parts:
            part = parts.pop()
            less = self._undone(design, part)
            if less is not None and (yield from self._passes(less, share * len(part))):
                design = less
            elif len(part) > 1:
                parts += [part[len(part) // 2 :], part[: len(part) // 2]]
        return design

    def _passes(self, less: Design, share: float) -> Finding[bool]:
        """Whether a removal costs hardly more and keeps the promise with as much room."""
        fresh, whole = self.fresh, len(self.scored.slots)
        many = _ALONE * len(fresh.question.weeks)
        while True:
            many = min(many, whole)
            if many > self.last - fresh.used:
                return False
            (found,) = yield from self._scored([less], many)
            if self._more(found) > (share if many == whole else _BY_FAR * share):
                return False
            if many == whole:
                break
            many *= 2
        report = report_on(found, fresh.question.weeks, fresh.promise)
        if report.standing != "kept" or not self._roomless(found) <= self._roomless(self.scored):
            return False
        self.scored = found
        return True

    def _scored(self, designs: Sequence[Design], many: int) -> Finding[list[Measured]]:
        """Designs on the first weeks of the chosen one."""
        slots = self.scored.slots
        begun = {each: self._known.get(each, Measured((), ())) for each in designs}
        asked = [
            Trial(each, slots[len(known.slots) : many])
            for each, known in begun.items()
            if len(known.slots) < many
        ]
        scores = (yield from self.fresh.scored(asked)) if asked else []
        for trial, found in zip(asked, scores, strict=True):
            self._known[trial.design] = begun[trial.design].more(trial.slots, found)
        return [self._known[each].first(many) for each in designs]

    def _more(self, less: Measured, than: Measured | None = None) -> float:
        """By which share a design costs more than the chosen one, or another, on the same weeks."""
        weeks = self.fresh.question.weeks
        before = weighted((than or self.scored).first(len(less.slots)), weeks, MONEY)
        return (weighted(less, weeks, MONEY) - before) / max(before, 1e-9)

    def _keeps_as_well(self, less: Measured) -> bool:
        weeks, promise = self.fresh.question.weeks, self.fresh.promise
        before = self.scored.first(len(less.slots))
        return missed(less, weeks, promise) <= missed(before, weeks, promise)

    def _roomless(self, measured: Measured) -> set[str]:
        fresh = self.fresh
        return without_room(measured, fresh.question.weeks, fresh.promise, EASILY, WORSE)
