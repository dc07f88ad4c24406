"""A simulated price feed: a sheet whose prices drift from month to month, always the same way."""

from __future__ import annotations

import hashlib
from copy import deepcopy
from dataclasses import dataclass
from datetime import date
from decimal import ROUND_HALF_UP, Decimal
from typing import Any

from idle_harbor.formats.tables.price_sheet import PriceSheet, sheet_from, sheet_values

_SINCE = date(2027, 1, 1)
#: The most that a price moves in a month.
_STEP = Decimal("0.015")
_UNIT = Decimal("0.0001")
_MONEY = (
    "hourly",
    "monthly_on",
    "monthly_off",
    "monthly",
    "egress_gib",
    "address_month",
    "per_vcpu",
    "per_gib",
)


@dataclass(frozen=True, slots=True)
class SimulatedPriceFeed:
    """What a provider's price service would answer for a day, given where its prices began."""

    beginning: PriceSheet
    seed: int = 1

    def sheet_on(self, day: date) -> PriceSheet:
        """The sheet of the month that holds ``day``; before the first month it is as it began."""
        months = max((day.year - _SINCE.year) * 12 + day.month - _SINCE.month, 0)
        values = sheet_values(self.beginning)
        moved = self._moved(deepcopy(values), "", months)
        source = f"simulated price feed, {day:%Y-%m}"
        for name in ("sizes", "disks"):
            for item in moved[name]:
                item["source"] = source
        if moved["prices"] is not None:
            moved["prices"]["source"] = source
        return sheet_from(moved)

    def _moved(self, values: Any, path: str, months: int) -> Any:
        if isinstance(values, list):
            return [self._moved(v, f"{path}/{_name(v, k)}", months) for k, v in enumerate(values)]
        if not isinstance(values, dict):
            return values
        return {
            name: self._price(f"{path}/{name}", value, months)
            if name in _MONEY and isinstance(value, str)
            else self._moved(value, f"{path}/{name}", months)
            for name, value in values.items()
        }

    def _price(self, path: str, price: str, months: int) -> str:
        """Each month multiplies the price by 1 ± at most the step, drawn for that item alone."""
        value = Decimal(price)
        for month in range(1, months + 1):
            digest = hashlib.blake2b(f"{self.seed}\x1f{path}\x1f{month}".encode(), digest_size=4)
            share = Decimal(int.from_bytes(digest.digest(), "little")) / Decimal(2**32 - 1)
            value *= 1 + _STEP * (2 * share - 1)
        return format(value.quantize(_UNIT, ROUND_HALF_UP) if months else value, "f")


def _name(value: Any, index: int) -> str:
    if isinstance(value, dict):
        found = [str(value[key]) for key in ("place", "id", "size", "years") if key in value]
        return "-".join(found) or str(index)
    return str(index)
