"""Sums of money as they are written, in texts and on the page alike."""

from __future__ import annotations

#: Signs of currencies that have one of their own (CLDR, English); others stand by their code.
SIGNS = {
    "AUD": "A$",
    "BRL": "R$",
    "CAD": "CA$",
    "CNY": "CN¥",
    "EUR": "€",
    "GBP": "£",
    "HKD": "HK$",
    "ILS": "₪",
    "INR": "₹",
    "JPY": "JP¥",
    "KRW": "₩",
    "MXN": "MX$",
    "NZD": "NZ$",
    "PHP": "₱",
    "TWD": "NT$",
    "USD": "US$",
    "VND": "₫",
}


def money_text(amount: float, currency: str, digits: int = 0) -> str:
    """Write a sum of money with the sign of its currency before it.

    Args:
        amount: the sum, in the currency's unit.
        currency: its code (ISO 4217); a code without a sign is written itself.
        digits: digits after the point.
    """
    sign = SIGNS.get(currency, f"{currency}\N{NO-BREAK SPACE}")
    minus = "-" if round(amount, digits) < 0 else ""
    return f"{minus}{sign}{abs(amount):,.{digits}f}"
