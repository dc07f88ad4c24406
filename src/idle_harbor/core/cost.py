"""Money: every line is a quantity times a unit price, with the source of both."""

from __future__ import annotations

from dataclasses import dataclass
from decimal import ROUND_HALF_UP, Decimal

from idle_harbor.core.plan import Disk, Pool, Size

#: Days of an average month: a Julian year's 365.25 days over 12.
MONTH_DAYS = Decimal("365.25") / 12
_CENT = Decimal("0.01")


@dataclass(frozen=True, slots=True)
class Usage:
    """What a pool used over ``days`` counted days: billed host-hours, share of time powered."""

    days: int
    billed_hours: float
    powered_share: float


@dataclass(frozen=True, slots=True)
class CostLine:
    """One line of the ledger for a month: ``amount`` = ``quantity`` × ``unit_price``, rounded."""

    id: str
    quantity: float
    unit: str
    unit_price: Decimal
    price_source: str
    quantity_source: str
    amount: Decimal


def _line(
    line_id: str, quantity: Decimal, unit: str, price: Decimal, source: str, why: str
) -> CostLine:
    amount = (quantity * price).quantize(_CENT, ROUND_HALF_UP)
    return CostLine(line_id, float(quantity), unit, price, source, why, amount)


def monthly_ledger(pool: Pool, size: Size, disk: Disk | None, usage: Usage) -> list[CostLine]:
    """The month's lines: compute from billed hours, disks by the share of time hosts are on.

    Hours become a month by 365.25 / 12 / days; monthly prices never pass through that factor.
    """
    hours = Decimal(repr(usage.billed_hours)) * MONTH_DAYS / usage.days
    lines = [_line("compute", hours, "host-hours", size.hourly, size.source, "billed host-hours")]
    if disk is not None:
        on = Decimal(repr(usage.powered_share)) * pool.standing
        off = pool.standing - on
        lines.append(
            _line("disks on", on, "disk-months", disk.monthly_on, disk.source, "hosts powered")
        )
        lines.append(
            _line("disks off", off, "disk-months", disk.monthly_off, disk.source, "hosts off")
        )
    return lines


def total_of(lines: list[CostLine]) -> Decimal:
    """The month: the sum of the rounded lines."""
    return sum((line.amount for line in lines), Decimal("0.00"))
