"""Sites: set the country, add own days of rest."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass, replace
from datetime import timedelta
from typing import Annotated, Literal

from annotated_types import Len

from idle_harbor.core.errors import UnknownNameError
from idle_harbor.core.plan import Plan
from idle_harbor.core.plan.declare import Day, Id, Text
from idle_harbor.core.plan.people import Holidays, OwnDay


def _with_holidays(plan: Plan, name: str, change: Callable[[Holidays], Holidays]) -> Plan:
    if name not in (names := [site.id for site in plan.sites]):
        raise UnknownNameError("site", name, names)
    sites = (
        replace(site, holidays=change(site.holidays)) if site.id == name else site
        for site in plan.sites
    )
    return replace(plan, sites=tuple(sites))


def _resting_on(kept: Holidays, days: Iterable[OwnDay]) -> Holidays:
    """Return holidays with further days of the site's own, in order; one for each date, the first
    named."""
    own = {each.day: each for each in (*reversed(list(days)), *kept.own)}
    return replace(kept, own=tuple(own[day] for day in sorted(own)))


@dataclass(frozen=True, slots=True)
class SetCountry:
    """Set the country whose public holidays a site keeps, or none."""

    verb: Literal["set-country"]
    site: Id
    country: Text | None = None

    def done(self, plan: Plan) -> Plan:
        """Return the plan with the country; the region is cleared, because it belongs to a
        country."""
        return _with_holidays(
            plan, self.site, lambda kept: replace(kept, country=self.country, region=None)
        )


@dataclass(frozen=True, slots=True)
class AddRestDay:
    """Add a day of rest to a site: a date, or the first one after it that is free."""

    verb: Literal["add-rest-day"]
    site: Id
    day: Day

    def done(self, plan: Plan) -> Plan:
        """Return the plan with the day among the site's own, in order."""
        return _with_holidays(plan, self.site, self._more)

    def _more(self, kept: Holidays) -> Holidays:
        day, there = self.day, {each.day for each in kept.own}
        while day in there:
            day += timedelta(days=1)
        return _resting_on(kept, [OwnDay(day)])


@dataclass(frozen=True, slots=True)
class TakeRestDays:
    """Add the days of a calendar as days of rest of a site."""

    verb: Literal["take-rest-days"]
    site: Id
    days: Annotated[tuple[OwnDay, ...], Len(0, 2_000)]

    def done(self, plan: Plan) -> Plan:
        """Return the plan with the days that are new; the others keep their names."""
        return _with_holidays(plan, self.site, lambda kept: _resting_on(kept, self.days))
