"""Schedules: kinds of day, and the rules of each stretch of a day."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass, fields, replace
from datetime import date
from math import ceil
from typing import Annotated, Any, Literal, TypeAlias, TypeVar

from annotated_types import Len

from idle_harbor.core.plan.declare import (
    DAY,
    KIND_TIMEOUT,
    OURS,
    TIMEOUTS,
    About,
    Clock,
    Day,
    Id,
    Ids,
    Named,
    Text,
    Timeout,
    Tuned,
    Weekdays,
    alias,
    as_in,
)
from idle_harbor.core.plan.load_rules import LoadRule

#: Bands begin at whole steps of five minutes, here in seconds.
BAND_STEP = 300

#: Guards products such as 0.7 × 30 against being a hair above a whole number.
_HAIR = 1e-9

Rule = Literal["spread", "fill", "fill to a mark", "by room"]
Release = Literal["keep all", "when empty", "drain", "drain with notice"]
Told = Literal["disconnected", "idle too", "everyone"]


@dataclass(frozen=True, slots=True)
class Timeouts:
    """When sessions that people have left end, while a band is in force."""

    idle: Annotated[
        Timeout,
        About(
            "An idle session is disconnected after this time.",
            "s or never",
            0,
            30 * DAY,
            OURS,
            tuned=Tuned("timeouts", values=TIMEOUTS, kind_low=KIND_TIMEOUT),
        ),
    ] = 7_200
    disconnected: Annotated[
        Timeout,
        About(
            "A disconnected session is signed off after this time.",
            "s or never",
            0,
            30 * DAY,
            OURS,
            tuned=Tuned("timeouts", values=TIMEOUTS, kind_low=KIND_TIMEOUT),
        ),
    ] = 3_600


@dataclass(frozen=True, slots=True)
class DrainStep:
    """By a clock time of a band so large a share of its hosts takes nobody new."""

    by: Annotated[
        Clock,
        About(
            "From when on so many hosts drain.",
            "clock",
            key=True,
            ordered=True,
            tuned=Tuned("drain steps", 900),
        ),
    ]
    share: Annotated[
        float,
        About(
            "The share of the hosts that were on when the first step began, less what the floor "
            "keeps; at least one.",
            "share",
            0.01,
            1,
            tuned=Tuned("drain steps", 0.1, 0.1),
        ),
    ]


@dataclass(frozen=True, slots=True)
class Notice:
    """What whoever is on a host that drains with notice is told, and what comes of it."""

    minutes: Annotated[
        int,
        About(
            "How long after it is told a session is signed off.",
            "min",
            1,
            1_440,
            OURS,
            tuned=Tuned("schedule", 5, 5, 60),
        ),
    ] = 15
    who: Annotated[
        Told,
        About(
            "Whose sessions are signed off.",
            choices={
                "disconnected": "sessions that are disconnected",
                "idle too": "sessions that are disconnected or idle",
                "everyone": "all sessions, whoever is at work in them too",
            },
            tuned=Tuned("schedule", values=("disconnected", "idle too")),
        ),
    ] = "disconnected"
    text: Annotated[Text, Len(0, 400), About("What people read.")] = (
        "This desktop is about to close. Save your work and sign in again: another one is ready."
    )


_WHOSE = About("The pool that has this otherwise than the schedule says.", key=True)


@dataclass(frozen=True, slots=True)
class BandException:
    """What one pool has otherwise while a band is in force; what is not given is as in the band.

    A number that the band has and the pool should not is one that no pool can reach.
    """

    pool: Annotated[Id, _WHOSE]
    floor: Annotated[int | None, as_in(Band, "floor")] = None
    floor_share: Annotated[float | None, as_in(Band, "floor_share")] = None
    fill_ceiling: Annotated[float | None, as_in(Band, "fill_ceiling")] = None
    headroom: Annotated[int | None, as_in(Band, "headroom")] = None
    headroom_share: Annotated[float | None, as_in(Band, "headroom_share")] = None
    lid: Annotated[int | None, as_in(Band, "lid")] = None
    session_limit: Annotated[int | None, as_in(Band, "session_limit")] = None
    knock: Annotated[bool | None, as_in(Band, "knock")] = None
    rule: Annotated[Rule | None, as_in(Band, "rule")] = None
    mark: Annotated[float | None, as_in(Band, "mark")] = None
    release: Annotated[Release | None, as_in(Band, "release")] = None
    margin: Annotated[int | None, as_in(Band, "margin")] = None
    least_run_minutes: Annotated[int | None, as_in(Band, "least_run_minutes")] = None
    draining_most: Annotated[int | None, as_in(Band, "draining_most")] = None
    draining_share: Annotated[float | None, as_in(Band, "draining_share")] = None


@dataclass(frozen=True, slots=True)
class Band:
    """A stretch of the day with one set of rules, from a clock time in steps of five minutes."""

    start: Annotated[
        Clock,
        alias("from"),
        About("When it begins.", "clock", key=True, ordered=True, tuned=Tuned("schedule", 900)),
    ]
    floor: Annotated[
        int,
        About(
            "The least number of ready hosts; of a dedicated pool its first ones.",
            "hosts",
            0,
            10_000,
            tuned=Tuned("schedule"),
        ),
    ] = 0
    floor_share: Annotated[
        float,
        About(
            "The least share of the standing hosts that is ready, where that is more of them.",
            "share",
            0,
            1,
            tuned=Tuned("shares", 0.05),
        ),
    ] = 0.0
    fill_ceiling: Annotated[
        float,
        About(
            "How full the ready hosts may be before the next one is started.",
            "share",
            0.05,
            1,
            tuned=Tuned("schedule", 0.05, 0.3),
        ),
    ] = 0.8
    headroom: Annotated[
        int,
        About(
            "Free session slots to keep open; of a dedicated pool hosts that are nobody's.",
            "sessions",
            0,
            100_000,
            OURS,
            tuned=Tuned("schedule"),
        ),
    ] = 0
    headroom_share: Annotated[
        float,
        About(
            "Free session slots to keep open as a share of the sessions, where that is more.",
            "share",
            0,
            1,
            OURS,
            tuned=Tuned("shares", 0.05),
        ),
    ] = 0.0
    lid: Annotated[
        int | None,
        About(
            "The most hosts that are on, but for those that drain; none: as many as there can "
            "be. Of a dedicated pool it says nothing.",
            "hosts",
            1,
            10_000,
            tuned=Tuned("lids"),
        ),
    ] = None
    session_limit: Annotated[
        int | None,
        About(
            "Sessions that a host takes while the band is in force; none: the pool's limit. "
            "Hosts that hold more keep them.",
            "sessions",
            1,
            1_000,
            tuned=Tuned("limit"),
        ),
    ] = None
    knock: Annotated[
        bool,
        About(
            "Whether a host starts at once for a person who finds no room; in a dedicated pool "
            "it always does.",
            tuned=Tuned("schedule"),
        ),
    ] = False
    rule: Annotated[
        Rule,
        About(
            "Which host the next person goes to.",
            choices={
                "spread": "the next person goes to the host with the fewest sessions",
                "fill": "the next person goes to the fullest host that still has room",
                "fill to a mark": "hosts are filled up to a mark, then people are spread over them",
                "by room": "the next person goes to the host with the most CPU and memory to spare",
            },
            tuned=Tuned("schedule"),
        ),
    ] = "spread"
    mark: Annotated[
        float,
        About(
            "How full a host is before the next one is filled, where they are filled to a mark.",
            "share",
            0.05,
            1,
            OURS,
        ),
    ] = 0.7
    release: Annotated[
        Release,
        About(
            "What happens to hosts beyond the need.",
            choices={
                "keep all": "no host is let go",
                "when empty": "hosts that nobody uses are stopped",
                "drain": "the least used hosts take no new sessions and stop once empty",
                "drain with notice": (
                    "and who is still on them is told, and signed off after a while"
                ),
            },
            tuned=Tuned("schedule"),
        ),
    ] = "when empty"
    margin: Annotated[
        int,
        About(
            "Hosts beyond the need before any of them is let go.",
            "hosts",
            1,
            10_000,
            tuned=Tuned("schedule", high=6),
        ),
    ] = 1
    least_run_minutes: Annotated[
        int,
        About(
            "How long a host is ready before it is let go.",
            "min",
            0,
            1_440,
            tuned=Tuned("schedule", 15, high=120),
        ),
    ] = 0
    draining_most: Annotated[
        int | None,
        About("The most hosts that drain at once; none: any number.", "hosts", 1, 10_000),
    ] = None
    draining_share: Annotated[
        float,
        About(
            "The largest share of the hosts on that drains at once; at least one may.",
            "share",
            0.01,
            1,
            tuned=Tuned("schedule", 0.1, 0.1),
        ),
    ] = 1.0

    notice: Notice = Notice()
    timeouts: Timeouts | None = None
    drain_steps: Annotated[tuple[DrainStep, ...], Len(0, 12)] = ()
    load_rules: Annotated[
        Ids,
        About(
            "Load rules that are at work in the band.", "rules", tuned=Tuned("load rules", step=0)
        ),
    ] = ()
    exceptions: Annotated[tuple[BandException, ...], Len(0, 200)] = ()

    def least(self, standing: int) -> int:
        """The fewest ready hosts of a pool with so many standing ones."""
        return max(self.floor, ceil(self.floor_share * standing - _HAIR))

    def takes(self, limit: int) -> int:
        """Sessions that a host takes in a pool with such a limit."""
        return limit if self.session_limit is None else min(self.session_limit, limit)

    def says_as(self, other: Band) -> bool:
        """Whether it says what another says, from whenever on."""
        return all(getattr(self, name) == getattr(other, name) for name in _SAID)


_SAID = tuple(each.name for each in fields(Band) if each.name != "start")


@dataclass(frozen=True, slots=True)
class ReadyByException:
    """How many hosts one pool has ready by then; what is not given is as for the others."""

    pool: Annotated[Id, _WHOSE]
    hosts: Annotated[int | None, as_in(ReadyBy, "hosts")] = None
    share: Annotated[float | None, as_in(ReadyBy, "share")] = None


@dataclass(frozen=True, slots=True)
class ReadyBy:
    """So many hosts that are ready by a clock time, however long before they have to start."""

    at: Annotated[
        Clock,
        About(
            "By when they are ready.", "clock", key=True, ordered=True, tuned=Tuned("schedule", 900)
        ),
    ]
    hosts: Annotated[
        int,
        About("How many hosts are ready by then.", "hosts", 0, 10_000, tuned=Tuned("schedule")),
    ] = 0
    share: Annotated[
        float,
        About(
            "The share of the standing hosts that is ready by then, where that is more.",
            "share",
            0,
            1,
            tuned=Tuned("shares", 0.05),
        ),
    ] = 0.0
    until: Annotated[
        Clock | None,
        About(
            "Until when they are kept ready; none: to the end of the band that holds the time.",
            "clock",
        ),
    ] = None
    clock_of: Annotated[
        Id | None, About("The site by whose clock this goes; none: the pool's clock.")
    ] = None
    exceptions: Annotated[tuple[ReadyByException, ...], Len(0, 200)] = ()

    def least(self, standing: int) -> int:
        """How many hosts of a pool with so many standing ones."""
        return max(self.hosts, ceil(self.share * standing - _HAIR))


Own: TypeAlias = BandException | ReadyByException


def exceptions_of(thing: Band | ReadyBy) -> tuple[Own, ...]:
    """What pools have otherwise than a band or a target says."""
    return thing.exceptions


Shared = TypeVar("Shared", Band, ReadyBy)


def as_in_pool(thing: Shared, pool: str) -> Shared:
    """A band or a target as one pool has it, without anybody's exceptions."""
    if not thing.exceptions:
        return thing
    for each in thing.exceptions:
        if each.pool == pool:
            return replace(thing, exceptions=(), **own_values(each))
    return replace(thing, exceptions=())


def own_values(exception: Own) -> dict[str, Any]:
    """What an exception gives, by the names of the fields."""
    given = ((each.name, getattr(exception, each.name)) for each in fields(exception))
    return {name: value for name, value in given if name != "pool" and value is not None}


@dataclass(frozen=True, slots=True)
class Stretch:
    """From one date to another, both included."""

    first: Annotated[Day, alias("from"), About("The first date.", "date", key=True, ordered=True)]
    last: Annotated[Day, alias("to"), About("The last date.", "date")]


@dataclass(frozen=True, slots=True)
class DayType(Named):
    """A kind of day: what it covers, its bands in order, and what is ready by when.

    Within a schedule, clock times are seconds from the date's 00:00 that lie between the beginning
    of its day and 24 hours later; the first band begins with the day.

    A date of its own comes before a range of dates, that before an event of the plan, a holiday,
    the end of a month and the weekday (0 = Monday); a kind of day may have no weekdays.
    """

    weekdays: Weekdays
    bands: Annotated[tuple[Band, ...], Len(1, 48)]
    dates: Annotated[
        tuple[Day, ...],
        Len(0, 366),
        About("Dates that have these rules whatever their weekday.", "dates"),
    ] = ()
    ranges: Annotated[tuple[Stretch, ...], Len(0, 60)] = ()
    events: Annotated[
        Ids, About("Events of the plan on whose dates these rules hold.", "events")
    ] = ()
    holidays: Annotated[
        bool, About("Whether these rules hold on holidays of the schedule's site.")
    ] = False
    month_end: Annotated[
        int,
        About(
            "How many of the last workdays of each month have these rules, as the schedule's "
            "site works.",
            "days",
            0,
            23,
        ),
    ] = 0
    ready_by: Annotated[tuple[ReadyBy, ...], Len(0, 48)] = ()

    def things(self) -> Iterator[tuple[str, Band | ReadyBy]]:
        """Bands and targets, each with its place within the kind of day in the document."""
        yield from ((f"bands/{k}", band) for k, band in enumerate(self.bands))
        yield from ((f"ready_by/{k}", target) for k, target in enumerate(self.ready_by))

    @property
    def begins(self) -> int:
        """When the day begins, in seconds from the date's 00:00."""
        return self.bands[0].start

    @property
    def ends(self) -> tuple[int, ...]:
        """When each band ends, in seconds from the date's 00:00."""
        return (*(band.start for band in self.bands[1:]), self.begins + DAY)

    @property
    def rules_any(self) -> bool:
        """Whether there may be a day that these rules are for."""
        chosen = (self.weekdays, self.dates, self.ranges, self.events)
        return any(chosen) or self.holidays or self.month_end > 0


def in_day(begins: int, clock: int) -> int:
    """The first time on the clock that is no earlier than when a day begins, in seconds from the
    date's 00:00."""
    return begins + (clock - begins) % DAY


def cut(kind: DayType, start: int) -> DayType:
    """The kind of day with a band that begins at a time: the band in force is split there."""
    if start >= kind.begins + DAY or start in (band.start for band in kind.bands):
        return kind
    k = max(i for i, band in enumerate(kind.bands) if band.start < start)
    band = kind.bands[k]
    early = tuple(step for step in band.drain_steps if step.by < start)
    late = tuple(step for step in band.drain_steps if step.by >= start)
    parted = (replace(band, drain_steps=early), replace(band, start=start, drain_steps=late))
    return replace(kind, bands=(*kind.bands[:k], *parted, *kind.bands[k + 1 :]))


def with_times(kind: DayType, of: Callable[[int], int]) -> DayType:
    """The kind of day with its clock times changed; the same object where none differs."""

    def step(each: DrainStep) -> DrainStep:
        return replace(each, by=of(each.by))

    bands = tuple(
        replace(band, start=of(band.start), drain_steps=tuple(map(step, band.drain_steps)))
        for band in kind.bands
    )
    ready_by = tuple(replace(each, at=of(each.at)) for each in kind.ready_by)
    if bands == kind.bands and ready_by == kind.ready_by:
        return kind
    return replace(kind, bands=bands, ready_by=ready_by)


@dataclass(frozen=True, slots=True)
class Schedule(Named):
    """Day types that cover the week, dates of their own besides, and how often the policy looks."""

    day_types: Annotated[tuple[DayType, ...], Len(1, 60)]
    tick_seconds: Annotated[int, About("How often the policy looks.", "s", 10, 3_600, OURS)] = 300
    load_rules: Annotated[tuple[LoadRule, ...], Len(0, 12)] = ()
    site: Annotated[
        Id | None, About("The site whose holidays and workdays the kinds of day go by.")
    ] = None
    day_begins: Annotated[
        Clock,
        About(
            "When a day of the schedule begins: hours before it belong to the day before, so that "
            "a night is in one piece.",
            "clock",
        ),
    ] = 0

    def __post_init__(self) -> None:
        """Take clock times before ``day_begins`` as those of the date after."""
        begins = self.day_begins
        if begins:

            def of(clock: int) -> int:
                return clock + DAY if clock < begins else clock

            kinds = tuple(with_times(kind, of) for kind in self.day_types)
            object.__setattr__(self, "day_types", kinds)

    def for_pool(self, pool: str) -> Schedule:
        """The schedule as one pool has it, without anybody's exceptions."""
        return self.each_changed(
            lambda band: as_in_pool(band, pool), lambda target: as_in_pool(target, pool)
        )

    def without_pool(self, pool: str) -> Schedule:
        """The schedule without the exceptions of one pool."""

        def left(thing: Shared) -> Shared:
            others = tuple(each for each in thing.exceptions if each.pool != pool)
            return thing if others == thing.exceptions else replace(thing, exceptions=others)

        return self.each_changed(left, left)

    def each_changed(
        self, on_band: Callable[[Band], Band], on_target: Callable[[ReadyBy], ReadyBy]
    ) -> Schedule:
        """The schedule with its bands and targets changed where one has exceptions; the same
        object where none has."""
        if not any(each.exceptions for kind in self.day_types for _, each in kind.things()):
            return self
        kinds = tuple(
            replace(
                kind,
                bands=tuple(on_band(band) for band in kind.bands),
                ready_by=tuple(on_target(target) for target in kind.ready_by),
            )
            for kind in self.day_types
        )
        return replace(self, day_types=kinds)

    def day_type_of(self, day: date) -> DayType:
        """The day type of a local date: the one that names it, else that of its weekday. Ranges,
        events and holidays are dates here (``calendar.day_types.resolved``)."""
        for day_type in self.day_types:
            if day in day_type.dates:
                return day_type
        for day_type in self.day_types:
            if day.weekday() in day_type.weekdays:
                return day_type
        raise LookupError(f"schedule '{self.id}' has no day type for {day:%A}")
