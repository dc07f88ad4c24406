"""Racing: candidates are evaluated on more and more weeks, and dropped when they fall behind.

All candidates are evaluated on the same weeks (common random numbers), so that they are compared
in pairs. A candidate that looks worse than the best ones after a few weeks is dropped (racing:
Maron and Moore 1997). What is evaluated next depends on scores alone.
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

#: The factor by which a candidate may look worse than the last of the best, after each rung.
_PATIENCE = (1.02, 1.01, 1.005, 1.002)
#: At most one of so many candidates goes on after a rung: for the promise, for each other promise.
_FEWER, _FEWER_BESIDE = 2, 12
#: How many best designs are known for the promise itself, and for each other promise.
_KEPT, _KEPT_BESIDE = 8, 3
_OF_A_FAMILY, _OF_A_SIZE = 3, 6


def family(design: Design, bounds: Bounds) -> tuple[str, ...]:
    """The family of a design: host size, balancing rules and releases, without any numbers."""
    bands = [
        band for kind in design.schedule.day_types if kind.id in bounds.kinds for band in kind.bands
    ]
    most = max((band.floor + band.headroom for band in bands), default=0)
    busy = [band for band in bands if 2 * (band.floor + band.headroom) >= most]
    return (design.pool.size, *sorted({f"{band.rule}, {band.release}" for band in busy}))


@dataclass
class Aim:
    """One promise to search for, with at most ``keep`` designs that are best for it, best first."""

    promise: Promise
    keep: int
    best: list[Design] = field(default_factory=list)
    #: A cache of objectives, by design, number of weeks and standard errors.
    worths: dict[tuple[Design, int, float], float] = field(default_factory=dict)


class Racing:
    """The weeks of all candidates so far, and the best candidates for each promise."""

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
        #: Money of a month of a design that serves everybody.
        self.usual = 0.0
        #: Weeks of the safest design, where it misses the promise.
        self.safest: Measured | None = None
        self.used = 0
        #: Whether the search has to end before its budget is used.
        self.ends: Callable[[], bool] = bool

    def over(self, most: int) -> bool:
        """Whether so many candidate-weeks are used, or the search has to end early."""
        return self.used >= most or self.ends()

    def obeying(self, design: Design) -> Design:
        """The design with locked fields as today and all values within their bounds."""
        return clamped(pinned(design, self.today, self.bounds), self.bounds)

    def fit(self, design: Design) -> Design:
        """The design as it obeys the question, without what has no effect."""
        go_on()
        return fitted(self.obeying(design))

    def possible(self, designs: Iterable[Design]) -> list[Design]:
        """The designs, fitted; those that are not allowed are left out."""
        fit = dict.fromkeys(self.fit(each) for each in designs)
        return [each for each in fit if allowed(each, self.bounds)]

    def worth(self, design: Design, aim: Aim, many: int | None = None, sure: float = SURE) -> float:
        """The objective of a design for an aim, on its first ``many`` weeks; less is better."""
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
        """Money of a month of a design, on its weeks so far or on the first ``many`` of them."""
        measured = self.known[design]
        return weighted(measured.first(many or len(measured.slots)), self.weeks, MONEY)

    def keeps(self, design: Design, aim: Aim, sure: float = SURE) -> bool:
        """Whether a design keeps the promise of an aim on the weeks of the search."""
        return missed(self.known[design], self.weeks, aim.promise, sure, self.safest) == 0.0

    def excuse(self, designs: Sequence[Design]) -> Asking:
        """Evaluate the safest designs on all weeks. What the best of them misses is excused in all
        candidates."""
        yield from self.measure(designs)
        promise = self.aims[0].promise
        of = {d: missed(self.known[d], self.weeks, promise, SURE) for d in designs}
        best = min(of, key=lambda d: of[d], default=None)
        if best is not None and of[best] > 0.0:
            self.safest = self.known[best]

    def obeys(self, design: Design) -> bool:
        """Whether a design has today's values in locked fields, and all others within the bounds
        that the planner set: today's plan itself may be outside of them."""
        return self.obeying(design) == design

    @property
    def begin(self) -> Design:
        """Where the search begins: today's plan, moved into the bounds if it is outside of them."""
        return self.today if self.obeys(self.today) else self.fit(self.today)

    @property
    def finished(self) -> list[Design]:
        """Designs that may be chosen and are evaluated on all weeks, in the order in which they
        were."""
        return [
            design
            for design, measured in self.known.items()
            if len(measured.slots) == len(self.slots)
            and (design != self.today or self.obeys(design))
        ]

    def through(self, design: Design) -> bool:
        """Whether a design is evaluated on all weeks."""
        return design in self.known and len(self.known[design].slots) == len(self.slots)

    def race(self, designs: Sequence[Design]) -> Finding[list[Design]]:
        """Evaluate designs on more and more weeks, and drop those that fall behind. Those that
        reach the last week join the best where they are good enough."""
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
        """The designs that may still join the best of an aim, by their first weeks: at most the
        better half for the promise itself, and a few for each other promise."""
        found: set[Design] = set()
        for number, aim in enumerate(self.aims):
            worths = {d: self.worth(d, aim, many, 0.0) for d in designs}
            # While the aim has too few best designs, candidates are compared with each other.
            known = [self.worth(d, aim, many, 0.0) for d in aim.best]
            ranked = sorted([*known, *worths.values()] if len(known) < aim.keep else known)
            bar = ranked[min(aim.keep, len(ranked)) - 1] * patience
            most = max(len(designs) // (_FEWER_BESIDE if number else _FEWER), 1)
            near = sorted((d for d in worths if worths[d] <= bar), key=lambda d: worths[d])
            found |= set(near[:most])
        return [d for d in designs if d in found]

    def _enter(self, design: Design, aim: Aim) -> None:
        """Let a design join the best of an aim. Each family may have a few places only, since other
        families may become better later."""
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
        """Let a design that is evaluated on all weeks join the best."""
        for aim in self.aims:
            if design not in aim.best:
                self._enter(design, aim)

    def measure(self, designs: Sequence[Design], many: int | None = None) -> Asking:
        """Evaluate designs on all weeks, or on the first ``many``. They do not join the best."""
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

    def aim_at(self, promises: Sequence[Promise], after: int) -> None:
        """Search for other promises in place of those from number ``after`` on."""
        self.aims = [*self.aims[:after], *(Aim(promise, _KEPT_BESIDE) for promise in promises)]
        for design in self.finished:
            for aim in self.aims[after:]:
                self._enter(design, aim)

    def better(self, design: Design, other: Design, aim: Aim, many: int) -> bool:
        """Whether a design is better than another on the first weeks."""
        sure = SURE if many == len(self.slots) else 0.0
        return self.worth(design, aim, many, sure) < self.worth(other, aim, many, sure)
