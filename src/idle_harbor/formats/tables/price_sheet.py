"""Price sheets: sizes, disks, what places have, and other prices; as JSON and as CSV.

The JSON form is that of the plan document's own parts. The CSV form has a row per item and a
column per field, named as in the plan; nested fields are joined by a dot, lists of names by a
semicolon, and the terms of a commitment are columns such as ``committed.3`` (years) with the
price. An empty cell is a field that the item does not have. Both keep every value.
"""

from __future__ import annotations

import json
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from typing import Annotated, Any, ClassVar, Literal, TypeVar

from annotated_types import Len
from pydantic import ConfigDict, TypeAdapter, ValidationError
from pydantic_core import from_json

from idle_harbor.core.errors import Fault, PlanError
from idle_harbor.core.plan import Disk, Offer, Plan, Prices, Size
from idle_harbor.core.plan.declare import Currency, Id
from idle_harbor.formats.plan.faults import fault_from
from idle_harbor.formats.tables.rows import read_table, whole_number, write_table

MOST_ROWS = 5_000
Item = TypeVar("Item", bound=Size | Disk)


@dataclass(frozen=True, slots=True, kw_only=True)
class PlaceOffer(Offer):
    """A size that a place has, with the place's name."""

    place: Id


@dataclass(frozen=True, slots=True)
class PriceSheet:
    """Everything that has a price, in one currency."""

    __pydantic_config__: ClassVar[ConfigDict] = ConfigDict(extra="forbid", allow_inf_nan=False)

    currency: Currency
    sizes: Annotated[tuple[Size, ...], Len(0, 500)] = ()
    disks: Annotated[tuple[Disk, ...], Len(0, 500)] = ()
    offers: Annotated[tuple[PlaceOffer, ...], Len(0, 5_000)] = ()
    prices: Prices | None = None
    format: Literal[1] = 1


_SHEET: TypeAdapter[PriceSheet] = TypeAdapter(PriceSheet)

#: Items of a CSV sheet, and where they are kept.
_LISTS = {"size": "sizes", "disk": "disks", "offer": "offers", "licence": "licences"}


def sheet_from(values: object) -> PriceSheet:
    """A sheet from values; raises PlanError with a fault per field that cannot be."""
    try:
        return _SHEET.validate_python(values)
    except ValidationError as error:
        raise PlanError([fault_from(detail) for detail in error.errors()]) from error


def sheet_values(sheet: PriceSheet) -> dict[str, Any]:
    """A sheet as plain JSON values."""
    values: dict[str, Any] = _SHEET.dump_python(sheet, mode="json", by_alias=True)
    return values


def sheet_of(plan: Plan) -> PriceSheet:
    """The price sheet inside a plan."""
    offers = tuple(
        PlaceOffer(each.size, each.zones, each.hourly, place=place.id)
        for place in plan.places
        for each in place.offers
    )
    return PriceSheet(plan.currency, plan.sizes, plan.disks, offers, plan.prices)


def with_sheet(plan: Plan, sheet: PriceSheet) -> Plan:
    """A plan with a sheet's items in place of those of the same name.

    Items that the sheet lacks stay; of a place that the sheet names, the offers are the sheet's.
    Raises PlanError where the currency is another one, or a place is not in the plan.
    """
    if sheet.currency != plan.currency:
        raise PlanError(
            [
                Fault(
                    "/currency",
                    f"the sheet is in {sheet.currency}, the plan in {plan.currency}",
                    "bring a sheet in the plan's currency",
                )
            ]
        )
    offers: dict[str, list[Offer]] = {}
    for each in sheet.offers:
        offers.setdefault(each.place, []).append(Offer(each.size, each.zones, each.hourly))
    strange = sorted(offers.keys() - {place.id for place in plan.places})
    if strange:
        raise PlanError(
            [
                Fault(
                    "/offers",
                    f"there is no place '{name}' in this plan",
                    "add the place first, or take its rows away",
                )
                for name in strange
            ]
        )
    places = tuple(
        replace(place, offers=tuple(offers.get(place.id, place.offers))) for place in plan.places
    )
    return replace(
        plan,
        sizes=_renewed(plan.sizes, sheet.sizes),
        disks=_renewed(plan.disks, sheet.disks),
        places=places,
        prices=plan.prices if sheet.prices is None else sheet.prices,
    )


def _renewed(old: tuple[Item, ...], new: tuple[Item, ...]) -> tuple[Item, ...]:
    by_id: dict[str, Item] = {item.id: item for item in new}
    kept: list[Item] = [by_id.pop(item.id, item) for item in old]
    return (*kept, *by_id.values())


def differences(before: PriceSheet, after: PriceSheet) -> list[dict[str, str]]:
    """Every value that differs between two sheets: item, field, before and after ("" = none)."""
    old, new = _values_by_item(before), _values_by_item(after)
    return [
        {
            "item": item,
            "field": field,
            "before": old.get((item, field), ""),
            "after": new.get((item, field), ""),
        }
        for item, field in dict.fromkeys([*old, *new])
        if old.get((item, field)) != new.get((item, field))
    ]


def _values_by_item(sheet: PriceSheet) -> dict[tuple[str, str], str]:
    found: dict[tuple[str, str], str] = {}
    for row in _rows(sheet):
        name = " ".join(row[key] for key in ("item", "place", "id", "size") if key in row)
        for field, value in row.items():
            if field not in ("item", "place", "id", "size"):
                found[name, field] = value
    return found


def sheet_json(sheet: PriceSheet) -> str:
    """A sheet as JSON text."""
    return json.dumps(sheet_values(sheet), indent=2) + "\n"


def read_sheet(text: str) -> PriceSheet:
    """A sheet from JSON or CSV text, whichever it is; raises PlanError where it cannot be."""
    if text.lstrip("\ufeff \t\r\n").startswith("{"):
        try:
            values = from_json(text.lstrip("\ufeff").encode())
        except ValueError as error:
            raise PlanError(
                [Fault("", f"this is not JSON: {str(error)[:200]}", "mend the text there")]
            ) from error
        return sheet_from(values)
    return _from_csv(text)


def _flat(values: Mapping[str, Any], before: str = "") -> Iterator[tuple[str, str]]:
    """Nested values as (dotted name, text)."""
    for name, value in values.items():
        path = f"{before}{name}"
        if value is None or value == []:
            continue
        if path == "committed":
            yield from ((f"committed.{term['years']}", term["hourly"]) for term in value)
        elif isinstance(value, Mapping):
            yield from _flat(value, f"{path}.")
        elif isinstance(value, list):
            yield path, ";".join(value)
        else:
            yield path, repr(value) if isinstance(value, float) else str(value)


def _rows(sheet: PriceSheet) -> list[dict[str, str]]:
    """A row per item, fields that it has not left out."""
    values = sheet_values(sheet)
    rows: list[dict[str, str]] = [{"item": "sheet", "currency": values["currency"]}]
    other = values["prices"]
    licences = [] if other is None else other.pop("licences")
    if other is not None:
        rows.append({"item": "other", **dict(_flat(other))})
    listed = {**values, "licences": licences}
    for item, name in _LISTS.items():
        rows.extend({"item": item, **dict(_flat(each))} for each in listed[name])
    return rows


def sheet_csv(sheet: PriceSheet) -> str:
    """A sheet as CSV text."""
    rows = _rows(sheet)
    return write_table(list(dict.fromkeys(column for row in rows for column in row)), rows)


_NAMES = ("zones", "pools")
#: Fields lie no deeper than that in an item.
_DEEPEST = 4


def _nested(cells: Mapping[str, str]) -> dict[str, Any]:
    """Dotted names back to nested values."""
    result: dict[str, Any] = {}
    for column, text in cells.items():
        if column.startswith("committed."):
            years = column.removeprefix("committed.")
            number = whole_number(years)
            term = {"years": years if number is None else number, "hourly": text}
            terms = result.setdefault("committed", [])
            # A column "committed" beside it is no list of terms: that is refused where it is read.
            if isinstance(terms, list):
                terms.append(term)
            continue
        *way, last = column.split(".")
        at = result
        for name in way[:_DEEPEST]:
            inner = at.setdefault(name, {})
            # Two columns of which one is inside the other: the shape is refused where it is read.
            at = inner if isinstance(inner, dict) else at
        at[last] = [part.strip() for part in text.split(";")] if last in _NAMES else text
    return result


def _from_csv(text: str) -> PriceSheet:
    values: dict[str, Any] = {
        "currency": "",
        "sizes": [],
        "disks": [],
        "offers": [],
        "licences": [],
        "prices": None,
    }
    lines: dict[tuple[str, int], int] = {}
    faults: list[Fault] = []
    for line, cells in read_table(text, ("item",)):
        item = cells.pop("item")
        given = {name: cell for name, cell in cells.items() if cell}
        if item == "sheet":
            values["currency"] = given.get("currency", "")
        elif item == "other":
            values["prices"] = _nested(given)
        elif item in _LISTS:
            place = values[_LISTS[item]]
            lines[_LISTS[item], len(place)] = line
            place.append(_nested(given))
        elif item or given:
            faults.append(
                Fault(f"line {line}", f"item is '{item}'", f"use sheet, other, {', '.join(_LISTS)}")
            )
        if line > MOST_ROWS:
            raise PlanError(
                [
                    Fault(
                        f"line {line}",
                        f"a sheet has at most {MOST_ROWS:,} rows",
                        "bring the rest in a second sheet",
                    )
                ]
            )
    if faults:
        raise PlanError(faults)
    licences = values.pop("licences")
    if licences:
        values["prices"] = {**(values["prices"] or {}), "licences": licences}
    try:
        return sheet_from(values)
    except PlanError as error:
        raise PlanError([_on_line(fault, lines) for fault in error.faults]) from error


def _on_line(fault: Fault, lines: Mapping[tuple[str, int], int]) -> Fault:
    """A fault with the line of its item in place of a pointer."""
    parts = fault.pointer.strip("/").split("/")
    if parts[:2] == ["prices", "licences"]:
        parts = parts[1:]
    if len(parts) > 1 and parts[1].isdigit():
        line = lines.get((parts[0], int(parts[1])))
        if line is not None:
            return Fault(f"line {line}", fault.message, fault.remedy)
    return fault
