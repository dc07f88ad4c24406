"""Access: which further pools a group may open, as a desktop or as apps."""

from __future__ import annotations

from dataclasses import dataclass, replace
from itertools import product
from typing import Literal

from idle_harbor.core.errors import Fault, PlanError, UnknownNameError
from idle_harbor.core.plan import Access, Plan
from idle_harbor.core.plan.declare import Id
from idle_harbor.core.plan.edits.finding import must_be_free, with_pool
from idle_harbor.core.plan.hosts import Image
from idle_harbor.core.plan.lookup import find_group, find_pool
from idle_harbor.core.plan.people import Use

#: Placeholder in a list of apps until the planner names one.
_UNNAMED = "name of the app"
_USES: tuple[Use, ...] = ("desktop", "apps")


def _apps(plan: Plan, pool: str, use_as: Use) -> tuple[str, ...]:
    """Return the apps of a new access: the first app of the pool's image."""
    if use_as == "desktop":
        return ()
    image = find_pool(plan, pool).image
    there = next((each.apps for each in plan.images if each.id == image), ())
    return there[:1] or (_UNNAMED,)


@dataclass(frozen=True, slots=True)
class AddUse:
    """Give a group access to a pool that it may not open yet, as a desktop if that is free."""

    verb: Literal["add-use"]
    group: Id

    def done(self, plan: Plan) -> Plan:
        """Return the plan with access to the first pool in the plan's order that is free."""
        find_group(plan, self.group)  # raises for a group that is not there
        taken = {(each.pool, each.use_as) for each in plan.access if each.group == self.group}
        free = (each for each in product((p.id for p in plan.pools), _USES) if each not in taken)
        found = next(free, None)
        if found is None:
            what = f"'{self.group}' may open every pool already, as a desktop and as apps"
            raise PlanError([Fault("/access", what, "add a pool first")])
        pool, use_as = found
        more = Access(self.group, pool, use_as, _apps(plan, pool, use_as))
        return replace(plan, access=(*plan.access, more))


@dataclass(frozen=True, slots=True)
class SetUse:
    """Change an access from apps to a desktop, or back."""

    verb: Literal["set-use"]
    group: Id
    pool: Id
    use_as: Use
    to: Use

    def done(self, plan: Plan) -> Plan:
        """Return the plan with the access changed; a desktop has no apps."""
        known = [(each.group, each.pool, each.use_as) for each in plan.access]
        if (mine := (self.group, self.pool, self.use_as)) not in known:
            raise UnknownNameError("access", " ".join(mine), [" ".join(each) for each in known])
        apps = _apps(plan, self.pool, self.to)
        access = list(plan.access)
        place = known.index(mine)
        access[place] = replace(access[place], use_as=self.to, apps=apps)
        return replace(plan, access=tuple(access))


@dataclass(frozen=True, slots=True)
class AddImage:
    """Give a pool an image of its own, without apps."""

    verb: Literal["add-image"]
    pool: Id
    new: Id

    def done(self, plan: Plan) -> Plan:
        """Return the plan with one more image, used by the pool."""
        must_be_free(self.new, [image.id for image in plan.images], "/images", "an image")
        more = replace(plan, images=(*plan.images, Image(self.new)))
        return with_pool(more, self.pool, lambda pool: replace(pool, image=self.new))
