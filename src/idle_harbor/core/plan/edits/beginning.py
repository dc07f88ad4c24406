"""The first edits of a plan: who comes, and which hosts they use."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Annotated, Literal

from annotated_types import Interval, Len

from idle_harbor.core.errors import Fault, PlanError
from idle_harbor.core.plan import Access, DropIn, Group, Headcount, Plan, Pool, Site, Size
from idle_harbor.core.plan.assumed import (
    ASSUMPTIONS,
    ATTENDANCE,
    HABITS,
    LEAVING,
    PROFILE,
    Assumption,
)
from idle_harbor.core.plan.declare import DAY, Clock, Money, PartName, Text, clock
from idle_harbor.core.plan.edits.finding import free_name, id_for, must_be_unique
from idle_harbor.core.plan.hosts import HostMemory, HostVcpu
from idle_harbor.core.plan.patterns import Leaving, Length, Pattern, Start
from idle_harbor.core.plan.people import People
from idle_harbor.core.plan.pools import Hosts, SessionLimit, Standing
from idle_harbor.core.plan.schedules import BAND_STEP, Band, DayType, Schedule, in_day

#: Monday to Friday.
_WORKDAYS, _REST = (0, 1, 2, 3, 4), (5, 6)
_DAY = Pattern("day", attendance=ATTENDANCE, leaving=LEAVING, habits=HABITS)
_EVENING = clock("17:00")
_HOUR = 3_600
_NOON = clock("12:00")
_OPEN = range(9, 17)

Zone = Annotated[Text, Len(1, 100)]


def _bands(start: int) -> tuple[Band, ...]:
    """Return bands with one host ready from an hour before people start, and a release in the
    evening."""
    quiet = Band(0, rule="fill", release="drain")
    morning = max((start - _HOUR) // BAND_STEP * BAND_STEP, BAND_STEP)
    bands = (quiet, Band(morning, floor=1, rule="spread", release="keep all"))
    return bands if morning >= _EVENING else (*bands, replace(quiet, start=_EVENING))


def _night_bands(start: int, seconds: int) -> tuple[Band, ...]:
    """Return bands of a day that begins at noon, with one host ready from an hour before people
    start until they leave."""
    quiet = Band(_NOON, rule="fill", release="drain")
    latest = _NOON + DAY - BAND_STEP
    begin = max(in_day(_NOON, start) - _HOUR, _NOON + BAND_STEP) // BAND_STEP * BAND_STEP
    end = min(in_day(_NOON, start) + seconds, latest) // BAND_STEP * BAND_STEP
    on = Band(begin, floor=1, rule="spread", release="keep all")
    return (quiet, on, replace(quiet, start=end))


def begun_schedule(
    schedule: str, start: int = clock("08:00"), seconds: int = 8 * _HOUR
) -> Schedule:
    """Return a simple schedule for people who start work at a second of the day and stay for so
    many seconds; where they work across midnight its days begin at noon."""
    night = start >= _NOON and start + seconds > DAY
    begins = _NOON if night else 0
    bands = _night_bands(start, seconds) if night else _bands(start)
    quiet = (Band(begins, rule="fill", release="drain"),)
    days = (DayType("workday", _WORKDAYS, bands), DayType("rest-day", _REST, quiet))
    return Schedule(schedule, days, day_begins=begins)


@dataclass(frozen=True, slots=True)
class BeginPlan:
    """Begin a plan without pools: who comes, from when on, for how long, and on which shared hosts.

    Groups that exist already get access too.
    """

    verb: Literal["begin-plan"]
    people: Annotated[People, Interval(ge=1)]
    zone: Zone
    start: Clock
    hours: Annotated[float, Interval(ge=0.2, le=24)]
    vcpu: HostVcpu
    memory_gib: HostMemory
    hourly: Money
    hosts: Standing
    session_limit: SessionLimit = 10

    def done(self, plan: Plan) -> Plan:
        """Return the plan with one more group, one size, one pool and a simple schedule."""
        if plan.pools:
            raise PlanError(
                [Fault("/pools", "this plan has pools already", "add another pool to it")]
            )
        pattern = replace(_DAY, start=Start(self.start), length=Length(60.0 * self.hours))
        site = next((s for s in plan.sites if s.time_zone == self.zone), None)
        new = Site(free_name("main", [s.id for s in plan.sites]), self.zone, name="Main site")
        profiles, size = plan.profiles or (PROFILE,), free_name("host", [s.id for s in plan.sizes])
        name = free_name("shared", [s.id for s in plan.schedules])
        begun = begun_schedule(name, self.start, round(_HOUR * self.hours))
        group = Group(
            free_name("people", [g.id for g in plan.groups]),
            (site or new).id,
            profiles[0].id,
            Headcount(self.people, (pattern,)),
            name="People",
        )
        groups = (*plan.groups, group)
        pool = Pool(
            "shared",
            self.zone,
            size,
            schedule=begun.id,
            hosts=Hosts(standing=self.hosts),
            session_limit=self.session_limit,
            name="Shared desktops",
        )
        return replace(
            plan,
            sites=plan.sites if site else (*plan.sites, new),
            profiles=profiles,
            groups=groups,
            access=tuple(Access(each.id, pool.id) for each in groups),
            sizes=(*plan.sizes, Size(size, self.vcpu, self.memory_gib, self.hourly, name="Host")),
            schedules=(*plan.schedules, begun),
            pools=(pool,),
            assumed=ASSUMPTIONS,
        )


@dataclass(frozen=True, slots=True)
class Confirm:
    """Confirm a value that the plan began with, so that it is no longer assumed."""

    verb: Literal["confirm"]
    what: Assumption

    def done(self, plan: Plan) -> Plan:
        """Return the plan without that assumption."""
        return replace(plan, assumed=tuple(each for each in plan.assumed if each != self.what))


@dataclass(frozen=True, slots=True)
class AddGroup:
    """Add a group of fifty named people, or a drop-in group, with access to the first pool.

    A plan without a site gets one in the time zone ``zone``.
    """

    verb: Literal["add-group"]
    name: PartName
    kind: Literal["headcount", "drop-in"] = "headcount"
    zone: Zone = "UTC"
    people: People = 50

    def done(self, plan: Plan) -> Plan:
        """Return the plan with the group, its site and its workload profile."""
        must_be_unique(self.name, plan.groups, "/groups", "a group")
        new = id_for(self.name, [group.id for group in plan.groups])
        sites = plan.sites or (Site("main", self.zone),)
        profiles = plan.profiles or (PROFILE,)
        open_hours = tuple(20.0 if hour in _OPEN else 0.0 for hour in range(24))
        rates = (open_hours,) * 5 + ((0.0,) * 24,) * 2
        named = Headcount(self.people, (replace(_DAY, leaving=Leaving()),))
        demand = named if self.kind == "headcount" else DropIn(rates)
        group = Group(new, sites[0].id, profiles[0].id, demand, name=self.name)
        opens = tuple(Access(new, pool.id) for pool in plan.pools[:1])
        return replace(
            plan,
            sites=sites,
            profiles=profiles,
            groups=(*plan.groups, group),
            access=plan.access + opens,
        )
