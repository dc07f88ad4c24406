"""From core results about sizes, kinds and places to response values."""

from __future__ import annotations

from collections.abc import Sequence
from decimal import ROUND_HALF_UP, Decimal
from math import isfinite
from typing import Any

from idle_harbor.core.plan import Plan
from idle_harbor.core.sizing.hosts import SizeView, Sizing
from idle_harbor.core.sizing.peak import Wish
from idle_harbor.core.sizing.places import PlaceView
from idle_harbor.core.weeks.kinds import Kinds
from idle_harbor.formats.reports.figures import values_of

_MILL = Decimal("0.0001")
_CENT = Decimal("0.01")


def _money(value: Decimal | None, unit: Decimal = _MILL) -> str | None:
    return None if value is None else format(value.quantize(unit, ROUND_HALF_UP), "f")


def _size(view: SizeView, cheapest: Decimal | None) -> dict[str, Any]:
    size, density = view.size, view.density
    needed = view.hosts[min(view.limit, len(view.hosts)) - 1]
    return {
        **values_of(view, without=("size", "density", "slack")),
        **values_of(density),
        "id": size.id,
        "vcpu": size.vcpu,
        "memory_gib": size.memory_gib,
        "gpu_gib": size.gpu_gib,
        "hourly": _money(size.whole_price),
        "source": size.source,
        "burst": size.burst is not None,
        "own_hardware": size.machine is not None,
        "slack": {name: _finite(value) or 0.0 for name, value in view.slack.items()},
        "needed": needed,
        "per_session_hour": _money(view.per_session_hour),
        "per_month": _money(view.per_month, _CENT),
        "break_even": [{"years": y, "share": round(s, 4)} for y, s in view.break_even],
        "cheapest": not view.missing and view.per_session_hour == cheapest,
    }


def _finite(value: float) -> float | None:
    return round(value, 5) if isfinite(value) else None


def sizing_answer(plan: Plan, sizing: Sizing, wish: Wish) -> dict[str, Any]:
    """The sizing picture of a pool."""
    pool, mix, crest = sizing.pool, sizing.mix, sizing.crest
    own = next(view for view in sizing.sizes if view.size.id == pool.size)
    return {
        **values_of(sizing, without=("pool", "crest", "mix", "bearing", "zones", "sizes")),
        **values_of(crest, without=("session_hours", "weights", "active_share")),
        "pool": pool.id,
        "kind": pool.kind,
        "currency": plan.currency,
        "size": pool.size,
        "percentile": wish.percentile,
        "active_share": round(sizing.bearing.active_share, 4),
        "mix": {
            "cpu": round(mix.cpu, 4),
            "sd": round(mix.variance**0.5, 4),
            "memory": round(mix.memory, 3),
            "gpu": round(mix.gpu, 3),
            "disk": round(mix.disk, 2),
            "network": round(mix.network, 3),
        },
        "zones": list(own.zones),
        "most_hosts": pool.hosts.most,
        "sizes": [_size(view, sizing.cheapest) for view in sizing.sizes],
    }


def kinds_answer(plan: Plan, kinds: Kinds) -> dict[str, Any]:
    """A group as each kind."""
    return {
        "group": kinds.group,
        "currency": plan.currency,
        "suggested": kinds.suggested,
        "why": kinds.why,
        "kinds": [values_of(view) for view in kinds.views],
    }


def places_answer(plan: Plan, group: str, views: Sequence[PlaceView]) -> dict[str, Any]:
    """Every place for one group."""
    return {
        "group": group,
        "currency": plan.currency,
        "places": [
            {
                **values_of(view, without=("place",)),
                "id": view.place.id,
                "area": view.place.area,
                "zones": list(view.place.zones),
                "per_session_hour": _money(view.per_session_hour),
            }
            for view in views
        ],
    }
