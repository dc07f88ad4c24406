"""The plan: frozen values, validated once at the edge and trusted inside.

Each field is declared once, at the field (see ``declare``), and everything that handles plans
follows from it. Times are seconds unless a name says otherwise, memory is GiB, CPU is vCPU, money
is Decimal in the plan's currency; None stands for a timeout that never strikes.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, ClassVar, Final, Literal

from annotated_types import Len
from pydantic import ConfigDict

from idle_harbor.core.plan.assumed import Assumption as Assumption
from idle_harbor.core.plan.declare import OURS, About, Currency, Day, Name
from idle_harbor.core.plan.declare import WEEKDAYS as WEEKDAYS
from idle_harbor.core.plan.declare import Weekday as Weekday
from idle_harbor.core.plan.hosts import Burst as Burst
from idle_harbor.core.plan.hosts import Committed as Committed
from idle_harbor.core.plan.hosts import Disk as Disk
from idle_harbor.core.plan.hosts import Free as Free
from idle_harbor.core.plan.hosts import Image as Image
from idle_harbor.core.plan.hosts import Licence as Licence
from idle_harbor.core.plan.hosts import LicencePer as LicencePer
from idle_harbor.core.plan.hosts import Line as Line
from idle_harbor.core.plan.hosts import Machine as Machine
from idle_harbor.core.plan.hosts import Offer as Offer
from idle_harbor.core.plan.hosts import Place as Place
from idle_harbor.core.plan.hosts import Prices as Prices
from idle_harbor.core.plan.hosts import Size as Size
from idle_harbor.core.plan.hosts import System as System
from idle_harbor.core.plan.hosts import Tuning as Tuning
from idle_harbor.core.plan.patterns import Break as Break
from idle_harbor.core.plan.patterns import Habits as Habits
from idle_harbor.core.plan.patterns import Histogram as Histogram
from idle_harbor.core.plan.patterns import Leaving as Leaving
from idle_harbor.core.plan.patterns import Length as Length
from idle_harbor.core.plan.patterns import Normal as Normal
from idle_harbor.core.plan.patterns import ObservedLength as ObservedLength
from idle_harbor.core.plan.patterns import ObservedStart as ObservedStart
from idle_harbor.core.plan.patterns import Pattern as Pattern
from idle_harbor.core.plan.patterns import Spread as Spread
from idle_harbor.core.plan.patterns import Start as Start
from idle_harbor.core.plan.people import Access as Access
from idle_harbor.core.plan.people import Dates as Dates
from idle_harbor.core.plan.people import DropIn as DropIn
from idle_harbor.core.plan.people import Event as Event
from idle_harbor.core.plan.people import Group as Group
from idle_harbor.core.plan.people import Growth as Growth
from idle_harbor.core.plan.people import Headcount as Headcount
from idle_harbor.core.plan.people import Holidays as Holidays
from idle_harbor.core.plan.people import MonthWorkdays as MonthWorkdays
from idle_harbor.core.plan.people import Overlap as Overlap
from idle_harbor.core.plan.people import OwnDay as OwnDay
from idle_harbor.core.plan.people import Rotation as Rotation
from idle_harbor.core.plan.people import SessionKind as SessionKind
from idle_harbor.core.plan.people import Site as Site
from idle_harbor.core.plan.people import Use as Use
from idle_harbor.core.plan.people import Visit as Visit
from idle_harbor.core.plan.pools import COUNTS_FROM as COUNTS_FROM
from idle_harbor.core.plan.pools import AddedApp as AddedApp
from idle_harbor.core.plan.pools import Assign as Assign
from idle_harbor.core.plan.pools import Assigned as Assigned
from idle_harbor.core.plan.pools import CountsFrom as CountsFrom
from idle_harbor.core.plan.pools import Create as Create
from idle_harbor.core.plan.pools import Hosts as Hosts
from idle_harbor.core.plan.pools import Load as Load
from idle_harbor.core.plan.pools import Pool as Pool
from idle_harbor.core.plan.pools import PoolKind as PoolKind
from idle_harbor.core.plan.pools import Starting as Starting
from idle_harbor.core.plan.pools import Together as Together
from idle_harbor.core.plan.pools import lasts as lasts
from idle_harbor.core.plan.profiles import Cpu as Cpu
from idle_harbor.core.plan.profiles import Display as Display
from idle_harbor.core.plan.profiles import Logon as Logon
from idle_harbor.core.plan.profiles import Mbit as Mbit
from idle_harbor.core.plan.profiles import Measured as Measured
from idle_harbor.core.plan.profiles import Memory as Memory
from idle_harbor.core.plan.profiles import Profile as Profile
from idle_harbor.core.plan.profiles import Quality as Quality
from idle_harbor.core.plan.promise import OwnPromise as OwnPromise
from idle_harbor.core.plan.promise import Promise as Promise
from idle_harbor.core.plan.schedules import Band as Band
from idle_harbor.core.plan.schedules import DayType as DayType
from idle_harbor.core.plan.schedules import Release as Release
from idle_harbor.core.plan.schedules import Rule as Rule
from idle_harbor.core.plan.schedules import Schedule as Schedule

FORMAT: Final = 3
_EVERYONE = Promise()


@dataclass(frozen=True, slots=True)
class Plan:
    """The whole document; an empty one (name and week alone) can be saved and has no result."""

    __pydantic_config__: ClassVar[ConfigDict] = ConfigDict(extra="forbid", allow_inf_nan=False)

    name: Annotated[Name, About("What the plan is called.")]
    week_of: Annotated[
        Day,
        About(
            "The week that is simulated is the one, Monday to Sunday, that holds this date.", "date"
        ),
    ]
    format: Literal[3] = FORMAT
    currency: Annotated[
        Currency, About("Currency of every price in the plan.", "ISO 4217", source=OURS)
    ] = "EUR"
    promise: Promise = _EVERYONE
    sites: Annotated[tuple[Site, ...], Len(0, 500)] = ()
    profiles: Annotated[tuple[Profile, ...], Len(0, 500)] = ()
    groups: Annotated[tuple[Group, ...], Len(0, 500)] = ()
    events: Annotated[tuple[Event, ...], Len(0, 500)] = ()
    overlaps: Annotated[tuple[Overlap, ...], Len(0, 2000)] = ()
    access: Annotated[tuple[Access, ...], Len(0, 2000)] = ()
    places: Annotated[tuple[Place, ...], Len(0, 100)] = ()
    prices: Prices = Prices()
    images: Annotated[tuple[Image, ...], Len(0, 200)] = ()
    sizes: Annotated[tuple[Size, ...], Len(0, 500)] = ()
    disks: Annotated[tuple[Disk, ...], Len(0, 500)] = ()
    pools: Annotated[tuple[Pool, ...], Len(0, 200)] = ()
    schedules: Annotated[tuple[Schedule, ...], Len(0, 200)] = ()
    assumed: Annotated[
        tuple[Assumption, ...],
        Len(0, 20),
        About("Values that the plan began with and that nobody has confirmed yet."),
    ] = ()
