"""What differs between two saves of a plan, and the merge of both, matching things by their keys.

Every list of a plan document has a key: its things have an id or are known by some of their
fields, its texts are themselves (they are sets), and its numbers are known by their place.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Any, Final, Literal

from idle_harbor.core.plan.table import list_keys, list_orders


class _Missing:
    """Stands for a field or thing that one side does not have."""

    def __repr__(self) -> str:
        return "missing"


MISSING: Final = _Missing()
Side = Literal["yours", "theirs"]

#: Lists in which the same may stand twice, so that only the whole of them means something.
_WHOLE = {"order"}


@dataclass(frozen=True, slots=True)
class Change:
    """A place where a side differs from the base; ``by`` says which, or both."""

    path: str
    base: Any
    yours: Any
    theirs: Any
    by: Literal["yours", "theirs", "both"]


def _key_of(item: Mapping[str, Any], fields: tuple[str, ...]) -> str | None:
    found = [item.get(field) for field in fields]
    if all(value is None for value in found):
        return None
    texts = (v if isinstance(v, list) else [v] for v in found if v is not None)
    return (
        " ".join(str(each) for text in texts for each in text).replace("~", "~0").replace("/", "~1")
    )


def _keyed(value: Any, name: str) -> dict[str, Any] | None:
    """A list as a mapping from keys; None where it has none, or one twice."""
    if value is MISSING:
        return {}
    if not isinstance(value, list) or name in _WHOLE:
        return None
    if all(isinstance(item, str) for item in value):
        keys: list[str | None] = [item.replace("~", "~0").replace("/", "~1") for item in value]
    elif all(isinstance(item, dict) for item in value):
        keys = [_key_of(item, list_keys().get(name, ("id",))) for item in value]
    else:
        return None
    found = [key for key in keys if key is not None]
    distinct = len(found) == len(value) and len(set(found)) == len(found)
    return dict(zip(found, value, strict=True)) if distinct else None


def _placed(values: tuple[Any, Any, Any]) -> tuple[dict[str, Any], ...] | None:
    """Lists of equally many things, known by their places."""
    if not all(isinstance(value, list) for value in values):
        return None
    if len({len(value) for value in values}) != 1:
        return None
    return tuple({str(place): item for place, item in enumerate(value)} for value in values)


def _children(values: tuple[Any, Any, Any], name: str) -> tuple[dict[str, Any], ...] | None:
    """The three sides as mappings, where all that exist are objects or lists with keys."""
    if all(v is MISSING or isinstance(v, dict) for v in values):
        return tuple({} if v is MISSING else v for v in values)
    keyed = [_keyed(v, name) for v in values]
    if not any(k is None for k in keyed):
        return tuple(k for k in keyed if k is not None)
    return None if name in _WHOLE else _placed(values)


def _at(part: dict[str, Any], key: str) -> Any:
    return part.get(key, MISSING)


def changes(base: Any, yours: Any, theirs: Any, path: str = "") -> Iterator[Change]:
    """Every place where yours or theirs differs from the base, things matched by their keys."""
    if base == yours == theirs:
        return
    parts = _children((base, yours, theirs), path.rpartition("/")[2])
    if parts is None or MISSING in (yours, theirs):
        by: Literal["yours", "theirs", "both"] = "both"
        if yours == base:
            by = "theirs"
        elif theirs == base:
            by = "yours"
        yield Change(path or "/", base, yours, theirs, by)
        return
    for key in dict.fromkeys(k for part in parts for k in part):
        was, mine, other = (_at(part, key) for part in parts)
        yield from changes(was, mine, other, f"{path}/{key}")


def merge(base: Any, yours: Any, theirs: Any, prefer: Side, name: str = "") -> Any:
    """Both sides' changes to the base; where both changed one place, ``prefer`` decides.

    ``name`` is the field in which the values stand.
    """
    if yours in (base, theirs):
        return theirs
    if theirs == base:
        return yours
    parts = _children((base, yours, theirs), name)
    if parts is None or MISSING in (yours, theirs):
        return yours if prefer == "yours" else theirs
    was, mine, other = parts
    merged = {
        key: merge(_at(was, key), _at(mine, key), _at(other, key), prefer, key)
        for key in dict.fromkeys([*other, *mine])
    }
    kept = {key: value for key, value in merged.items() if value is not MISSING}
    if isinstance(theirs, dict):
        return kept
    items = list(kept.values())
    order = list_orders().get(name)
    return items if order is None else sorted(items, key=lambda item: item[order])
