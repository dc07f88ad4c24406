"""Caches that are bounded in bytes; the least recently used entry is evicted first."""

from __future__ import annotations

import threading
from collections.abc import Callable, Hashable
from functools import wraps
from typing import Any, ParamSpec, TypeVar

from cachetools import LRUCache
from cachetools.keys import hashkey

P = ParamSpec("P")
T = TypeVar("T")

#: Bytes of an entry beside its arrays: keys with values of plans, and the table itself.
_ENTRY = 4_096


class ByteCache:
    """A cache bounded in bytes that threads may share.

    ``most_bytes`` is the bound; ``size_of`` returns the bytes of an item. An item larger than the
    bound is not cached.
    """

    def __init__(self, most_bytes: int, size_of: Callable[[Any], int]) -> None:
        self._items: LRUCache[Hashable, Any] = LRUCache(
            most_bytes, getsizeof=lambda item: size_of(item) + _ENTRY
        )
        self._lock = threading.Lock()

    def get(self, key: Hashable) -> Any | None:
        """Return the item, which is now the most recently used, or None."""
        with self._lock:
            return self._items.get(key)

    def put(self, key: Hashable, item: Any) -> None:
        """Add an item, and evict the least recently used ones if needed."""
        with self._lock:
            try:
                self._items[key] = item
            except ValueError:
                self._items.pop(key, None)

    @property
    def bytes_held(self) -> int:
        """Bytes of all items in the cache."""
        return int(self._items.currsize)

    @property
    def most_bytes(self) -> int:
        """The bound in bytes."""
        return int(self._items.maxsize)


def cached(
    most_bytes: int, size_of: Callable[[Any], int]
) -> Callable[[Callable[P, T]], Callable[P, T]]:
    """Cache the results of a pure function by its arguments, which have to be hashable.

    ``most_bytes`` bounds the cache; ``size_of`` returns the bytes of a result.
    """

    def wrap(function: Callable[P, T]) -> Callable[P, T]:
        cache = ByteCache(most_bytes, size_of)

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
    """Return the bytes of arrays, each with all of the array that it is a view of."""
    seen = {id(_owner(array)): _owner(array).nbytes for array in arrays}
    return sum(seen.values())


def _owner(array: Any) -> Any:
    while getattr(array, "base", None) is not None and hasattr(array.base, "nbytes"):
        array = array.base
    return array
