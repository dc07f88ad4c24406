"""What differs between two saves of a plan, and the merge of both, matching things by id."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any, Final, Literal


class _Missing:
    """Stands for a field or thing that one side does not have."""

    def __repr__(self) -> str:
        return "missing"


MISSING: Final = _Missing()
Side = Literal["yours", "theirs"]


@dataclass(frozen=True, slots=True)
class Change:
    """A place where a side differs from the base; ``by`` says which, or both."""

    path: str
    base: Any
    yours: Any
    theirs: Any
    by: Literal["yours", "theirs", "both"]


def _key_of(item: Any) -> str | None:
    if isinstance(item, dict):
        for name in ("id", "from"):
            if isinstance(item.get(name), str):
                return str(item[name])
    return None


def _keyed(value: Any) -> dict[str, Any] | None:
    """A list of things with ids as a mapping from id; None where it is not such a list."""
    if value is MISSING:
        return {}
    if not isinstance(value, list) or any(_key_of(item) is None for item in value):
        return None
    keys = [str(_key_of(item)) for item in value]
    return dict(zip(keys, value, strict=True)) if len(set(keys)) == len(keys) else None


def _children(values: tuple[Any, Any, Any]) -> tuple[dict[str, Any], ...] | None:
    """The three sides as mappings, where all that exist are objects or lists of things."""
    if all(v is MISSING or isinstance(v, dict) for v in values):
        return tuple({} if v is MISSING else v for v in values)
    keyed = [_keyed(v) for v in values]
    return None if any(k is None for k in keyed) else tuple(k for k in keyed if k is not None)


def changes(base: Any, yours: Any, theirs: Any, path: str = "") -> Iterator[Change]:
    """Every place where yours or theirs differs from the base, things matched by id."""
    if base == yours == theirs:
        return
    parts = _children((base, yours, theirs))
    if parts is None or MISSING in (yours, theirs):
        by: Literal["yours", "theirs", "both"] = "both"
        if yours == base:
            by = "theirs"
        elif theirs == base:
            by = "yours"
        yield Change(path or "/", base, yours, theirs, by)
        return
    for key in dict.fromkeys(k for part in parts for k in part):
        sides = [part.get(key, MISSING) for part in parts]
        yield from changes(sides[0], sides[1], sides[2], f"{path}/{key}")


def merge(base: Any, yours: Any, theirs: Any, prefer: Side) -> Any:
    """Both sides' changes to the base; where both changed one place, ``prefer`` decides."""
    if yours in (base, theirs):
        return theirs
    if theirs == base:
        return yours
    parts = _children((base, yours, theirs))
    if parts is None or MISSING in (yours, theirs):
        return yours if prefer == "yours" else theirs
    was, mine, other = parts
    merged = {
        key: merge(was.get(key, MISSING), mine.get(key, MISSING), other.get(key, MISSING), prefer)
        for key in dict.fromkeys([*other, *mine])
    }
    kept = {key: value for key, value in merged.items() if value is not MISSING}
    if isinstance(theirs, dict):
        return kept
    items = list(kept.values())
    return sorted(items, key=_from) if items and "from" in items[0] else items


def _from(item: dict[str, Any]) -> str:
    return str(item["from"])
