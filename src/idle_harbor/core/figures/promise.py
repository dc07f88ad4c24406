"""The promise: its parts, each declared once, and the verdicts of simulated weeks on them.

Verdicts, gauges, tables, the command line and the Tuner use :data:`PARTS`. A new part is a field of
the plan's promise and one record here.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, replace
from math import inf
from operator import attrgetter
from typing import Any, Literal, TypeAlias, get_args, get_type_hints

from idle_harbor.core.figures.experience import Experience
from idle_harbor.core.figures.intervals import Estimate
from idle_harbor.core.plan import Promise
from idle_harbor.core.plan.declare import About, about

#: A figure of one week: infinite if it has no bound, None if it concerned nobody.
OfWeek: TypeAlias = Callable[[Experience], float | None]


@dataclass(frozen=True, slots=True)
class Part:
    """One part of the promise: its figure, and all texts about it.

    ``field`` is the plan's field with the limit; unit, bounds and default are declared there.
    ``figure`` is the path of the figure in :class:`~idle_harbor.core.weeks.summary.Figures`.
    ``of_week`` reads the figure of one week; ``near`` reads a figure of the week that shows how
    close it is to the limit. ``short`` names the part in a row, ``title`` on its own, ``head``
    above a column and ``spoken`` within a sentence. ``sentence`` has the texts before and after the
    limit. ``nobody`` is shown if the figure concerned nobody.
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
    #: Whether the limit is a minimum rather than a maximum.
    least: bool = False
    near: OfWeek | None = None

    @property
    def about(self) -> About:
        """The declaration of the plan's field."""
        return about(Promise, self.field)

    @property
    def timed(self) -> bool:
        """Whether the figure is in whole seconds; otherwise it is a share from 0 to 1."""
        return self.about.unit == "s"

    @property
    def optional(self) -> bool:
        """Whether a plan may promise nothing of this part."""
        return type(None) in get_args(get_type_hints(Promise)[self.field])

    def limit(self, promise: Promise) -> float | None:
        """Return the limit of a promise, None if this part is not promised."""
        found: float | None = getattr(promise, self.field)
        return found

    def text(self, value: float) -> str:
        """Return a figure or a limit of this part as text, with its unit."""
        return f"{value:,.0f} s" if self.timed else f"{value:.2%}"

    def scaled(self, limit: float, factor: float) -> float:
        """Return a limit made stricter (``factor`` below 1) or looser, within the field's
        bounds."""
        value = 1.0 - (1.0 - limit) * factor if self.least else limit * factor
        return round(value) if self.timed else min(value, 1.0)


def with_limits(promise: Promise, limits: Mapping[str, float | None]) -> Promise:
    """Return the promise with other limits.

    ``limits`` has them by the names of the promise's fields; None is for a part not promised.
    """
    changes: dict[str, Any] = dict(limits)
    return replace(promise, **changes)


def _wait(percentile: str) -> OfWeek:
    def of_week(week: Experience) -> float | None:
        wait: float | None = getattr(week.waits, percentile)
        return inf if wait is None and week.waits.arrivals else wait

    return of_week


#: All parts of the promise, in the order in which they are shown.
PARTS = (
    Part(
        field="wait_p95_seconds",
        figure="wait_seconds.p95",
        of_week=_wait("p95"),
        # The 95th percentile jumps from seconds to minutes in a few weeks; the 96th jumps earlier.
        near=_wait("p96"),
        short="wait",
        title="Wait of 95 % of logons",
        head="95 % wait",
        spoken="the wait of 95 % of logons",
        sentence=("95 % of logons within", ","),
        nobody="nobody asked",
    ),
    Part(
        field="wait_p99_seconds",
        figure="wait_seconds.p99",
        of_week=_wait("p99"),
        short="slowest",
        title="Wait of 99 % of logons",
        head="99 % wait",
        spoken="the wait of 99 % of logons",
        sentence=("99 % within", ","),
        nobody="nobody asked",
    ),
    Part(
        field="first_comer_seconds",
        figure="first.within",
        of_week=lambda week: week.first.within,
        short="first comer",
        title="First comer",
        head="First comer",
        spoken="the longest wait of a first comer",
        sentence=("whoever comes first after a quiet hour within", ","),
        nobody="no quiet hour",
    ),
    Part(
        field="own_wait_seconds",
        figure="own_wait",
        of_week=attrgetter("own_wait"),
        short="own wait",
        title="Own wait of 75 % of logons",
        head="Own wait",
        spoken="the longest own wait",
        sentence=("with desktops of their own everybody within", "in 75 % of their logons,"),
        nobody="no own desktops",
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
        field="lost_work_share",
        figure="lost_work_share",
        of_week=attrgetter("lost_work_share"),
        short="lost work",
        title="Lost work",
        head="Lost work",
        spoken="lost work",
        sentence=("at most", "of sessions are ended for people who worked within 30 minutes,"),
        nobody="nobody left",
    ),
    Part(
        field="forced_share",
        figure="forced_share",
        of_week=attrgetter("forced_share"),
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

#: How a part stands: the whole confidence interval keeps the limit, some of it does, or none.
Standing: TypeAlias = Literal["kept", "at risk", "broken"]
#: From the best to the worst.
STANDINGS: tuple[Standing, ...] = get_args(Standing)


def worst(standings: Iterable[Standing]) -> Standing:
    """Return the worst of several standings."""
    return max(standings, key=STANDINGS.index)


#: Tolerance for rounding where a share equals its limit.
_HAIR = 1e-12


@dataclass(frozen=True, slots=True)
class Verdict:
    """The verdict on one part: limit, figure, whether the mean keeps it, standing, and direction.

    ``limit`` is None if the part is not promised: then any figure keeps it. ``standing`` compares
    the 95 % confidence interval with the limit.
    """

    limit: float | None
    figure: Estimate
    kept: bool
    standing: Standing
    #: Limits are maxima, but for the minimum of comfort.
    less_is_better: bool = True


@dataclass(frozen=True, slots=True)
class Verdicts:
    """The verdicts on all parts of the promise, by the names of the plan's fields."""

    parts: Mapping[str, Verdict]

    def __getitem__(self, field: str) -> Verdict:
        return self.parts[field]

    @property
    def whole(self) -> bool:
        """Whether every part is kept."""
        return all(part.kept for part in self.parts.values())

    @property
    def standing(self) -> Standing:
        """The standing of the worst part."""
        return worst(part.standing for part in self.parts.values())


def _verdict(limit: float | None, found: Estimate, *, least: bool) -> Verdict:
    """Return the verdict on one figure; a figure without a value keeps its limit, because it
    concerned nobody."""
    if limit is None or (found.mean is None and not found.unbounded):
        return Verdict(limit, found, True, "kept", not least)
    way = -1.0 if least else 1.0
    over = float("inf") if found.mean is None else way * (found.mean - limit)
    half = found.half_width or 0.0
    standing: Standing = "broken"
    if over <= half + _HAIR:
        standing = "kept" if over <= _HAIR - half else "at risk"
    return Verdict(limit, found, over <= _HAIR, standing, not least)


def figures_in(figures: object) -> dict[str, Estimate]:
    """Return the figure of each part from ``Figures``, by the names of the plan's fields."""
    return {part.field: attrgetter(part.figure)(figures) for part in PARTS}


def verdicts_on(promise: Promise, figures: Mapping[str, Estimate]) -> Verdicts:
    """Return the verdicts on a promise.

    ``figures`` has means over replications with intervals, by the names of the plan's fields. A
    wait without bound breaks the promise. A figure that concerned nobody keeps it. With one
    replication the mean alone decides.
    """
    return Verdicts(
        {
            part.field: _verdict(part.limit(promise), figures[part.field], least=part.least)
            for part in PARTS
        }
    )
