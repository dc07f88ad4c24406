"""Racing: candidates through the weeks of a search, those that fall behind given up.

All candidates meet the same weeks, so that they are compared pair by pair; those that look worse
than what is there after a few weeks are given up, the others go through more (racing: Maron and
Moore 1997). What is asked for next depends on scores alone.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, field

from idle_harbor.core.base.stopping import go_on
from idle_harbor.core.plan import Promise
from idle_harbor.core.tuner.designs.design import Design
from idle_harbor.core.tuner.designs.knobs import Bounds, clamped
from idle_harbor.core.tuner.designs.moves import allowed
from idle_harbor.core.tuner.designs.pins import pinned
from idle_harbor.core.tuner.designs.shapes import fitted
from idle_harbor.core.tuner.scoring.judge import (
    MONEY,
    RUNGS,
    SURE,
    Measured,
    missed,
    weighted,
    worth,
)
from idle_harbor.core.tuner.scoring.scores import Counted, Slot
from idle_harbor.core.tuner.scoring.trials import Asking, Finding, Trial

#: By how much worse than the last of the best a candidate may look after each of them.
_PATIENCE = (1.02, 1.01, 1.005, 1.002)
#: Of so many candidates one goes on after each of them at most, for the promise and each other one.
_FEWER, _FEWER_BESIDE = 2, 12
#: The best designs that are kept for the promise itself, and for each stricter or looser one.
_KEPT, _KEPT_BESIDE = 8, 3
_OF_A_FAMILY, _OF_A_SIZE = 3, 6


def family(design: Design, bounds: Bounds) -> tuple[str, ...]:
    """What a design does rather than how much of it: rules and ways of letting go, its size."""
    bands = [
        band for kind in design.schedule.day_types if kind.id in bounds.kinds for band in kind.bands
    ]
    most = max((band.floor + band.headroom for band in bands), default=0)
    busy = [band for band in bands if 2 * (band.floor + band.headroom) >= most]
    return (design.pool.size, *sorted({f"{band.rule}, {band.release}" for band in busy}))


@dataclass
class Aim:
    """One promise to search for, and the best designs for it, best first."""

    promise: Promise
    keep: int
    best: list[Design] = field(default_factory=list)
    #: What designs are worth after so many weeks, and how sure that is.
    worths: dict[tuple[Design, int, float], float] = field(default_factory=dict)


class Racing:
    """What is known of candidates so far, and the best of them for each promise."""

    def __init__(
        self,
        weeks: Sequence[Counted],
        promises: Sequence[Promise],
        bounds: Bounds,
        first_seed: int,
        today: Design,
        rungs: Sequence[int] = RUNGS,
    ) -> None:
        self.weeks, self.bounds, self.today = weeks, bounds, today
        self.aims = [
            Aim(promise, _KEPT_BESIDE if k else _KEPT) for k, promise in enumerate(promises)
        ]
        self.rungs = rungs
        self.slots = tuple(
            Slot(week, first_seed + turn) for turn in range(rungs[-1]) for week in range(len(weeks))
        )
        self.known: dict[Design, Measured] = {}
        #: Money of a month of what is known to serve everybody.
        self.usual = 0.0
        #: The safest design's weeks, where it misses the promise: what nobody can keep.
        self.safest: Measured | None = None
        self.used = 0
        #: Whether it is to end before its weeks are used.
        self.ends: Callable[[], bool] = bool

    def over(self, most: int) -> bool:
        """Whether so many weeks are used, or it is to end early."""
        return self.used >= most or self.ends()

    def fit(self, design: Design) -> Design:
        """A design as it may be: what may not be changed as today, nothing beyond what there is."""
        go_on()
        return fitted(clamped(pinned(design, self.today, self.bounds), self.bounds))

    def possible(self, designs: Iterable[Design]) -> list[Design]:
        """Designs as they may be, those that are allowed."""
        fit = dict.fromkeys(self.fit(each) for each in designs)
        return [each for each in fit if allowed(each, self.bounds)]

    def worth(self, design: Design, aim: Aim, many: int | None = None, sure: float = SURE) -> float:
        """What a design is worth for an aim, on the first of its weeks; less is better."""
        measured = self.known[design]
        key = (design, min(many or len(measured.slots), len(measured.slots)), sure)
        if key not in aim.worths:
            aim.worths[key] = worth(
                measured.first(key[1]),
                self.weeks,
                aim.promise,
                sure,
                usual=self.usual,
                safest=self.safest,
            )
        return aim.worths[key]

    def money(self, design: Design, many: int | None = None) -> float:
        """What a month of a design costs on its weeks so far, or the first of them."""
        measured = self.known[design]
        return weighted(measured.first(many or len(measured.slots)), self.weeks, MONEY)

    def keeps(self, design: Design, aim: Aim, sure: float = SURE) -> bool:
        """Whether a design keeps an aim's promise on the weeks of the search."""
        return missed(self.known[design], self.weeks, aim.promise, sure, self.safest) == 0.0

    def excuse(self, designs: Sequence[Design]) -> Asking:
        """Put the safest designs through all weeks: what even the best of them misses is not held
        against others."""
        yield from self.measure(designs)
        promise = self.aims[0].promise
        of = {d: missed(self.known[d], self.weeks, promise, SURE) for d in designs}
        best = min(of, key=lambda d: of[d], default=None)
        if best is not None and of[best] > 0.0:
            self.safest = self.known[best]

    @property
    def finished(self) -> list[Design]:
        """Designs that went through all weeks, in the order in which they came."""
        return [d for d, m in self.known.items() if len(m.slots) == len(self.slots)]

    def through(self, design: Design) -> bool:
        """Whether a design went through all weeks."""
        return design in self.known and len(self.known[design].slots) == len(self.slots)

    def race(self, designs: Sequence[Design]) -> Finding[list[Design]]:
        """Put designs through the weeks, giving up those that fall behind; those that went through
        all of them are among the best where they belong there."""
        for design in dict.fromkeys(designs):
            if self.through(design):
                self.also(design)
        alive = [d for d in dict.fromkeys(designs) if d not in self.known]
        done = 0
        for number, rung in enumerate(self.rungs):
            if not alive:
                break
            many = rung * len(self.weeks)
            asked = self.slots[done:many]
            scores = yield [Trial(design, asked) for design in alive]
            for design, found in zip(alive, scores, strict=True):
                known = self.known.get(design, Measured((), ()))
                self.known[design] = known.more(asked, found)
                self.used += len(asked)
            done = many
            if rung != self.rungs[-1]:
                alive = self._promising(alive, many, _PATIENCE[min(number, len(_PATIENCE) - 1)])
        for design in alive:
            for aim in self.aims:
                self._enter(design, aim)
        return alive

    def _promising(self, designs: Sequence[Design], many: int, patience: float) -> list[Design]:
        """The designs that may still be among the best of any aim, by their first weeks; of many
        the better half at most, and a few for each of the promises beside."""
        found: set[Design] = set()
        for number, aim in enumerate(self.aims):
            worths = {d: self.worth(d, aim, many, 0.0) for d in designs}
            # Where there are too few to compare with, they are compared with each other.
            known = [self.worth(d, aim, many, 0.0) for d in aim.best]
            ranked = sorted([*known, *worths.values()] if len(known) < aim.keep else known)
            bar = ranked[min(aim.keep, len(ranked)) - 1] * patience
            most = max(len(designs) // (_FEWER_BESIDE if number else _FEWER), 1)
            near = sorted((d for d in worths if worths[d] <= bar), key=lambda d: worths[d])
            found |= set(near[:most])
        return [d for d in designs if d in found]

    def _enter(self, design: Design, aim: Aim) -> None:
        """Among the best, of which a few of one family at most: others may come to more."""
        ranked = sorted([*aim.best, design], key=lambda each: self.worth(each, aim))
        of: dict[tuple[str, ...], int] = {}
        found = []
        for each in ranked:
            name, size = family(each, self.bounds), (each.pool.size,)
            for group in (name, size):
                of[group] = of.get(group, 0) + 1
            if of[name] <= _OF_A_FAMILY and of[size] <= _OF_A_SIZE:
                found.append(each)
        aim.best = found[: aim.keep]

    def also(self, design: Design) -> None:
        """Have a design that went through all weeks among the best."""
        for aim in self.aims:
            if design not in aim.best:
                self._enter(design, aim)

    def measure(self, designs: Sequence[Design], many: int | None = None) -> Asking:
        """Put designs through all weeks, or the first of them, without any of them being among the
        best for it."""
        slots = self.slots[:many]
        begun = {d: len(self.known[d].slots) if d in self.known else 0 for d in designs}
        asked = [d for d, have in begun.items() if have < len(slots)]
        if not asked:
            return
        scores = yield [Trial(d, slots[begun[d] :]) for d in asked]
        for design, found in zip(asked, scores, strict=True):
            known = self.known.get(design, Measured((), ()))
            self.known[design] = known.more(slots[begun[design] :], found)
            self.used += len(found)

    def better(self, design: Design, other: Design, aim: Aim, many: int) -> bool:
        """Whether a design is worth more than another on the first weeks."""
        sure = SURE if many == len(self.slots) else 0.0
        return self.worth(design, aim, many, sure) < self.worth(other, aim, many, sure)
