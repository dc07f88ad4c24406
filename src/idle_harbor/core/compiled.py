"""How core functions are compiled: cached on disk, without the GIL, C-like division.

They run without numba's reference counting: they allocate nothing, and their callers keep every
table alive. Counting references on each call made the loop many times slower.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, TypeVar

from numba import njit

F = TypeVar("F", bound=Callable[..., Any])


def compiled(signature: Any = None, *, inline: bool = False) -> Callable[[F], F]:
    """Compile with numba; an explicit signature makes it happen at import, or from the cache.

    ``inline`` asks LLVM to always inline the function into its callers.
    """

    def wrap(function: F) -> F:
        options = {"cache": True, "nogil": True, "error_model": "numpy", "_nrt": False}
        options["forceinline"] = inline
        if signature is None:
            return njit(**options)(function)  # type: ignore[no-any-return]
        return njit(signature, **options)(function)  # type: ignore[no-any-return]

    return wrap
