"""From core results about hosts and pools to response values."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass
from decimal import ROUND_HALF_UP, Decimal
from math import isfinite
from typing import Any

from idle_harbor.core.checks import FAMILIES, Checked
from idle_harbor.core.plan import Plan
from idle_harbor.core.plan.workload import zones_of
from idle_harbor.core.sizing.hosts import SizeView, Sizing, Wish
from idle_harbor.core.sizing.kinds import Kinds
from idle_harbor.core.sizing.places import PlaceView
from idle_harbor.core.weeks import Case, Figures
from idle_harbor.formats.figures_json import figures_values
from idle_harbor.web.answers import verdicts

_MILL = Decimal("0.0001")
_CENT = Decimal("0.01")


def _money(value: Decimal | None, unit: Decimal = _MILL) -> str | None:
    return None if value is None else format(value.quantize(unit, ROUND_HALF_UP), "f")


def _size(view: SizeView, cheapest: Decimal | None) -> dict[str, Any]:
    size, density = view.size, view.density
    needed = view.hosts[min(view.limit, len(view.hosts)) - 1]
    return {
        "id": size.id,
        "vcpu": size.vcpu,
        "memory_gib": size.memory_gib,
        "gpu_gib": size.gpu_gib,
        "hourly": _money(size.whole_price),
        "source": size.source,
        "burst": size.burst is not None,
        "own_hardware": size.machine is not None,
        "by_resource": density.by_resource,
        "sessions": density.sessions,
        "binding": density.binding,
        "low": density.low,
        "high": density.high,
        "credits": density.credits,
        "untuned": view.untuned,
        "slack": {name: _finite(value) or 0.0 for name, value in view.slack.items()},
        "curves": {
            name: [_finite(value) for value in curve] for name, curve in view.curves.items()
        },
        "hosts": list(view.hosts),
        "limit": view.limit,
        "needed": needed,
        "per_session_hour": _money(view.per_session_hour),
        "per_month": _money(view.per_month, _CENT),
        "break_even": [{"years": y, "share": round(s, 4)} for y, s in view.break_even],
        "zones": list(view.zones),
        "cheapest": not view.missing and view.per_session_hour == cheapest,
        "missing": view.missing,
    }


def _finite(value: float) -> float | None:
    return round(value, 5) if isfinite(value) else None


def sizing_answer(plan: Plan, sizing: Sizing, wish: Wish) -> dict[str, Any]:
    """The sizing picture of a pool."""
    pool, mix, crest = sizing.pool, sizing.mix, sizing.crest
    own = next(view for view in sizing.sizes if view.size.id == pool.size)
    return {
        "pool": pool.id,
        "kind": pool.kind,
        "currency": plan.currency,
        "size": pool.size,
        "people": crest.people,
        "peak": crest.peak.value,
        "peak_low": crest.peak.low,
        "peak_high": crest.peak.high,
        "percentile": wish.percentile,
        "seeds": crest.seeds,
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
        "holds": sizing.holds,
        "lacking": sizing.lacking,
        "after_loss": sizing.after_loss,
        "sizes": [_size(view, sizing.cheapest) for view in sizing.sizes],
    }


def kinds_answer(plan: Plan, kinds: Kinds) -> dict[str, Any]:
    """A group as each kind."""
    return {
        "group": kinds.group,
        "currency": plan.currency,
        "suggested": kinds.suggested,
        "why": kinds.why,
        "kinds": [
            {
                "kind": view.kind,
                "size": view.size,
                "session_limit": view.session_limit,
                "hosts": view.hosts,
                "figures": None if view.figures is None else figures_values(view.figures),
                "keeps_promise": view.keeps_promise,
                "barred": view.barred,
                "isolation": view.isolation,
                "lost": view.lost,
            }
            for view in kinds.views
        ],
    }


def places_answer(plan: Plan, group: str, views: Sequence[PlaceView]) -> dict[str, Any]:
    """Every place for one group."""
    return {
        "group": group,
        "currency": plan.currency,
        "places": [
            {
                "id": view.place.id,
                "area": view.place.area,
                "zones": list(view.place.zones),
                "data_allowed": view.data_allowed,
                "round_trip_ms": view.round_trip_ms,
                "behind": view.behind,
                "size": view.size,
                "sessions": view.sessions,
                "per_session_hour": _money(view.per_session_hour),
                "best": view.best,
                "why": view.why,
            }
            for view in views
        ],
    }


def _pool_row(
    plan: Plan, case: Case, figures: Figures, peak: float, findings: int
) -> dict[str, Any]:
    pool = case.priced.pool
    return {
        "id": pool.id,
        "kind": pool.kind,
        "groups": list(dict.fromkeys(comer.group.id for comer in case.demand.comers)),
        "people": case.named,
        "peak": peak,
        "session_limit": pool.session_limit,
        "standing": pool.hosts.standing,
        "surge": pool.hosts.surge,
        "holds": pool.hosts.most * pool.session_limit,
        "size": pool.size,
        "place": pool.place,
        "zones": list(zones_of(plan, pool)),
        "figures": figures_values(figures),
        "verdicts": verdicts(plan.promise, figures, case),
        "findings": findings,
    }


@dataclass(frozen=True, slots=True)
class PoolResult:
    """A simulated pool: its case, figures over some weeks, and the peak that it is sized for."""

    case: Case
    figures: Figures
    peak: float


def pool_rows(
    plan: Plan, simulated: Sequence[PoolResult], found: Sequence[Checked]
) -> list[dict[str, Any]]:
    """A row of the table for each pool, with how many of the findings are about it."""
    places = {pool.id: place for place, pool in enumerate(plan.pools)}
    rows = []
    for each in simulated:
        about = f"/pools/{places[each.case.priced.pool.id]}/"
        own = sum(f.finding.pointer.startswith(about) for f in found)
        rows.append(_pool_row(plan, each.case, each.figures, each.peak, own))
    return rows


def pools_answer(
    plan: Plan, simulated: Sequence[PoolResult], found: Sequence[Checked], weeks: int
) -> dict[str, Any]:
    """Every pool side by side over so many weeks, with how long the plan's credits last."""
    month = sum((each.figures.month for each in simulated), Decimal("0.00"))
    credits = plan.prices.credits
    rows = pool_rows(plan, simulated, found)
    return {
        "currency": plan.currency,
        "month": format(month, "f"),
        "weeks": weeks,
        "credit_months": round(float(credits / month), 2) if credits and month else None,
        "pools": rows,
    }


def checks_answer(document: Mapping[str, Any], found: Sequence[Checked]) -> dict[str, Any]:
    """Everything that the checks found."""
    return {
        "families": [
            {
                "id": family.id,
                "about": family.about,
                "found": sum(each.family is family for each in found),
            }
            for family in FAMILIES
        ],
        "findings": [
            {
                "family": each.family.id,
                "where": where_of(document, each.finding.pointer),
                **asdict(each.finding),
            }
            for each in found
        ],
    }


def where_of(document: Mapping[str, Any], pointer: str) -> str:
    """A JSON pointer into a plan in words: names in place of list positions."""
    at: Any = document
    said: list[str] = []
    for part in pointer.strip("/").split("/"):
        if isinstance(at, list):
            at = at[int(part)] if int(part) < len(at) else None
            name = at.get("id") or at.get("group") if isinstance(at, Mapping) else None
            said.append(f"'{name}'" if name else str(int(part) + 1))
        else:
            at = at.get(part) if isinstance(at, Mapping) else None
            said.append(_SINGULAR.get(part, part.replace("_", " ")))
    return " ".join(said)


_SINGULAR = {
    "pools": "pool", "groups": "group", "sizes": "size", "places": "place", "disks": "disk",
    "images": "image", "access": "access of", "hosts": "hosts:", "apps": "app",
}  # fmt: skip
