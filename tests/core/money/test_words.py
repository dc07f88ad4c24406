"""Sums of money as they are written."""

import pytest

from idle_harbor.core.money.words import money_text


@pytest.mark.parametrize(
    ("amount", "currency", "digits", "text"),
    [
        (1234.4, "EUR", 0, "€1,234"),
        (-0.004, "EUR", 2, "€0.00"),
        (-1.5, "USD", 2, "-US$1.50"),
        (0.0, "GBP", 0, "£0"),
        (12, "CHF", 0, "CHF\N{NO-BREAK SPACE}12"),
    ],
)
def test_the_sign_stands_before_the_sum(amount, currency, digits, text):
    assert money_text(amount, currency, digits) == text
