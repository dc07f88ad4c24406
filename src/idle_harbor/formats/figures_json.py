"""Figures of a simulation as one JSON object."""

from __future__ import annotations

from typing import Any

from idle_harbor.core.figures.intervals import Estimate
from idle_harbor.core.money.ledger import CostLine
from idle_harbor.core.weeks import Figures

#: Digits that matter: counts of a week to hundredths, shares to a millionth.
_DIGITS = 6


def estimate_values(estimate: Estimate) -> dict[str, Any]:
    """A mean with its 95 % interval; an infinite one is null and says so."""
    values: dict[str, Any] = {"mean": None, "low": None, "high": None}
    if estimate.mean is not None:
        half = estimate.half_width
        values["mean"] = round(estimate.mean, _DIGITS)
        if half is not None:
            values["low"] = round(estimate.mean - half, _DIGITS)
            values["high"] = round(estimate.mean + half, _DIGITS)
    if estimate.unbounded:
        values["unbounded"] = True
    return values


def ledger_values(lines: list[CostLine], estimates: dict[str, Estimate]) -> list[dict[str, Any]]:
    """The month's lines, money as decimal text, each with the interval of its amount."""
    return [
        {
            "id": line.id,
            "quantity": round(line.quantity, _DIGITS),
            "unit": line.unit,
            "unit_price": format(line.unit_price, "f"),
            "price_source": line.price_source,
            "quantity_source": line.quantity_source,
            "amount": format(line.amount, "f"),
            "interval": estimate_values(estimates[f"cost {line.id}"]),
        }
        for line in lines
    ]


def figures_values(figures: Figures) -> dict[str, Any]:
    """Everything the figures hold, by name with the unit in it."""
    e = {name: estimate_values(value) for name, value in figures.estimates.items()}
    return {
        "seeds": figures.seeds,
        "arrivals": e["arrivals"],
        "connected": e["connected"],
        "refused": e["refused"],
        "still_waiting": e["still_waiting"],
        "reconnects": e["reconnects"],
        "refused_share": e["refused_share"],
        "wait_seconds": {name: e[f"wait_{name}"] for name in ("mean", "p50", "p95", "p99")},
        "sessions": {"mean": e["sessions_mean"], "peak": e["sessions_peak"]},
        "strained_share": e["strained_share"],
        "behind_share": e["behind_share"],
        "baseline_hours": e["baseline_hours"],
        "comfort": e["comfort"],
        "host_hours": {
            name: e[f"hours_{name}"]
            for name in (
                "in_use", "lingering", "fragmentation", "readiness", "transit", "rounding",
                "billed", "ideal",
            )
        },
        "cost": {
            "month": format(figures.month, "f"),
            "interval": e["month"],
            "lines": ledger_values(figures.ledger, figures.estimates),
        },
    }  # fmt: skip
