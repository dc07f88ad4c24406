"""Results kept for a while, bounded in bytes: what was used longest ago is forgotten first."""

from __future__ import annotations

import threading
from collections.abc import Callable, Hashable
from functools import wraps
from typing import Any, ParamSpec, TypeVar

from cachetools import LRUCache
from cachetools.keys import hashkey

P = ParamSpec("P")
T = TypeVar("T")

#: What an entry costs beside its arrays: keys with their plans' values, and the table itself.
_ENTRY = 4_096


class Kept:
    """A cache of so many bytes that threads may share.

    What alone is larger than the whole is not kept. ``size_of`` says how many bytes an item has.
    """

    def __init__(self, most_bytes: int, size_of: Callable[[Any], int]) -> None:
        self._items: LRUCache[Hashable, Any] = LRUCache(
            most_bytes, getsizeof=lambda item: size_of(item) + _ENTRY
        )
        self._lock = threading.Lock()

    def get(self, key: Hashable) -> Any | None:
        """The item, now the most recently used, or None."""
        with self._lock:
            return self._items.get(key)

    def put(self, key: Hashable, item: Any) -> None:
        """Keep an item, in the place of what was used longest ago."""
        with self._lock:
            try:
                self._items[key] = item
            except ValueError:
                self._items.pop(key, None)

    @property
    def bytes_held(self) -> int:
        """Bytes of everything that is kept now."""
        return int(self._items.currsize)

    @property
    def most_bytes(self) -> int:
        """The bound."""
        return int(self._items.maxsize)


def kept(
    most_bytes: int, size_of: Callable[[Any], int]
) -> Callable[[Callable[P, T]], Callable[P, T]]:
    """Keep a pure function's results by its arguments, all of them hashable."""

    def wrap(function: Callable[P, T]) -> Callable[P, T]:
        cache = Kept(most_bytes, size_of)

        @wraps(function)
        def found(*args: P.args, **kwargs: P.kwargs) -> T:
            key = hashkey(*args, **kwargs)  # type: ignore[arg-type]
            item: T | None = cache.get(key)
            if item is None:
                item = function(*args, **kwargs)
                cache.put(key, item)
            return item

        found.cache = cache  # type: ignore[attr-defined]
        return found

    return wrap


def bytes_in(*arrays: Any) -> int:
    """Bytes of arrays, each with the whole of what it is a view of."""
    seen = {id(_owner(array)): _owner(array).nbytes for array in arrays}
    return sum(seen.values())


def _owner(array: Any) -> Any:
    while getattr(array, "base", None) is not None and hasattr(array.base, "nbytes"):
        array = array.base
    return array
