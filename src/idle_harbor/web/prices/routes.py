"""A plan's price sheet, in and out."""

from __future__ import annotations

from collections.abc import Callable

from flask import Response

from idle_harbor.formats.plan.codec import edited
from idle_harbor.formats.tables.price_sheet import (
    PriceSheet,
    differences,
    read_sheet,
    sheet_csv,
    sheet_json,
    sheet_of,
    with_sheet,
)
from idle_harbor.standins.price_feed import SimulatedPriceFeed
from idle_harbor.web.prices.models import (
    FeedBody,
    SheetAnswer,
    SheetBody,
    SheetFormBody,
    SheetText,
)
from idle_harbor.web.shared.asked import json_response
from idle_harbor.web.shared.bodies import checked_body, read_body
from idle_harbor.web.shared.view import view

prices = view("prices")


def _with_sheet(
    body: SheetBody | FeedBody, sheet_for: Callable[[PriceSheet], PriceSheet]
) -> Response:
    plan = checked_body(body).plan
    before = sheet_of(plan)
    after = with_sheet(plan, sheet_for(before))
    return json_response({"plan": edited(after), "changes": differences(before, sheet_of(after))})


@prices.post("", responses={200: SheetAnswer})
def take_prices(body: SheetBody) -> Response:
    """Bring a price sheet (JSON or CSV) into a plan; what differs is told, nothing is saved."""
    sheet = read_sheet(body.text)
    return _with_sheet(body, lambda _: sheet)


@prices.post("/feed", responses={200: SheetAnswer})
def take_feed(body: FeedBody) -> Response:
    """Ask the simulated price feed for a day's prices; what differs is told, nothing is saved."""
    return _with_sheet(body, lambda now: SimulatedPriceFeed(now).sheet_on(body.day))


@prices.post("/sheet", responses={200: SheetText})
def write_prices(body: SheetFormBody) -> Response:
    """A plan's price sheet as JSON or CSV."""
    sheet = sheet_of(read_body(body).plan)
    text = sheet_csv(sheet) if body.form == "csv" else sheet_json(sheet)
    return json_response({"name": f"price-sheet.{body.form}", "text": text})
