"""Money: every line is a quantity times a unit price, with the source of both."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from decimal import ROUND_HALF_UP, Decimal
from math import ceil
from typing import NamedTuple

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
    """One line of the ledger for a month: ``amount`` = ``quantity`` × ``unit_price``, rounded.

    ``settable`` says whether settings of the pool can change it, ``meaning`` what is paid for.
    """

    id: str
    meaning: str
    settable: bool
    quantity: float
    unit: str
    unit_price: Decimal
    price_source: str
    quantity_source: str
    amount: Decimal


class Charge(NamedTuple):
    """What a pool pays of one kind: a quantity of a month, its price, and the source of both;
    ``of`` tells several of a kind apart."""

    quantity: Decimal
    price: Decimal
    price_source: str
    quantity_source: str
    of: str = ""


@dataclass(frozen=True, slots=True)
class Cost:
    """A kind of cost line: everything that is said of it, and what a pool pays of it.

    ``settable`` says whether settings of a pool can change it: licences and egress follow from its
    people alone. ``charges`` yields nothing where the pool pays nothing of the kind.
    """

    id: str
    meaning: str
    unit: str
    settable: bool
    charges: Callable[[Priced, Usage], Iterator[Charge]]

    def lines(self, priced: Priced, usage: Usage) -> Iterator[CostLine]:
        """The lines of this kind in a month's ledger."""
        for each in self.charges(priced, usage):
            yield CostLine(
                id=f"{self.id} {each.of}" if each.of else self.id,
                meaning=self.meaning,
                settable=self.settable,
                quantity=float(each.quantity),
                unit=self.unit,
                unit_price=each.price,
                price_source=each.price_source,
                quantity_source=each.quantity_source,
                amount=(each.quantity * each.price).quantize(_CENT, ROUND_HALF_UP),
            )


def _exact(value: float) -> Decimal:
    return Decimal(repr(value))


def _compute(priced: Priced, usage: Usage) -> Iterator[Charge]:
    """Hours become a month by 365.25 / 12 / days; monthly prices never pass through that factor."""
    size, hours = priced.size, monthly(_exact(usage.billed), usage.days)
    yield Charge(hours, size.price, size.source, "billed host-hours")


def _own_hardware(priced: Priced, _: Usage) -> Iterator[Charge]:
    """Hardware of one's own is rented by the machine for the whole month."""
    machine = priced.size.machine
    if machine is not None:
        machines = ceil(priced.pool.hosts.most / machine.hosts)
        why = f"{machines} machines of {machine.hosts} hosts"
        yield Charge(always_on(machines), machine.hourly, priced.size.source, why)


def _existing(usage: Usage) -> Decimal:
    """Hosts that exist, in the mean over the counted days."""
    return _exact((usage.footprint.standing_hours + usage.footprint.surge_hours) / usage.hours)


def _disks_on(priced: Priced, usage: Usage) -> Iterator[Charge]:
    """Disks by the share of the time that hosts are on; throwaway hosts keep none."""
    disk = priced.disk
    if disk is not None and not priced.pool.hosts.throwaway and usage.hours:
        yield Charge(_powered(usage), disk.monthly_on, disk.source, "hosts powered")


def _disks_off(priced: Priced, usage: Usage) -> Iterator[Charge]:
    disk = priced.disk
    if disk is not None and not priced.pool.hosts.throwaway and usage.hours:
        off = _existing(usage) - _powered(usage)
        yield Charge(off, disk.monthly_off, disk.source, "hosts off")


def _powered(usage: Usage) -> Decimal:
    """Hosts that are on, in the mean over the counted days; no more than exist."""
    exist = usage.footprint.standing_hours + usage.footprint.surge_hours
    return _exact(min(usage.powered, exist) / usage.hours)


def _egress(priced: Priced, usage: Usage) -> Iterator[Charge]:
    prices = priced.prices
    if prices.egress_gib:
        out = monthly(_exact(usage.footprint.egress_gib), usage.days)
        yield Charge(out, prices.egress_gib, prices.source, "pictures sent to people")


def _addresses(priced: Priced, usage: Usage) -> Iterator[Charge]:
    prices = priced.prices
    if prices.address_month and usage.hours:
        yield Charge(_existing(usage), prices.address_month, prices.source, "hosts that exist")


def _licensed(per: LicencePer, usage: Usage) -> tuple[float, str]:
    if per == "named person":
        return usage.named, "people who may use the pool"
    if per == "peak session":
        return usage.footprint.peak_sessions, "sessions at the peak"
    return usage.footprint.people_seen, "different people expected in a month"


def _of_pool(priced: Priced) -> list[Licence]:
    pool = priced.pool.id
    return [each for each in priced.prices.licences if not each.pools or pool in each.pools]


def needs_people_seen(priced: Priced) -> bool:
    """Whether a licence of the pool is paid for everyone who is seen."""
    return any(licence.per == "active person" for licence in _of_pool(priced))


def _licences(priced: Priced, usage: Usage) -> Iterator[Charge]:
    for licence in _of_pool(priced):
        count, why = _licensed(licence.per, usage)
        yield Charge(_exact(count), licence.monthly, priced.prices.source, why, licence.id)


#: Every kind of cost, in the order of the ledger.
COSTS = (
    Cost("compute", "hosts while they are on", "host-hours", True, _compute),
    Cost("own hardware", "machines of one's own, on or off", "machine-hours", True, _own_hardware),
    Cost("disks on", "disks of hosts that are on", "disk-months", True, _disks_on),
    Cost("disks off", "disks of hosts that are off", "disk-months", True, _disks_off),
    Cost("egress", "pictures that leave the place", "GiB", False, _egress),
    Cost("addresses", "public addresses of hosts", "addresses", True, _addresses),
    Cost("licence", "the right to use the software", "licences", False, _licences),
)


def monthly_ledger(priced: Priced, usage: Usage) -> list[CostLine]:
    """The month's lines, kind by kind; kinds of which the pool pays nothing are left out."""
    return [line for cost in COSTS for line in cost.lines(priced, usage)]


def amount_of(lines: list[CostLine], line_id: str) -> float:
    """What a line costs; nothing where the ledger does not have it."""
    return float(sum((line.amount for line in lines if line.id == line_id), Decimal(0)))


def total_of(lines: list[CostLine]) -> Decimal:
    """The month: the sum of the rounded lines."""
    return sum((line.amount for line in lines), Decimal("0.00"))


def settable(lines: list[CostLine]) -> Decimal:
    """What of a month settings can change: hosts while they are on, their disks and addresses."""
    return sum((line.amount for line in lines if line.settable), Decimal("0.00"))
