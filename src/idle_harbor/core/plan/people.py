"""People of a plan: sites, groups with their demand, events, overlaps, access.

Clock times are seconds of the local day, memory is GiB, CPU is vCPU; None is "not known" or
"never", as the field says.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal, TypeAlias

from annotated_types import Len
from pydantic import Field

from idle_harbor.core.plan.declare import (
    OURS,
    About,
    Day,
    DirectoryKey,
    Id,
    Name,
    Named,
    Names,
    Tagged,
    Text,
    alias,
    by_weekday,
)
from idle_harbor.core.plan.patterns import Pattern

SessionKind = Literal["exponential", "lognormal", "fixed"]
Use = Literal["desktop", "apps"]


@dataclass(frozen=True, slots=True)
class OwnDay:
    """A holiday that is not a public one, or one that a calendar file named."""

    day: Annotated[Day, About("A day on which this site rests.", "date", key=True, ordered=True)]
    name: Annotated[Name, About("What that day is called.")] = "own day"


@dataclass(frozen=True, slots=True)
class Holidays:
    """Days on which a site rests: a country's public ones, and its own."""

    country: Annotated[
        Text | None, About("The country whose public holidays this site keeps.", "ISO 3166")
    ] = None
    region: Annotated[
        Text | None,
        About("The part of that country, where parts have holidays of their own.", "ISO 3166-2"),
    ] = None
    own: Annotated[tuple[OwnDay, ...], Len(0, 2_000)] = ()


@dataclass(frozen=True, slots=True)
class Together:
    """How much whole days differ: what moves everyone of a site at once, weather or trains."""

    attendance_cv: Annotated[
        float,
        About(
            "How much attendance differs from day to day for all of a site at once (standard "
            "deviation as a share of the mean).",
            "",
            0,
            1,
            OURS,
        ),
    ] = 0.0
    shift_sd_minutes: Annotated[
        float,
        About(
            "How much the starts of a day differ for all of a site at once (standard deviation).",
            "min",
            0,
            120,
            OURS,
        ),
    ] = 0.0


@dataclass(frozen=True, slots=True)
class Site(Named):
    """A place where people work."""

    time_zone: Annotated[
        Text, About("The clock by which people at this site start and leave.", "IANA zone")
    ]
    holidays: Holidays = Holidays()
    together: Together = Together()
    display: Annotated[
        Names,
        About("Display protocols that the site's devices know; none named: any.", "protocols"),
    ] = ()


@dataclass(frozen=True, slots=True)
class Rotation:
    """Crews that take turns: person k is in crew k mod len(order), None in the order is rest.

    Crew c follows ``order[(c + n) mod len(order)]`` in the n-th stretch of ``every_days`` days
    counted from ``since``.
    """

    order: Annotated[
        tuple[Id | None, ...],
        About(
            "The shifts in the order in which a crew works them; null is rest. People are split "
            "evenly into as many crews.",
            "patterns",
        ),
    ]
    since: Annotated[
        Day, About("The day on which the first crew begins with the first shift.", "date")
    ]
    every_days: Annotated[
        int,
        About("After how many days the crews move on to the next shift.", "days", 1, 366, OURS),
    ] = 7


#: Declared by themselves, since edits have them too.
People: TypeAlias = Annotated[int, About("How many people the group has.", "people", 0, 100_000)]
Shift: TypeAlias = Annotated[
    int,
    About(
        "How much later (or, below zero, earlier) everything happens on these days.",
        "min",
        -720,
        720,
    ),
]


@dataclass(frozen=True, slots=True)
class Headcount(Tagged):
    """Named people who follow patterns."""

    people: People = 0
    patterns: Annotated[tuple[Pattern, ...], Len(0, 20)] = ()
    follows: Annotated[
        DirectoryKey | None,
        About(
            "The directory group whose members are counted; the number is renewed from it.",
            "directory group",
        ),
    ] = None
    rotation: Rotation | None = None
    kind: Literal["headcount"] = "headcount"


@dataclass(frozen=True, slots=True)
class Visit:
    """How long a drop-in session lasts, counted from connection."""

    kind: Annotated[
        SessionKind,
        About(
            "How the lengths of visits are spread.",
            choices={
                "exponential": "often short, now and then long: the deviation is the mean",
                "lognormal": "around a usual length, with a deviation of its own",
                "fixed": "every visit is as long as the mean",
            },
            source=OURS,
        ),
    ] = "exponential"
    mean_minutes: Annotated[
        float,
        About(
            "How long a visit lasts on average, counted from connection.", "min", 0.02, 1440, OURS
        ),
    ] = 8.0
    cv: Annotated[
        float,
        About("Standard deviation of a lognormal visit as a share of its mean.", "", 0, 10, OURS),
    ] = 1.0


HourRates = Annotated[tuple[Annotated[float, Field(ge=0, le=100_000)], ...], Len(24, 24)]
_QUIET = (0.0,) * 24


@dataclass(frozen=True, slots=True)
class DropIn(Tagged):
    """Passers-by: arrivals for 7 days of 24 hours (Monday first), and how long they stay."""

    arrivals_per_hour: Annotated[
        tuple[tuple[float, ...], ...],
        by_weekday(HourRates, _QUIET),
        About("Arrivals expected in each hour of each weekday.", "arrivals/h", 0, 100_000),
    ] = (_QUIET,) * 7
    session: Visit = Visit()
    different_people: Annotated[
        int | None,
        About(
            "How many different people come in a month; licences for everyone who is seen need it.",
            "people",
            0,
            10_000_000,
        ),
    ] = None
    kind: Literal["drop-in"] = "drop-in"


@dataclass(frozen=True, slots=True)
class Growth:
    """Headcount or rate multiplies by 1 + ``per_year`` in a year, counted from ``since``."""

    since: Annotated[
        Day, About("The date on which the headcount, or the rate, is as given.", "date")
    ]
    per_year: Annotated[
        float,
        About(
            "How much the headcount, or the rate of arrivals, grows in a year.",
            "share",
            -0.9,
            9,
            step=0.01,
        ),
    ] = 0.0


@dataclass(frozen=True, slots=True)
class Group(Named):
    """People with the same pattern of work and the same workload profile."""

    site: Id
    profile: Id
    demand: Annotated[Headcount | DropIn, Field(discriminator="kind")]
    works_holidays: Annotated[
        bool, About("Whether the group comes on its site's holidays too.", source=OURS)
    ] = False
    growth: Growth | None = None
    data_areas: Annotated[
        Names,
        About("Legal areas in which this group's data may be kept; none named: anywhere.", "areas"),
    ] = ()


@dataclass(frozen=True, slots=True)
class Dates(Tagged):
    """From one date to another, both included."""

    first: Annotated[Day, alias("from")]
    last: Annotated[Day, alias("to")]
    kind: Literal["dates"] = "dates"


@dataclass(frozen=True, slots=True)
class MonthWorkdays(Tagged):
    """From one workday of every month to another (1 = first), both included.

    A workday is a Monday to Friday that is no holiday of the group's site.
    """

    first: Annotated[
        int,
        alias("from"),
        About("The first of these workdays of a month; 1 is its first.", "workday", 1, 23),
    ]
    last: Annotated[
        int, alias("to"), About("The last of these workdays of a month.", "workday", 1, 23)
    ]
    kind: Literal["month-workdays"] = "month-workdays"


@dataclass(frozen=True, slots=True)
class Event(Named):
    """Days that differ for some groups, or (none named) for all."""

    when: Annotated[Dates | MonthWorkdays, Field(discriminator="kind")]
    groups: Annotated[tuple[Id, ...], Len(0, 500)] = ()
    factor: Annotated[
        float,
        About(
            "How many times as much demand comes on these days; above full attendance more "
            "people come.",
            "times",
            0,
            10,
        ),
    ] = 1.0
    shift_minutes: Shift = 0
    pattern: Annotated[
        Id | None, About("A pattern that everyone in the groups follows on these days.")
    ] = None


@dataclass(frozen=True, slots=True)
class Overlap:
    """People who are in exactly these groups at once."""

    groups: Annotated[tuple[Id, ...], Len(2, 20), About("The groups.", key=True)]
    people: Annotated[
        int,
        About("How many people are in all of these groups, and in no other.", "people", 1, 100_000),
    ]
    source: Annotated[Text, Len(0, 200), About("Where the number comes from.")] = "typed"


@dataclass(frozen=True, slots=True)
class Access:
    """Which group may use which pool, as a whole desktop or as apps from its image."""

    group: Annotated[Id, About("The group.", key=True)]
    pool: Annotated[Id, About("The pool.", key=True)]
    use_as: Annotated[
        Use, alias("as"), About("As a whole desktop, or as apps from its image.", key=True)
    ] = "desktop"
    apps: Annotated[tuple[Name, ...], Len(0, 200)] = ()
    use: Annotated[
        float,
        About("The share of working days on which people open this one.", "share", 0, 1, OURS),
    ] = 1.0
    profile: Annotated[
        Id | None,
        About("The workload profile of this use, where it is not the group's own."),
    ] = None
