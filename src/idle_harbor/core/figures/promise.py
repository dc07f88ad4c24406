"""The promise: its parts, each declared once, and what simulated weeks say of them.

Verdicts, gauges, tables, the command line and the Tuner go through :data:`PARTS`. A new part is a
field of the plan's promise and one record here.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, replace
from math import inf
from operator import attrgetter
from typing import Any, Literal, Protocol, TypeAlias, get_args

from idle_harbor.core.figures.experience import Returns, Sessions, Waits
from idle_harbor.core.figures.intervals import Estimate
from idle_harbor.core.plan import Promise
from idle_harbor.core.plan.declare import About, about


class Felt(Protocol):
    """What people felt in one simulated week."""

    @property
    def waits(self) -> Waits:
        """Waits and refusals."""

    @property
    def returns(self) -> Returns:
        """What people found who came back."""

    @property
    def sessions(self) -> Sessions:
        """Strain and comfort."""

    @property
    def forced_share(self) -> float | None:
        """Sessions ended by force as a share of all that ended."""


#: A figure of one week: infinite where it has no bound, None where nobody could feel it.
OfWeek: TypeAlias = Callable[[Felt], float | None]


@dataclass(frozen=True, slots=True)
class Part:
    """One part of the promise: a figure, and everything that is said of it.

    ``field`` is the plan's field with the limit; its unit, bounds and default are declared there.
    ``figure`` is where :class:`~idle_harbor.core.weeks.summary.Figures` has the figure, ``of_week``
    reads it from one week, and ``near`` reads a figure of the week that shows how near it is to its
    limit. ``short`` names it in a row, ``title`` alone, ``head`` above a column, ``spoken`` within
    a sentence. ``sentence`` stands before and after the limit where the promise is told.
    ``nobody`` is shown where nobody could feel it.
    """

    field: str
    figure: str
    of_week: OfWeek
    short: str
    title: str
    head: str
    spoken: str
    sentence: tuple[str, str]
    nobody: str = "–"
    #: The least there may be is promised, not the most.
    least: bool = False
    near: OfWeek | None = None

    @property
    def about(self) -> About:
        """What the plan's field declares."""
        return about(Promise, self.field)

    @property
    def timed(self) -> bool:
        """Whether the figure is whole seconds; a share from 0 to 1 otherwise."""
        return self.about.unit == "s"

    def limit(self, promise: Promise) -> float:
        """The limit that is promised."""
        found: float = getattr(promise, self.field)
        return found

    def scaled(self, limit: float, factor: float) -> float:
        """A limit that is stricter (factor below 1) or looser, in the field's bounds."""
        value = 1.0 - (1.0 - limit) * factor if self.least else limit * factor
        return round(value) if self.timed else min(value, 1.0)


def with_limits(promise: Promise, limits: Mapping[str, float]) -> Promise:
    """The promise with other limits, by its fields."""
    changes: dict[str, Any] = dict(limits)
    return replace(promise, **changes)


def _wait(percentile: str) -> OfWeek:
    def of_week(week: Felt) -> float | None:
        wait: float | None = getattr(week.waits, percentile)
        return inf if wait is None and week.waits.arrivals else wait

    return of_week


#: All parts of the promise, in the order in which they are told.
PARTS = (
    Part(
        field="wait_p95_seconds",
        figure="wait_seconds.p95",
        of_week=_wait("p95"),
        # A percentile of few bad weeks jumps from seconds to minutes; the next one jumps before.
        near=_wait("p96"),
        short="wait",
        title="Wait, 19 of 20 logons",
        head="19 of 20 wait",
        spoken="the wait of 19 of 20",
        sentence=("19 of 20 logons within", ","),
        nobody="nobody asked",
    ),
    Part(
        field="refused_share",
        figure="refused_share",
        of_week=lambda week: week.waits.refused_share,
        short="refused",
        title="Refused",
        head="Refused",
        spoken="refusals",
        sentence=("at most", "refused,"),
    ),
    Part(
        field="strained_share",
        figure="strained_share",
        of_week=lambda week: week.sessions.strained_share,
        short="strained",
        title="Strained working time",
        head="Strained",
        spoken="strained work",
        sentence=("", "of working time strained,"),
    ),
    Part(
        field="lost_returns",
        figure="returns.lost_share",
        of_week=lambda week: week.returns.lost_share,
        short="lost",
        title="Lost returns",
        head="Lost returns",
        spoken="lost returns",
        sentence=("at most", "of those who come back find their session gone,"),
        nobody="nobody came back",
    ),
    Part(
        field="forced_share",
        figure="forced_share",
        of_week=lambda week: week.forced_share,
        short="forced",
        title="Forced sign-offs",
        head="Forced",
        spoken="forced sign-offs",
        sentence=("", "of sessions end by force;"),
        nobody="nobody left",
    ),
    Part(
        field="comfort",
        figure="comfort",
        of_week=lambda week: week.sessions.comfort,
        short="comfort",
        title="Comfort",
        head="Comfort",
        spoken="comfort",
        sentence=("a comfort of at least", "."),
        least=True,
    ),
)
#: The parts by the plan's field.
BY_FIELD = {part.field: part for part in PARTS}

#: What the simulated weeks say of a part of the promise: of means that such weeks may have, all
#: keep it, none does, or some do and some do not.
Standing: TypeAlias = Literal["kept", "at risk", "broken"]
#: From the best to the worst.
STANDINGS: tuple[Standing, ...] = get_args(Standing)


def worst(standings: Iterable[Standing]) -> Standing:
    """The standing of a whole: its worst."""
    return max(standings, key=STANDINGS.index)


#: Guards shares at their limit against being a hair beyond it.
_HAIR = 1e-12


@dataclass(frozen=True, slots=True)
class Verdict:
    """The promise against one figure: its limit, the figure, whether the mean keeps it, what its
    95 % interval says, and which way is better."""

    limit: float
    figure: Estimate
    kept: bool
    standing: Standing
    #: A promise tells the most of a figure there may be, of comfort the least.
    less_is_better: bool = True


@dataclass(frozen=True, slots=True)
class Verdicts:
    """The promise, part by part, under the plan's fields."""

    parts: Mapping[str, Verdict]

    def __getitem__(self, field: str) -> Verdict:
        return self.parts[field]

    @property
    def whole(self) -> bool:
        """Whether every part is kept."""
        return all(part.kept for part in self.parts.values())

    @property
    def standing(self) -> Standing:
        """How the part stands that stands worst."""
        return worst(part.standing for part in self.parts.values())


def _verdict(limit: float, found: Estimate, *, least: bool) -> Verdict:
    """The most there may be of a figure, or with ``least`` the least; what is not known keeps it,
    since nobody felt anything."""
    if found.mean is None and not found.unbounded:
        return Verdict(limit, found, True, "kept", not least)
    way = -1.0 if least else 1.0
    over = float("inf") if found.mean is None else way * (found.mean - limit)
    half = found.half_width or 0.0
    standing: Standing = "broken"
    if over <= half + _HAIR:
        standing = "kept" if over <= _HAIR - half else "at risk"
    return Verdict(limit, found, over <= _HAIR, standing, not least)


def figures_in(figures: object) -> dict[str, Estimate]:
    """The figure of each part, by the plan's fields, out of the figures of weeks."""
    return {part.field: attrgetter(part.figure)(figures) for part in PARTS}


def verdicts_on(promise: Promise, figures: Mapping[str, Estimate]) -> Verdicts:
    """The promise against means over seeds and their intervals, given by the plan's fields; a wait
    without bound breaks it, nobody who waits or comes back keeps it. Of one week alone the mean
    decides."""
    return Verdicts(
        {
            part.field: _verdict(part.limit(promise), figures[part.field], least=part.least)
            for part in PARTS
        }
    )
