"""Validation errors in our own words: where, which value, which bounds, what to do."""

from __future__ import annotations

import json

from pydantic_core import ErrorDetails

from idle_harbor.core.errors import Fault
from idle_harbor.core.plan.table import by_path, kind_tags

#: What is wrong with the type of a value, as a remedy.
_TYPES = {
    "dataclass_type": "give an object",
    "dict_type": "give an object",
    "tuple_type": "give a list",
    "list_type": "give a list",
    "union_tag_not_found": "say of which kind it is",
}


def fault_from(detail: ErrorDetails) -> Fault:
    """A validation error as a fault, with the value, the bound and the remedy."""
    where, names = _place(detail["loc"])
    pointer = "".join(f"/{str(part).replace('~', '~0').replace('/', '~1')}" for part in where)
    spec = by_path().get(".".join(names))
    about = None if spec is None else spec.about
    label = (names[-1] if names else "the plan").replace("_", " ")
    shown = _shown(detail.get("input"))
    kind, context = detail["type"], detail.get("ctx", {})
    if kind == "missing":
        unit = f" ({about.unit})" if about and about.unit else ""
        return Fault(pointer, f"{label} is missing", f"add {label}{unit}")
    if kind in ("extra_forbidden", "unexpected_keyword_argument"):
        return Fault(pointer, f"'{label}' is not a field here", "remove it, or mend its name")
    said_itself = kind == "value_error" or kind.startswith("date_")
    if about and about.low is not None and about.high is not None and not said_itself:
        unit = f" {about.unit}" if about.unit else ""
        return Fault(
            pointer,
            f"{label} is {shown}",
            f"give a number from {about.low:g} to {about.high:,.12g}{unit}",
        )
    if kind in ("too_long", "too_short"):
        said = f"{label} has {context['actual_length']} entries"
        return Fault(pointer, said, _length_remedy(context, ""))
    return Fault(pointer, f"{label} is {shown}", _remedy(kind, context, detail["msg"]))


def _length_remedy(context: dict[str, object], what: str) -> str:
    if "max_length" in context:
        return f"keep at most {context['max_length']}{what}"
    return f"give at least {context['min_length']}{what}"


def _remedy(kind: str, context: dict[str, object], message: str) -> str:
    if kind in ("string_too_long", "string_too_short"):
        return _length_remedy(context, " characters")
    if "pattern" in context:
        return _pattern_remedy(str(context["pattern"]))
    for name in ("expected", "expected_tags"):
        if name in context:
            return f"use {context[name]}"
    if kind.startswith("date_"):
        return "give a date such as 2027-03-01"
    return _TYPES.get(kind, message.removeprefix("Value error, "))


def _place(location: tuple[int | str, ...]) -> tuple[list[int | str], list[str]]:
    """The steps that lead to a value, without those that name a choice inside a field; and the
    names among them. A field may be called as a choice is elsewhere."""
    where: list[int | str] = []
    names: list[str] = []
    for part in location:
        if isinstance(part, str):
            if part == "[key]" or any(w in part for w in ("constrained", "literal", "function-")):
                continue
            if part in kind_tags() and ".".join((*names, part)) not in by_path():
                continue
            names.append(part)
        where.append(part)
    return where, names


def _shown(value: object) -> str:
    text = json.dumps(value, default=str)
    return text if len(text) <= 60 else text[:57] + "…"


def _pattern_remedy(pattern: str) -> str:
    if ":" in pattern:
        return "give a clock time from 00:00 to 23:59"
    if "x00" in pattern:
        return "give a text without control characters"
    if "A-Z" in pattern:
        return "give three capital letters, such as EUR"
    return "use small letters, digits and hyphens, at most 63 of them"
