"""Things of the plan's lists: add one, copy it, name it, remove it.

What each list needs besides is a record in ``_SHELVES``: what a new thing is, what a copy takes
along, and what has to go elsewhere before one can be removed.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace
from decimal import Decimal
from typing import Any, Literal

from idle_harbor.core.errors import Fault, PlanError, UnknownNameError
from idle_harbor.core.plan import (
    Disk,
    Image,
    Licence,
    Place,
    Plan,
    Pool,
    Profile,
    Site,
    Size,
)
from idle_harbor.core.plan.declare import Id, Named, PartName
from idle_harbor.core.plan.edits.beginning import AddGroup, begun_schedule
from idle_harbor.core.plan.edits.events import begun_event
from idle_harbor.core.plan.edits.finding import free_name, id_for, must_be_unique
from idle_harbor.core.plan.edits.groups import copied_group, without_group
from idle_harbor.core.plan.edits.pools import copied_pool, without_pool
from idle_harbor.core.plan.edits.sizes import copied_size, without_size
from idle_harbor.core.plan.lookup import called, find_pool
from idle_harbor.core.plan.pools import Hosts

#: A list of the plan, by a word for one of its things.
What = Literal[
    "pool",
    "group",
    "site",
    "place",
    "size",
    "disk",
    "image",
    "profile",
    "schedule",
    "licence",
    "event",
]
_NOTHING = Decimal(0)


def _zone(plan: Plan) -> str:
    """The time zone that a new thing is most likely in."""
    zones = [*(pool.time_zone for pool in plan.pools), *(site.time_zone for site in plan.sites)]
    return zones[0] if zones else "UTC"


def _things(plan: Plan, what: What) -> tuple[Named, ...]:
    return plan.prices.licences if what == "licence" else getattr(plan, f"{what}s")


def _with(plan: Plan, what: What, things: Any) -> Plan:
    if what == "licence":
        return replace(plan, prices=replace(plan.prices, licences=tuple(things)))
    # The name of the list is known at run time only.
    return replace(plan, **{f"{what}s": tuple(things)})  # type: ignore[arg-type]


def _more(what: What, made: Callable[[Plan, str], Named]) -> Callable[[Plan, str], Plan]:
    return lambda plan, new: _with(plan, what, (*_things(plan, what), made(plan, new)))


def _new_pool(plan: Plan, new: str) -> Plan:
    sizes = plan.sizes or (Size("host", 8, 32, _NOTHING),)
    own = free_name(new, [schedule.id for schedule in plan.schedules])
    pool = Pool(new, _zone(plan), sizes[0].id, schedule=own, hosts=Hosts(2), session_limit=10)
    return replace(
        plan,
        sizes=sizes,
        schedules=(*plan.schedules, begun_schedule(own)),
        pools=(*plan.pools, pool),
    )


def _new_group(plan: Plan, new: str) -> Plan:
    more = AddGroup("add-group", new, zone=_zone(plan)).done(plan)
    return _with(more, "group", (*plan.groups, replace(more.groups[-1], id=new, name="")))


def _plain_copy(what: What, **fresh: Any) -> Callable[[Plan, str, str], Plan]:
    """A copy in which some fields begin anew, behind the others of its list."""

    def copied(plan: Plan, like: str, new: str) -> Plan:
        things = _things(plan, what)
        copy = replace(next(each for each in things if each.id == like), id=new, **fresh)
        return _with(plan, what, (*things, copy))

    return copied


def _plain_removal(what: What) -> Callable[[Plan, str], Plan]:
    return lambda plan, gone: _with(plan, what, (e for e in _things(plan, what) if e.id != gone))


def _no_users(plan: Plan, gone: str) -> Iterator[str]:
    return iter(())


def _pools_with(field: str) -> Callable[[Plan, str], Iterator[str]]:
    """The pools that have a thing in a field."""

    def users(plan: Plan, gone: str) -> Iterator[str]:
        return (f"pool '{p.called}'" for p in plan.pools if getattr(p, field) == gone)

    return users


def _groups_at(plan: Plan, gone: str) -> Iterator[str]:
    return (f"group '{each.called}'" for each in plan.groups if each.site == gone)


def _work_of(plan: Plan, gone: str) -> Iterator[str]:
    yield from (f"group '{each.called}'" for each in plan.groups if each.profile == gone)
    uses = [each.group for each in plan.access if each.profile == gone]
    yield from (f"the access of '{called(plan.groups, group)}'" for group in uses)


def _without_site(plan: Plan, gone: str) -> Plan:
    return replace(
        plan,
        sites=tuple(each for each in plan.sites if each.id != gone),
        places=tuple(
            replace(p, lines=tuple(line for line in p.lines if line.site != gone))
            for p in plan.places
        ),
        schedules=tuple(replace(s, site=None) if s.site == gone else s for s in plan.schedules),
    )


def _without_event(plan: Plan, gone: str) -> Plan:
    left = _plain_removal("event")(plan, gone)
    return replace(
        left,
        schedules=tuple(
            replace(
                schedule,
                day_types=tuple(
                    replace(kind, events=tuple(name for name in kind.events if name != gone))
                    for kind in schedule.day_types
                ),
            )
            for schedule in plan.schedules
        ),
    )


@dataclass(frozen=True, slots=True)
class _Shelf:
    """One list: a word for its things, a new one, a copy, what uses one, and how one goes."""

    word: str
    new: Callable[[Plan, str], Plan]
    copied: Callable[[Plan, str, str], Plan]
    users: Callable[[Plan, str], Iterator[str]]
    without: Callable[[Plan, str], Plan]


def _plain(
    what: What,
    made: Callable[[Plan, str], Named],
    users: Callable[[Plan, str], Iterator[str]] = _no_users,
    word: str = "",
    **fresh: Any,
) -> _Shelf:
    """The shelf of things that take nothing along."""
    copied, without = _plain_copy(what, **fresh), _plain_removal(what)
    return _Shelf(word or f"a {what}", _more(what, made), copied, users, without)


_SHELVES: dict[What, _Shelf] = {
    "pool": _Shelf("a pool", _new_pool, copied_pool, _no_users, without_pool),
    "group": _Shelf("a group", _new_group, copied_group, _no_users, without_group),
    "site": replace(
        _plain("site", lambda plan, new: Site(new, _zone(plan)), _groups_at), without=_without_site
    ),
    "place": _plain("place", lambda _, new: Place(new, "here"), _pools_with("place")),
    "size": _Shelf(
        "a size",
        _more("size", lambda _, new: Size(new, 8, 32, _NOTHING)),
        copied_size,
        _pools_with("size"),
        without_size,
    ),
    "disk": _plain(
        "disk",
        lambda _, new: Disk(new, _NOTHING, _NOTHING),
        _pools_with("disk"),
        source="typed",
    ),
    "image": _plain("image", lambda _, new: Image(new), _pools_with("image"), "an image"),
    "profile": _plain("profile", lambda _, new: Profile(new), _work_of, measured=None),
    "schedule": _plain("schedule", lambda _, new: begun_schedule(new), _pools_with("schedule")),
    "licence": _plain("licence", lambda _, new: Licence(new, Decimal("1.00"))),
    "event": replace(
        _plain("event", lambda plan, new: begun_event(new, plan.week_of), word="an event"),
        without=_without_event,
    ),
}


def _where(what: What) -> str:
    return "/prices/licences" if what == "licence" else f"/{what}s"


def _found(plan: Plan, what: What, part: str) -> Named:
    things = _things(plan, what)
    for each in things:
        if each.id == part:
            return each
    raise UnknownNameError(what, part, [each.id for each in things])


def _named(plan: Plan, what: What, part: str, name: str) -> Plan:
    """Return the plan with a thing called by a name that no other thing of its list has."""
    others = (each for each in _things(plan, what) if each.id != part)
    must_be_unique(name, others, _where(what), _SHELVES[what].word)
    things = (replace(each, name=name) if each.id == part else each for each in _things(plan, what))
    return _with(plan, what, things)


def _free_id(plan: Plan, what: What, name: str) -> str:
    return id_for(name, [each.id for each in _things(plan, what)])


@dataclass(frozen=True, slots=True)
class AddPart:
    """Add a thing to one of the plan's lists, with values to begin with."""

    verb: Literal["add-part"]
    what: What
    name: PartName

    def done(self, plan: Plan) -> Plan:
        """Return the plan with one more thing of that name; its id is made from the name."""
        new = _free_id(plan, self.what, self.name)
        return _named(_SHELVES[self.what].new(plan, new), self.what, new, self.name)


@dataclass(frozen=True, slots=True)
class CopyPart:
    """Copy a thing of one of the plan's lists; what it refers to is the same."""

    verb: Literal["copy-part"]
    what: What
    part: Id
    name: PartName

    def done(self, plan: Plan) -> Plan:
        """Return the plan with both things."""
        _found(plan, self.what, self.part)
        new = _free_id(plan, self.what, self.name)
        return _named(_SHELVES[self.what].copied(plan, self.part, new), self.what, new, self.name)


@dataclass(frozen=True, slots=True)
class NamePart:
    """Name a thing of one of the plan's lists."""

    verb: Literal["name-part"]
    what: What
    part: Id
    name: PartName

    def done(self, plan: Plan) -> Plan:
        """Return the plan with the name; the id stays, and so does all that refers to it.

        A schedule that was called as the pool that alone has it is called so still.
        """
        before = _found(plan, self.what, self.part).called
        named = _named(plan, self.what, self.part, self.name)
        if self.what != "pool":
            return named
        own = find_pool(plan, self.part).schedule
        alone = sum(pool.schedule == own for pool in plan.pools) == 1
        alike = called(plan.schedules, own).casefold() == before.casefold()
        taken = self.name.casefold() in {s.called.casefold() for s in plan.schedules}
        if not alone or not alike or taken:
            return named
        return _named(named, "schedule", own, self.name)


@dataclass(frozen=True, slots=True)
class RemovePart:
    """Remove a thing from one of the plan's lists, with all that is about it alone."""

    verb: Literal["remove-part"]
    what: What
    part: Id

    def done(self, plan: Plan) -> Plan:
        """Return the plan without it. Raises PlanError where something cannot be without it."""
        gone, shelf = _found(plan, self.what, self.part), _SHELVES[self.what]
        users = list(shelf.users(plan, self.part))
        if users:
            rest = f" and {len(users) - 3} more" if len(users) > 3 else ""
            text = f"'{gone.called}' is used by {', '.join(users[:3])}{rest}"
            remedy = f"give {'it' if len(users) == 1 else 'them'} another {self.what} first"
            raise PlanError([Fault(_where(self.what), text, remedy)])
        return shelf.without(plan, self.part)
