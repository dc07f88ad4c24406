"""Hours into months, and a host's price for a session: the one way each is reckoned."""

from __future__ import annotations

from decimal import Decimal

from idle_harbor.core.calendar.clock import MONTH_DAYS
from idle_harbor.core.plan import Size


def monthly(quantity: Decimal, days: int) -> Decimal:
    """What was used over so many days, as of an average month: × 365.25 / 12 / days."""
    return quantity * MONTH_DAYS / days


def always_on(count: int) -> Decimal:
    """Hours of a month of so many hosts or machines that are never off."""
    return count * MONTH_DAYS * 24


def session_hour(size: Size, sessions: int) -> Decimal:
    """Money for a session's hour on a host of that many sessions."""
    return size.whole_price / sessions


def break_even(size: Size) -> tuple[tuple[int, float], ...]:
    """From which share of the hours on each committed price pays, by its years."""
    price = size.whole_price
    return tuple((term.years, float(term.hourly / price)) for term in size.committed if price > 0)
