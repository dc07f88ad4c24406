"""Documents of older formats as today's: renamed fields. What came to be since has its default."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any

from idle_harbor.core.plan import FORMAT
from idle_harbor.core.plan.declare import ORDERS

#: Formats that are read.
KNOWN = (1, 2, FORMAT)
#: What a picture took until format 3, in every minute.
_MBIT = {"lean": 0.4, "standard": 0.8, "fine": 2.0}


def _renamed(part: Any, old: str, new: str) -> Any:
    if not isinstance(part, Mapping) or old not in part or new in part:
        return part
    return {new if name == old else name: value for name, value in part.items()}


def _one_figure(profile: Any) -> Any:
    """A profile whose network was one figure: the mean, and the busy minute."""
    if not isinstance(profile, Mapping):
        return profile
    display = profile.get("display", {})
    if not isinstance(display, Mapping) or "busy_minute" in display:
        return profile
    mbit = display.get("mbit", {})
    told = {**_MBIT, **mbit} if isinstance(mbit, Mapping) else mbit
    return {**profile, "display": {**display, "mbit": told, "busy_minute": 1.0}}


def _each(whole: dict[str, Any], name: str, change: Callable[[Any], Any]) -> None:
    if isinstance(parts := whole.get(name), list):
        whole[name] = [change(part) for part in parts]


def printable(value: Any) -> Any:
    """What was stored before control characters were refused in texts: with spaces in their place,
    so that it can be opened."""
    if isinstance(value, dict):
        return {name: printable(each) for name, each in value.items()}
    if isinstance(value, list):
        return [printable(each) for each in value]
    if not isinstance(value, str):
        return value
    return "\n".join(ORDERS.sub(" ", line) for line in value.split("\n"))


def upgraded(value: Any) -> Any:
    """The document in today's format; what is no document comes back as it is.

    Format 1, and documents that do not say, may have *entitlements* for access, and pools may have
    apps *attached* that are added at logon. Until format 3 the display's network was one figure.
    """
    if not isinstance(value, Mapping) or value.get("format", 1) not in KNOWN:
        return value
    whole = {**value, "format": FORMAT}
    if value.get("format", 1) == 1:
        whole = _renamed(whole, "entitlements", "access")
        _each(whole, "pools", lambda pool: _renamed(pool, "attached", "apps_at_logon"))
    if value.get("format", 1) != FORMAT:
        _each(whole, "profiles", _one_figure)
    return whole
