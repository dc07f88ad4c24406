"""Patterns of work: when people start, pause and leave, and how.

Clock times are seconds of the local day.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import Annotated, Literal

from annotated_types import Len
from pydantic import Discriminator, Field, Tag

from idle_harbor.core.plan.declare import (
    DAY,
    OURS,
    About,
    Clock,
    Named,
    Share,
    Tagged,
    alias,
    by_weekday,
    clock,
)

#: Breaks of a pattern.
MOST_BREAKS = 8


@dataclass(frozen=True, slots=True)
class Leaving:
    """Ways of leaving as shares that add up to 1."""

    sign_off: Share = 1.0
    disconnect: Share = 0.0
    walk_away: Share = 0.0


@dataclass(frozen=True, slots=True)
class Normal:
    """A normal spread of clock times or lengths: mean and standard deviation in seconds."""

    mean: float
    sd: float


@dataclass(frozen=True, slots=True)
class Histogram:
    """An observed spread: weights of equal steps from ``first`` on, uniform within; seconds."""

    first: int
    step: int
    weights: tuple[float, ...]

    @property
    def mean(self) -> float:
        """The mean in seconds."""
        total = sum(self.weights)
        middles = (w * (self.first + (k + 0.5) * self.step) for k, w in enumerate(self.weights))
        return sum(middles) / total

    @property
    def sd(self) -> float:
        """The standard deviation in seconds, that of a uniform step included."""
        mean, total = self.mean, sum(self.weights)
        middles = ((w, self.first + (k + 0.5) * self.step) for k, w in enumerate(self.weights))
        between = sum(w * (middle - mean) ** 2 for w, middle in middles) / total
        return math.sqrt(between + self.step**2 / 12)


Spread = Normal | Histogram


def _kind_of(value: object) -> str:
    """The tag of a spread; without one it is a normal."""
    kind = value.get("kind", "normal") if isinstance(value, dict) else getattr(value, "kind", "")
    return str(kind)


Weights = Annotated[
    tuple[Annotated[float, Field(ge=0, le=1e9)], ...],
    Len(1, 288),
    About("Weight of each step, in order."),
]


@dataclass(frozen=True, slots=True)
class Start:
    """When people start."""

    mean: Annotated[
        Clock, About("When people start on average, on their site's clock.", "clock", source=OURS)
    ] = clock("08:45")
    sd_minutes: Annotated[
        float,
        About(
            "How far starts scatter about that (standard deviation, cut at three).",
            "min",
            0,
            360,
            OURS,
        ),
    ] = 25.0
    kind: Literal["normal"] = "normal"

    @property
    def spread(self) -> Spread:
        """Clock times in seconds of the local day."""
        return Normal(float(self.mean), 60.0 * self.sd_minutes)


@dataclass(frozen=True, slots=True)
class ObservedStart(Tagged):
    """When people were seen to start: a histogram in equal steps."""

    weights: Weights
    first: Annotated[Clock, alias("from"), About("Where the observed starts begin.", "clock")] = (
        clock("06:00")
    )
    step_minutes: Annotated[
        int, About("How wide each step of the observed starts is.", "min", 1, 240)
    ] = 15
    kind: Literal["histogram"] = "histogram"

    @property
    def spread(self) -> Spread:
        """Clock times in seconds of the local day."""
        return Histogram(self.first, 60 * self.step_minutes, self.weights)


@dataclass(frozen=True, slots=True)
class Length:
    """How long they stay."""

    mean_minutes: Annotated[
        float, About("From start to leaving, breaks included.", "min", 10, 1440, OURS)
    ] = 495.0
    sd_minutes: Annotated[
        float,
        About(
            "How much that differs from person to person (standard deviation).", "min", 0, 360, OURS
        ),
    ] = 30.0
    kind: Literal["normal"] = "normal"

    @property
    def spread(self) -> Spread:
        """Lengths in seconds."""
        return Normal(60.0 * self.mean_minutes, 60.0 * self.sd_minutes)


@dataclass(frozen=True, slots=True)
class ObservedLength(Tagged):
    """How long they were seen to stay: a histogram in equal steps."""

    weights: Weights
    from_minutes: Annotated[int, About("The shortest of the observed lengths.", "min", 0, 1440)] = 0
    step_minutes: Annotated[
        int, About("How wide each step of the observed lengths is.", "min", 1, 240)
    ] = 30
    kind: Literal["histogram"] = "histogram"

    @property
    def spread(self) -> Spread:
        """Lengths in seconds."""
        return Histogram(60 * self.from_minutes, 60 * self.step_minutes, self.weights)


@dataclass(frozen=True, slots=True)
class Break:
    """A pause in the day, at a clock time or so long after the start.

    Where both are given the time after the start counts. A clock time before the pattern's mean
    start is on the following day.
    """

    probability: Annotated[
        float, About("How many of the people take this break.", "share", 0, 1, OURS)
    ] = 1.0
    at: Annotated[
        Clock | None,
        About(
            "When the break begins on average; before the start it means the following day.",
            "clock",
            source=OURS,
            key=True,
        ),
    ] = clock("12:30")
    after_minutes: Annotated[
        float | None,
        About(
            "How long after their start people take it, in place of a clock time.",
            "min",
            1,
            1440,
            OURS,
            key=True,
        ),
    ] = None
    sd_minutes: Annotated[float, About("How far that scatters.", "min", 0, 180, OURS)] = 15.0
    mean_minutes: Annotated[
        float, About("How long the break is on average.", "min", 1, 720, OURS)
    ] = 45.0
    length_sd_minutes: Annotated[float, About("How much that differs.", "min", 0, 180, OURS)] = 10.0
    leaving: Leaving = Leaving()

    @property
    def after(self) -> int | None:
        """Seconds from the start, None where the break has a clock time."""
        return None if self.after_minutes is None else round(60 * self.after_minutes)

    @property
    def clock(self) -> int | None:
        """The clock time, None where the break is taken after a stay."""
        return self.at if self.after_minutes is None else None


#: Seconds that people work on after a break at the end of their day.
LATE_WORK = 3_600
_WALKS_AWAY = Leaving(0.0, 0.0, 1.0)
_CALL = Break(sd_minutes=45.0, mean_minutes=40.0, length_sd_minutes=12.0, leaving=_WALKS_AWAY)
_READING = Break(sd_minutes=45.0, mean_minutes=25.0, length_sd_minutes=6.0, leaving=_WALKS_AWAY)
_SUPPER = Break(mean_minutes=40.0, leaving=Leaving(0.0, 0.5, 0.5))


@dataclass(frozen=True, slots=True)
class Pause:
    """A break as it is drawn: the number of its draws, and for how many seconds people work on
    after a break at the end of their day (0: it lies within the day)."""

    taken: Break
    draws: int
    works_on: int = 0


@dataclass(frozen=True, slots=True)
class Habits:
    """What some people do beside the breaks, with their desktop left open: what makes short
    timeouts hurt."""

    long_call: Annotated[
        float,
        About(
            "How many sit in a call of about 40 minutes without touching their desktop, a third "
            "into their day.",
            "share",
            0,
            1,
            OURS,
        ),
    ] = 0.0
    reading: Annotated[
        float,
        About(
            "How many read away from the screen for about 25 minutes, two thirds into their day.",
            "share",
            0,
            1,
            OURS,
        ),
    ] = 0.0
    works_late: Annotated[
        float,
        About(
            "How many pause for about 40 minutes at the end of their day and then work on for "
            "an hour.",
            "share",
            0,
            1,
            OURS,
        ),
    ] = 0.0

    @property
    def any(self) -> bool:
        """Whether anybody does any of it."""
        return max(self.long_call, self.reading, self.works_late) > 0.0


@dataclass(frozen=True, slots=True)
class Pattern(Named):
    """When people start, pause and leave.

    ``attendance`` has a probability for each weekday on which the pattern is valid, else None.
    """

    share: Annotated[
        float,
        About(
            "The share of the people that follow this pattern on the weekdays it is valid on.",
            "share",
            0,
            1,
            OURS,
        ),
    ] = 1.0
    attendance: Annotated[
        tuple[float | None, ...],
        by_weekday(Share),
        About("Share of people who come, by weekday; the pattern is valid on those listed."),
    ] = (None,) * 7
    start: Annotated[
        Annotated[Start, Tag("normal")] | Annotated[ObservedStart, Tag("histogram")],
        Discriminator(_kind_of),
    ] = Start()
    length: Annotated[
        Annotated[Length, Tag("normal")] | Annotated[ObservedLength, Tag("histogram")],
        Discriminator(_kind_of),
    ] = Length()
    breaks: Annotated[tuple[Break, ...], Len(0, MOST_BREAKS)] = ()
    leaving: Leaving = Leaving()
    habits: Habits = Habits()

    @property
    def pauses(self) -> tuple[Pause, ...]:
        """The breaks and what people do beside them, in the order of the day."""
        declared = [Pause(each, draws) for draws, each in enumerate(self.breaks)]
        if not self.habits.any:
            return tuple(declared)
        minutes = self.length.spread.mean / 60
        call = replace(_CALL, probability=self.habits.long_call, after_minutes=minutes / 3)
        read = replace(_READING, probability=self.habits.reading, after_minutes=minutes * 2 / 3)
        late = replace(_SUPPER, probability=self.habits.works_late)
        # Each has draws of its own beyond those of the most breaks, so that the others keep theirs.
        beside = [Pause(call, MOST_BREAKS), Pause(read, MOST_BREAKS + 1)]
        found = sorted([*declared, *beside], key=lambda each: self.break_start(each.taken))
        return (*found, Pause(late, MOST_BREAKS + 2, LATE_WORK))

    def break_start(self, pause: Break) -> float:
        """Wall seconds at which a break begins on average; beyond a day is the following date."""
        mean = self.start.spread.mean
        at = pause.clock
        if at is None:
            return mean + (pause.after or 0)
        return at + DAY if at < mean else at
