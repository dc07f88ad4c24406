"""Where a group's hosts should be: by the data rule, then by comfort, then by cost."""

from __future__ import annotations

from dataclasses import dataclass, replace
from decimal import Decimal

from idle_harbor.core.money.rates import session_hour
from idle_harbor.core.plan import Group, Place, Plan, Pool
from idle_harbor.core.plan.lookup import find_group
from idle_harbor.core.sizing.sizes import price_of_session, sizes_for


@dataclass(frozen=True, slots=True)
class PlaceView:
    """A place for a group's pool: whether its data may be there, how far people are, what the
    cheapest host size that holds a session costs per session and hour there.

    ``why`` says in words what speaks for or against it; ``best`` is true of one place at most.
    """

    place: Place
    data_allowed: bool
    round_trip_ms: float | None
    behind: bool
    size: str | None
    sessions: int
    per_session_hour: Decimal | None
    best: bool
    why: str


def _rank(view: PlaceView) -> tuple[bool, bool, bool, bool, Decimal, float]:
    return (
        not view.data_allowed,
        view.per_session_hour is None,
        view.behind,
        view.round_trip_ms is None,
        view.per_session_hour or Decimal(0),
        view.round_trip_ms or 0.0,
    )


def places_for(plan: Plan, pool: Pool, group_id: str) -> list[PlaceView]:
    """Every place of the plan for one group of a pool, the best first.

    Places where the group's data may not be come last, then those without a size that fits, then
    those behind a slow line (round trip above the promise), then those whose line nobody has
    measured; among the others the cheaper is better, and of equal prices the nearer. Only such a
    one is called the best. Raises UnknownNameError for an unknown group.
    """
    group = find_group(plan, group_id)
    views = [_view(plan, pool, group, place) for place in plan.places]
    ordered = sorted(views, key=_rank)
    result: list[PlaceView] = []
    for index, view in enumerate(ordered):
        sure = view.data_allowed and view.size is not None and not view.behind
        best = index == 0 and sure and view.round_trip_ms is not None
        result.append(_told(plan, group, view, best))
    return result


def _view(plan: Plan, pool: Pool, group: Group, place: Place) -> PlaceView:
    sizes = sizes_for(plan, pool, group, place, pool.kind)
    size, sessions = min(sizes, key=price_of_session, default=(None, 0))
    trip = place.round_trip(group.site)
    return PlaceView(
        place=place,
        data_allowed=not group.data_areas or place.area in group.data_areas,
        round_trip_ms=trip,
        behind=trip is not None and trip > plan.promise.round_trip_ms,
        size=None if size is None else size.id,
        sessions=sessions,
        per_session_hour=None if size is None else session_hour(size, sessions),
        best=False,
        why="",
    )


def _told(plan: Plan, group: Group, view: PlaceView, best: bool) -> PlaceView:
    if not view.data_allowed:
        why = f"data of '{group.called}' may not be kept in {view.place.area}"
    elif view.size is None:
        why = "has no size that holds one session"
    elif view.behind:
        why = f"further than the promise of {plan.promise.round_trip_ms:g} ms allows"
    elif view.round_trip_ms is None:
        why = "nobody has measured its line"
    elif best:
        why = f"the cheapest that keeps the promise, {view.round_trip_ms:g} ms away"
    else:
        why = "keeps the promise, and costs more"
    return replace(view, best=best, why=why)
