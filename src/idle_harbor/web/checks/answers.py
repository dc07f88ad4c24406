"""From what the checks found to response values."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from idle_harbor.core.checks import FAMILIES, Checked
from idle_harbor.formats.reports.figures import values_of


def checks_answer(document: Mapping[str, Any], found: Sequence[Checked]) -> dict[str, Any]:
    """Everything that the checks found."""
    return {
        "families": [
            {
                "id": family.id,
                "about": family.about,
                "found": sum(each.family is family for each in found),
            }
            for family in FAMILIES
        ],
        "findings": [
            {
                "family": each.family.id,
                "where": where_of(document, each.finding.pointer),
                **values_of(each.finding),
            }
            for each in found
        ],
    }


def where_of(document: Mapping[str, Any], pointer: str) -> str:
    """A JSON pointer into a plan in words: names in place of list positions."""
    at: Any = document
    said: list[str] = []
    for part in pointer.strip("/").split("/"):
        if isinstance(at, list):
            at = at[int(part)] if int(part) < len(at) else None
            known = at if isinstance(at, Mapping) else {}
            name = known.get("name") or known.get("id") or known.get("group")
            said.append(f"'{name}'" if name else str(int(part) + 1))
        else:
            at = at.get(part) if isinstance(at, Mapping) else None
            said.append(_SINGULAR.get(part, part.replace("_", " ")))
    return " ".join(said)


_SINGULAR = {
    "pools": "pool",
    "groups": "group",
    "sizes": "size",
    "places": "place",
    "disks": "disk",
    "schedules": "schedule",
    "day_types": "day type",
    "bands": "band",
    "load_rules": "load rule",
    "images": "image",
    "access": "access of",
    "hosts": "hosts:",
    "apps": "app",
}
