"""Checks of who comes and what they may open."""

from __future__ import annotations

from collections.abc import Iterator

from idle_harbor.core.checks.finding import Family, Finding
from idle_harbor.core.plan import Group, Headcount, Plan
from idle_harbor.core.plan.declare import clock_text
from idle_harbor.core.plan.lookup import called
from idle_harbor.core.sizing.peak import named_in

_DAY = 86_400


def people_findings(plan: Plan) -> list[Finding]:
    """Everything found about the plan's people, in the order of its groups."""
    return [
        *_without_pool(plan),
        *_without_host(plan),
        *_apps(plan),
        *_breaks(plan),
        *_idle_patterns(plan),
        *_uncounted_visitors(plan),
    ]


def _people(group: Group) -> str:
    if isinstance(group.demand, Headcount):
        return f"{group.demand.people:,} people"
    return "everyone who drops in"


def _without_pool(plan: Plan) -> Iterator[Finding]:
    coming = {each.group for each in plan.access}
    for g, group in enumerate(plan.groups):
        if group.id not in coming:
            yield Finding(
                "no-pool",
                "harm",
                f"/groups/{g}",
                f"group '{group.called}' may open no pool",
                f"{_people(group)} will have no desktop, and no pool counts them",
                "give the group access to a pool",
            )


def _without_host(plan: Plan) -> Iterator[Finding]:
    """In a dedicated pool everyone needs a host of their own."""
    for p, pool in enumerate(plan.pools):
        if pool.kind != "dedicated":
            continue
        people = named_in(plan, pool)
        hosts = len(pool.assigned) if pool.assign == "by list" else pool.hosts.standing
        if people > hosts:
            given = "are on its list" if pool.assign == "by list" else "hosts are there"
            yield Finding(
                "no-host",
                "harm",
                f"/pools/{p}/assigned",
                f"{people:,} people may open the dedicated pool '{pool.called}', {hosts:,} {given}",
                f"{people - hosts:,} people are turned away at every logon",
                "add hosts, or complete the list",
            )


def _apps(plan: Plan) -> Iterator[Finding]:
    """A published app that the pool's image does not have cannot be opened."""
    inventories = {image.id: set(image.apps) for image in plan.images}
    images = {pool.id: pool.image for pool in plan.pools}
    added = {pool.id: {each.app for each in pool.apps_at_logon} for pool in plan.pools}
    groups = {group.id: group for group in plan.groups}
    for k, each in enumerate(plan.access):
        if each.use_as != "apps":
            continue
        image = images[each.pool]
        if image is None:
            if set(each.apps) <= added[each.pool]:
                continue
            yield Finding(
                "app-without-image",
                "harm",
                f"/access/{k}",
                f"pool '{called(plan.pools, each.pool)}' has no image to publish apps from",
                f"{_people(groups[each.group])} of '{groups[each.group].called}' will not find "
                "their apps",
                "give the pool an image with an inventory",
            )
            continue
        for a, app in enumerate(each.apps):
            if app not in inventories[image] | added[each.pool]:
                yield Finding(
                    "app-not-in-image",
                    "harm",
                    f"/access/{k}/apps/{a}",
                    f"'{app}' is not in the image '{called(plan.images, image)}' of pool "
                    f"'{called(plan.pools, each.pool)}'",
                    f"{_people(groups[each.group])} of '{groups[each.group].called}' will not "
                    "find it",
                    "add the app to the image's inventory, add it at logon, or take it from the "
                    "access",
                )


def _breaks(plan: Plan) -> Iterator[Finding]:
    """A break that begins after most people have left changes next to nothing."""
    for g, group in enumerate(plan.groups):
        if not isinstance(group.demand, Headcount):
            continue
        for p, pattern in enumerate(group.demand.patterns):
            for b, pause in enumerate(pattern.breaks):
                begins = pattern.break_start(pause)
                ends = pattern.start.spread.mean + pattern.length.spread.mean
                if begins >= ends:
                    yield Finding(
                        "break-after-end",
                        "doubt",
                        f"/groups/{g}/demand/patterns/{p}/breaks/{b}",
                        f"the break at {clock_text(round(begins) % _DAY)} of '{group.called}' "
                        "begins "
                        f"after people leave at {clock_text(round(ends) % _DAY)}",
                        "hardly anyone takes it, so their sessions are counted as held throughout",
                        "move the break, or make the day longer",
                    )


def _idle_patterns(plan: Plan) -> Iterator[Finding]:
    """A pattern that nobody ever follows."""
    in_events = {event.pattern for event in plan.events}
    for g, group in enumerate(plan.groups):
        if not isinstance(group.demand, Headcount):
            continue
        turn = group.demand.rotation
        for p, pattern in enumerate(group.demand.patterns):
            used = pattern.share > 0.0 if turn is None else pattern.id in turn.order
            if not (used and any(pattern.attendance)) and pattern.id not in in_events:
                yield Finding(
                    "pattern-unused",
                    "doubt",
                    f"/groups/{g}/demand/patterns/{p}",
                    f"nobody in '{group.called}' follows the pattern '{pattern.called}'",
                    "it changes no figure",
                    "give it a share and weekdays, use it in an event, or remove it",
                )


def _uncounted_visitors(plan: Plan) -> Iterator[Finding]:
    """Licences for everyone who is seen, where nobody says how many different visitors come."""
    per_person = [each for each in plan.prices.licences if each.per == "active person"]
    for g, group in enumerate(plan.groups):
        if isinstance(group.demand, Headcount) or group.demand.different_people is not None:
            continue
        pools = {use.pool for use in plan.access if use.group == group.id}
        for licence in per_person:
            if pools and (not licence.pools or pools & set(licence.pools)):
                yield Finding(
                    "visitors-uncounted",
                    "doubt",
                    f"/groups/{g}/demand/different_people",
                    f"licence '{licence.called}' counts everyone who is seen, and "
                    f"'{group.called}' does "
                    "not say how many different people come",
                    "the ledger leaves their licences out",
                    "say how many different people come in a month, or license by sessions at "
                    "the peak",
                )


FAMILY = Family("people", "Who comes, and what they may open", people_findings)
