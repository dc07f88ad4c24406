"""Money: every line is a quantity times a unit price, with the source of both."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from decimal import ROUND_HALF_UP, Decimal
from math import ceil

from idle_harbor.core.figures.footprint import Footprint
from idle_harbor.core.money.rates import always_on, monthly
from idle_harbor.core.plan import Disk, Licence, LicencePer, Pool, Prices, Size

_CENT = Decimal("0.01")


@dataclass(frozen=True, slots=True)
class Priced:
    """What a pool is priced by: itself, its size at its place, its disk, and other prices."""

    pool: Pool
    size: Size
    disk: Disk | None
    prices: Prices


@dataclass(frozen=True, slots=True)
class Usage:
    """What a pool used over ``days`` counted days of ``hours`` hours in all.

    Host-hours ``billed`` and, before rounding, ``powered``; ``named`` people may use the pool.
    """

    days: int
    hours: float
    billed: float
    powered: float
    named: int
    footprint: Footprint


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


def _exact(value: float) -> Decimal:
    return Decimal(repr(value))


def _disk_lines(priced: Priced, usage: Usage) -> Iterator[CostLine]:
    """Disks by the share of the time that hosts exist and are on; throwaway hosts keep none."""
    disk = priced.disk
    if disk is None or priced.pool.hosts.throwaway or usage.hours == 0.0:
        return
    exist = usage.footprint.standing_hours + usage.footprint.surge_hours
    on = _exact(min(usage.powered, exist) / usage.hours)
    off = _exact(exist / usage.hours) - on
    yield _line("disks on", on, "disk-months", disk.monthly_on, disk.source, "hosts powered")
    yield _line("disks off", off, "disk-months", disk.monthly_off, disk.source, "hosts off")


def _machine_lines(priced: Priced) -> Iterator[CostLine]:
    """Hardware of one's own is rented by the machine for the whole month."""
    machine = priced.size.machine
    if machine is None:
        return
    machines = ceil(priced.pool.hosts.most / machine.hosts)
    yield _line(
        "own hardware",
        always_on(machines),
        "machine-hours",
        machine.hourly,
        priced.size.source,
        f"{machines} machines of {machine.hosts} hosts",
    )


def _licensed(per: LicencePer, usage: Usage) -> tuple[float, str]:
    if per == "named person":
        return usage.named, "people who may use the pool"
    if per == "peak session":
        return usage.footprint.peak_sessions, "sessions at the peak"
    return usage.footprint.people_seen, "different people expected in a month"


def needs_people_seen(priced: Priced) -> bool:
    """Whether a licence of the pool is paid for everyone who is seen."""
    return any(licence.per == "active person" for licence in _licences(priced))


def _licences(priced: Priced) -> list[Licence]:
    pool = priced.pool.id
    return [each for each in priced.prices.licences if not each.pools or pool in each.pools]


def _licence_line(licence: Licence, priced: Priced, usage: Usage) -> CostLine:
    count, why = _licensed(licence.per, usage)
    name = f"licence {licence.id}"
    return _line(name, _exact(count), "licences", licence.monthly, priced.prices.source, why)


def _other_lines(priced: Priced, usage: Usage) -> Iterator[CostLine]:
    prices, print_ = priced.prices, usage.footprint
    if prices.egress_gib:
        out = monthly(_exact(print_.egress_gib), usage.days)
        why = "pictures sent to people"
        yield _line("egress", out, "GiB", prices.egress_gib, prices.source, why)
    if prices.address_month and usage.hours:
        exist = _exact((print_.standing_hours + print_.surge_hours) / usage.hours)
        why = "hosts that exist"
        yield _line("addresses", exist, "addresses", prices.address_month, prices.source, why)
    for licence in _licences(priced):
        yield _licence_line(licence, priced, usage)


def monthly_ledger(priced: Priced, usage: Usage) -> list[CostLine]:
    """The month's lines: compute from billed hours, disks, own hardware, egress, licences.

    Hours become a month by 365.25 / 12 / days; monthly prices never pass through that factor.
    """
    hours = monthly(_exact(usage.billed), usage.days)
    size = priced.size
    return [
        _line("compute", hours, "host-hours", size.price, size.source, "billed host-hours"),
        *_machine_lines(priced),
        *_disk_lines(priced, usage),
        *_other_lines(priced, usage),
    ]


def amount_of(lines: list[CostLine], line_id: str) -> float:
    """What a line costs; nothing where the ledger does not have it."""
    return float(sum((line.amount for line in lines if line.id == line_id), Decimal(0)))


def total_of(lines: list[CostLine]) -> Decimal:
    """The month: the sum of the rounded lines."""
    return sum((line.amount for line in lines), Decimal("0.00"))


#: Lines that settings of a pool can change; licences and what goes out follow from its people.
SETTABLE = ("compute", "own hardware", "disks on", "disks off", "addresses")


def settable(lines: list[CostLine]) -> Decimal:
    """What of a month settings can change: hosts while they are on, their disks and addresses."""
    return sum((line.amount for line in lines if line.id in SETTABLE), Decimal("0.00"))
