"""Pools of session hosts: how many, how they come and go, and what their sessions may do.

Times are seconds; None stands for a timeout that never strikes, or for a bound that is not there.
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from typing import Annotated, Literal, TypeAlias

from annotated_types import Len

from idle_harbor.core.plan.declare import (
    DAY,
    KIND_TIMEOUT,
    MEASURE,
    OURS,
    TIMEOUTS,
    About,
    Day,
    Id,
    Name,
    Named,
    Names,
    Text,
    Timeout,
    Tuned,
)
from idle_harbor.core.plan.promise import OwnPromise, Promise

PoolKind = Literal["shared", "lent", "dedicated"]
Assign = Literal["at first logon", "by list"]
Together = Literal["one session", "two sessions"]
CountsFrom = Literal["powered", "booted", "registered", "settled"]
COUNTS_FROM: tuple[CountsFrom, ...] = ("powered", "booted", "registered", "settled")

#: Bounds on starts at once that one would ask a provider for; None is without.
AT_ONCE: tuple[int | None, ...] = (
    *(1, 2, 3, 5, 8, 10, 15, 20, 25, 30, 40, 50, 60, 80, 100, 150, 200, 300, 500),
    None,
)

#: Declared by themselves, since an edit of a pool has them too.
Standing: TypeAlias = Annotated[
    int,
    About(
        "Hosts that exist all the time, powered off when not needed.",
        "hosts",
        0,
        10_000,
        tuned=Tuned("hosts"),
    ),
]
SessionLimit: TypeAlias = Annotated[
    int,
    About("The most sessions one host may hold.", "sessions", 1, 1000, OURS, tuned=Tuned("limit")),
]


@dataclass(frozen=True, slots=True)
class Hosts:
    """How many hosts a pool has, and how they come and go."""

    standing: Standing = 0
    surge: Annotated[
        int,
        About(
            "Hosts that are created when needed and removed afterwards.",
            "hosts",
            0,
            10_000,
            tuned=Tuned("hosts"),
        ),
    ] = 0
    throwaway: Annotated[
        bool, About("Hosts keep no disk: they are created and removed, and never off.")
    ] = False
    surge_stays_minutes: Annotated[
        int,
        About(
            "How long a surge host that was stopped stays off before it is removed: its disk "
            "costs meanwhile, and to start it is quicker than to create one.",
            "min",
            0,
            10_080,
            tuned=Tuned("hosts", values=(0, 60, 240, 720, 1_440)),
        ),
    ] = 0

    @property
    def most(self) -> int:
        """The most hosts there can be: standing and surge."""
        return self.standing + self.surge


@dataclass(frozen=True, slots=True)
class Create:
    """How long a host takes to be created."""

    mean_seconds: Annotated[
        float, About("How long it takes to create a host, on average.", "s", 0, DAY, MEASURE)
    ] = 480.0
    cv: Annotated[
        float,
        About("How much that differs (standard deviation as a share of the mean).", "", 0, 3, OURS),
    ] = 0.3
    script_seconds: Annotated[
        int, About("How long the script runs on a host that has just been created.", "s", 0, 14_400)
    ] = 0


@dataclass(frozen=True, slots=True)
class Starting:
    """How long a host takes to start, and from which point of it the host counts."""

    mean_seconds: Annotated[
        float,
        About("From powering a host on to its taking sessions, on average.", "s", 0, 7200, OURS),
    ] = 240.0
    cv: Annotated[
        float,
        About("How much that differs (standard deviation as a share of the mean).", "", 0, 3, OURS),
    ] = 0.3
    booted_share: Annotated[
        float,
        About(
            "The part of that time after which a host has booted but takes no sessions yet.",
            "share",
            0,
            1,
            OURS,
        ),
    ] = 0.4
    failure_share: Annotated[
        float,
        About(
            "The share of starts that fail: the time is spent, and the host is off again.",
            "share",
            0,
            0.5,
            MEASURE,
        ),
    ] = 0.0
    settle_seconds: Annotated[
        int, About("How long after it takes sessions a host has settled.", "s", 0, 3600, OURS)
    ] = 60
    counts_from: Annotated[
        CountsFrom,
        About(
            "From when on a starting host counts as capacity.",
            choices={
                "powered": "a host counts as capacity as soon as it is powered on",
                "booted": "a host counts once it has booted",
                "registered": "a host counts once it takes sessions",
                "settled": "a host counts once it has settled",
            },
        ),
    ] = "powered"
    parallel: Annotated[
        int | None,
        About(
            "The most hosts that may start at once; the others queue. None: no bound.",
            "hosts",
            1,
            10_000,
            tuned=Tuned("starts", values=AT_ONCE),
        ),
    ] = None


@dataclass(frozen=True, slots=True)
class Load:
    """When work on a host is strained."""

    limit: Annotated[
        float,
        About(
            "Beyond this share of what a host has, work on it is strained.", "share", 0.05, 1, OURS
        ),
    ] = 0.85
    tolerance: Annotated[
        float,
        About(
            "How often CPU may pass that before people feel it.",
            "share",
            0.0001,
            0.5,
            OURS,
            step=0.005,
        ),
    ] = 0.05
    base_vcpu: Annotated[
        float, About("CPU that a host wants without any session.", "vCPU", 0, 64, OURS, step=0.1)
    ] = 0.3
    base_gib: Annotated[
        float,
        About("Memory that a host wants without any session.", "GiB", 0, 1024, OURS, step=0.1),
    ] = 3.0


@dataclass(frozen=True, slots=True)
class Assigned:
    """A person (1 = the group's first) whose host in a dedicated pool is this one (1 = first)."""

    group: Annotated[Id, About("The group.", key=True)]
    person: Annotated[
        int, About("Which of the group's people, counted from 1.", "", 1, 100_000, key=True)
    ]
    host: Annotated[int, About("The number of their host in the pool.", "", 1, 10_000)]


@dataclass(frozen=True, slots=True)
class AddedApp:
    """An app that is not in the image: it is added at every logon, which takes seconds."""

    app: Annotated[Name, About("The app.", key=True)]
    seconds: Annotated[
        float,
        About(
            "How much longer each logon takes because the app is added then.",
            "s",
            0,
            600,
            MEASURE,
        ),
    ] = 3.0


def lasts(first: date | None, last: date | None, day: date) -> bool:
    """Whether a date lies from a first to a last one, both included; None is without end."""
    return (first is None or day >= first) and (last is None or day <= last)


@dataclass(frozen=True, slots=True)
class Pool(Named):
    """A pool of session hosts and its session policy.

    Shared hosts hold many sessions, lent ones a single person until they sign off; of a dedicated
    pool every host is one person's, by list or taken at their first logon. Throwaway hosts have
    no kept disk: they are created and removed, never off. Outside ``first_date`` to
    ``last_date`` the pool does not exist.
    """

    time_zone: Annotated[Text, About("The clock by which the pool's schedule runs.", "IANA zone")]
    size: Annotated[Id, About("The size of its hosts.", tuned=Tuned("size"))]
    schedule: Id
    kind: Annotated[
        PoolKind,
        About(
            "How people and hosts come together.",
            choices={
                "shared": "many sessions on a host",
                "lent": "one person on a host until they sign off, then the next",
                "dedicated": "every host is one person's, and starts when they knock",
            },
        ),
    ] = "shared"
    assign: Annotated[
        Assign,
        About(
            "How people of a dedicated pool get their host.",
            choices={
                "at first logon": "who has no host yet takes the first that is nobody's",
                "by list": "only people on the list have a host",
            },
        ),
    ] = "at first logon"
    assigned: Annotated[tuple[Assigned, ...], Len(0, 10_000)] = ()
    place: Annotated[
        Id | None,
        About(
            "Where the hosts are; it sets their price, their zones and the lines to people.",
            "place",
            tuned=Tuned("place"),
        ),
    ] = None
    zones: Annotated[
        Names,
        About(
            "The zones over which hosts are dealt out; none named: all that have the size.", "zones"
        ),
    ] = ()
    disk: Id | None = None
    hosts: Hosts = Hosts()
    create: Create = Create()
    session_limit: SessionLimit = 10
    start: Starting = Starting()
    stop_seconds: Annotated[
        int, About("From stopping a host to its no longer being billed.", "s", 0, 7200, OURS)
    ] = 60
    reset_seconds: Annotated[
        int,
        About(
            "How long a host is cleaned after its last session has ended; 0 is not at all.",
            "s",
            0,
            7200,
            OURS,
        ),
    ] = 0
    patience_seconds: Annotated[
        Timeout,
        About(
            "How long people wait for a desktop before they give up.", "s or never", 0, DAY, OURS
        ),
    ] = 600
    idle_timeout: Annotated[
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
    disconnected_timeout: Annotated[
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
    reconnect_seconds: Annotated[
        int, About("How long it takes to return to one's own session.", "s", 0, 3600, OURS)
    ] = 8
    load: Load = Load()
    image: Id | None = None
    apps_at_logon: Annotated[tuple[AddedApp, ...], Len(0, 200)] = ()
    display: Annotated[
        Name | None,
        About("The display protocol that the pool's sessions are shown with.", "protocol"),
    ] = None
    desktop_and_apps: Annotated[
        Together,
        About(
            "Whether apps open in the session of the desktop.",
            choices={
                "one session": "a person's apps open in the session of their desktop",
                "two sessions": "a person's apps are a session beside the desktop",
            },
        ),
    ] = "one session"
    promise: OwnPromise | None = None
    first_date: Annotated[
        Day | None, About("The first day on which the pool exists; none: always.", "date")
    ] = None
    last_date: Annotated[
        Day | None, About("The last day on which the pool exists; none: for good.", "date")
    ] = None

    def owed(self, promise: Promise) -> Promise:
        """What its people are owed where the plan promises so much."""
        return promise if self.promise is None else self.promise.instead_of(promise)

    def exists_on(self, day: date) -> bool:
        """Whether the pool is there on a local date."""
        return lasts(self.first_date, self.last_date, day)
