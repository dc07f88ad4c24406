"""Documents of older formats as today's: renamed fields. What came to be since has its default."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from idle_harbor.core.plan import FORMAT

#: Formats that are read.
KNOWN = (1, FORMAT)


def _renamed(part: Any, old: str, new: str) -> Any:
    if not isinstance(part, Mapping) or old not in part or new in part:
        return part
    return {new if name == old else name: value for name, value in part.items()}


def upgraded(value: Any) -> Any:
    """The document in today's format; what is no document comes back as it is.

    Format 1, and documents that do not say, may have *entitlements* for access, and pools may have
    apps *attached* that are added at logon.
    """
    if not isinstance(value, Mapping) or value.get("format", 1) not in KNOWN:
        return value
    whole = {**value, "format": FORMAT}
    if value.get("format", 1) == 1:
        whole = _renamed(whole, "entitlements", "access")
        pools = whole.get("pools")
        if isinstance(pools, list):
            whole["pools"] = [_renamed(pool, "attached", "apps_at_logon") for pool in pools]
    return whole
